"""Whose turn it is: short work before long, one person's tenth behind another's first."""

import threading
import time
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass, field

from bendcore.errors import Refusal

GAINED = 0.5
"""Seconds of work that a second of waiting makes up for, so that nobody waits for ever."""


class TooMuch(Refusal):
    """One person, or all together, asked for more than can be waited for."""


@dataclass(eq=False)
class Job:
    """``call(*args)`` asked for by ``who``, expected to take ``about`` so many seconds, which ``took`` so many;
    ``take_down`` ends it while it is being done; ``kept`` beyond the process."""

    key: str
    call: Callable
    args: tuple
    who: int = 0
    about: float = 1.0
    since: float = field(default_factory=time.monotonic)
    future: Future = field(default_factory=Future)
    take_down: Callable[[], object] | None = None
    took: float | None = None
    dropped: bool = False
    kept: bool = False


class Line:
    """Jobs waiting for a worker; at most ``each`` of one person and ``most`` in all."""

    def __init__(self, each: int, most: int):
        self.each, self.most = each, most
        self.waiting: list[Job] = []
        self.doing: list[Job] = []
        self.changed = threading.Condition()
        self.shut = False

    def put(self, job: Job, whatever: bool = False) -> None:
        """Stand in line; refuses with TooMuch what is beyond the bounds, unless ``whatever``."""
        with self.changed:
            if not whatever and sum(other.who == job.who for other in self.waiting) >= self.each:
                raise TooMuch("", f"has to wait: {self.each} of yours are in line already. Let one finish, or take one "
                                  "back")
            if not whatever and len(self.waiting) >= self.most:
                raise TooMuch("", "has to wait: the shop has too much in line. Try again in a minute")
            self.waiting.append(job)
            self.changed.notify()

    def take(self) -> Job | None:
        """The next job, waited for; None once the line is shut."""
        with self.changed:
            self.changed.wait_for(lambda: self.waiting or self.shut)
            if self.shut:
                return None
            now = time.monotonic()
            job = min(self.waiting, key=lambda one: self._turn(one, now))
            self.waiting.remove(job)
            self.doing.append(job)
            return job

    def done(self, job: Job) -> None:
        """A job that was taken is over."""
        with self.changed:
            if job in self.doing:
                self.doing.remove(job)

    def drop(self, job: Job) -> None:
        """Nobody waits for it any more: it leaves at once, taken down if it is being done."""
        with self.changed:
            job.dropped = True
            if job in self.waiting:
                self.waiting.remove(job)
            job.future.cancel()
            take_down = job.take_down
        if take_down:
            take_down()

    def ahead(self, job: Job) -> int:
        """How many jobs are done before it, by what is known now."""
        with self.changed:
            if job not in self.waiting:
                return 0
            now = time.monotonic()
            own = self._turn(job, now)
            return sum(self._turn(other, now) < own for other in self.waiting) + len(self.doing)

    def close(self) -> None:
        """Nothing is taken from now on."""
        with self.changed:
            self.shut = True
            self.changed.notify_all()

    def _turn(self, job: Job, now: float) -> float:
        """Seconds of this person's work until it would be done, had everybody a worker of his own; less what he
        waited."""
        own = sum(other.about for other in self.doing if other.who == job.who)
        own += sum(other.about for other in self.waiting
                   if other.who == job.who and (other.about, other.since) <= (job.about, job.since))
        return own - GAINED * (now - job.since)

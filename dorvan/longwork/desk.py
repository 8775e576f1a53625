"""Where long work is handed in and its results are found."""

import hashlib
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import CancelledError, Future
from concurrent.futures import TimeoutError as NotYet
from contextlib import contextmanager, suppress

from django.db import DatabaseError, connection

from . import asking
from .line import Job, Line
from .models import Asked, packed, told_apart, unpacked
from .workers import Bounds, Worker, ready, settle_in

KEPT = 128
LEARNT = 0.3
"""Share of the last time in what a kind of work is expected to take."""
waited_for = threading.BoundedSemaphore(2)
"""So many requests at most wait for a result at a time; the others ask again: someone may always sign in."""


class Working(Exception):
    """The result is not there yet, ``ahead`` so many others go first: ask again in a moment."""

    def __init__(self, ahead: int = 0):
        super().__init__()
        self.ahead = ahead


class Desk:
    """One kind of long work: ``workers`` processes (0 does it on the spot) with ``bounds`` each; a page waits for
    ``patience`` seconds; at most ``each`` jobs of one person and ``most`` in all stand in line."""

    def __init__(self, name: str, workers: int, patience: float | None, bounds: Bounds, *, each: int = 24,
                 most: int = 200, settle=settle_in):
        self.name, self.count, self.patience, self.bounds, self.settle = name, workers, patience, bounds, settle
        self.jobs: OrderedDict[str, Job] = OrderedDict()
        self.calls: dict[str, Callable] = {}
        self.about: dict[str, float] = {}
        self.lock = threading.Lock()
        self.line, self.workers = Line(each, most), []
        self.together = threading.local()

    def takes(self, call: Callable, about: float = 1.0) -> None:
        """Says beforehand what is asked for here, and what it takes as long as that was not measured, s."""
        self.calls[call.__name__] = call
        self.about.setdefault(call.__name__, about)

    def ask(self, call: Callable, *args):
        """``call(*args)``, worked out now or before; raises Working when it takes longer than the desk's patience,
        TooMuch when it may not even wait, and what the call raised. ``call`` and its arguments must be known to another
        process by name."""
        job = self._job(call, args)
        try:
            return self._result(job)
        except CancelledError:
            self.forget(call, *args)
            raise Working from None
        except NotYet:
            self._keep(job)
            raise Working(self.line.ahead(job)) from None

    def known(self, call: Callable, *args):
        """The result of ``call(*args)`` if it was asked for before and came to something; None else, and nothing is
        begun."""
        with self.lock:
            job = self.jobs.get(_key(call, args))
        done = job and job.future.done() and not job.future.cancelled()
        return job.future.result() if done and not job.future.exception() else None

    def begun(self, call: Callable, *args) -> bool:
        """Whether it was asked for already."""
        with self.lock:
            return _key(call, args) in self.jobs

    def forget(self, call: Callable, *args) -> None:
        """Nobody waits for it: it leaves the line, and is worked out anew when it is asked for again."""
        with self.lock:
            job = self.jobs.pop(_key(call, args), None)
        if job:
            self.line.drop(job)
            self._gone(job)

    def resume(self) -> None:
        """Go on with what was asked for before the server was stopped."""
        for row in Asked.objects.filter(desk=self.name).order_by("pk"):
            call = self.calls.get(row.call)
            if call is None:
                row.delete()
                continue
            args = unpacked(row.args)
            if (key := _key(call, args)) != row.key:  # kept by a version that named it otherwise
                Asked.objects.filter(pk=row.pk).update(key=key)
            with asking.on_behalf_of(row.by_id):
                self._job(call, args, kept=True)

    def warm(self) -> None:
        """Let the processes begin now, so that nobody waits for that later."""
        for _ in range(self.count):
            self._line_up(Job("", ready, ()), kept=True)

    def close(self) -> None:
        """End at once, whatever is being done; it goes on with the next server."""
        self.line.close()
        for worker in self.workers:
            worker.let_go()

    @contextmanager
    def patiently(self):
        """Wait for every result asked for within, however long it takes: for commands, not for pages."""
        before, self.patience = self.patience, None
        try:
            yield
        finally:
            self.patience = before

    def _job(self, call, args, kept: bool = False) -> Job:
        key = _key(call, args)
        with self.lock:
            job = self.jobs.pop(key, None)
            if job is None:
                job = Job(key, call, args, asking.who.get(), self.about.get(call.__name__, 1.0))
                if self.count:
                    job.kept = kept
                    self._line_up(job, kept)
                else:
                    _on_the_spot(job)
            self.jobs[key] = job
            gone = [self.jobs.popitem(last=False)[1] for _ in range(len(self.jobs) - KEPT)]
        for old in gone:
            if not old.future.done():
                self.line.drop(old)
        return job

    def _line_up(self, job: Job, kept: bool = False) -> None:
        self.line.put(job, whatever=kept)
        if len(self.workers) < self.count:
            self.workers = [Worker(self.line, self.bounds, self.settle, self._over) for _ in range(self.count)]
            for worker in self.workers:
                worker.start()

    def _result(self, job: Job):
        if job.future.done() or self.patience is None:
            return job.future.result()
        if not waited_for.acquire(blocking=False):
            raise NotYet
        until = getattr(self.together, "until", None)
        try:
            return job.future.result(self.patience if until is None else max(0.0, until - time.monotonic()))
        finally:
            waited_for.release()

    @contextmanager
    def patient_once(self):
        """Several things asked for within are waited for no longer together than one would be alone."""
        self.together.until = None if self.patience is None else time.monotonic() + self.patience
        try:
            yield
        finally:
            self.together.until = None

    def _keep(self, job: Job) -> None:
        """So that it goes on after a restart; work that cannot be kept is done all the same."""
        if job.kept:
            return
        job.kept = True
        with suppress(DatabaseError):
            Asked.objects.get_or_create(key=job.key, defaults={
                "desk": self.name, "call": job.call.__name__, "args": packed(job.args), "by_id": job.who or None})
        if job.future.done():
            self._gone(job)

    def _over(self, job: Job) -> None:
        """In the worker's thread: what it took is learnt, and it need not be kept any more."""
        if job.took is not None:
            name = job.call.__name__
            self.about[name] = (1 - LEARNT) * self.about.get(name, job.took) + LEARNT * job.took
        if job.kept and not self.line.shut:
            self._gone(job)
            connection.close()

    def _gone(self, job: Job) -> None:
        if job.kept:
            with suppress(DatabaseError):
                Asked.objects.filter(key=job.key).delete()


def _key(call: Callable, args: tuple) -> str:
    return hashlib.sha256(f"{call.__name__} {told_apart(args)}".encode()).hexdigest()


def _on_the_spot(job: Job) -> None:
    future: Future = job.future
    try:
        future.set_result(job.call(*job.args))
    except Exception as error:
        future.set_exception(error)

"""How long a search may take."""

import time
from dataclasses import dataclass, field


@dataclass
class Patience:
    """Calls as true once ``seconds`` are over since it was made."""

    seconds: float
    since: float = field(default_factory=time.monotonic)

    def __call__(self) -> bool:
        """Whether it is over."""
        return time.monotonic() - self.since > self.seconds

    def left(self) -> float:
        """Seconds until it is over by the clock."""
        return max(0.0, self.since + self.seconds - time.monotonic())

    def is_late(self) -> bool:
        """Whether it is over by the clock, or because somebody said so: asking is no step."""
        return self()

    def note(self, **how_far: float | str) -> None:
        """How far a search is; to be passed on by those who wait for it."""

    def again(self, share: float = 1.0) -> "Patience":
        """The same, or a share of it, from now on."""
        return Patience(self.seconds * share)

    def within(self, share: float) -> "Patience":
        """A share of it, from now on, that is over with the whole as well."""
        return Turn(self.seconds * share, whole=self)


@dataclass
class Turn(Patience):
    """A patience shared by several in turn: over after its own ``seconds`` since it was renewed, or with the whole."""

    whole: Patience = field(default_factory=lambda: ENDLESS)

    def __call__(self) -> bool:
        """Whether it is over."""
        return super().__call__() or self.whole()

    def is_late(self) -> bool:
        """The whole: a turn is never shorter than a few looks."""
        return self.whole.is_late()

    def renew(self) -> None:
        """The next one's turn."""
        self.since = time.monotonic()


class Counted(Patience):
    """A patience counted in ``steps``, so that what is found in it hangs on no clock; over with the ``whole`` too."""

    def __init__(self, steps: int, whole: Patience):
        super().__init__(whole.seconds, whole.since)
        self.steps, self.whole, self.left = steps, whole, steps

    def __call__(self) -> bool:
        """Whether it is over; each time it is asked is a step."""
        self.left -= 1
        return self.left < 0 or self.whole()

    def is_late(self) -> bool:
        """The whole: what is counted in steps hangs on no clock."""
        return self.whole.is_late()

    def renew(self) -> None:
        """The next one's turn."""
        self.left = self.steps

    def again(self, share: float = 1.0) -> "Patience":
        """A share of the steps."""
        return Counted(max(1, round(self.steps * share)), self.whole)

    def within(self, share: float) -> "Patience":
        """A share of the steps, which are steps of the whole."""
        return Counted(max(1, round(self.steps * share)), self)


ENDLESS = Patience(float("inf"))

"""Whether a part could be bent were it otherwise: sizes tried, and what is not known when the time is over.

"It does not work" and "nobody had the time to see" are two answers: the second is raised as :class:`Spent`.
"""

import copy
from collections.abc import Callable, Hashable, Sequence

from ...brakes.brake import Brake
from ...errors import Refusal
from ...part import Part, read_part
from ...patience import Patience
from ..proof.prover import Prover
from ..search.backwards import can_be_bent
from ..search.finding import find
from ..search.walk import furthest
from ..states.moves import Job

LEG_STEPS = 5
SHARES = (1 / 16, 1 / 8, 1 / 4, 1 / 2, 1)
"""A size is made larger by such shares of the most, one after the other."""
FINENESS = 0.5
"""A size is given to the next half millimetre on the side that works."""


class Tried:
    """Sizes of a part file tried on brakes. As it is drawn so many strokes can be ``made``, and so many are
    ``lacking``; ``lacks`` keeps the same of what else was tried."""

    def __init__(self, data: dict, brakes: Sequence[Brake], patience: Patience, made: int = 0):
        self.data, self.brakes, self.patience = data, tuple(brakes), patience
        self.part: Part = read_part(data)
        job = Job.of(self.part, *self.brakes)
        self.lacking = job.progress(job.made) - made
        self.lacks: dict[Hashable, int] = {}

    def works(self, sizes: dict[tuple, float]) -> bool:
        """Whether an order exists with these fields below ``shape`` at other sizes, mm; raises Spent where that is not
        known when the patience is over."""
        job = self._job(sizes)
        return bool(job) and bent(job, self.patience)

    def cost(self, sizes: dict[tuple, float]) -> float | None:
        """Of the best order with sizes that work, seconds."""
        return cost_of(self._job(sizes), self.patience)

    def _job(self, sizes) -> Job | None:
        trial = copy.deepcopy(self.data)
        for path, mm in sizes.items():
            _set(trial["shape"], path, f"{mm!r} mm")
        try:
            return Job.of(read_part(trial), *self.brakes)
        except Refusal:
            return None

    def most(self, now: float, least: float, path: tuple) -> tuple[float, float] | None:
        """(from, to) of the sizes below ``now`` with which an order exists, the largest such run; what lies below it
        was tried and does not do, or is too little to be made."""
        return run_of(lambda size: self.works({path: size}), now, least)

    def least(self, sizes: dict[tuple, float], more: float) -> float | None:
        """By how much these sizes must be larger, at most ``more``, for an order to exist."""
        def works(extra):
            return self.works({path: mm + extra for path, mm in sizes.items()})

        low = high = 0.0
        for share in SHARES:  # much longer may meet something else
            low, high = high, more * share
            if works(high):
                break
        else:
            return None
        while high - low > FINENESS:
            middle = FINENESS * round((low + high) / 2 / FINENESS)
            low, high = (low, middle) if works(middle) else (middle, high)
        return high


class Spent(Exception):
    """The patience was over before something was known."""


def lacking(job: Job, patience: Patience) -> int:
    """How many strokes are lacking at least, each stage of a hem counted; raises Spent where that is not known."""
    if patience():
        raise Spent
    prover = Prover(job)
    found = furthest(prover, patience=patience)[0]
    if found != job.made and patience():
        raise Spent
    return job.progress(job.made) - job.progress(found)


def bent(job: Job, patience: Patience) -> bool:
    """Whether it can be bent; raises Spent where that is not known."""
    if patience():
        raise Spent
    if can_be_bent(Prover(job), patience):
        return True
    if patience():
        raise Spent
    return False


def cost_of(job: Job, patience: Patience) -> float | None:
    """Of the best order found, seconds; None where none was found while there was patience."""
    return best_cost(Prover(job), patience)


def best_cost(prover: Prover, patience: Patience) -> float | None:
    """The same, with what a prover knows already."""
    found = find(prover, patience=patience)
    return float(found.cost) if found.complete else None


def run_of(works: Callable[[float], bool], now: float, least: float) -> tuple[float, float] | None:
    """(from, to) of the largest run of sizes below ``now`` that work, tried in steps, then to the half millimetre."""
    steps = [least + (now - least) * n / LEG_STEPS for n in range(LEG_STEPS - 1, 0, -1)]
    first = next((n for n, size in enumerate(steps) if works(size)), None)
    if first is None:
        return None
    most = largest(works, steps[first], steps[first - 1] if first else now, least)
    low = steps[first]
    for size in steps[first + 1:]:
        if not works(size):
            break
        low = size
    return low, most


def largest(works: Callable[[float], bool], good: float, bad: float, least: float) -> float:
    """The largest size that works between one that does and one that does not, rounded down if it may be."""
    while bad - good > FINENESS:
        middle = (good + bad) / 2
        good, bad = (middle, bad) if works(middle) else (good, middle)
    rounded = good - good % FINENESS
    return rounded if rounded > least and works(rounded) else good


def _set(shape: dict, path: tuple, value: str) -> None:
    for key in path[:-1]:
        shape = shape[key]
    here = shape[path[-1]]
    shape[path[-1]] = here | {"length": value} if isinstance(here, dict) and "length" in here else value

"""What a setter would rather have, and what an order that has it costs more.

An order at the least cost takes what is handier among equals (:mod:`..states.handling`). What would be handier still is
named beside it with its price: the larger side still at every stroke, one setting of tools or fingers for all.
"""

from dataclasses import dataclass, replace

from ...patience import ENDLESS, Patience
from ..plan import STILL, WISHES
from ..proof.gauge import Gauge
from ..proof.prover import Prover
from ..states.moves import Job, Move
from .astar import FREE, Found, Rules, Search
from .walk import Sequence

KEPT, COSTS, NONE, UNKNOWN = "kept", "costs", "none", "unknown"


@dataclass(frozen=True)
class Wish:
    """A wish by name: ``kept`` by the order as it is; ``costs`` so many seconds more; there is ``none`` that has it; or
    that is ``unknown`` for want of time."""

    name: str
    state: str
    price: float = 0.0


@dataclass(frozen=True)
class LargerStill:
    """Whether the side that moves in a stroke is the smaller one, or as large as the other."""

    job: Job

    def allows(self, move: Move, _gauge: Gauge | None = None) -> bool:
        """See :class:`.direct.Direct`."""
        here, other = (self.job.effort(move.on, move.bends[0], side).far for side in (move.side, 1 - move.side))
        return here <= other + 1e-6


def has(job: Job, found: Found, name: str) -> bool:
    """Whether an order has what is wished already."""
    if name == STILL:
        larger = LargerStill(job)
        return all(larger.allows(step.move) for step in found.steps)
    return not any(step.change for step in found.steps)


def keeping(rules: Rules, name: str, job: Job) -> Rules:
    """The rules with the wish among them."""
    return replace(rules, wanted=(*rules.wanted, LargerStill(job))) if name == STILL else replace(rules, changes=False)


def wishes(prover: Prover, found: Found, sequence: Sequence | None = None, patience: Patience = ENDLESS,
           rules: Rules = FREE) -> list[Wish]:
    """What each wish would cost more than the order ``found`` (of the ``sequence`` where one was given, by the
    ``rules`` it keeps to), as long as there is patience; nothing where no order is complete."""
    if not found.complete or not found.steps:
        return []
    return [_priced(prover, found, name, sequence, rules, patience) for name in WISHES]


def _priced(prover: Prover, found: Found, name: str, sequence: Sequence | None, rules: Rules,
            patience: Patience) -> Wish:
    if has(prover.job, found, name):
        return Wish(name, KEPT)
    if patience():
        return Wish(name, UNKNOWN)
    other = Search(prover, found.levels, sequence, rules=keeping(rules, name, prover.job)).run(patience)
    if other:
        return Wish(name, COSTS, max(0.0, float(other.cost - found.cost)))
    return Wish(name, UNKNOWN if patience() else NONE)

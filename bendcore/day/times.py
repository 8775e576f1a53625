"""How long a ticket takes at its brakes, from its bend order: set-up once for the batch, strokes for every piece; what
is cut, marked out and walked beside that."""

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import groupby, pairwise

from ..brakes.brake import Brake
from ..order.plan import Step
from .work import Task

BARS = 300.0
"""Setting up bars or a vice, seconds (*start*)."""
PROOF = 20
"""A proof bend takes so many minutes: cut, bend, measure (*start*)."""
MOVE = "move"
CUTTING = "Cutting"
"""Where blanks are cut that are bent on a press."""
TRUSTED = 8
"""A start value counts as if it had been seen so many times."""


@dataclass(frozen=True)
class Rates:
    """What work takes beside its strokes, seconds: to ``cut`` a blank and to ``mark`` it out by hand, to ``walk`` to a
    brake with what is bent there; ``pace`` by brake, how many times as long as its costs say (all *start*)."""

    cut: float = 60.0
    mark: float = 30.0
    walk: float = 120.0
    pace: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Learnt:
    """A rate as the shop's own records have it by now: ``seen`` so often, begun at its ``start`` value."""

    value: float
    start: float
    seen: int


@dataclass(frozen=True)
class Batch:
    """Pieces of one ticket still to be bent, by its ``tag``: how many ``hands`` each takes, how many of its blanks are
    ``cut``."""

    tag: str
    pieces: int
    hands: int = 1
    cut: int = 0

    @property
    def to_cut(self) -> int:
        """Blanks that are not cut yet."""
        return max(0, self.pieces - self.cut)


def learnt(seen: Sequence[float], start: float) -> Learnt:
    """The middle of what was seen (median), drawn towards the start value as far as little was seen
    (:data:`TRUSTED`).

    >>> learnt([], 60).value, learnt([90] * 8, 60).value
    (60.0, 75.0)
    """
    middle = statistics.median(seen) if seen else start
    return Learnt((TRUSTED * start + len(seen) * middle) / (TRUSTED + len(seen)), start, len(seen))


def by_hand(brake: Brake) -> bool:
    """Whether who bends there also cuts and marks out his blanks."""
    return brake.kind != "press"


def tasks_of(batch: Batch, steps: Sequence[Step], brakes: Mapping[str, Brake], only: str = "",
             rates: Rates | None = None) -> list[Task]:
    """A task for each brake of the route, one after another, without times of the day; before a press a task of cutting
    while blanks want it. Seconds are those of the brakes' ``costs`` at the pace of each: ``only`` names the brake of
    steps that name none. Work by hand begins with cutting the blanks and marking them out at the brake itself."""
    rates = rates or Rates()
    found: list[Task] = []
    if batch.to_cut and not by_hand(brakes[steps[0].brake or only]):
        found.append(Task(f"{batch.tag} cut", CUTTING, _minutes(rates.walk + batch.to_cut * rates.cut)))
    for n, (name, run) in enumerate(groupby(steps, key=lambda step: step.brake or only)):
        own, brake = list(run), brakes[name]
        changes = [brake.costs.changing(step.change) for step in own]
        first = 0.0 if own[0].change and own[0].change != MOVE else _mounting(brake)
        each = (sum(step.cost for step in own) - sum(changes)) * rates.pace.get(name, 1.0)
        blanks = batch.to_cut * rates.cut + batch.pieces * rates.mark if by_hand(brake) and not n else 0.0
        after = (found[-1].id,) if found else ()
        found.append(Task(f"{batch.tag}.{n + 1}" if n else batch.tag, name,
                          _minutes(rates.walk + batch.pieces * each + blanks), math.ceil((first + sum(changes)) / 60),
                          _key(own, brake), batch.hands, after=after))
    return found


def _minutes(seconds: float) -> int:
    return max(1, math.ceil(seconds / 60))


def _mounting(brake: Brake) -> float:
    if brake.kind == "press":
        return brake.costs.tool_change
    return brake.costs.finger_change if brake.kind == "leaf" else BARS


def _key(steps: Sequence[Step], brake: Brake) -> str:
    """What stands in the brake, where one mounting serves all steps; nothing where it is changed between."""
    if any(step.change and step.change != MOVE for step in steps[1:]):
        return ""
    first = steps[0].tools  # the bends lie where it stands
    fingers = sorted(first.of("finger"), key=lambda piece: piece.start)
    lengths = [piece.length for piece in fingers]
    gaps = [round(other.start - one.end, 1) for one, other in pairwise(fingers)]
    row = min((lengths, gaps), (lengths[::-1], gaps[::-1]))  # the same turned end for end
    return f"{brake.kind}: {first.pair} {row}"

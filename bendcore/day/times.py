"""How long a ticket takes at its brakes, from its bend order: set-up once for the batch, strokes for every piece."""

import math
from collections.abc import Mapping, Sequence
from itertools import groupby, pairwise

from ..brakes.brake import Brake
from ..order.plan import Step
from .work import Task

CUT_EACH, MARK_EACH = 60.0, 30.0
"""Hand work: cutting a blank, and laying out one on it, seconds (*start*)."""
BARS = 300.0
"""Setting up bars or a vice, seconds (*start*)."""
PROOF = 20
"""A proof bend takes so many minutes: cut, bend, measure (*start*)."""
MOVE = "move"


def by_hand(brake: Brake) -> bool:
    """Whether who bends there also cuts and marks out his blanks."""
    return brake.kind != "press"


def tasks_of(tag: str, steps: Sequence[Step], brakes: Mapping[str, Brake], pieces: int, hands: int = 1,
             only: str = "", cut: int = 0) -> list[Task]:
    """A task for each brake of the route, one after another, without times of the day. Seconds are those of the
    brakes' ``costs``: ``only`` names the brake of steps that name none. Work by hand begins with cutting the blanks,
    but for the ``cut`` ones, and marking them out."""
    found: list[Task] = []
    for name, run in groupby(steps, key=lambda step: step.brake or only):
        own, brake = list(run), brakes[name]
        changes = [brake.costs.changing(step.change) for step in own]
        first = 0.0 if own[0].change and own[0].change != MOVE else _mounting(brake)
        each = sum(step.cost for step in own) - sum(changes)
        blanks = 0.0
        if by_hand(brake) and not found:
            blanks = CUT_EACH * max(0, pieces - cut) + MARK_EACH * pieces
        after = (found[-1].id,) if found else ()
        name_of = f"{tag}.{len(found) + 1}" if found else tag
        found.append(Task(name_of, name, max(1, math.ceil((pieces * each + blanks) / 60)),
                          math.ceil((first + sum(changes)) / 60), _key(own, brake), hands, after=after))
    return found


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

"""How long a ticket takes at its brakes, from its bend order: set-up once for the batch, strokes for every piece."""

import math
from collections.abc import Mapping, Sequence
from itertools import groupby

from ..brakes.brake import Brake
from ..order.plan import Step
from .work import Task

PROOF = 20
"""A proof bend takes so many minutes: cut, bend, measure (*start*)."""
MOVE = "move"


def tasks_of(tag: str, steps: Sequence[Step], brakes: Mapping[str, Brake], pieces: int, hands: int = 1,
             only: str = "") -> list[Task]:
    """A task for each brake of the route, one after another, without times of the day. Seconds are those of the
    brakes' ``costs``: ``only`` names the brake of steps that name none."""
    found: list[Task] = []
    for name, run in groupby(steps, key=lambda step: step.brake or only):
        own, brake = list(run), brakes[name]
        changes = [_change(step, brake) for step in own]
        first = 0.0 if own[0].change and own[0].change != MOVE else _mounting(brake)
        each = sum(step.cost for step in own) - sum(changes)
        after = (found[-1].id,) if found else ()
        found.append(Task(f"{tag}.{len(found) + 1}" if found else tag, name, max(1, math.ceil(pieces * each / 60)),
                          math.ceil((first + sum(changes)) / 60), _key(own, brake), hands, after=after))
    return found


def _mounting(brake: Brake) -> float:
    if brake.kind == "press":
        return brake.costs.tool_change
    return brake.costs.finger_change if brake.kind == "leaf" else 0.0


def _change(step: Step, brake: Brake) -> float:
    if not step.change:
        return 0.0
    return {"fingers": brake.costs.finger_change, MOVE: brake.costs.move}.get(step.change, brake.costs.tool_change)


def _key(steps: Sequence[Step], brake: Brake) -> str:
    """What stands in the brake, where one mounting serves all steps; nothing where it is changed between."""
    if any(step.change and step.change != MOVE for step in steps[1:]):
        return ""
    mounted = {(*step.tools.pair, tuple((p.length, round(p.start, 1)) for p in step.tools.of("finger")))
               for step in steps}
    return f"{brake.kind}: {sorted(mounted, key=str)}" if len(mounted) == 1 else ""

"""What the seconds of a stroke go on, by the brake's own costs."""

from collections.abc import Iterator

from ..plan import Spent
from ..proof.gauge import LINE
from ..search.astar import Taken
from ..states.moves import Job

CHANGES = {"tools": "tool_change", "fingers": "finger_change", "move": "move"}
"""What is done before a step, and the cost it is charged at."""


def spent(job: Job, taken: Taken, before: Taken | None) -> tuple[Spent, ...]:
    """What a step as taken costs, kind by kind; that before it is needed for what has to be turned or moved. They add
    up to the step's cost."""
    return tuple(one for one in _charged(job, taken, before) if one.seconds)


def _charged(job, taken, before) -> Iterator[Spent]:
    on = job.brakes[taken.move.on]
    costs, two = on.costs, job.handling(on)
    if taken.change:
        yield Spent(CHANGES[taken.change], getattr(costs, CHANGES[taken.change]))
    if before and taken.change != "move":
        yield Spent("flip", costs.flip * two * (before.lie.face != taken.lie.face))
        yield Spent("turn", costs.turn * two * (before.lie.heading != taken.lie.heading))
    if taken.gauge.kind == LINE:
        yield Spent("scribed_line", costs.scribed_line)
    elif before and taken.change != "move" and before.lie.stop is not None:
        yield Spent("stop_move", costs.stop_move * (before.lie.stop != taken.lie.stop))
    yield Spent("stroke", costs.stroke)
    yield Spent("swing", job.effort(taken.move.on, taken.move.bends[0], taken.move.side).swing)

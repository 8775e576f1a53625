"""What the seconds of a stroke go on, by the brake's own costs."""

from collections.abc import Iterator

from ...brakes.costs import CHANGED
from ..plan import Spent
from ..proof.gauge import LINE
from ..search.astar import Taken
from ..states.moves import Job


def spent(job: Job, taken: Taken, before: Taken | None) -> tuple[Spent, ...]:
    """What a step as taken costs, kind by kind; that before it is needed for what has to be turned or moved. They add
    up to the step's cost."""
    return tuple(one for one in _charged(job, taken, before) if one.seconds)


def _charged(job, taken, before) -> Iterator[Spent]:
    on = job.brakes[taken.move.on]
    costs = on.costs
    if taken.change:
        yield Spent(CHANGED[taken.change], costs.changing(taken.change))
    if before and taken.change != "move":
        turning = job.turning(taken.move.on, before.lie.lying, taken.lie.lying)
        yield Spent("flip", turning.flip)
        yield Spent("turn", turning.turn)
    if taken.gauge.kind == LINE:
        yield Spent("scribed_line", costs.scribed_line)
    elif before and taken.change != "move" and before.lie.stop is not None:
        yield Spent("stop_move", costs.stop_move * (before.lie.stop != taken.lie.stop))
    yield Spent("stroke", costs.stroke)
    yield Spent("swing", job.effort(taken.move.on, taken.move.bends[0], taken.move.side).swing)

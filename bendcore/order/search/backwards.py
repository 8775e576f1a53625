"""Any order of a part with many bends, found from its end.

The last strokes are the hardest: most of the part stands round the tools then, and the more is still flat the more can
be done. So the finished part is undone stroke by stroke, deepest first; a way back to the flat sheet is an order.
"""

from collections.abc import Iterator

from ...brakes.brake import Brake
from ...errors import Refusal
from ...part import Part
from ...patience import ENDLESS, Patience
from ..proof.prover import Prover
from ..states.moves import FLAT, SIDES, Job, Levels, Move
from .walk import furthest, preferred


def order_from_the_end(prover: Prover, patience: Patience = ENDLESS) -> tuple[Move, ...] | None:
    """A way to make all bends; None where there is none, or none was found while there was patience."""
    job = prover.job
    stack = [(job.made, _undone(job, job.made, None))]
    came: dict[Levels, Move | None] = {job.made: None}
    while stack and not patience():
        levels, left = stack[-1]
        if levels == job.flat:
            return tuple(came[here] for here, _ in reversed(stack[1:]))
        for before, move in left:
            if before not in came and prover.can(before, move):
                came[before] = move
                stack.append((before, _undone(job, before, move)))
                break
            if patience():
                break
        else:
            stack.pop()
    return None


def can_be_last(prover: Prover) -> bool:
    """Whether any bend can be made last, all others made; where none can there is no order, whatever comes before."""
    return not prover.job.count or any(prover.can(before, move) for before, move in _undone(prover.job, prover.job.made,
                                                                                            None))


def can_each_be_first(prover: Prover) -> bool:
    """Whether every bend can be made on the flat sheet."""
    job = prover.job
    return all(any(prover.can(job.flat, Move(on, (i,), job.stages(i)[0], side))
                   for on in range(len(job.brakes)) for side in SIDES) for i in range(job.count))


def can_be_bent(prover: Prover, patience: Patience = ENDLESS) -> bool:
    """Whether any order makes all bends; no where none was found while there was patience."""
    return can_be_last(prover) and furthest(prover, patience=patience)[0] == prover.job.made


def fits(part: Part, brake: Brake, patience: Patience = ENDLESS) -> bool:
    """Whether a part can be bent on a brake; not where the brake has nothing to bend it with."""
    try:
        job = Job.of(part, brake)
    except Refusal:
        return False
    return can_be_bent(Prover(job), patience)


def _undone(job: Job, levels: Levels, after: Move | None) -> Iterator[tuple[Levels, Move]]:
    """What may have been made last, with the levels before it: first what needs neither another brake, flipping nor
    turning for the stroke ``after`` it, and of that what is nearest to the root of the sheet."""
    found = [(before, Move(on, bends, levels[i], side)) for i in reversed(preferred(job)) if levels[i] != FLAT
             for before, bends in _before(job, levels, i) for on in range(len(job.brakes)) for side in SIDES]
    if after is not None:
        found.sort(key=lambda row: (row[1].on != after.on, *_turned(job, row[1], after)))
    return iter(found)


def _before(job: Job, levels: Levels, i: int) -> Iterator[tuple[Levels, tuple[int, ...]]]:
    """The levels before bend ``i`` came to its own, and what was bent with it: several in one line at once if they can,
    else itself alone."""
    was = max(level for level in (FLAT, *job.stages(i)) if level < levels[i])
    for bends in dict.fromkeys((tuple(j for j in job.in_line[i] if levels[j] == levels[i]), (i,))):
        before = tuple(was if j in bends else level for j, level in enumerate(levels))
        if len(bends) == 1 or (bends[0] == i and job.together(before, i) == bends):
            yield before, bends


def _turned(job: Job, move: Move, after: Move) -> tuple[bool, bool]:
    """Whether the sheet is turned over between two moves, and whether it is turned round."""
    (one, side), (other, its) = ((own.bends[0], own.side) for own in (move, after))
    return (job.body.bends[one].sign != job.body.bends[other].sign,
            job.body.heading(one, side) != job.body.heading(other, its))

"""Why an order is as it is: what each step would cost if something else were done there; and of a part that cannot be
bent, the smallest set of bends that cannot be made together.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ...patience import ENDLESS, Patience
from ..proof.prover import Prover
from ..search.astar import FREE, Found, Here, Rules, Search
from ..search.walk import horizon_of, moves
from ..states.moves import MADE, Lie, Move, advanced


@dataclass(frozen=True)
class Instead:
    """The best that could be done at a step instead: these bends, this face held, so many seconds more in all; no
    ``price`` where nothing else leads to the end."""

    step: int
    bends: tuple[str, ...] = ()
    held: str = ""
    price: float | None = None


def alternatives(prover: Prover, found: Found, patience: Patience = ENDLESS, rules: Rules = FREE) -> list[Instead]:
    """Step by step, as long as there is patience, what the best order with another move there costs more, the ``rules``
    kept to that the order ``found`` keeps to."""
    job, told, paid, before = prover.job, [], 0.0, None
    horizon = horizon_of(prover, None)
    for n, taken in enumerate(found.steps, 1):
        if patience():
            break
        patience.note(turn=n, of=len(found.steps))
        here = Here(paid, taken.before, before.lie if before else Lie(), None)
        elsewhere = replace(rules, avoid=(taken.before, taken.move))
        other = Search(prover, found.levels, None, horizon, elsewhere).run(patience, start=here)
        if other:
            move = other.steps[0].move
            told.append(Instead(n, tuple(job.body.bends[i].id for i in move.bends),
                                job.body.face_at(move.bends[0], move.side), float(other.cost - found.cost)))
        elif not patience():
            told.append(Instead(n))
        before, paid = taken, paid + taken.cost
    return told


def cannot_be_together(prover: Prover, patience: Patience = ENDLESS) -> tuple[str, ...]:
    """Bends that cannot all be made on these brakes, whatever the order, while any fewer of them can, all others left
    flat; empty where the patience ends first."""
    job = prover.job
    some = set(range(job.count))
    for i in range(job.count):
        if len(some) > 1 and not reaches(prover, some - {i}, patience) and not patience():
            some.discard(i)
    return () if patience() else tuple(job.body.bends[i].id for i in sorted(some))


def reaches(prover: Prover, some: Sequence[int] | set[int], patience: Patience = ENDLESS) -> bool:
    """Whether these bends can all be made while all others stay flat."""
    job = prover.job
    goal = tuple(MADE if i in some else 0 for i in range(job.count))
    stack, seen = [job.flat], {job.flat}
    while stack and not patience():
        levels = stack.pop()
        if levels == goal:
            return True
        for move in _within(job, levels, some):
            new = advanced(levels, move.bends, move.to)
            if new not in seen and prover.can(levels, move):
                seen.add(new)
                stack.append(new)
    return False


def _within(job, levels, some) -> list[Move]:
    return [move for move in moves(job, levels) if set(move.bends) <= set(some)]

"""Orders of parts with more bends than can be looked through: one soon, better ones while there is patience.

The first is found from its end (:mod:`.backwards`). Then large neighbourhoods of it are searched (Shaw 1998): a few
strokes that follow each other are let go, and the exact search puts them in the best order there is between what comes
before and what comes after; the whole is then held and located at its best. What any order costs at least stands
beside.
"""

import math
from collections.abc import Sequence
from dataclasses import replace

from ...patience import Patience, Turn
from ..proof.prover import Prover
from ..states.moves import Lie, Move, advanced
from .astar import Found, Here, Rules, Search, cheapest
from .backwards import order_from_the_end
from .walk import furthest, in_sequence

FROM_THE_END = 0.6
"""This share of the patience is spent looking from the end, before it is looked from the beginning."""
LET_GO = 5
"""So many strokes are let go at once."""


def find_many(prover: Prover, patience: Patience) -> Found:
    """The best order found while there is patience, or the furthest one where none is complete; ``bound`` is what any
    costs at least."""
    job = prover.job
    moves = order_from_the_end(prover, patience.within(FROM_THE_END))
    if moves is None:
        goal, way = furthest(prover, None, patience)
        return replace(cheapest(prover, goal, way), proven=False)
    patience.note(strokes=len(moves), of=len(moves))
    best, bound = _of(prover, moves), Search(prover, job.made, None).least
    patience.note(best=float(best.cost), bound=float(bound))
    quiet = Turn(math.inf, whole=patience)  # how far a part of the search is says nothing of the whole
    best = Search(prover, job.made, in_sequence(moves)).run(quiet, best) or best
    since, first = 0, 0
    while best.cost > bound + 1e-6 and since < len(best.steps) and not patience():
        patience.note(best=float(best.cost), bound=float(bound))
        better = _let_go(prover, best, first, quiet)
        since = 0 if better else since + 1
        best, first = better or best, (first + 1) % max(1, len(best.steps) - LET_GO + 1)
    return replace(best, proven=bool(best.cost <= bound + 1e-6), bound=min(bound, best.cost))


def _of(prover: Prover, moves: Sequence[Move]) -> Found | None:
    """The order of these moves, located and with the tools changed at its best."""
    return Search(prover, prover.job.made, in_sequence(moves), rules=Rules(among=set(moves).__contains__)).run()


def _let_go(prover: Prover, best: Found, first: int, patience: Patience) -> Found | None:
    """A cheaper order with the strokes from the ``first`` on in another order, or held otherwise; None where that makes
    nothing cheaper."""
    steps, some = best.steps, best.steps[first:first + LET_GO]
    before, bends = steps[first - 1] if first else None, {i for step in some for i in step.move.bends}
    start = Here(0.0, some[0].before, before.lie if before else Lie(), None)
    end = advanced(some[-1].before, some[-1].move.bends, some[-1].move.to)
    search = Search(prover, end, None, rules=Rules(among=lambda move: bends.issuperset(move.bends)))
    found = search.run(patience, start=start)
    if not found or found.cost >= sum(step.cost for step in some) - 1e-6:
        return None
    better = _of(prover, [step.move for step in (*steps[:first], *found.steps, *steps[first + LET_GO:])])
    return better if better and better.cost < best.cost - 1e-6 else None

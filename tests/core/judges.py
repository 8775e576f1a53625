"""Judges that find out in another way what the engine of orders says."""

import itertools
import math
from dataclasses import replace
from functools import lru_cache

from bendcore.brakes.pieces import MOST_GAP
from bendcore.order.proof.gauge import LINE
from bendcore.order.proof.prover import Prover
from bendcore.order.states.moves import CHILD, MADE, SIDES, Job, Move, advanced


@lru_cache(maxsize=4096)
def a_set_serves(owned: tuple[float, ...], need: float, room: float) -> bool:
    """Whether some pieces reach over a need and fit into a room, by trying all."""
    return any(sum(taken) <= room + 1e-9 and sum(taken) + MOST_GAP * (n - 1) >= need - 1e-9
               for n in range(1, len(owned) + 1) for taken in itertools.combinations(owned, n))


def can_serve(on, asks: list) -> bool:
    """Whether one set of pieces serves all of these needs: of one block each, spanning no less than the largest need
    and no more than the smallest room; of several blocks, the same each time."""
    for group, owned in on.pieces(asks[0].mount).items():
        blocks = [dict(need.groups)[group] for need in asks]
        if len({len(b) for b in blocks}) > 1 or (len(blocks[0]) > 1 and len(set(blocks)) > 1):
            return False
        if len(blocks[0]) == 1 and not a_set_serves(owned, max(b[0][0] for b in blocks),
                                                    min(b[0][1] for b in blocks)):
            return False
    return True


def moved_metres(job: Job, move: Move) -> float:
    """How far what a stroke moves reaches from its line: on a press what goes in to the stop, else what is free."""
    part, first = job.part, job.body.bends[move.bends[0]]
    side, more = set(), [first.child if (move.side == CHILD) == job.brakes[move.on].stops else first.parent]
    while more:
        face = more.pop()
        side.add(face)
        more += [other for bend in part.sheet.bends if bend.id != first.id and face in (bend.parent, bend.child)
                 for other in (bend.parent, bend.child) if other not in side]
    (x0, y0), (x1, y1) = next(b.line for b in part.flat.bends if b.bend.id == first.id)
    return max(abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) for face in side
               for x, y in part.flat.faces[face]) / math.hypot(x1 - x0, y1 - y0) / 1000


def brute_force(job: Job) -> float | None:
    """The least cost over every order, holding, mount and way of locating the sheet; None when there is none."""
    found = least_of_all(job)
    return found and found[0]


def least_of_all(job: Job, changes: bool = True, larger_still: bool = False) -> tuple[float, float] | None:
    """The least cost over every order, holding, mount and way of locating the sheet, and of those that cost as much the
    least that is moved: metres of sheet, and half turns. None when there is none. Without ``changes`` of what is
    mounted, and with the larger side still at every stroke, where that is asked for."""
    prover, least = Prover(job), [(math.inf, math.inf)]

    def go(levels, cost, effort, lie, stop, run):
        """``lie`` is (brake, face up, heading) or None, ``run`` the needs since something was mounted."""
        left = job.count - sum(level == MADE for level in levels)
        cost = round(cost, 9)
        if (cost + left * min(on.costs.stroke for on in job.brakes) / max(map(len, job.in_line)), effort) >= least[0]:
            return
        if levels == job.made:
            least[0] = cost, effort
            return
        for i in range(job.count):
            to = job.next_stage(levels, i)
            if to is None:
                continue
            for bends in {(i,), job.together(levels, i)}:
                for on, side in itertools.product(range(len(job.brakes)), SIDES):
                    for need in prover.mountings.all[prover.mounting(levels, Move(on, bends, to, side))]:
                        step(levels, cost, effort, lie, stop, run, Move(on, bends, to, side), need)

    def step(levels, cost, effort, lie, stop, run, move, need):
        on = job.brakes[move.on]
        face, heading = job.body.bends[move.bends[0]].sign, job.body.heading(move.bends[0], move.side)
        spent, factor = on.costs.stroke, on.costs.two_person_factor if job.by_two else 1.0
        far = moved_metres(job, move)
        effort += far
        if larger_still and far > moved_metres(job, replace(move, side=not move.side)) + 1e-9:
            return
        if not on.stops:
            spent += on.costs.swing * far * factor
        if lie and lie[0] != move.on:
            spent, stop, run = spent + on.costs.move, None, []
        elif lie:
            spent += factor * (on.costs.flip * (face != lie[1]) + on.costs.turn * (heading != lie[2]))
            effort += min((heading - lie[2]) % 360, (lie[2] - heading) % 360) / 180
        runs = [(run, 0.0)] if not lie or lie[0] == move.on else [([], 0.0)]
        if run and changes:
            runs.append(([], on.costs.tool_change if on.stops else on.costs.finger_change))
        for before, change in runs:
            if any(other.mount != need.mount for other in before) or not can_serve(on, [*before, need]):
                continue
            gauge, free = prover.gauge(levels, move)
            ways = [(on.costs.scribed_line, stop)]
            if gauge.kind != LINE and free >> need.mount & 1:
                at = round(gauge.stop, 2)
                ways.insert(0, (on.costs.stop_move * (stop not in (None, at)), at))
            for located, at in ways:
                go(advanced(levels, move.bends, move.to), cost + spent + change + located, effort,
                   (move.on, face, heading), at, [*before, need])

    go(job.flat, 0.0, 0.0, None, None, [])
    return None if least[0][0] is math.inf else least[0]

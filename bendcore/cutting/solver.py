"""Rectangles anywhere on sheets, by a constraint solver: better than a plan at hand, or none in the time.

*OR-tools* (CP-SAT): a piece lies on one sheet or none, as it is or turned where it may be; those on a sheet do not
overlap. Sheets alike are filled in order. Begins from the plan at hand.
"""

import math
from collections.abc import Sequence
from typing import NamedTuple

from ortools.sat.python import cp_model

from ..patience import Patience
from .pieces import Piece, Placed, Stock, fits
from .plan import Plan
from .wish import CUTS, LEFTOVERS, cost

SCALE = 100
"""Places are hundredths of a millimetre."""
MOST_BOXES = 1500
"""Larger questions (pieces × sheets × ways) are left alone: nothing would be found in seconds."""
TOO_NEAR = 1e-3


class _Asked(NamedTuple):
    """Of each piece where it lies, by (piece, sheet, way) whether it does, and whether it lies at all."""

    pieces: Sequence[Piece]
    lies: dict[tuple[int, int, bool], cp_model.IntVar]
    places: list[list[cp_model.IntVar]]
    placed: list[cp_model.IntVar]


def solved(best: Plan, pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float, margin: float,
           patience: Patience, wish: str) -> Plan | None:
    """A better plan than ``best``; None where none was found while there is patience."""
    shelf = [s for s in sorted(stock, key=lambda s: (s.leftover, -s.length * s.width))
             for _ in range(min(s.count, len(best.sheets) + len(best.unplaced)))]
    boxes = {(i, k, way) for i, piece in enumerate(pieces) for k, sheet in enumerate(shelf)
             for way in piece.ways(sheet) if fits(piece, sheet, margin, way)}
    if len(boxes) > MOST_BOXES:
        return None
    model = cp_model.CpModel()
    far = [math.floor(max(sides) * SCALE) for sides in ([s.length for s in shelf], [s.width for s in shelf])]
    places = [[model.new_int_var(0, far[axis], "") for axis in (0, 1)] for _ in pieces]
    lies = {key: model.new_bool_var("") for key in sorted(boxes)}
    used = [model.new_bool_var("") for _ in shelf]
    placed = [model.new_bool_var("") for _ in pieces]
    for i in range(len(pieces)):
        model.add(sum(lit for key, lit in lies.items() if key[0] == i) == placed[i])
    for k, sheet in enumerate(shelf):
        room = [math.floor((side - 2 * margin + kerf) * SCALE + TOO_NEAR) for side in (sheet.length, sheet.width)]
        own, metal = ([], []), []
        for (i, at, way), lit in lies.items():
            if at != k:
                continue
            sides = [math.ceil((side + kerf) * SCALE - TOO_NEAR) for side in pieces[i].sides(way)]
            for axis in (0, 1):
                own[axis].append(model.new_optional_fixed_size_interval_var(places[i][axis], sides[axis], lit, ""))
                model.add(places[i][axis] + sides[axis] <= room[axis]).only_enforce_if(lit)
            model.add_implication(lit, used[k])
            metal.append(sides[0] * sides[1] * lit)
        model.add_no_overlap_2d(*own)
        if metal:
            model.add(sum(metal) <= room[0] * room[1])
        if k and shelf[k - 1].id == sheet.id:
            model.add_implication(used[k], used[k - 1])
    _hint(model, best, shelf, margin, _Asked(pieces, lies, places, placed))
    model.minimize(_worth(wish, shelf, used, placed))
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds, solver.parameters.num_workers = max(patience.left(), 0.1), 2
    solver.best_bound_callback = lambda bound: solver.stop_search() if patience() else None
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    on = {i: (k, way) for (i, k, way), lit in lies.items() if solver.value(lit)}
    numbers = {k: n for n, k in enumerate(sorted({k for k, _ in on.values()}))}
    found = [Placed(piece, numbers[on[i][0]], *(solver.value(v) / SCALE + margin for v in places[i]),
                    90.0 if on[i][1] else 0.0) for i, piece in enumerate(pieces) if i in on]
    plan = Plan.uncut(tuple(shelf[k] for k in numbers), tuple(found), best.least,
                      tuple(piece for i, piece in enumerate(pieces) if i not in on))
    return plan if cost(wish, plan.sheets, plan.unplaced) < cost(wish, best.sheets, best.unplaced) else None


def _worth(wish: str, shelf: Sequence[Stock], used, placed):
    """What is made least: pieces left out, then what the wish counts first and second."""
    whole = sum(lit for sheet, lit in zip(shelf, used, strict=True) if not sheet.leftover)
    opened = sum(lit for sheet, lit in zip(shelf, used, strict=True) if sheet.leftover)
    much = len(shelf) + 1
    by_wish = {LEFTOVERS: (opened, whole), CUTS: (whole + opened, whole)}
    first, second = by_wish.get(wish, (whole, opened))
    return sum(1 - lit for lit in placed) * much * much + first * much + second


def _hint(model, best: Plan, shelf: Sequence[Stock], margin: float, asked: _Asked) -> None:
    """The plan at hand, for a beginning."""
    pieces, lies, places, placed = asked
    free = list(range(len(shelf)))
    at = {}
    for n, sheet in enumerate(best.sheets):
        at[n] = next(k for k in free if shelf[k].id == sheet.id)
        free.remove(at[n])
    own = {one.piece.id: one for one in best.placed}
    for i, piece in enumerate(pieces):
        one = own.get(piece.id)
        model.add_hint(placed[i], one is not None)
        for (j, k, way), lit in lies.items():
            if j == i:
                model.add_hint(lit, one is not None and (k, way) == (at[one.sheet], one.turned % 180 == 90))
        for axis, place in enumerate((one.x, one.y) if one else ()):
            model.add_hint(places[i][axis], round((place - margin) * SCALE))

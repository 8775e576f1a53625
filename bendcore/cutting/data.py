"""Plans as plain data, for records and for other processes: pieces and sheets go in, a plan comes out, as JSON."""

import json
from collections.abc import Iterable

from ..patience import ENDLESS, Patience, Turn
from .anyplace import saw_plan
from .bound import Bounds
from .guillotine import shear_plan
from .pieces import Piece, Placed, Stock
from .plan import Cut, Plan
from .shapes import cutter_plan

SECONDS = {"shear": 3.0, "saw": 3.0, "cutter": 6.0}
"""How long a better plan is looked for."""
PLANNERS = {"shear": shear_plan, "saw": saw_plan, "cutter": cutter_plan}


def asked(pieces: Iterable[Piece], stock: Iterable[Stock]) -> str:
    """What a plan is asked for, as text."""
    return json.dumps({"pieces": [[p.id, p.name, p.length, p.width, p.outline, p.tied, p.holes] for p in pieces],
                       "stock": [[s.id, s.length, s.width, s.count, s.grain, s.leftover] for s in stock]})


def lay_out(way: str, text: str, kerf: float, margin: float, wish: str, patience: Patience = ENDLESS) -> str:
    """The plan asked for by :func:`asked`, as text: the best found in its time, or until ``patience`` is over."""
    data = json.loads(text)
    pieces = [Piece(*row[:4], _ring(row[4]), row[5], tuple(map(_ring, row[6]))) for row in data["pieces"]]
    stock = [Stock(*row) for row in data["stock"]]
    turn = Turn(SECONDS[way], whole=patience)
    return json.dumps(as_data(PLANNERS[way](pieces, stock, kerf, margin, turn, wish=wish)))


def _ring(points: Iterable[Iterable[float]]) -> tuple:
    return tuple(map(tuple, points))


def as_data(plan: Plan) -> dict:
    """A plan as it is kept; pieces by their ids."""
    return {"sheets": [[s.id, s.length, s.width, 1, s.grain, s.leftover] for s in plan.sheets],
            "placed": [[one.piece.id, one.sheet, one.x, one.y, one.turned] for one in plan.placed],
            "cuts": [[[c.axis, c.region, c.stop, c.long, c.trim] for c in own] for own in plan.cuts],
            "leftovers": plan.leftovers,
            "bound": [plan.least.stock, plan.least.whole], "unplaced": [piece.id for piece in plan.unplaced]}


def from_data(data: dict, pieces: Iterable[Piece]) -> Plan:
    """The plan kept so, of these pieces."""
    own = {piece.id: piece for piece in pieces}
    return Plan(tuple(Stock(*row) for row in data["sheets"]),
                tuple(Placed(own[row[0]], *row[1:]) for row in data["placed"]),
                tuple(tuple(Cut(row[0], tuple(row[1]), *row[2:]) for row in cuts) for cuts in data["cuts"]),
                tuple(map(tuple, data["leftovers"])), _bounds(data["bound"]),
                tuple(own[name] for name in data["unplaced"]))


def _bounds(kept: list[int] | int) -> Bounds:
    """Plans of earlier versions kept one number, which held for rectangles only: nothing is proven by it."""
    return Bounds(*kept) if isinstance(kept, list) else Bounds(0, 0)

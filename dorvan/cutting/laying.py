"""Between the shop's records and the core's plans: what may be cut, from what, and a plan as it is kept."""

import json
from collections.abc import Iterable

from bendcore.cutting.anyplace import saw_plan
from bendcore.cutting.guillotine import shear_plan
from bendcore.cutting.pieces import KERFS, Piece, Placed, Stock, pieces_of
from bendcore.cutting.plan import Cut, Plan, faults
from bendcore.cutting.shapes import cutter_plan
from bendcore.errors import Refusal
from bendcore.stock import read_thickness
from dorvan.stockroom.models import Lot, MaterialValue
from dorvan.tickets.models import Ticket
from dorvan.tickets.results.longwork import desk

from .models import CuttingPlan

PLANNERS = {"shear": shear_plan, "saw": saw_plan, "cutter": cutter_plan}
KERF = {"shear": KERFS["shear"], "saw": KERFS["band saw"], "cutter": KERFS["laser"]}
"""Of each way unless said otherwise, mm (*start*)."""
ALIKE = 0.06
"""Sheet whose thickness differs by less is the same stock, mm."""
MOST = 400
"""Blanks in one plan."""


def groups(tickets: Iterable[Ticket]) -> list[dict]:
    """Open tickets by what they are cut from: ``material``, ``thickness`` and the ``tickets``."""
    known, found = MaterialValue.known(), []
    for ticket in tickets:
        stock = ticket.part["stock"]
        name = stock["material"]
        try:
            thick = read_thickness(stock["thickness"], ticket.part["units"], known[name])
        except (Refusal, KeyError):  # a stock that cannot be read is not cut
            continue
        group = next((g for g in found if g["material"] == name and abs(g["thickness"] - thick) < ALIKE), None)
        if group is None:
            group = {"material": name, "thickness": thick, "tickets": []}
            found.append(group)
        group["tickets"].append(ticket)
    return found


def sheets_for(material: str, thickness: float) -> list[Lot]:
    """Lots of this stock with a sheet left, leftovers first."""
    lots = Lot.objects.filter(material=material, count__gt=0).select_related("cut_from")
    return sorted((lot for lot in lots if abs(lot.best - thickness) < ALIKE or abs(lot.thickness - thickness) < ALIKE),
                  key=lambda lot: (lot.cut_from is None, lot.length * lot.width))


def blank_of(ticket: Ticket, count: int) -> dict:
    """A ticket's blank as a plan keeps it; refuses one that lies on itself."""
    part = ticket.figures.part
    if part.conflicts[0]:
        raise Refusal(f"t{ticket.number}", f"of {ticket.tag} lies on itself in the blank: it cannot be cut")
    piece = next(pieces_of(part, "x", 1))
    return {"name": ticket.name, "count": count, "length": piece.length, "width": piece.width,
            "outline": [[round(x, 4), round(y, 4)] for x, y in piece.outline], "tied": piece.tied}


def pieces(plan: CuttingPlan) -> list[Piece]:
    """Every blank of a plan, by its ticket and number."""
    return [Piece(f"T-{int(number):04d}.{n}", blank["name"], blank["length"], blank["width"],
                  tuple(map(tuple, blank["outline"])), blank["tied"])
            for number, blank in plan.blanks.items() for n in range(1, blank["count"] + 1)]


def worked_out(way: str, text: str, kerf: float, margin: float) -> str:
    """A plan as text, for another process: pieces and sheets come as JSON."""
    data = json.loads(text)
    own = [Piece(p[0], p[1], p[2], p[3], tuple(map(tuple, p[4])), p[5]) for p in data["pieces"]]
    stock = [Stock(*row) for row in data["stock"]]
    return json.dumps(kept(PLANNERS[way](own, stock, kerf, margin)))


def lay_out(plan: CuttingPlan) -> dict:
    """The plan worked out; raises Working while that goes on, Refusal where a blank fits no sheet."""
    own = [[p.id, p.name, p.length, p.width, p.outline, p.tied] for p in pieces(plan)]
    text = json.dumps({"pieces": own, "stock": plan.sheets})
    return json.loads(desk.ask(worked_out, plan.way, text, plan.kerf, plan.margin))


def kept(plan: Plan) -> dict:
    """A core's plan as it is kept."""
    return {"sheets": [[s.id, s.length, s.width, 1, s.grain, s.leftover] for s in plan.sheets],
            "placed": [[one.piece.id, one.sheet, one.x, one.y, one.turned] for one in plan.placed],
            "cuts": [[[c.axis, c.region, c.stop, c.long, c.trim] for c in own] for own in plan.cuts],
            "leftovers": plan.leftovers, "bound": plan.bound, "unplaced": [piece.id for piece in plan.unplaced]}


def laid(plan: CuttingPlan) -> Plan:
    """The plan kept, as the core's."""
    own, data = {piece.id: piece for piece in pieces(plan)}, plan.laid
    return Plan(tuple(Stock(*row) for row in data["sheets"]),
                tuple(Placed(own[row[0]], *row[1:]) for row in data["placed"]),
                tuple(tuple(Cut(row[0], tuple(row[1]), *row[2:]) for row in cuts) for cuts in data["cuts"]),
                tuple(map(tuple, data["leftovers"])), data["bound"], tuple(own[name] for name in data["unplaced"]))


def moved(plan: CuttingPlan, name: str, sheet: int, x: float, y: float, turned: float) -> dict:
    """The kept plan with one piece laid elsewhere by hand: its cuts and leftovers are no longer known."""
    found = laid(plan)
    if name not in {one.piece.id for one in found.placed}:
        raise Refusal("piece", "is not on this plan")
    if not 0 <= sheet < len(found.sheets):
        raise Refusal("sheet", f"must be a sheet from 1 to {len(found.sheets)}")
    placed = tuple(Placed(one.piece, sheet, x, y, turned) if one.piece.id == name else one for one in found.placed)
    return kept(Plan(found.sheets, placed, ((),) * len(found.sheets), (), found.bound, found.unplaced))


def wrong(plan: CuttingPlan, found: Plan) -> list[tuple[int, object]]:
    """(sheet, what is wrong) of a plan laid by hand; what was worked out was looked over then."""
    return faults(found.sheets, found.placed, plan.kerf, plan.margin) if plan.by_hand else []

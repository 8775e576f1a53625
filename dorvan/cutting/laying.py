"""Between the shop's records and the core's plans: what may be cut, from what, and a plan as it is kept."""

import json
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field, replace

from bendcore.cutting import data
from bendcore.cutting.pieces import KERFS, Piece, Placed, Stock, lies_over, pieces_of
from bendcore.cutting.plan import Plan, faults
from bendcore.errors import Refusal
from bendcore.layout.linework import Linework, linework, read_linework
from bendcore.stock import alike
from dorvan.longwork.desk import Working
from dorvan.longwork.desks import once, plans
from dorvan.longwork.watch import forget, progress
from dorvan.stockroom.models import Lot
from dorvan.tickets import gate
from dorvan.tickets.models import Ticket, number_in, tag_of
from dorvan.tickets.models.cut import blank_key

from .models import CuttingPlan
from .solving import name_for, solved

KERF = {"shear": KERFS["shear"], "saw": KERFS["band saw"], "cutter": KERFS["laser"]}
"""Of each way unless said otherwise, mm (*start*)."""
MOST = 400
"""Blanks in one plan."""
plans.takes(solved, 5)


def sheets_for(material: str, thickness: float) -> list[Lot]:
    """Lots of this stock with a sheet left, leftovers first."""
    return sheets_of(thickness, Lot.objects.filter(material=material, count__gt=0))


def sheets_of(thickness: float, lots: Iterable[Lot]) -> list[Lot]:
    """Of lots of one material those of this thickness, leftovers first."""
    return sorted((lot for lot in lots if alike(lot.thickness, thickness) or alike(lot.best, thickness)),
                  key=lambda lot: (lot.cut_from_id is None, lot.length * lot.width))


def blank_of(ticket: Ticket, count: int) -> dict:
    """A ticket's blank as a plan keeps it; refuses one that lies on itself."""
    part = ticket.figures.part
    if part.conflicts[0]:
        raise Refusal(f"t{ticket.number}", f"of {ticket.tag} lies on itself in the blank: it cannot be cut")
    piece = next(pieces_of(part, "x", 1))
    lines = linework(part).turned_over(piece.length) if lies_over(part) else linework(part)
    return {"key": blank_key(ticket), "linework": lines.as_data(), "over": lies_over(part),
            "good": part.stock.good and part.stock.good_called,
            "name": ticket.name, "count": count, "length": piece.length, "width": piece.width,
            "outline": [[round(x, 4), round(y, 4)] for x, y in piece.outline], "tied": piece.tied}


def pieces(plan: CuttingPlan) -> list[Piece]:
    """Every blank of a plan, by its ticket and number."""
    found = []
    for number, blank in plan.blanks.items():
        drawn = _drawn(blank)
        holes = tuple(tuple(contour.ring) for contour in drawn.contours[1:]) if drawn else ()
        one = Piece("", blank["name"], blank["length"], blank["width"], tuple(map(tuple, blank["outline"])),
                    blank["tied"], holes)
        found += [replace(one, id=f"{tag_of(int(number))}.{n}") for n in range(1, blank["count"] + 1)]
    return found


def _drawn(blank: dict) -> Linework | None:
    return read_linework(blank["linework"]) if "linework" in blank else None


def drawn(plan: CuttingPlan) -> dict[str, Linework]:
    """By piece all that is cut and marked of it; refuses a plan made before that was kept."""
    found = {}
    for number, blank in plan.blanks.items():
        own = _drawn(blank)
        if own is None:
            raise Refusal("plan", "was made before holes and bend lines were kept with it: its drawing would leave "
                                  "them out. Make a new plan of these blanks")
        found |= {f"{tag_of(int(number))}.{n}": own for n in range(1, blank["count"] + 1)}
    return found


@dataclass(frozen=True)
class Standing:
    """How a plan stands that is not laid out: ``working`` on it with ``ahead`` others before it and ``far`` as it is,
    or ``refused``."""

    working: bool = False
    ahead: int = 0
    far: dict = field(default_factory=dict)
    refused: Refusal | None = None


def asked_for(plan: CuttingPlan) -> tuple:
    """What is handed in at the desk for a plan."""
    text = data.asked(pieces(plan), [Stock(*row) for row in plan.sheets])
    return plan.way, text, plan.kerf, plan.margin, plan.wish


def lay_out(plan: CuttingPlan) -> Standing:
    """Have a plan worked out, or find what came of that: it is ``laid`` then; how it stands."""
    if plan.laid is not None:
        return Standing()
    asked = asked_for(plan)
    try:
        found = json.loads(once(plans, solved, *asked))
    except Working as going_on:
        return Standing(True, going_on.ahead, progress(name_for(*asked)))
    except Refusal as refusal:
        return Standing(refused=refusal)
    forget(name_for(*asked))
    CuttingPlan.objects.filter(pk=plan.pk, laid__isnull=True).update(laid=found)
    plan.refresh_from_db()
    return Standing()


def laid(plan: CuttingPlan) -> Plan:
    """The plan kept, as the core's."""
    return data.from_data(plan.laid, pieces(plan))


def moved(plan: CuttingPlan, name: str, sheet: int, x: float, y: float, turned: float) -> dict:
    """The kept plan with one piece laid elsewhere by hand: its cuts and leftovers are no longer known."""
    found = laid(plan)
    if name not in {one.piece.id for one in found.placed}:
        raise Refusal("piece", "is not on this plan")
    if not 0 <= sheet < len(found.sheets):
        raise Refusal("sheet", f"must be a sheet from 1 to {len(found.sheets)}")
    placed = tuple(Placed(one.piece, sheet, x, y, turned) if one.piece.id == name else one for one in found.placed)
    return data.as_data(Plan.uncut(found.sheets, placed, found.least, found.unplaced))


def wrong(plan: CuttingPlan, found: Plan) -> list[tuple[int, object]]:
    """(sheet, what is wrong) of a plan laid by hand; what was worked out was looked over then."""
    return faults(found.sheets, found.placed, plan.kerf, plan.margin) if plan.by_hand else []


def held_on(found: Plan, sheets: Collection[int]) -> dict[int, list[Ticket]]:
    """By sheet the tickets with blanks on it whose gate is shut."""
    on = {n: {number_in(one.piece.id) for one in found.placed if one.sheet == n} for n in sheets}
    tickets = Ticket.objects.filter(number__in=set().union(*on.values())).order_by("number")
    shut = [ticket for ticket in tickets if gate.shut(ticket)]
    return {n: [ticket for ticket in shut if ticket.number in own] for n, own in on.items()}

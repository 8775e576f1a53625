"""Reading what is posted of cutting plans. Refusals name the field; nothing typed is lost."""

import math

from bendcore.errors import Refusal
from bendcore.units import read_length
from dorvan.fields import number, one_of, whole
from dorvan.tickets.models import Ticket

from .laying import KERF, MOST, blank_of, sheets_for
from .models import CuttingPlan
from .waiting import by_stock

WIDEST_KERF, WIDEST_MARGIN = 10.0, 100.0
FARTHEST = 20_000.0


def read_way(form, units: str) -> dict:
    """How it is cut: the way, what is saved, its kerf and the margin, mm."""
    way = one_of(form.get("way"), CuttingPlan.Way.values, "way")
    found = {"way": way, "wish": one_of(form.get("wish") or CuttingPlan.Wish.SHEETS, CuttingPlan.Wish.values, "wish")}
    for key, most, usual in (("kerf", WIDEST_KERF, KERF[way]), ("margin", WIDEST_MARGIN, 0.0)):
        text = form.get(key, "").strip()
        size = read_length(text, units, key) if text else usual
        if not 0 <= size <= most:
            raise Refusal(key, f"must be from 0 to {most:g} mm")
        found[key] = size
    return found


def read_new(form, units: str) -> list[dict]:
    """The fields of one plan for each stock: which tickets with how many blanks of each, from which lots."""
    way, found = read_way(form, units), []
    counts = _counted(form)
    blanks = {str(ticket.number): blank_of(ticket, count) for ticket, count in counts.items()}
    for material, thickness, tickets in by_stock(counts):
        lots = sheets_for(material, thickness)
        if not lots:
            raise Refusal(f"t{tickets[0].number}", "has no sheet in the stockroom: enter the lot first")
        found.append(way | {
            "material": material, "thickness": thickness,
            "blanks": {str(ticket.number): blanks[str(ticket.number)] for ticket in tickets},
            "sheets": [[lot.code, lot.length, lot.width, lot.count, lot.grain, lot.cut_from is not None]
                       for lot in lots]})
    return found


def _counted(form) -> dict[Ticket, int]:
    """The tickets chosen, with how many blanks of each."""
    counts = {key: whole(form[key], key, 0, MOST) for key in form
              if key.startswith("t") and number(key[1:]) is not None and form[key].strip()}
    counts = {key: count for key, count in counts.items() if count}
    if not counts:
        raise Refusal("tickets", "choose at least one ticket and how many blanks of it")
    if sum(counts.values()) > MOST:
        raise Refusal("tickets", f"come to more than {MOST} blanks: cut them in two goes")
    known = {t.number: t for t in Ticket.objects.filter(number__in=[int(key[1:]) for key in counts])}
    for key in counts:
        if int(key[1:]) not in known:
            raise Refusal(key, "is no ticket")
    return {known[int(key[1:])]: count for key, count in counts.items()}


def read_move(form, units: str) -> tuple[str, int, float, float, float]:
    """(piece, sheet from 0, x, y, turned) as dragged or typed."""
    x, y = (read_length(form.get(key, ""), units, key) for key in ("x", "y"))
    for key, value in (("x", x), ("y", y)):
        if not abs(value) <= FARTHEST:
            raise Refusal(key, "is far off any sheet")
    try:
        turned = float(form.get("turned", "0") or 0)
    except ValueError:
        turned = math.nan
    if not math.isfinite(turned) or abs(turned) > 360:
        raise Refusal("turned", "must be degrees from -360 to 360")
    return form.get("piece", "")[:40], whole(form.get("sheet"), "sheet", 1, 999) - 1, x, y, turned % 360

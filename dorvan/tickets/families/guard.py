"""The Shape stage of a guard."""

import math

from dorvan.drawings.net import net_view
from dorvan.drawings.side import side_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks, outline_picks
from .plate import edge_rows
from .rows import ENTRY, TURN, Row


def guard_page(ticket, units: str) -> dict:
    """The wrapper laid open, a leg's length on each, beside it the side outline and the turned edges."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    guard = part.shape
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts, room=(60, 84, 60, 250))
    labels = []
    for leg, at in zip(guard.panels, guard.wrapped, strict=True):
        number = guard.numbers[at]
        entry = size(f"edges[{number - 1}]", None, mm=leg.size)
        labels.append(placed(entry, view, leg.id) | {"label": f"{leg.id}, edge {number}",
                                                     "name": f"Leg {leg.id}, {guard.dims}"})
    drawn, side = drawn_in(labels), side_view(guard)
    hands = Hands(ticket, units, drawn)
    edge_rows(hands, data)
    _edges(hands, guard, data, size, drawn)
    picks = net_picks(part, view, hands.all())
    return {"view": view, **spread_out(labels, view), "things": hands.all(), "picks": picks,
            "side_view": side | {"picks": outline_picks(numbered(guard), side["fit"], hands.all())}}


def numbered(guard) -> list[tuple[int, tuple]]:
    """(number as given, (corner, corner)) of every edge, each beginning at the corner of its own number."""
    n, clockwise = len(guard.outline), guard.numbers[0] > guard.numbers[1]
    found = []
    for i, number in guard.numbers.items():
        ends = (guard.outline[i], guard.outline[(i + 1) % n])
        found.append((number, ends[::-1] if clockwise else ends))
    return found


def _edges(hands, guard, data, size, drawn) -> None:
    """The length of each edge, and that the wrapper begins or ends with it."""
    wrapped = data.get("wrapped", (1, len(guard.outline)))
    for number, edge in numbered(guard):
        field = f"shape.edges[{number - 1}]"
        entry = size(f"edges[{number - 1}]", None, mm=math.dist(*edge))
        rows = [Row(ENTRY, field, "Length", f"Edge {number}", entry["value"], entry["unit"], drawn=field in drawn)]
        rows += [Row(TURN, f"shape.wrapped[{j}]", f"The wrapper {way} with it", f"The wrapper {way} with edge {number}",
                     "", options=("", str(number)))
                 for j, way in enumerate(("begins", "ends")) if "wrapped" in data and wrapped[j] != number]
        hands.add(f"edge-{number}", rows)


PAGE = FamilyPage(guard_page, "tickets/_shape_guard.html",
                  '<path d="M5 25V12l7-8h12v21M24 4l11-2v21l-11 2M12 4l11-2h12"/>')

"""The Shape stage of a guard."""

import math

import shapely

from dorvan.drawings.net import net_view
from dorvan.drawings.side import UNDER_SIDE, side_view

from .entries import drawn_in, sizer, spread_out, wide_enough
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks, outline_picks
from .plate import edge_rows
from .rows import ENTRY, TURN, Row

BESIDE = 14
"""So far off its edge a number stands where sizes are rows, pixels."""


def guard_page(ticket, units: str) -> dict:
    """The side outline with a length on each of its edges, under it the wrapper laid open, and the turned edges."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    guard = part.shape
    view, side = net_view(part, units, UNDER_SIDE, ticket.figures.known_conflicts), side_view(guard)
    legs = {guard.numbers[at]: leg.id for leg, at in zip(guard.panels, guard.wrapped, strict=True)}
    names = [{"text": leg, "x": view["faces"][leg][0], "y": view["faces"][leg][1] + 4} for leg in legs.values()]
    known, labels = dict(numbered(guard)), []
    for edge in side.edges:
        n, leg = edge.number, legs.get(edge.number)
        entry = size(f"edges[{n - 1}]", None, mm=math.dist(*known[n]))
        labels.append(entry | {"label": f"{leg}, edge {n}" if leg else f"edge {n}", "short": str(n), "face": n,
                               "name": f"{f'Leg {leg}, ' if leg else ''}edge {n}, {guard.dims}", "at": edge.at,
                               "away": edge.away, "wide": wide_enough(entry)})
    view["faces"] |= {edge.number: edge.middle for edge in side.edges}
    drawn, free = drawn_in(labels), view["taken"]
    hands = Hands(ticket, units, drawn)
    edge_rows(hands, data)
    _edges(hands, guard, data, size, drawn)
    picks = net_picks(part, view, hands.all()) + outline_picks(numbered(guard), side.fit, hands.all())
    placed = spread_out(labels, view | {"taken": lambda: shapely.union(free(), side.taken)}, off=BESIDE)
    return {"view": view, "side": side, **placed, "names": names + placed.get("names", []), "things": hands.all(),
            "picks": picks}


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

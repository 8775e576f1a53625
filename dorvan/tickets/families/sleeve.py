"""The Shape stage of a sleeve."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks


def sleeve_page(ticket, units: str) -> dict:
    """The sleeve laid open: width, height and length on its panels, seam and flanges beside it."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    shape = part.shape
    labels = [placed(size(key, data[key], mm=mm), view, face, dy=dy) | {
        "label": key, "name": f"{key.capitalize()}, {shape.dims if key != 'length' else 'over the flanges'}"}
        for key, face, dy, mm in (("width", "P1", -30, shape.panels[0].size), ("length", "P1", 40, shape.long.size),
                                  ("height", "P2", -30, shape.panels[1].size))]
    hands = Hands(ticket, units, drawn_in(labels))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all()), "own": "tickets/_fit.html"}


PAGE = FamilyPage(sleeve_page, "tickets/_shape_sleeve.html",
                  '<path d="M4 9h18v15H4zM4 9l12-6h18M22 9l12-6v13l-12 8M9 13h8v7H9z"/>')

"""The Shape stage of a tray."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks


def tray_page(ticket, units: str) -> dict:
    """A tray laid open, its sizes beside its walls."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    legs = {leg.id: leg for leg in part.shape.legs}
    sizes = [("length", "length", data["length"], "base", (0, 62)),
             ("width", "width", data["width"], "base", (-150, 0))]
    sizes += [(f"walls.{side}.height", side, data["walls"][side]["height"], side, (0, 0)) for side in data["walls"]]
    labels = []
    for path, leg, raw, face, by in sizes:
        is_base = face == "base"
        labels.append(placed(size(path, raw, mm=legs[leg].size), view, face, *by) | {
            "kind": "leg", "label": leg if is_base else f"{leg}, high",
            "name": f"{leg.capitalize()}, {legs[leg].dims}" if is_base else
            f"Height of the {leg} wall, {legs[leg].dims}"})
    hands = Hands(ticket, units, drawn_in(labels))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all()), "own": "tickets/_fit.html"}


PAGE = FamilyPage(tray_page, "tickets/_shape_tray.html",
                  '<path d="M10 10L4 4M30 10l6-6M10 20l-6 5M30 20l6 5M10 10h20v10H10zM4 4v21h32V4z"/>')

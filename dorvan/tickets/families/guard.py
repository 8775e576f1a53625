"""The Shape stage of a guard."""

from bendcore.families.guard import BACK, FRONT
from dorvan.drawings.net import net_view
from dorvan.drawings.side import side_view

from .entries import placed, sizer, spread_out
from .plate import corner_entries


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
    sides = []
    for side in (FRONT, BACK):
        block = data.get(side)
        sides.append({"side": side, "on": bool(block), "way": block["direction"] if block else "",
                      "other": "in" if block and block["direction"] == "out" else "out",
                      "field": size(f"{side}.width", block["width"], "Width of the edge") if block else None})
    return {"view": view, **spread_out(labels, view), "sides": sides, "corners": corner_entries(data, size),
            "side_view": side_view(guard),
            "across": size("width", data["width"], "Width, over the turned edges", guard.across.size),
            "wrapped": [{"field": f"shape.wrapped[{j}]", "label": ("From edge", "To edge")[j], "value": number}
                        for j, number in enumerate(data.get("wrapped", ()))],
            "gap": size("corners.gap", data.get("corners", {}).get("gap", "0.5 mm"), "Gap at the corners")}

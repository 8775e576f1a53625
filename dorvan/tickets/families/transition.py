"""The Shape stage of a transition."""

from .ends import Ends, developed_page, rectangle_and
from .entries import sizer
from .page import FamilyPage
from .rows import ENTRY, Row


def transition_page(ticket, units: str) -> dict:
    """Both ends from above and from the front with their sizes, the panels laid open; how the top stands over the
    bottom beside."""
    data, own = ticket.part["shape"], ticket.figures.part.shape.sizes
    sized = rectangle_and(own.offset, ("bottom.length", "bottom.width"), ("top.length", "top.width"), own.dims)
    return developed_page(ticket, units, Ends(sized, with_plan=True), moved("top", data, sizer(ticket, units)))


def moved(end: str, data: dict, size) -> list[Row]:
    """Rows for how far an end stands off the middle of the other."""
    rows = []
    for i, (raw, way) in enumerate(zip(data[end].get("offset", ()), ("right", "back"), strict=False)):
        entry, label = size(f"{end}.offset[{i}]", raw), f"{end.capitalize()} moved {way}"
        rows.append(Row(ENTRY, entry["field"], label, f"{label}, from the other end's middle", entry["value"],
                        str(entry["unit"])))
    return rows


PAGE = FamilyPage(transition_page, "tickets/_shape_transition.html",
                  '<path d="M4 20l12 5 20-5-12-4zM14 6l5 2 9-2-5-2zM4 20L14 6M16 25l3-17M36 20L28 6"/>')

"""The Shape stage of a transition."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, of_ends, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks
from .rows import ENTRY, Row

SIZES = (("bottom.length", 40), ("top.length", -40), ("bottom.width", 40), ("top.width", -40), ("height", 0))
"""Field, and how far below the middle of its panel it stands, pixels."""


def transition_page(ticket, units: str) -> dict:
    """The panels laid open: sizes of the ends and the height on them, how the top stands over the bottom beside."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    shape = part.shape
    panels = list({panel.number: panel.facet.id for panel in shape.chain}.items())
    along = {"width" if number % 2 == 0 else "length": name for number, name in reversed(panels)}
    faces = [(path, along.get(path.rpartition(".")[2], panels[-1][1]), dy) for path, dy in SIZES]
    labels = of_ends(faces, data, size, view, shape.dims)
    hands = Hands(ticket, units, drawn_in(labels))
    hands.add("whole", moved("top", data, size))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


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

"""The Shape stage of what is rolled: cones and tubes, and the pieces of elbows and chains."""

from bendcore.fields import Length
from bendcore.part_file import field_at
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks

OFF = {"large": (0, 150), "small": (0, -150), "height": (150, 0), "diameter": (0, -60), "length": (0, 60),
       "radius": (0, 60)}
"""Where the input of a size stands, from the middle of the blank, pixels."""


def rolled_page(ticket, units: str) -> dict:
    """The blank with its sizes on it."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    face, labels = part.sheet.root, []
    for key, (dx, dy) in OFF.items():
        place = field_at(f"shape.{key}", ticket.kind) if key in data else None
        if place and isinstance(place.field, Length):
            name = place.field.title + ("" if key in ("height", "length", "radius") else f", {part.shape.dims}")
            labels.append(placed(size(key, data[key]), view, face, dx, dy) | {"label": key, "name": name})
    hands = Hands(ticket, units, drawn_in(labels))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


PAGES = {
    "cone": FamilyPage(rolled_page, "tickets/_shape_cone.html",
                  '<path d="M4 21a16 4 0 0 0 32 0M4 21L14 6M36 21L26 6"/><ellipse cx="20" cy="6" rx="6" ry="2.5"/>'),
    "tube": FamilyPage(rolled_page, "tickets/_shape_tube.html",
                  '<path d="M8 6v16a12 4 0 0 0 24 0V6"/><ellipse cx="20" cy="6" rx="12" ry="3.5"/>'),
    "elbow": FamilyPage(rolled_page, "tickets/_shape_elbow.html",
                  '<path d="M6 25h12M6 25L8 12 18 4l14-2v10l-8 1-4 4-2 8M8 12l12 5M18 4l6 9"/>'),
    "chain": FamilyPage(rolled_page, "tickets/_shape_chain.html",
                  '<path d="M5 25h16M5 25l4-10 8-8 10-5 6 4-6 6-4 6-2 7M9 15l14 3M17 7l10 5"/>'),
}

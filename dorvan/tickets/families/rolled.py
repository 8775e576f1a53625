"""The Shape stage of what is rolled: cones and tubes, and the pieces of elbows and chains."""

from bendcore.fields import Length
from bendcore.part_file import field_at
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
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

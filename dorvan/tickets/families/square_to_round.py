"""The Shape stage of a square to round."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, of_ends, sizer, spread_out
from .hands import Hands
from .picks import net_picks
from .transition import moved

SIZES = (("square.length", "T2", 0), ("square.width", "T3", 0), ("round.diameter", "F2.1", 0), ("height", "T4", 0))
"""Field, the face it stands on, and how far below the middle of that."""


def square_to_round_page(ticket, units: str) -> dict:
    """The facets laid open with the sizes of both ends and the height on them, how the round stands over the square
    beside."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels = of_ends(SIZES, data, size, view, part.shape.dims)
    hands = Hands(ticket, units, drawn_in(labels))
    hands.add("whole", moved("round", data, size))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}

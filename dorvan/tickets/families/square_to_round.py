"""The Shape stage of a square to round."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, of_ends, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks
from .transition import moved

SIZES = (("square.length", "T", 0), ("square.width", "T", 1), ("round.diameter", "F", 0), ("height", "T", 2))
"""Field, and the face it stands on: the how many-th triangle or facet of the piece, as far as it has so many."""


def square_to_round_page(ticket, units: str) -> dict:
    """The facets laid open with the sizes of both ends and the height on them, how the round stands over the square
    beside."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    names = [panel.facet.id for panel in part.shape.chain]
    kinds = {kind: [name for name in names if name[0] == kind] for kind in "TF"}
    if part.shape.pieces == 1:
        kinds["T"] = ["T2", "T3", "T4"]
    sizes = [(path, kinds[kind][min(n, len(kinds[kind]) - 1)], 0) for path, kind, n in SIZES]
    labels = of_ends(sizes, data, size, view, part.shape.dims)
    hands = Hands(ticket, units, drawn_in(labels))
    hands.add("whole", moved("round", data, size))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


PAGE = FamilyPage(square_to_round_page, "tickets/_shape_square-to-round.html",
                  '<path d="M4 20l14 6 18-6-14-5zM4 20l10-14M18 26l2-17M36 20L26 6"/>'
                  '<ellipse cx="20" cy="6" rx="6" ry="2.5"/>')

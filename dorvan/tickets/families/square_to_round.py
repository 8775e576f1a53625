"""The Shape stage of a square to round."""

from .ends import Ends, developed_page, rectangle_and
from .entries import sizer
from .page import FamilyPage
from .transition import moved


def square_to_round_page(ticket, units: str) -> dict:
    """Square and round from above and from the front with their sizes, the facets laid open; how the round stands over
    the square beside."""
    data, shape = ticket.part["shape"], ticket.figures.part.shape
    sized = rectangle_and(shape.offset, ("square.length", "square.width"), ("round.diameter",), shape.dims)
    return developed_page(ticket, units, Ends(sized, with_plan=True), moved("round", data, sizer(ticket, units)))


PAGE = FamilyPage(square_to_round_page, "tickets/_shape_square-to-round.html",
                  '<path d="M4 20l14 6 18-6-14-5zM4 20l10-14M18 26l2-17M36 20L26 6"/>'
                  '<ellipse cx="20" cy="6" rx="6" ry="2.5"/>')

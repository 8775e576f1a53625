"""The Shape stage of a sleeve."""

from collections.abc import Iterable

from dorvan.drawings.elevation import ABOVE, FRONT, Span

from .ends import Ends, Mm, Sized, across, deep, developed_page
from .page import FamilyPage


def sleeve_page(ticket, units: str) -> dict:
    """The sleeve end on and from the front, with its width, height and length; laid open beside."""
    shape = ticket.figures.part.shape
    width, height, long = shape.panels[0].size, shape.panels[1].size, shape.long.size

    def sized(_mm: Mm) -> Iterable[Sized]:
        left = -shape.width / 2
        yield Sized("width", ABOVE, Span(*across(width, 0, 0, -shape.height / 2), "below"), shape.dims, width)
        yield Sized("height", ABOVE, Span(*deep(height, 0, left), "left"), shape.dims, height)
        yield Sized("length", FRONT, Span((left, 0, 0), (left, 0, long), "left"), "over the flanges", long)
    return developed_page(ticket, units, Ends(sized, with_plan=True, plan="end on")) | {"own": "tickets/_fit.html"}


PAGE = FamilyPage(sleeve_page, "tickets/_shape_sleeve.html",
                  '<path d="M4 9h18v15H4zM4 9l12-6h18M22 9l12-6v13l-12 8M9 13h8v7H9z"/>')

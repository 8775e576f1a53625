"""The Shape stage of what is rolled: cones and tubes, and the pieces of elbows and chains."""

from collections.abc import Iterable

from bendcore.units import read_length
from dorvan.drawings.elevation import FRONT, Span

from .ends import Ends, Mm, Sized, across, developed_page
from .page import FamilyPage


def cone_page(ticket, units: str) -> dict:
    """The cone from the front with its sizes, its blank beside."""
    how = ticket.figures.part.shape.dims

    def sized(mm: Mm) -> Iterable[Sized]:
        large, small, high = mm("large"), mm("small"), mm("height")
        yield Sized("large", FRONT, Span(*across(large, 0), "below"), how)
        yield Sized("small", FRONT, Span(*across(small, high), "above"), how)
        yield Sized("height", FRONT, Span((-large / 2, 0, 0), (-small / 2, 0, high), "left"))
    return developed_page(ticket, units, Ends(sized))


def tube_page(ticket, units: str) -> dict:
    """The tube from the front with its sizes, its blank beside."""
    how = ticket.figures.part.shape.dims

    def sized(mm: Mm) -> Iterable[Sized]:
        across_it, long = mm("diameter"), mm("length")
        yield Sized("diameter", FRONT, Span(*across(across_it, 0), "below"), how)
        yield Sized("length", FRONT, Span((-across_it / 2, 0, 0), (-across_it / 2, 0, long), "left"))
    return developed_page(ticket, units, Ends(sized))


def elbow_page(ticket, units: str) -> dict:
    """The whole elbow from the side it turns to, with the radius of its centre line; the blank of this piece beside."""
    shape = ticket.figures.part.shape
    middle = read_length(ticket.part["shape"]["radius"], ticket.part["units"])
    if shape.rings()[-1].mean(axis=0)[0] < 0:
        middle = -middle

    def sized(mm: Mm) -> Iterable[Sized]:
        yield Sized("diameter", FRONT, Span(*across(mm("diameter"), 0), "below"), shape.dims)
        yield Sized("radius", FRONT, Span((0, 0, 0), (middle, 0, 0), "below", row=1))
    return developed_page(ticket, units, Ends(sized, lit=shape.number - 1, also=((middle, 0.0, 0.0),)))


def chain_page(ticket, units: str) -> dict:
    """The whole chain from the front, its stations numbered; the blank of this piece beside."""
    return developed_page(ticket, units, Ends(lambda mm: (), lit=ticket.figures.part.shape.number - 1, numbered=True))


PAGES = {
    "cone": FamilyPage(cone_page, "tickets/_shape_cone.html",
                  '<path d="M4 21a16 4 0 0 0 32 0M4 21L14 6M36 21L26 6"/><ellipse cx="20" cy="6" rx="6" ry="2.5"/>'),
    "tube": FamilyPage(tube_page, "tickets/_shape_tube.html",
                  '<path d="M8 6v16a12 4 0 0 0 24 0V6"/><ellipse cx="20" cy="6" rx="12" ry="3.5"/>'),
    "elbow": FamilyPage(elbow_page, "tickets/_shape_elbow.html",
                  '<path d="M6 25h12M6 25L8 12 18 4l14-2v10l-8 1-4 4-2 8M8 12l12 5M18 4l6 9"/>'),
    "chain": FamilyPage(chain_page, "tickets/_shape_chain.html",
                  '<path d="M5 25h16M5 25l4-10 8-8 10-5 6 4-6 6-4 6-2 7M9 15l14 3M17 7l10 5"/>'),
}

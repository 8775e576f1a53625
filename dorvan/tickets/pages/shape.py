"""Shape: the part as its family is described, and the sample it is made after."""

from bendcore.families.mates import sizes_of

from ..families import PAGES
from ..models import Ticket


def shape(ticket: Ticket, units: str) -> dict:
    """The part as its family is described, and the sample it is made after."""
    sizes = list(sizes_of(ticket.figures.part.shape).items())
    return PAGES[ticket.kind].build(ticket, units) | {"photograph": ticket.photographed, "sample_sizes": sizes}

"""Shape: the part as its family is described, and the sample it is made after."""


from ..families import PAGES
from ..models import Ticket


def shape(ticket: Ticket, units: str) -> dict:
    """The part as its family is described, and the sample it is made after."""
    sizes = list(ticket.figures.part.shape.mate_sizes().items())
    return PAGES[ticket.kind].build(ticket, units) | {"photograph": ticket.photographed, "sample_sizes": sizes}

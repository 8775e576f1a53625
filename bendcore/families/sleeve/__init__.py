"""Four panels round a rectangular section: ``sleeve``."""

from ..common import swapped
from ..family import Family, ReadMm
from .edits import start
from .shape import ENDS, Sleeve, read_sleeve


def mirror(shape: dict, length: ReadMm) -> dict:
    """A sleeve's other hand is the sleeve read from its other end."""
    return swapped(shape, "start_flange", "end_flange")


FAMILY = Family(Sleeve, "Sleeve", read_sleeve, mirror, start, fits=("width", "height"))

__all__ = ["ENDS", "FAMILY", "Sleeve", "read_sleeve"]

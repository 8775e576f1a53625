"""Four panels round a rectangular section: ``sleeve``."""

from ..family import Family
from .edits import start
from .fields import FIELDS
from .shape import ENDS, Sleeve, read_sleeve

FAMILY = Family("sleeve", "Sleeve", read_sleeve, FIELDS, start, fits=("width", "height"))

__all__ = ["ENDS", "FAMILY", "Sleeve", "read_sleeve"]

"""A flat as drawn: ``flat``."""

from ..family import Family
from .fields import FIELDS
from .shape import Flat, read_flat

FAMILY = Family("flat", "Flat from a drawing", read_flat, FIELDS)

__all__ = ["FAMILY", "Flat", "read_flat"]

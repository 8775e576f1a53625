"""A wrapper that follows the outline of a side plate: ``guard``."""

from ..family import Family
from ..outlines import add_corner, remove_corner
from .edits import start
from .fields import FIELDS
from .shape import BACK, FRONT, Guard, read_guard, widened

FAMILY = Family("guard", "Guard", read_guard, FIELDS, start, comes={"outline": add_corner},
                goes={"outline": remove_corner})

__all__ = ["BACK", "FAMILY", "FRONT", "Guard", "read_guard", "widened"]

"""A wrapper that follows the outline of a side plate: ``guard``."""

from ..family import Family
from ..outlines import add_corner, mirror_outline, remove_corner
from .edits import start
from .shape import BACK, FRONT, Guard, read_guard

FAMILY = Family(Guard, "Guard", read_guard, mirror_outline, start, comes={"outline": add_corner},
                goes={"outline": remove_corner})

__all__ = ["BACK", "FAMILY", "FRONT", "Guard", "read_guard"]

"""A base face and a tree of panels on any straight edges of it and of each other: ``panels``."""

from ..family import Family
from ..outlines import add_corner, remove_corner
from .edits import begin_hole, begin_panel, begin_window, edges, mirror, remove_panel, start
from .fields import FIELDS
from .reading import read_panels
from .shape import Panels

FAMILY = Family(Panels, "Panels", read_panels, mirror, start,
                begins={"panels": begin_panel, "holes": begin_hole, "windows": begin_window},
                comes={"outline": add_corner}, goes={"outline": remove_corner, "panels": remove_panel},
                edges=edges, kept=("holes", "windows"))

__all__ = ["FAMILY", "FIELDS", "Panels", "read_panels"]

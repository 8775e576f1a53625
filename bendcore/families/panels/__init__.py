"""A base face and a tree of panels on any straight edges of it and of each other: ``panels``."""

from ..family import Family
from ..outlines import add_corner, remove_corner
from .edits import (
    add_panel_corner,
    begin_collar,
    begin_curve,
    begin_held,
    begin_hole,
    begin_meet,
    begin_notch,
    begin_outline,
    begin_panel,
    begin_rounding,
    begin_window,
    edges,
    mirror,
    remove_panel,
    remove_panel_corner,
    start,
)
from .fields import FIELDS
from .named import by_numbers
from .reading import holding, read_panels
from .shape import Panels

FAMILY = Family(Panels, "Panels", read_panels, mirror, start,
                begins={"panels": begin_panel, "panels[].outline": begin_outline, "edges": begin_curve,
                        "corners": begin_rounding, "meets": begin_meet, "notches": begin_notch, "holes": begin_hole,
                        "holes[].collar": begin_collar, "windows": begin_window, "held": begin_held},
                comes={"outline": add_corner, "panels[].outline": add_panel_corner},
                goes={"outline": remove_corner, "panels": remove_panel, "panels[].outline": remove_panel_corner},
                settle=by_numbers, holds=holding, edges=edges, kept=("holes", "windows"))

__all__ = ["FAMILY", "FIELDS", "Panels", "read_panels"]

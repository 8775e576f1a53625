"""A web with a flange hammered over a block: ``rib``."""

from ..family import Family
from ..outlines import add_corner, mirror_outline, remove_corner
from .edits import begin_curve, begin_hole, begin_pin, begin_rounding, start
from .shape import Rib, read_rib

FAMILY = Family(Rib, "Rib", read_rib, mirror_outline, start,
                begins={"edges": begin_curve, "corners": begin_rounding, "holes": begin_hole, "pins": begin_pin},
                comes={"outline": add_corner}, goes={"outline": remove_corner})

__all__ = ["FAMILY", "Rib", "read_rib"]

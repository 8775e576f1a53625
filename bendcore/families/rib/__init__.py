"""A web with a flange hammered over a block: ``rib``."""

from ..common import BLOCK
from ..family import Family
from ..outlines import add_corner, remove_corner
from .edits import begin_curve, begin_hole, begin_pin, begin_rounding, start
from .fields import FIELDS
from .shape import Rib, read_rib

FAMILY = Family("rib", "Rib", read_rib, FIELDS, start,
                begins={"edges": begin_curve, "corners": begin_rounding, "holes": begin_hole, "pins": begin_pin},
                comes={"outline": add_corner}, goes={"outline": remove_corner}, making=BLOCK)

__all__ = ["FAMILY", "Rib", "read_rib"]

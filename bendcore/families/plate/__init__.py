"""A plate with flanges on its edges: ``plate``."""

from ..family import Family
from ..outlines import add_corner, mirror_outline, remove_corner
from .edits import begin_flange, begin_flange_hole, begin_hole, begin_return, begin_slot, start
from .shape import Plate, read_plate

FAMILY = Family(Plate, "Flanged plate", read_plate, mirror_outline, start,
                begins={"flanges": begin_flange, "flanges[].return": begin_return, "flanges[].holes": begin_flange_hole,
                        "holes": begin_hole, "slots": begin_slot},
                comes={"outline": add_corner}, goes={"outline": remove_corner},
                kept=("holes", "slots"))

__all__ = ["FAMILY", "Plate", "read_plate"]

"""A base with walls: ``tray``."""

from ..family import Family
from .edits import begin_hole, begin_wall, start
from .fields import FIELDS, SIDES
from .shape import Tray, read_tray

FAMILY = Family("tray", "Tray", read_tray, FIELDS, start,
                begins={"holes": begin_hole} | {f"walls.{side}": begin_wall for side in SIDES},
                fits=("length", "width"))

__all__ = ["FAMILY", "SIDES", "Tray", "read_tray"]

"""A base with walls: ``tray``."""

from ..family import Family
from .edits import begin_hole, begin_wall, lip_directions, mirror, start
from .fields import SIDES
from .shape import Tray, read_tray

FAMILY = Family(Tray, "Tray", read_tray, mirror, start,
                begins={"holes": begin_hole} | {f"walls.{side}": begin_wall for side in SIDES},
                fits=("length", "width"), kept=("walls", "corners", "holes"), alike=lip_directions)

__all__ = ["FAMILY", "SIDES", "Tray", "read_tray"]

"""A strip with bends across it: ``profile``."""

from ..family import Family
from .edits import add_jog, add_leg, begin_hole, begin_opening, begin_slot, from_points, mirror, remove_leg, start
from .shape import Profile, read_profile

FAMILY = Family(Profile, "Strip", read_profile, mirror, start,
                {"holes": begin_hole, "slots": begin_slot, "openings": begin_opening},
                comes={"bends": add_leg}, goes={"bends": remove_leg},
                makes={"jog": add_jog, "points": from_points})

__all__ = ["FAMILY", "Profile", "add_jog", "from_points", "read_profile"]

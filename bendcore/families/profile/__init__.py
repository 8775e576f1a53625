"""A strip with bends across it: ``profile``."""

from ..family import Family
from .edits import add_jog, add_leg, from_points, remove_leg, start
from .fields import FIELDS
from .shape import Profile, read_profile

FAMILY = Family("profile", "Strip", read_profile, FIELDS, start, comes={"bends": add_leg}, goes={"bends": remove_leg})

__all__ = ["FAMILY", "Profile", "add_jog", "from_points", "read_profile"]

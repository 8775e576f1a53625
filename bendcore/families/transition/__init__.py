"""From one rectangle to another: ``transition``."""

from ..family import Family
from .edits import start
from .fields import FIELDS
from .reading import read_transition
from .shape import Transition

FAMILY = Family("transition", "Transition", read_transition, FIELDS, start)

__all__ = ["FAMILY", "Transition", "read_transition"]

"""The one model every family of part becomes: flat faces joined at bends."""

from .fold import Folded, fold
from .model import Bend, Face, Sheet
from .unfold import FlatBend, FlatPattern, unfold

__all__ = ["Bend", "Face", "FlatBend", "FlatPattern", "Folded", "Sheet", "fold", "unfold"]

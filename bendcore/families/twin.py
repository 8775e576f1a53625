"""The other hand of a part: its mirror image, as a part file's ``shape``.

The mirror turns left and right about; up stays up. Lengths stay as they were written, but where a place is measured
from the left it has to be worked out anew, in mm. Each family knows what is measured from where
(:attr:`~bendcore.families.family.Family.mirror`).
"""

import copy

from . import FAMILIES
from .family import ReadMm


def mirrored(shape: dict, length: ReadMm) -> dict:
    """The shape of the other hand; ``length(value)`` reads a length in mm."""
    return FAMILIES[shape["kind"]].mirror(copy.deepcopy(shape), length)

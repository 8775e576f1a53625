"""From one rectangle to another: ``transition``."""

from ..facetted import mirror_offset
from ..family import Family, ReadMm
from .edits import start
from .reading import read_transition
from .shape import Transition


def mirror(shape: dict, length: ReadMm) -> dict:
    """The top moved and turned to the other side, the seam at the corner across; of two pieces either may be drawn
    first."""
    if "seam" in shape:
        shape["seam"] = {1: 2, 2: 1, 3: 4, 4: 3}[shape["seam"]]
    top = shape["top"]
    mirror_offset(top, length)
    if top.get("turn"):
        top["turn"] = -top["turn"]
    return shape


FAMILY = Family(Transition, "Transition", read_transition, mirror, start)

__all__ = ["FAMILY", "Transition", "read_transition"]

"""A flat as drawn: ``flat``."""

from ..family import Family, ReadMm
from ..outlines import mirror_outline, mirror_points
from .shape import Flat, read_flat


def mirror(shape: dict, length: ReadMm) -> dict:
    """Lines are mirrored with the outline."""
    for bend in shape.get("bends", ()):
        bend["line"] = mirror_points(bend["line"], length)
    return mirror_outline(shape, length)


FAMILY = Family(Flat, "Flat from a drawing", read_flat, mirror)

__all__ = ["FAMILY", "Flat", "read_flat"]

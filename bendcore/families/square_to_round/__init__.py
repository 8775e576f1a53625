"""From a square or rectangle to a round end, centred or offset: ``square-to-round``."""

from ..facetted import mirror_offset
from ..family import Family, ReadMm, Sized
from .shape import SquareToRound, read_square_to_round


def start(s: Sized) -> dict:
    """A hood over a pipe."""
    return {"kind": "square-to-round", "dims": "outside", "square": {"length": s(200), "width": s(160)},
            "round": {"diameter": s(120), "offset": [0, 0]}, "height": s(140), "facets": 4, "gap": s(1)}


def mirror(shape: dict, length: ReadMm) -> dict:
    """The round moved to the other side; of several pieces the one that lies there."""
    mirror_offset(shape["round"], length)
    if shape.get("pieces", 1) > 1:
        shape["piece"] = shape["pieces"] + 1 - shape.get("piece", 1)
    return shape


FAMILY = Family(SquareToRound, "Square to round", read_square_to_round, mirror, start, by_hand=True)

__all__ = ["FAMILY", "SquareToRound", "read_square_to_round"]

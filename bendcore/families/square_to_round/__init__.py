"""From a square or rectangle to a round end, centred or offset: ``square-to-round``."""

from ..family import Family, Sized
from .fields import FIELDS
from .shape import SquareToRound, read_square_to_round


def start(s: Sized) -> dict:
    """A hood over a pipe."""
    return {"kind": "square-to-round", "dims": "outside", "square": {"length": s(200), "width": s(160)},
            "round": {"diameter": s(120), "offset": [0, 0]}, "height": s(140), "facets": 4, "gap": s(1)}


FAMILY = Family("square-to-round", "Square to round", read_square_to_round, FIELDS, start, by_hand=True)

__all__ = ["FAMILY", "SquareToRound", "read_square_to_round"]

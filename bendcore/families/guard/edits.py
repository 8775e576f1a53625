"""What a guard begins as, and what its edges set."""

import copy
import math

from ...errors import Refusal
from ...units import read_length
from ..family import Sized


def start(s: Sized) -> dict:
    """A belt guard open at the bottom, its edges turned in."""
    return {"kind": "guard", "dims": "outside", "width": s(80), "wrapped": [2, 5],
            "outline": [[0, 0], [s(240), 0], [s(240), s(90)], [s(150), s(160)], [0, s(160)]],
            "front": {"width": s(14), "direction": "in"}, "back": {"width": s(14), "direction": "in"},
            "corners": {"style": "mitre", "gap": s(0.5)}}


def set_edge(shape: dict, places: tuple[int, ...], size: float, own: str) -> dict:
    """The shape with an edge of the outline as long as ``size`` mm: the corners after it move along, up to the end of
    what is wrapped."""
    shape, index = copy.deepcopy(shape), places[0]
    outline = [[read_length(v, own) for v in p] for p in shape["outline"]]
    n = len(outline)
    if not 0 <= index < n:
        raise Refusal("shape.outline", "has no such edge")
    first, last = shape.get("wrapped", (1, n))
    last = last if last >= first else last + n
    edge = index if index + 1 >= first else index + n
    (x0, y0), (x1, y1) = outline[index], outline[(index + 1) % n]
    long = math.dist((x0, y0), (x1, y1))
    by = ((x1 - x0) * (size / long - 1), (y1 - y0) * (size / long - 1))
    for corner in {c % n for c in range(edge + 1, max(last, edge + 1) + 1)} - {index}:
        shape["outline"][corner] = [f"{round(v + d, 6):g} mm" for v, d in zip(outline[corner], by, strict=True)]
    return shape

"""A drawing of a tool laid over what its sizes make of it: how far they lie apart, and where."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import LinearRing, Point, Polygon
from shapely.affinity import translate

from ...errors import Refusal
from .measure import Outline


@dataclass(frozen=True)
class Laid:
    """The drawn ``outline`` where it lies over the section, mm; how far they are ``apart`` at most, and ``at`` which
    corner."""

    outline: Outline
    apart: float
    at: tuple[float, float]


def laid_over(section: Sequence[Sequence[float]], drawn: Sequence[Sequence[float]]) -> Laid:
    """Lay a drawn outline over a section by whichever puts more of it there: its own origin, or its middle on the
    section's middle with feet or tops level. Refuses an outline that encloses nothing.

    The distance is Hausdorff's between the two rings, found at their corners: straight edges part most at a corner.
    """
    made, other = Polygon(section), shapely.make_valid(Polygon(drawn))
    if other.area <= 0:
        raise Refusal("file", "holds no outline that encloses anything")
    left, low, right, high = made.bounds
    dl, dlow, dr, dhigh = other.bounds
    across = (left + right - dl - dr) / 2
    ways = [(0.0, 0.0), (across, low - dlow), (across, high - dhigh)]
    dy, dz = min(ways, key=lambda way: made.symmetric_difference(translate(other, *way)).area)
    moved = [(y + dy, z + dz) for y, z in drawn]
    ring, over = LinearRing(section), LinearRing(moved)
    corners = [*((tuple(p), over) for p in section), *((p, ring) for p in moved)]
    far = [against.distance(Point(p)) for p, against in corners]
    worst = int(np.argmax(far))
    return Laid(moved, far[worst], (float(corners[worst][0][0]), float(corners[worst][0][1])))

"""True arcs of an outline about a known centre, for formats that have them."""

import math
from collections.abc import Sequence

from ..sheet.model import Point

SAME = 1e-6
"""Corners on one circle differ no more in their radius, as a share of it."""
FEWEST = 4
WIDEST = math.radians(120)
"""An arc that sweeps more is written as several."""


def with_bulges(outline: Sequence[Point], centre: Point) -> list[tuple[float, float, float]]:
    """The closed outline as (x, y, bulge) of polyline corners: runs of chords about the centre as arcs, the bulge the
    tangent of a quarter of the sweep, to the left positive; all else straight."""
    n = len(outline)
    radii = [math.dist(point, centre) for point in outline]
    on = [abs(radii[i] - radii[(i + 1) % n]) <= SAME * max(radii[i], 1e-9) for i in range(n)]
    start = next((i for i in range(n) if not on[i - 1]), 0)
    found, i = [], 0
    while i < n:
        at = (start + i) % n
        run = 0
        while i + run < n and on[(at + run) % n] and abs(_sweep(outline[at], outline[(at + run + 1) % n],
                                                                centre)) < WIDEST:
            run += 1
        if run < FEWEST:
            found.append((*outline[at], 0.0))
            i += 1
            continue
        found.append((*outline[at], math.tan(_sweep(outline[at], outline[(at + run) % n], centre) / 4)))
        i += run
    return found


def _sweep(one: Point, other: Point, centre: Point) -> float:
    a, b = (math.atan2(y - centre[1], x - centre[0]) for x, y in (one, other))
    return (b - a + math.pi) % (2 * math.pi) - math.pi

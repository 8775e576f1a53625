"""Rings of points: as shapely's polygons, many at once (one by one, making them costs more than joining them),
and without edges too short to be cut."""

import math
from collections.abc import Sequence

import numpy as np
import shapely

TINY = 0.01
"""No edge of a blank is shorter than this, mm."""


def polygons(rings: Sequence) -> np.ndarray:
    """A polygon for each ring of three points (x, y) or more, open or closed."""
    if not len(rings):
        return np.empty(0, dtype=object)
    own = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    return shapely.polygons(shapely.linearrings(np.concatenate([np.asarray(ring) for ring in rings]), indices=own))


def without_tiny(ring: Sequence[tuple[float, float]], least: float = TINY) -> tuple[tuple[float, float], ...]:
    """The same ring, of every edge shorter than ``least`` mm one point left: where the edges beside it meet if
    that is as near, else its middle."""
    points = [tuple(map(float, p)) for p in ring]
    if min(map(math.dist, points, points[1:] + points[:1]), default=least) >= least:
        return tuple(points)
    i = 0
    while i < len(points) and len(points) > 3:
        n = len(points)
        j = (i + 1) % n
        if math.dist(points[i], points[j]) >= least:
            i += 1
            continue
        points[i] = _instead(points[i - 1], points[i], points[j], points[(j + 1) % n], least)
        del points[j]
        i = max(0, min(i, len(points) - 1) - 1)  # the edge before it may be short now
    return tuple(points)


def _instead(before, one, other, after, least):
    ux, uy, vx, vy = one[0] - before[0], one[1] - before[1], after[0] - other[0], after[1] - other[1]
    cross = ux * vy - uy * vx
    middle = ((one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
    if abs(cross) < 1e-12:
        return middle
    s = ((other[0] - before[0]) * vy - (other[1] - before[1]) * vx) / cross
    met = (before[0] + s * ux, before[1] + s * uy)
    return met if math.dist(met, middle) < least else middle

"""A section through the folded part: what a plane square to x, y or z cuts of each face and bend.

Every face and zone is a set of convex bodies; what a plane cuts of a convex body is the
convex hull of where it meets the lines between the body's corners.
"""

from itertools import combinations

import numpy as np
from shapely import MultiPoint, Polygon, unary_union

from ..errors import Refusal
from .clash import Bodies

AXES = {"x": 0, "y": 1, "z": 2}
_PAIRS = np.array(list(combinations(range(8), 2)))


def spans(found: Bodies) -> dict[str, tuple[float, float]]:
    """From where to where the part reaches along each axis, mm."""
    points = found.points.reshape(-1, 3)
    return {name: (float(points[:, i].min()), float(points[:, i].max())) for name, i in AXES.items()}


def cut(found: Bodies, axis: str, at: float) -> dict[str, Polygon]:
    """What the plane ``axis`` = ``at`` mm cuts, by face or bend; coordinates are the other two axes
    in their order. Refuses an unknown axis; nothing where the plane misses the part."""
    if axis not in AXES:
        raise Refusal("axis", "must be x, y or z")
    i = AXES[axis]
    over = found.points[:, :, i] - at
    kept: dict[str, list] = {}
    for n in np.flatnonzero((over.min(axis=1) < 0) & (over.max(axis=1) > 0)):
        a, b = over[n, _PAIRS[:, 0]], over[n, _PAIRS[:, 1]]
        crossing = a * b < 0
        share = (a[crossing] / (a[crossing] - b[crossing]))[:, None]
        ends = found.points[n, _PAIRS[crossing]]
        points = np.delete(ends[:, 0] + share * (ends[:, 1] - ends[:, 0]), i, axis=1)
        hull = MultiPoint(points).convex_hull
        if hull.area > 1e-9:
            kept.setdefault(found.of[n], []).append(hull)
    return {name: unary_union(hulls) for name, hulls in kept.items()}

"""Cross-sections in motion: tools inset by what counts as a hit, and what they pass through."""

from functools import lru_cache

import numpy as np
import shapely
from shapely import Polygon
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

HIT = 0.05
"""An overlap deeper than this is a hit, mm: a part meets a tool so deeply when it meets the tool inset by it."""
FAR = 5_000.0
"""What is without limit reaches so far, mm."""


@lru_cache(maxsize=4096)
def inset(polygon: Polygon, by: float = HIT) -> Polygon:
    """All points of a tool at least ``by`` inside its boundary."""
    return polygon.buffer(-by, join_style="mitre", mitre_limit=50, quad_segs=16)


def swept(polygon: BaseGeometry, dy: float, dz: float) -> BaseGeometry:
    """The region a geometry covers while it moves straight by (dy, dz)."""
    if polygon.is_empty or not (dy or dz):
        return polygon
    move, shapes = np.array([dy, dz]), [polygon, translate(polygon, dy, dz)]
    for part in getattr(polygon, "geoms", [polygon]):
        ring = shapely.get_coordinates(part.exterior)
        one, other = ring[:-1], ring[1:]
        step = other - one
        broad = np.abs(step[:, 0] * dz - step[:, 1] * dy) > 1e-12
        corners = np.stack([one, other, other + move, one + move], axis=1)[broad]
        shapes += list(shapely.polygons(corners))
    return shapely.union_all(shapes)

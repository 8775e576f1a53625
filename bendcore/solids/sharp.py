"""Corners of a solid that were drawn without a radius: what of the two faces beside one is left flat once it is bent.

With inside radius r and angle θ the tangent lines lie r·tan(θ/2) from where the inner faces meet, (r + t)·tan(θ/2)
from where the outer ones do.
"""

import math
from collections.abc import Sequence

from shapely import LineString, Polygon, union_all

from ..sheet.model import Edge, Point
from .brep import Unrecognised

PAST = 0.05
"""A strip is cut so far past the edge, mm."""


def depth(angle: float, radius: float, thickness: float, is_inner: bool) -> float:
    """From the corner's edge on one skin to the tangent line, mm."""
    return (radius if is_inner else radius + thickness) * math.tan(math.radians(angle) / 2)


def shifted(edge: Edge, by: float) -> Edge:
    """An edge that runs counter-clockwise, moved into its face, mm."""
    (x0, y0), (x1, y1) = edge
    long = math.dist(*edge)
    nx, ny = (y0 - y1) / long * by, (x1 - x0) / long * by
    return (x0 + nx, y0 + ny), (x1 + nx, y1 + ny)


def trimmed(ring: Sequence[Point], cuts: Sequence[tuple[Edge, float]], name: str) -> tuple[Point, ...]:
    """A ring less a strip so deep at each of these edges; refuses one that leaves nothing or comes apart."""
    strips = [Polygon([*shifted(edge, -PAST), *shifted(edge, deep)[::-1]]) for edge, deep in cuts if deep > 0]
    left = Polygon(ring) - union_all(strips)
    if left.geom_type != "Polygon" or left.is_empty or left.interiors:
        raise Unrecognised(name, "has corners without a radius so near each other that no radius can be bent there")
    corners = list(left.simplify(1e-7).exterior.coords)[:-1]
    return tuple(corners if left.exterior.is_ccw else corners[::-1])


def span(ring: Sequence[Point], edge: Edge) -> tuple[float, float] | None:
    """From where to where along an edge a ring's boundary lies on it, mm from its start; None where it does not."""
    (x, y), end = edge
    long = math.dist(*edge)
    ux, uy = (end[0] - x) / long, (end[1] - y) / long
    found = []
    for a, b in zip(ring, (*ring[1:], ring[0]), strict=True):
        off = [abs((p[1] - y) * ux - (p[0] - x) * uy) for p in (a, b)]
        along = [(p[0] - x) * ux + (p[1] - y) * uy for p in (a, b)]
        if max(off) < 1e-4 and along[1] > along[0] and along[1] > 1e-6 and along[0] < long - 1e-6:
            found.append((max(along[0], 0.0), min(along[1], long)))
    return max(found, key=lambda s: s[1] - s[0], default=None)


def common(one: tuple[float, float] | None, other: tuple[float, float] | None) -> tuple[float, float] | None:
    """What two stretches share; None where that is nothing."""
    if one is None or other is None:
        return None
    low, high = max(one[0], other[0]), min(one[1], other[1])
    return (low, high) if high - low > 1e-3 else None


def part_of(edge: Edge, stretch: tuple[float, float]) -> Edge:
    """The stretch of an edge."""
    line = LineString(edge)
    low, high = (line.interpolate(at) for at in stretch)
    return (low.x, low.y), (high.x, high.y)

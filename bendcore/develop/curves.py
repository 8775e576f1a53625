"""Outlines of straight edges and arcs in the plane, run counter-clockwise: outside lies to the right.

An arc is given by how far it rises from its chord: outwards positive, which turns left. Offsets of lines and arcs are
lines and arcs again, so nothing is approximated until an edge is asked for its points.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..sheet.model import Point
from .rolled import FINE

SMOOTH = math.radians(0.5)
"""Edges that turn less where they meet run on into each other."""
SHORT = 1e-6
"""What is shorter is no edge, mm."""


@dataclass(frozen=True)
class Edge:
    """From ``a`` to ``b``; an arc about ``centre`` by ``sweep`` radians, to the left positive, or straight where that
    is 0."""

    a: Point
    b: Point
    centre: Point | None = None
    sweep: float = 0.0

    @classmethod
    def rising(cls, a: Point, b: Point, rise: float) -> "Edge":
        """An arc that rises so far from its chord, outwards positive; straight where it does not, mm."""
        chord = math.dist(a, b)
        if abs(rise) < SHORT:
            return cls(a, b)
        sweep = 4 * math.atan(2 * rise / chord)
        reach = chord / 2 / math.tan(sweep / 2)
        mid, left = _middle(a, b), ((a[1] - b[1]) / chord, (b[0] - a[0]) / chord)
        return cls(a, b, (mid[0] + left[0] * reach, mid[1] + left[1] * reach), sweep)

    @property
    def radius(self) -> float:
        """Of an arc, mm; of a straight edge infinite."""
        return math.dist(self.a, self.centre) if self.sweep else math.inf

    @property
    def length(self) -> float:
        """Along it, mm."""
        return self.radius * abs(self.sweep) if self.sweep else math.dist(self.a, self.b)

    def at(self, share: float) -> Point:
        """The point so far along it: 0 its start, 1 its end; beyond them on the same line or circle."""
        if not self.sweep:
            return tuple(p + (q - p) * share for p, q in zip(self.a, self.b, strict=True))
        c, s = math.cos(self.sweep * share), math.sin(self.sweep * share)
        (cx, cy), x, y = self.centre, self.a[0] - self.centre[0], self.a[1] - self.centre[1]
        return (cx + x * c - y * s, cy + x * s + y * c)

    def heading(self, share: float) -> Point:
        """The unit direction along it there."""
        if not self.sweep:
            return tuple((q - p) / self.length for p, q in zip(self.a, self.b, strict=True))
        x, y = self.at(share)
        way = math.copysign(1 / self.radius, self.sweep)
        return (-(y - self.centre[1]) * way, (x - self.centre[0]) * way)

    def outward(self, share: float) -> Point:
        """The unit direction square to it, outwards, there."""
        dx, dy = self.heading(share)
        return (dy, -dx)

    def where(self, point: Point) -> float:
        """The share of the foot of a point."""
        if not self.sweep:
            return sum((v - p) * (q - p) for v, p, q in zip(point, self.a, self.b, strict=True)) / self.length ** 2
        start, at = (math.atan2(y - self.centre[1], x - self.centre[0]) for x, y in (self.a, point))
        turned = (at - start - self.sweep / 2 + math.pi) % (2 * math.pi) - math.pi
        return 0.5 + turned / self.sweep

    def offset(self, by: float) -> "Edge":
        """The edge moved outwards by so many mm; refuses with ValueError an arc that would vanish."""
        if not self.sweep:
            x, y = self.outward(0)
            return Edge((self.a[0] + x * by, self.a[1] + y * by), (self.b[0] + x * by, self.b[1] + y * by))
        scale = 1 + math.copysign(by, self.sweep * by) / self.radius
        if scale <= SHORT:
            raise ValueError("an arc cannot be moved beyond its centre")
        a, b = ((c + (v - c) * scale for v, c in zip(p, self.centre, strict=True)) for p in (self.a, self.b))
        return replace(self, a=tuple(a), b=tuple(b))

    def part(self, low: float, high: float) -> "Edge":
        """From share to share."""
        return replace(self, a=self.at(low), b=self.at(high), sweep=self.sweep * (high - low))

    def shares(self, widest: float = 0.0, fine: float = FINE) -> list[float]:
        """So close that chords lie on it within ``fine`` mm, with ``widest`` mm added to the radius; both ends among
        them."""
        if not self.sweep:
            return [0.0, 1.0]
        step = 2 * math.acos(max(0.0, 1 - fine / (self.radius + widest)))
        count = max(4, math.ceil(abs(self.sweep) / step))
        return [n / count for n in range(count + 1)]

    def points(self, fine: float = FINE) -> list[Point]:
        """Its ends and what lies between."""
        return [self.at(share) for share in self.shares(fine=fine)]


def turn(before: Edge, after: Edge) -> float:
    """Radians an outline turns where the edges meet, to the left positive."""
    (x0, y0), (x1, y1) = before.heading(1), after.heading(0)
    return math.atan2(x0 * y1 - y0 * x1, x0 * x1 + y0 * y1)


def meeting(one: Edge, other: Edge, near: Point) -> Point | None:
    """Where the lines or circles of two edges cross, nearest to a point; None where they do not."""
    found = list(_crossings(one, other) if not one.sweep or other.sweep else _crossings(other, one))
    return min(found, key=lambda point: math.dist(point, near), default=None)


def rounded(before: Edge, after: Edge, radius: float) -> tuple[Edge, Edge, Edge] | None:
    """Both edges cut back and the arc of this radius that joins them; None where they are too short for it."""
    way = math.copysign(1.0, turn(before, after))
    try:
        inner = before.offset(-way * radius), after.offset(-way * radius)
    except ValueError:
        return None
    centre = meeting(*inner, before.b)
    if centre is None:
        return None
    ends = before.where(centre), after.where(centre)
    if not (SHORT < ends[0] <= 1 + SHORT and -SHORT <= ends[1] < 1 - SHORT):
        return None
    a, b = before.at(ends[0]), after.at(ends[1])
    start, end = (math.atan2(y - centre[1], x - centre[0]) for x, y in (a, b))
    sweep = (end - start) % (2 * math.pi) - (2 * math.pi if way < 0 else 0)
    return before.part(0, ends[0]), Edge(a, b, centre, sweep), after.part(ends[1], 1)


def _middle(a: Point, b: Point) -> Point:
    return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)


def _crossings(one: Edge, other: Edge) -> Iterator[Point]:
    """Of two lines, a line and a circle, or two circles: a line comes first."""
    if one.sweep:
        yield from _of_circles(one.centre, one.radius, other.centre, other.radius)
        return
    (x, y), (dx, dy) = one.a, one.heading(0)
    if not other.sweep:
        ex, ey = other.heading(0)
        across = dx * ey - dy * ex
        if abs(across) > 1e-12:
            far = ((other.a[0] - x) * ey - (other.a[1] - y) * ex) / across
            yield (x + dx * far, y + dy * far)
        return
    (cx, cy), r = other.centre, other.radius
    foot = (cx - x) * dx + (cy - y) * dy
    off = r ** 2 - (cx - x - dx * foot) ** 2 - (cy - y - dy * foot) ** 2
    if off >= 0:
        for far in (foot - math.sqrt(off), foot + math.sqrt(off)):
            yield (x + dx * far, y + dy * far)


def _of_circles(a: Point, ra: float, b: Point, rb: float) -> Iterator[Point]:
    apart = math.dist(a, b)
    if apart < 1e-12:
        return
    along = (apart ** 2 + ra ** 2 - rb ** 2) / 2 / apart
    off = ra ** 2 - along ** 2
    if off >= 0:
        (ux, uy) = ((b[0] - a[0]) / apart, (b[1] - a[1]) / apart)
        for side in (math.sqrt(off), -math.sqrt(off)):
            yield (a[0] + ux * along - uy * side, a[1] + uy * along + ux * side)

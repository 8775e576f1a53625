"""Two walls that meet at a corner of what they stand on: where each must end.

Let the base turn by φ at the corner (in plan, 0 < φ < π), and count s along wall A's
edge from where the two bends' inner tangent lines cross, outwards positive. A wall's
inner face stands, x up the wall from its own tangent line,

    a(x) = ISSB + (ISSB + x)·cos θ    out of that line, at the height
    z(x) = (ISSB + x)·sin θ

and meets the inner face of its neighbour B, extended, at

    s(x) = (ISSB_B + z·cot θ_B − a·cos φ) / sin φ

a straight line in A's plane, parallel to which A ends: what both planes share. Plain
geometry; for φ = 90° the neighbour alone decides. Where A's bend zone ends ``short`` of
the crossing, s counts from there.
"""

import math
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon

from ..bending.bend import BendFigures

NARROWEST = 0.1
"""A wall or lip with a free edge shorter than this runs to a point, mm."""


@dataclass(frozen=True)
class Lean:
    """How a wall stands: its inside setback and the sine, cosine and cotangent of its angle."""

    inside: float
    sin: float
    cos: float
    cot: float

    @classmethod
    def of(cls, figures: BendFigures) -> "Lean":
        """How a wall stands whose bend has these figures."""
        angle = math.radians(figures.angle)
        return cls(figures.inside_setback, math.sin(angle), math.cos(angle), math.cos(angle) / math.sin(angle))

    def out(self, x: float) -> float:
        """How far out of the base's edge the wall's inner face stands x up its flat, mm."""
        return self.inside + (self.inside + x) * self.cos

    def height(self, x: float) -> float:
        """How high over the base's inner face it stands x up its flat, mm."""
        return (self.inside + x) * self.sin


@dataclass(frozen=True)
class End:
    """One end of a wall: how far it reaches past its bend zone's end (negative: falls short), x
    up the wall: ``reach`` + ``slope``·x, but never further than ``most``, nor past the zone
    below ``step``. ``lip_reach`` and ``lip_slope`` are the same for its lip."""

    reach: float
    slope: float = 0.0
    step: float = 0.0
    most: float = math.inf
    lip_reach: float = math.inf
    lip_slope: float = 0.0
    hem: float = math.inf

    def at(self, x: float) -> float:
        """How far the wall reaches past its tangent line's end x up its flat, mm."""
        free = min(self.reach + self.slope * x, self.most)
        return min(free, 0.0) if x < self.step - 1e-9 else free

    def lip(self, s: float) -> float:
        """How far its lip reaches past it s up the lip's flat, mm."""
        return self.lip_reach + self.lip_slope * s

    def corners(self, height: float) -> list[tuple[float, float]]:
        """(x, reach) along this end from the tangent line to the free edge: at both, where the line comes
        past the zone's end or past ``most``, and on either side of the ``step``."""
        places = {0.0, height}
        for level, below in ((0.0, self.step), (self.most, height)):
            x = (level - self.reach) / self.slope if self.slope and math.isfinite(level) else -1.0
            if 1e-9 < x < min(below, height) - 1e-9:
                places.add(x)
        found = [(x, self.at(x)) for x in places if abs(x - self.step) > 1e-9]
        if 1e-9 < self.step < height - 1e-9:
            low, high = min(self.at(self.step), 0.0), self.at(self.step)
            found += [(self.step, low)] if low == high else [(self.step, low), (self.step, high)]
        else:
            found += [(x, self.at(x)) for x in places if abs(x - self.step) <= 1e-9]
        return sorted(found, key=lambda corner: corner[0])

@dataclass(frozen=True)
class Lip:
    """What stands on a wall's free edge, ``swept`` from flat: its own inside setback and flat;
    ``halved``: it and the neighbour's must keep to their sides of the plane that halves the corner."""

    inside: float
    swept: float
    flat: float
    halved: bool

    @classmethod
    def of(cls, wall: BendFigures, figures: BendFigures, flat: float, inwards: bool, halved: bool) -> "Lip":
        """A lip bent by its figures from a wall bent by its own."""
        return cls(figures.inside_setback, wall.angle + (1 if inwards else -1) * figures.angle, flat, halved)


@dataclass(frozen=True)
class Meeting:
    """Wall ``own`` where ``beside`` stands, round a corner of ``turn`` radians; lengths in mm."""

    own: Lean
    beside: Lean
    gap: float
    turn: float = math.pi / 2
    short: float = 0.0

    @property
    def slope(self) -> float:
        """How far the line both inner faces share runs along the wall for each mm up it."""
        return (self.own.sin * self.beside.cot - self.own.cos * math.cos(self.turn)) / math.sin(self.turn)

    @property
    def inner(self) -> float:
        """s at the own tangent line."""
        return self._line(self.own.height(0.0), self.own.out(0.0))

    @property
    def facing(self) -> float:
        """The cosine between the two walls' normals."""
        return self.own.sin * self.beside.sin * math.cos(self.turn) + self.own.cos * self.beside.cos

    @property
    def between(self) -> float:
        """The angle inside the corner from wall to wall, radians."""
        return math.pi - math.acos(max(-1.0, min(1.0, self.facing)))

    @property
    def tilt(self) -> float:
        """Along the edge for one mm off the line that the planes share."""
        return math.hypot(1.0, self.slope)

    def step(self) -> float:
        """How far up the wall the neighbour's bend zone reaches."""
        return max(0.0, self.beside.inside * self.beside.sin / self.own.sin - self.own.inside)

    def open(self) -> End:
        """Both walls stand off the shared line alike: their inner edges are the gap apart."""
        return self.end(self.inner - self.gap / (2 * math.sin(self.between / 2)) * self.tilt)

    def end(self, reach: float) -> End:
        """An end along the shared line, cut back within the neighbour's zone."""
        return End(reach, self.slope, self.step())

    def off(self, z: float, a: float) -> float:
        """s at the height z and a out of the own tangent line, the gap off the neighbour's inner face."""
        return self._line(z, a) - self.gap / (self.beside.sin * math.sin(self.turn))

    def halved(self, a: float) -> float:
        """s on the plane that halves the corner in plan, half the gap off it."""
        return self.short + a * math.tan(self.turn / 2) - self.gap / (2 * math.cos(self.turn / 2))

    def with_lip(self, end: End, lip: Lip, height: float, thickness: float) -> End:
        """The same end with the limits of a lip, ``thickness`` deep with what is folded onto it: off the
        neighbour's wall, and on its own side."""
        apex, swept = height + lip.inside, math.radians(lip.swept)
        skew = thickness * (abs(self.beside.cot) + abs(math.cos(self.turn))) / math.sin(self.turn)

        def limit(s: float) -> float:
            z = self.own.height(apex) + (lip.inside + s) * math.sin(swept)
            a = self.own.out(apex) + (lip.inside + s) * math.cos(swept)
            found = self.off(z, a) - skew
            if lip.halved:
                found = min(found, self.halved(a) - thickness * abs(math.sin(swept)) * math.tan(self.turn / 2))
            return found

        # the bend between lies within the triangle of wall, apex and lip
        start = min(limit(0.0), self.off(self.own.height(height), self.own.out(height)),
                    self.off(self.own.height(apex), self.own.out(apex)) - skew)
        return replace(end, lip_reach=start, lip_slope=(limit(lip.flat) - start) / lip.flat)

    def with_outward_lip(self, end: End, height: float, figures: BendFigures) -> End:
        """The same end where a lip turns outwards: its bend rises above the wall, and must keep to the wall's line."""
        rise = figures.inside_radius + figures.thickness
        return replace(end, lip_reach=end.reach + end.slope * (height + rise))

    def _line(self, z: float, a: float) -> float:
        line = (self.beside.inside + z * self.beside.cot - a * math.cos(self.turn)) / math.sin(self.turn)
        return self.short + line


def square_off(one: tuple[Lean, float], other: tuple[Lean, float], gap: float, turn: float, thickness: float) -> float:
    """How far two walls (how it leans, how high) that end square must stay back from where their tangent lines
    cross, so that their ends are the gap apart with their thickness, mm; found by halving."""
    def edges(lean, flat, out):
        """Of its end, the inner and the outer edge: where each begins and how it runs."""
        run = np.array([lean.cos * out[0], lean.cos * out[1], lean.sin]) * flat
        inner = np.array([lean.out(0.0) * out[0], lean.out(0.0) * out[1], lean.height(0.0)])
        outer = inner + thickness * np.array([lean.sin * out[0], lean.sin * out[1], -lean.cos])
        return (inner, run), (outer, run)

    ways = np.array([-1.0, 0.0, 0.0]), np.array([math.cos(turn), math.sin(turn), 0.0])
    pairs = [(p, q) for p in edges(*one, (0.0, -1.0)) for q in edges(*other, (math.sin(turn), -math.cos(turn)))]
    low, high = gap / 2, 4 * (gap + thickness)
    while high - low > 1e-3:
        back = (low + high) / 2
        near = min(_apart(p + back * ways[0], d, q + back * ways[1], e) for (p, d), (q, e) in pairs)
        low, high = (low, back) if near >= gap else (back, high)
    return high


def _apart(p, d, q, e) -> float:
    """Between the segments from p along d and from q along e: where the nearest of their lines are, or at an end."""
    r, dd, ee, de = p - q, d @ d, e @ e, d @ e
    flat = dd * ee - de * de
    places = [(s, (s * de + e @ r) / ee) for s in (0.0, 1.0)] + [((t * de - d @ r) / dd, t) for t in (0.0, 1.0)]
    if flat > 1e-9:
        s, t = (de * (e @ r) - ee * (d @ r)) / flat, (dd * (e @ r) - de * (d @ r)) / flat
        places += [(s, t)] if 0 <= s <= 1 and 0 <= t <= 1 else []
    return min(float(np.linalg.norm(r + min(1.0, max(0.0, s)) * d - min(1.0, max(0.0, t)) * e)) for s, t in places)


def panel(height: float, along: float, start: End, end: End) -> tuple[tuple[float, float], ...]:
    """A wall's outline: x up the wall from its tangent line, y along it, its zone from 0 to ``along``; empty
    where its ends meet below the free edge."""
    points = (*((x, -e) for x, e in start.corners(height)), *((x, along + e) for x, e in reversed(end.corners(height))))
    narrow = along + start.at(height) + end.at(height) <= NARROWEST
    return () if narrow or not Polygon(points).is_valid else points


def lip_panel(height: float, along: float, start: End, end: End, flat: float) -> tuple[tuple[float, float], ...]:
    """The outline of a lip on a wall ``height`` high, in the wall's y; empty where its ends meet."""
    low, high = max(-start.at(height), -start.lip(0.0)), min(along + end.at(height), along + end.lip(0.0))
    points = [(s, max(low, -start.lip(s))) for s in (0.0, flat)]
    points += [(s, min(high, along + end.lip(s))) for s in (flat, 0.0)]
    return tuple(points) if low < high and points[1][1] < points[2][1] - NARROWEST else ()

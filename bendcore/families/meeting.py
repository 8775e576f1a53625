"""Two walls that meet at a corner of what they stand on: where each must end.

Let the base turn by φ at the corner (in plan, 0 < φ < π), and count s along wall A's
edge from where the two bends' inner tangent lines cross, outwards positive. A wall's
inner face stands, x up the wall from its own tangent line,

    a(x) = ISSB + (ISSB + x)·cos θ    out of that line, at the height
    z(x) = (ISSB + x)·sin θ

and meets the inner face of its neighbour B, extended, at

    s(x) = (ISSB_B + z·cot θ_B − a·cos φ) / sin φ

a straight line in A's plane, parallel to which A ends: what both planes share. Plain
geometry; for φ = 90° the neighbour alone decides.
"""

import math
from dataclasses import dataclass, replace


@dataclass(frozen=True)
class Lean:
    """How a wall stands: its inside setback and the sine, cosine and cotangent of its angle."""

    inside: float
    sin: float
    cos: float
    cot: float

    @classmethod
    def of(cls, figures) -> "Lean":
        angle = math.radians(figures.angle)
        return cls(figures.inside_setback, math.sin(angle), math.cos(angle), math.cos(angle) / math.sin(angle))

    def out(self, x: float) -> float:
        return self.inside + (self.inside + x) * self.cos

    def height(self, x: float) -> float:
        return (self.inside + x) * self.sin


@dataclass(frozen=True)
class End:
    """One end of a wall: how far it reaches past the crossing (negative: falls short), x up
    the wall: ``reach`` + ``slope``·x, but never further than ``most``, nor than ``foot`` below
    ``step``. ``lip_reach`` and ``lip_slope`` are the same for its lip."""

    reach: float
    slope: float = 0.0
    step: float = 0.0
    foot: float = 0.0
    most: float = math.inf
    lip_reach: float = math.inf
    lip_slope: float = 0.0
    hem: float = math.inf

    def at(self, x: float) -> float:
        free = min(self.reach + self.slope * x, self.most)
        return min(free, self.foot) if x < self.step - 1e-9 else free

    def lip(self, s: float) -> float:
        return self.lip_reach + self.lip_slope * s

    def corners(self, height: float) -> list[tuple[float, float]]:
        """(x, reach) along this end from the tangent line to the free edge."""
        low, high = (0.0, self.at(0.0)), (height, self.at(height))
        if self.step <= 1e-9 or self.step >= height - 1e-9 or self.at(self.step) <= self.foot:
            return [low, high]
        return [low, (self.step, min(self.foot, self.reach + self.slope * self.step)),
                (self.step, self.at(self.step)), high]


@dataclass(frozen=True)
class Lip:
    """What stands on a wall's free edge, ``swept`` from flat: its own inside setback and flat;
    ``halved``: it and the neighbour's must keep to their sides of the plane that halves the corner."""

    inside: float
    swept: float
    flat: float
    halved: bool


@dataclass(frozen=True)
class Meeting:
    """Wall ``own`` where ``beside`` stands, round a corner of ``turn`` radians; lengths in mm."""

    own: Lean
    beside: Lean
    gap: float
    turn: float = math.pi / 2

    @property
    def slope(self) -> float:
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

    def end(self, reach: float, **more) -> End:
        """An end along the shared line, cut back within the neighbour's zone."""
        return End(reach, self.slope, self.step() if reach > 0 else 0.0, **more)

    def off(self, z: float, a: float) -> float:
        """s at the height z and a out of the own tangent line, the gap off the neighbour's inner face."""
        return self._line(z, a) - self.gap / (self.beside.sin * math.sin(self.turn))

    def halved(self, a: float) -> float:
        """s on the plane that halves the corner in plan, half the gap off it."""
        return a * math.tan(self.turn / 2) - self.gap / (2 * math.cos(self.turn / 2))

    def with_lip(self, end: End, lip: Lip, height: float, thickness: float) -> End:
        """The same end with the limits of a lip: off the neighbour's wall, and on its own side."""
        apex, swept = height + lip.inside, math.radians(lip.swept)

        def limit(s: float) -> float:
            z = self.own.height(apex) + (lip.inside + s) * math.sin(swept)
            a = self.own.out(apex) + (lip.inside + s) * math.cos(swept)
            skew = (abs(self.beside.cot) + abs(math.cos(self.turn))) / math.sin(self.turn)
            found = self.off(z, a) - thickness * skew
            if lip.halved:
                found = min(found, self.halved(a) - thickness * abs(math.sin(swept)) * math.tan(self.turn / 2))
            return found

        start = min(limit(0.0), self.off(self.own.height(height), self.own.out(height)))
        return replace(end, lip_reach=start, lip_slope=(limit(lip.flat) - start) / lip.flat)

    def _line(self, z: float, a: float) -> float:
        return (self.beside.inside + z * self.beside.cot - a * math.cos(self.turn)) / math.sin(self.turn)

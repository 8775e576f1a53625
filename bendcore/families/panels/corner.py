"""Where two bends come to one corner of a face: how far each goes, and where the panel ends that hangs on it.

Both bends end short of where their tangent lines cross, their corners the gap apart. Two panels that stand to the same
side are cut along the line in which their outer faces meet: both so far off it that their inner edges stand the gap
apart, or one that covers not at all, and the other the gap off its inner face. Where they stand to different sides they
pass each other. At a corner that goes in, where they would lie on each other in the blank, both are cut on the line
that halves it.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from ...bending.bend import BendFigures
from ..legs import ShapeBend

FLAT = 1e-6
"""Outer faces that lean on each other by less lie in one plane."""


@dataclass(frozen=True)
class End:
    """Of a panel, from its edge's corner: its bend ends at ``zone``, the panel itself at ``at + slope·v``, v up from
    the outside; mm. ``is_parted`` says that its parent's metal goes on beside the bend, which takes a relief."""

    zone: float = 0.0
    at: float = 0.0
    slope: float = 0.0
    is_parted: bool = False

    def line(self, v: float) -> float:
        """Where the panel ends so far up."""
        return self.at + self.slope * v

    def clear_of(self, at: float, length: float) -> "End":
        """The same no nearer than so far all along, mm."""
        if min(self.line(0.0), self.line(length)) >= at:
            return self if self.zone >= at else replace(self, zone=at)
        if self.slope < 0:
            return replace(self, zone=max(self.zone, at), at=at, slope=0.0)
        return replace(self, zone=max(self.zone, at), at=at)

    def square(self, length: float) -> "End":
        """The same cut square, clear of the line all along."""
        return End(self.zone, max(self.line(0.0), self.line(length)), 0.0, self.is_parted)


def corner(own: ShapeBend, other: ShapeBend, inner: float, gap: float, covers: int = 0, tab: bool = False) -> End:
    """How a panel ends at a corner of so many radians within the face where another bend comes too; 1 where it covers
    the other's end, −1 where that covers its own, or lies over the ``tab`` bent from that."""
    if inner > math.pi - 1e-9:
        return _halved(own, other, inner, gap)
    crossing = (other.figures.outside_setback + own.figures.outside_setback * math.cos(inner)) / math.sin(inner)
    zone = max(0.0, crossing) + gap / 2 / math.sin(inner / 2)
    beside = gap / 2 / math.sin(inner / 2) + max(0.0, other.figures.deduction - other.figures.outside_setback)
    if own.direction != other.direction:
        return End(zone, beside)
    found = _mitred(own.figures, other.figures, inner, gap, covers, tab)
    return End(zone, *found) if found else End(zone, beside)


def _mitred(own: BendFigures, other: BendFigures, inner: float, gap: float, covers: int, tab: bool
            ) -> tuple[float, float] | None:
    """(where it begins, slope) of the end of a panel that meets its neighbour; None where they lie in one plane.

    In a frame with the edge along x, the face on its left and z to the side they are bent to, a panel turned by θ rises
    along cos θ·o + sin θ·z, o outwards, and its outer face looks along sin θ·o − cos θ·z."""
    theta, back = math.radians(own.angle), inner - math.pi
    before = np.array([math.cos(back), math.sin(back), 0.0])  # along the edge that comes to the corner
    out, out_before = np.array([0.0, -1.0, 0.0]), np.array([before[1], -before[0], 0.0])
    up = np.array([0.0, 0.0, 1.0])
    rises = math.cos(theta) * out + math.sin(theta) * up
    looks = math.sin(theta) * out - math.cos(theta) * up
    turned = math.radians(other.angle)
    looks_before = math.sin(turned) * out_before - math.cos(turned) * up
    ray = np.cross(looks, looks_before)
    if abs(ray @ rises) < FLAT:
        return None
    slope = float(ray[0] / (ray @ rises))
    half = (math.pi - math.acos(max(-1.0, min(1.0, float(looks @ looks_before))))) / 2
    loss = own.thickness / math.tan(half) + gap / 2 / math.sin(half)
    if covers:
        # an end cut square comes nearer by its inner edge at a sharp corner; where it turns into a tab it has none
        reach = 0.0 if tab else own.thickness * max(0.0, math.cos(2 * half))
        loss = 0.0 if covers > 0 else (own.thickness + gap + reach) / math.sin(2 * half)
    return loss * math.hypot(1.0, slope), slope


def _halved(own: ShapeBend, other: ShapeBend, inner: float, gap: float) -> End:
    """At a corner that goes in: in the blank, w beyond the mould line, both end half the gap short of w/tan(ω/2)."""
    half = (2 * math.pi - inner) / 2
    slope = 1 / math.tan(half) if half < math.pi / 2 - 1e-9 else 0.0
    off = gap / 2 / math.sin(half)
    zone_end = max(own.figures.allowance - own.figures.outside_setback, 0.0)
    return End(max(0.0, zone_end * slope) + off, off - own.figures.deduction * slope, slope, True)


def beside_edge(own: ShapeBend, inner: float, gap: float, sloped: float) -> End:
    """How a panel ends at a corner where nothing else is bent: with its edge; where the corner goes in, the gap off the
    edge that runs on beside it in the blank."""
    if inner <= math.pi + 1e-9:
        slant = own.figures.outside_setback / math.tan(inner) if inner < math.pi / 2 - 1e-9 else 0.0
        return End(slant, 0.0, sloped)
    around = 2 * math.pi - inner
    slope = max(0.0, 1 / math.tan(around))
    off = gap / math.sin(min(around, math.pi / 2))
    zone_end = max(own.figures.allowance - own.figures.outside_setback, 0.0)
    return End(zone_end * slope + off, off - own.figures.deduction * slope, max(slope, sloped), True)

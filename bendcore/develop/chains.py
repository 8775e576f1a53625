"""Cones one after another along a bent centre line, each cut where it meets the next.

At an inner station both neighbours touch one sphere about it; at the ends a cone ends in a circle square to the axis.
With β the slope of a cone along its way (its radius grows by tan β), r₀ the end circle, ρ the sphere, L the length:

    between two spheres   ρ₁ + L·sin β = ρ₂
    from a circle         r₀·cos β + L·sin β = ρ₁

Two cones that touch one sphere of radius ρ meet in a plane curve (Dandelin, 1822): each is
|x|² − ρ² = (x·d + ρ·sin β)²/cos² β about the sphere's middle, d its way, so that both meet where

    (x·d₁ + ρ·sin β₁)/cos β₁ + (x·d₂ + ρ·sin β₂)/cos β₂ = 0

a plane that halves the angle only where β₁ = −β₂.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from .rolled import Cone, Surface, Tube

STRAIGHT = 1e-9
"""Slopes smaller than this are tubes."""


@dataclass(frozen=True)
class Station:
    """A point of the centre line, ``length`` from the one before; ``radius`` of its sphere, or at an end of its circle;
    ``turn`` of the line there, in the plane at ``plane`` degrees from the zero line. Lengths in mm, angles in
    degrees."""

    radius: float
    length: float = 0.0
    turn: float = 0.0
    plane: float = 0.0


@dataclass(frozen=True)
class Frame:
    """Where a piece begins: its ``origin``, the way ``along`` its axis, and the ``zero`` line's direction."""

    origin: np.ndarray
    along: np.ndarray
    zero: np.ndarray


@dataclass(frozen=True)
class Piece:
    """One cone or tube of a chain: its neutral ``surface``, and its ``matrix`` (4, 4) from the surface's own place into
    that of the chain. ``flipped`` says that the large end comes second."""

    surface: Surface
    matrix: np.ndarray
    flipped: bool

    def cut(self, end: int) -> int:
        """Which end of the surface's :meth:`span` is the chain's first (0) or second (1): a cone's own begins with the
        small end."""
        return int(isinstance(self.surface, Cone) and not self.flipped) ^ end

    def space(self, phi: np.ndarray, end: int) -> np.ndarray:
        """(n, 3): the cut edge at the chain's first (0) or second end of the piece, in the chain's place."""
        points = self.surface.space(phi, self.surface.span(phi)[self.cut(end)])
        return points @ self.matrix[:3, :3].T + self.matrix[:3, 3]


    def holds(self, inward: float) -> float:
        """What it holds between its two cuts, mm³; its inside lies ``inward`` of the neutral surface, square to the
        wall. By the divergence theorem over the wall and both cuts, in facets."""
        phi, own = np.linspace(0, 2 * math.pi, ROUND + 1), self.surface
        if isinstance(own, Cone):
            wall = 2 * inward / math.cos(own.half_angle)
            inner = replace(own, large=own.large - wall, small=own.small - wall)
        else:
            inner = replace(own, diameter=own.diameter - 2 * inward)
        low, high = (inner.space(phi, s) for s in inner.span(phi))
        middle = (low[:-1].mean(axis=0) + high[:-1].mean(axis=0)) / 2
        a, b, c, d = (ring - middle for ring in (low[:-1], low[1:], high[1:], high[:-1]))
        walls = _six(a, b, c) + _six(a, c, d)
        caps = _six(np.broadcast_to(low[:-1].mean(axis=0) - middle, b.shape), b, a) + _six(
            np.broadcast_to(high[:-1].mean(axis=0) - middle, d.shape), d, c)
        return abs(walls + caps) / 6


ROUND = 1440


def _six(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> float:
    """Six times the volume of tetrahedra on the origin."""
    return float((a * np.cross(b, c)).sum())


def frames(stations: Sequence[Station]) -> list[Frame]:
    """Of each piece, the zero line carried on over each turn without twist; the first goes up, its zero right."""
    at, along, zero, found = np.zeros(3), np.array([0, 0, 1.0]), np.array([1.0, 0, 0]), []
    for one, other in zip(stations, stations[1:], strict=False):
        if found:
            a, turn = math.radians(one.plane), math.radians(one.turn)
            side = math.cos(a) * zero + math.sin(a) * np.cross(along, zero)
            axis = np.cross(along, side)
            along, zero = (_rotated(v, axis, turn) for v in (along, zero))
        found.append(Frame(at, along, zero))
        at = at + other.length * along
    return found


def _rotated(v: np.ndarray, axis: np.ndarray, angle: float) -> np.ndarray:
    """By Rodrigues' formula."""
    return v * math.cos(angle) + np.cross(axis, v) * math.sin(angle) + axis * (axis @ v) * (1 - math.cos(angle))


def slopes(stations: Sequence[Station]) -> list[float | None]:
    """β of each piece, radians; None where no cone touches both its spheres."""
    found, last = [], len(stations) - 1
    for n, (one, other) in enumerate(zip(stations, stations[1:], strict=False)):
        first, second, long = n == 0, n + 1 == last, other.length
        if first and second:
            found.append(math.atan((other.radius - one.radius) / long))
        elif first or second:
            circle, sphere = (one.radius, other.radius) if first else (other.radius, one.radius)
            share = sphere / math.hypot(circle, long)
            slope = math.asin(share) - math.atan2(circle, long) if share < 1 else None
            found.append(slope if first or slope is None else -slope)
        else:
            share = (other.radius - one.radius) / long
            found.append(math.asin(share) if abs(share) < 1 else None)
    return found


def pieces(stations: Sequence[Station], inward: float) -> list[Piece]:
    """The pieces on the neutral surface, which lies ``inward`` (mm, square to the wall) of the one the stations are
    given on. Slopes must be there for all."""
    ways, betas, last = frames(stations), slopes(stations), len(stations) - 1
    rho = [station.radius - inward for station in stations]
    planes = [(ways[0].origin, ways[0].along)]
    for n in range(1, last):
        (d1, b1), (d2, b2) = ((ways[i].along, betas[i]) for i in (n - 1, n))
        normal = d1 / math.cos(b1) + d2 / math.cos(b2)
        off = -rho[n] * (math.tan(b1) + math.tan(b2)) / (normal @ normal)
        planes.append((ways[n].origin + off * normal, normal))
    planes.append((ways[-1].origin + stations[-1].length * ways[-1].along, ways[-1].along))
    found = []
    for n, (frame, beta) in enumerate(zip(ways, betas, strict=True)):
        radius = (stations[0].radius - inward / math.cos(beta)) if n == 0 else rho[n] / math.cos(beta)
        found.append(_cut(frame, beta, radius, planes[n], planes[n + 1]))
    return found


def _cut(frame: Frame, beta: float, radius: float, first, second) -> Piece:
    """A cone of this slope, so wide where its frame begins, cut by two planes (a point, the normal)."""
    flipped = beta > STRAIGHT
    z = -frame.along if flipped else frame.along
    axes = np.column_stack([frame.zero, np.cross(z, frame.zero), z])
    bottom, top = ((second, first) if flipped else (first, second))
    cuts = []
    for point, normal in (bottom, top):
        p, n = axes.T @ (point - frame.origin), axes.T @ normal
        cuts.append((float(p @ n / n[2]), -n[:2] / n[2]))
    (z0, lean0), (z1, lean1) = cuts
    tilts = [(math.degrees(math.atan(float(np.hypot(*lean)))), math.degrees(math.atan2(way * lean[1], way * lean[0])))
             for lean, way in ((lean0, -1), (lean1, 1))]
    slope = -abs(math.tan(beta)) if abs(beta) > STRAIGHT else 0.0
    wide = [2 * (radius + slope * level) for level in (z0, z1)]
    (first_tilt, first_at), (second_tilt, second_at) = tilts
    surface = Tube(2 * radius, z1 - z0, first_tilt, second_tilt, first_at, second_at) if slope == 0 else Cone(
        wide[0], wide[1], z1 - z0, first_tilt, second_tilt, first_at, second_at)
    matrix = np.eye(4)
    matrix[:3, :3], matrix[:3, 3] = axes, frame.origin + z0 * z
    return Piece(surface, matrix, flipped)

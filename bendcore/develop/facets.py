"""Flat facets in space that meet at edges, as faces of a sheet: how far each gives way to its bends.

A facet is given by its mould corners, counter-clockwise seen from outside, on the part's outside or inside surfaces.
Its face is drawn on the sheet's top, which is inside, in axes of its own: x along the first mould edge run backwards,
so that it is counter-clockwise seen from the top. Mould corners lie over the same place of that plane, whichever
surface they are on.

Where two facets meet, seen from inside, at a bend up (convex outwards) of θ, their flats end at

    outside mould   OSSB = (r + t)·tan(θ/2)      inside mould   ISSB = r·tan(θ/2)

from the mould edge, and the other way about at a bend down. Plain geometry: the mould edge is the bend's apex on the
one surface or the other.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..bending.bend import BendFigures
from ..sheet.model import DOWN, UP, Edge, Point

SAME = 1e-6
"""Corners nearer than this are one, mm."""
FLATTEST = 0.05
"""Two facets that meet at less are one, degrees."""


@dataclass(frozen=True)
class Facet:
    """``corners`` (k, 3) of the mould surface, counter-clockwise from outside; edge ``n`` runs from corner ``n`` to the
    next. ``thickness`` is how far the top lies from that surface: 0 where the mould is the inside."""

    id: str
    corners: np.ndarray
    thickness: float

    @cached_property
    def inward(self) -> np.ndarray:
        """The top's normal: into the part."""
        a, b, c = self.corners[:3]
        normal = np.cross(b - a, c - a)
        return -normal / np.linalg.norm(normal)

    @cached_property
    def axes(self) -> tuple[np.ndarray, np.ndarray]:
        """x and y of the face."""
        x = self.corners[0] - self.corners[1]
        x = x / np.linalg.norm(x)
        return x, np.cross(self.inward, x)

    def flat(self, points: np.ndarray) -> np.ndarray:
        """Points in space over or under the face as (…, 2) of it."""
        return (points - self.corners[0]) @ np.column_stack(self.axes)

    def space(self, points: Sequence[Point]) -> np.ndarray:
        """Points (n, 2) of the face in space, on the sheet's top."""
        x, y = self.axes
        p = np.asarray(points, float)
        return self.corners[0] + self.thickness * self.inward + p[:, :1] * x + p[:, 1:] * y

    def edge(self, n: int) -> tuple[np.ndarray, np.ndarray]:
        """(a point, the unit direction) of mould edge ``n`` in the face, its inside to the left."""
        a, b = self.flat(self.corners[[n, (n + 1) % len(self.corners)]])
        return b, (a - b) / np.linalg.norm(a - b)


def meeting(one: Facet, other: Facet, edge: tuple[np.ndarray, np.ndarray]) -> tuple[float, str]:
    """(θ in degrees, up or down) at an ``edge`` of ``one`` that the ``other`` shares, run as ``one`` does."""
    a, b = edge
    along = (b - a) / np.linalg.norm(b - a)
    turned = float(np.dot(np.cross(one.inward, other.inward), along))
    angle = math.degrees(math.atan2(abs(turned), float(np.dot(one.inward, other.inward))))
    return angle, UP if turned > 0 else DOWN


def angle_at(facet: Facet, place: np.ndarray) -> float:
    """The facet's angle at one of its mould corners, radians; nothing where it has none there."""
    for n, corner in enumerate(facet.corners):
        if np.abs(corner - place).max() < SAME:
            one, other = (facet.corners[(n + step) % len(facet.corners)] - corner for step in (-1, 1))
            return math.acos(float(one @ other / np.linalg.norm(one) / np.linalg.norm(other)))
    return 0.0


def setback(figures: BendFigures, direction: str, is_outside: bool) -> float:
    """How far a flat ends from the mould edge, mm."""
    return figures.outside_setback if (direction == UP) == is_outside else figures.inside_setback


def opened(angle: float, direction: str, is_outside: bool, thickness: float, gap: float) -> float:
    """How far a facet ends from a mould edge at which two are welded, their inner edges a ``gap`` apart, mm."""
    half = math.radians(angle) / 2
    apex = thickness * math.tan(half) if (direction == UP) == is_outside else 0.0
    return apex + gap / (2 * math.cos(half))


def drawn_in(facet: Facet, by: Sequence[float]) -> list[Point] | None:
    """The facet's corners when each edge is moved inwards by so much, in the order of its mould corners; None where an
    edge is used up."""
    lines = []
    for n, off in enumerate(by):
        at, along = facet.edge(n)
        lines.append((at + off * np.array([-along[1], along[0]]), along))
    found = [_crossing(lines[n - 1], lines[n]) for n in range(len(lines))]
    for n, (_, along) in enumerate(lines):
        if (found[n] - found[(n + 1) % len(found)]) @ along <= 1e-6:
            return None
    return [(float(x), float(y)) for x, y in found]


def _crossing(one, other) -> np.ndarray:
    (p, u), (q, v) = one, other
    dx, dy = q - p
    return p + u * (dx * v[1] - dy * v[0]) / (u[0] * v[1] - u[1] * v[0])


@dataclass(frozen=True)
class Outline:
    """What is left flat of a facet: its ``points``, in the order of the mould corners, and of each mould edge which of
    them it begins and ends at."""

    points: tuple[Point, ...]
    ends: tuple[tuple[int, int], ...]

    @classmethod
    def of(cls, corners: Sequence[Point], snipped: Sequence[tuple[Point, Point] | None]) -> "Outline":
        """Of the corners, those ``snipped`` given way to two points: on the edge before and on the one after."""
        points, before, after = [], [], []
        for corner, pair in zip(corners, snipped, strict=True):
            before.append(len(points))
            points += pair or (corner,)
            after.append(len(points) - 1)
        n = len(corners)
        return cls(tuple(points), tuple((after[i], before[(i + 1) % n]) for i in range(n)))

    def edge(self, n: int) -> Edge:
        """Edge ``n`` as the face runs round it: its inside to the left."""
        first, second = self.ends[n]
        return self.points[second], self.points[first]

    def laid(self, points: Sequence[Point]) -> "Outline":
        """The same where its points lie elsewhere."""
        return Outline(tuple(points), self.ends)


def snip(facet: Facet, corners: Sequence[Point], n: int, depth: float) -> tuple[Point, Point] | None:
    """The two points that take the place of corner ``n`` where the metal within ``depth`` of its mould corner, along
    the line that halves it, is cut away; None where there is none."""
    at, count = np.array(corners[n]), len(corners)
    ways = [np.array(corners[(n + step) % count]) - at for step in (-1, 1)]
    ways = [way / np.linalg.norm(way) for way in ways]
    middle = sum(ways) / np.linalg.norm(sum(ways))
    left = depth - float((at - facet.flat(facet.corners[n])) @ middle)
    if left <= SAME:
        return None
    return tuple(tuple((at + way * left / float(way @ middle)).tolist()) for way in ways)

"""Edges of panels that are arcs, and corners that are rounded.

A face is numbered by the straight outline of its mould. Its curves are told by how far an edge rises from its chord
(outwards positive) and by what radius a corner is rounded; nothing is bent there.
"""

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from ...develop.curves import Edge, rounded
from ...errors import Refusal
from ...said import Deg, Mm, Said
from ...sheet.model import Point
from ..common import Given, check_ring
from .fields import CORNER, EDGE

FINE = 0.005
"""Chords lie so near their arc, mm."""
FREE_CORNERS = (2, 3)
"""Of a panel without an outline of its own only those at its free edge are rounded."""
FULLEST = math.radians(340)


@dataclass
class Curves:
    """Of one face: by edge of its mould (place in the file, rise), by corner (place in the file, radius); mm."""

    rises: dict[int, tuple[int, float]] = field(default_factory=dict)
    radii: dict[int, tuple[int, float]] = field(default_factory=dict)


@dataclass(frozen=True)
class Curved:
    """A face's mould with its arcs as chords (``ring``), their ``centres``, and the points along each of its edges."""

    ring: tuple[Point, ...]
    centres: tuple[Point, ...]
    edges: tuple[tuple[Point, ...], ...]


def read_curves(shape: Mapping, edges: Sequence[int], own: Collection[int], turned: bool, given: Given
                ) -> dict[int, Curves]:
    """By face (0 the base, n panel Pn) its curves. ``edges`` is how many edges each face's mould has, the last of a
    panel's the one it is bent at; ``own`` are the faces that may have curves."""
    found: dict[int, Curves] = {}
    for key, group, what in (("edges", EDGE, "edge"), ("corners", CORNER, "corner")):
        for i, block in enumerate(shape.get(key, ())):
            path, on, number = f"{key}[{i}]", block.get("on", 0), block[what]
            if on >= len(edges):
                raise Refusal(f"{path}.on", f"must be from 0 to {len(edges) - 1}")
            if on not in own and not (what == "corner" and number in FREE_CORNERS):
                raise Refusal(f"{path}.on", f"is panel P{on}, which has no outline of its own: give it one")
            last = edges[on] - (1 if on and what == "edge" else 0)
            if not 1 <= number <= last:
                raise Refusal(f"{path}.{what}", f"must be from 1 to {last}")
            at = _place(number, edges[on], on, what, turned)
            curves = found.setdefault(on, Curves())
            kept = curves.rises if what == "edge" else curves.radii
            if at in kept:
                raise Refusal(f"{path}.{what}", f"is told by number {kept[at][0] + 1} already")
            name = "rise" if what == "edge" else "radius"
            kept[at] = (i, group.mm(block, name, path, given.length))
    return found


def _place(number: int, count: int, on: int, what: str, turned: bool) -> int:
    """Where in its mould, counter-clockwise, an edge or a corner lies by its number in the file."""
    if not turned:
        return number - 1
    if what == "corner":
        return count - number
    return (count - 2 - (number - 1)) % count if not on else count - 1 - number


def curved(ring: Sequence[Point], curves: Curves) -> Curved:
    """The mould with its curves; refuses what has no room."""
    n = len(ring)
    sides = []
    for i in range(n):
        place, rise = curves.rises.get(i, (0, 0.0))
        side = Edge.rising(ring[i], ring[(i + 1) % n], rise)
        if abs(side.sweep) > FULLEST:
            raise Refusal(f"edges[{place}].rise", Said("is more than a rise of {most} leaves of a circle",
                                                       most=Deg(340)))
        sides.append(side)
    arcs: dict[int, Edge] = {}
    for at, (place, radius) in sorted(curves.radii.items()):
        cut = rounded(sides[at - 1], sides[at], radius)
        if cut is None:
            raise Refusal(f"corners[{place}].radius", Said(
                "is more than the edges beside it have room for ({one} and {other} long)",
                one=Mm(sides[at - 1].length), other=Mm(sides[at].length)))
        sides[at - 1], arcs[at], sides[at] = cut
    points: list[Point] = []
    for at, side in enumerate(sides):
        for run in ([arcs[at]] if at in arcs else []) + [side]:
            points += run.points(FINE)[:-1]
    check_ring(points, next((f"edges[{place}].rise" for place, _ in curves.rises.values()), "corners"))
    return Curved(tuple(points), tuple(run.centre for run in (*sides, *arcs.values()) if run.centre),
                  tuple(tuple(side.points(FINE)) for side in sides))


def check_straight(curves: Curves, ring: Sequence[Point], edge: int, free: tuple[float, float], path: str) -> None:
    """Refuse a panel on an arc, or one whose bend would run into a rounded corner."""
    if curves.rises.get(edge, (0, 0.0))[1]:
        raise Refusal(f"{path}.edge", "is an arc, which nothing can be bent on")
    n = len(ring)
    for which, at in ((0, edge), (1, (edge + 1) % n)):
        if at not in curves.radii:
            continue
        sides = [Edge.rising(ring[k % n], ring[(k + 1) % n], curves.rises.get(k % n, (0, 0.0))[1])
                 for k in (at - 1, at)]
        cut = rounded(*sides, curves.radii[at][1])
        takes = math.dist(cut[1].a if which else cut[1].b, ring[at]) if cut else 0.0
        if free[which] < takes - 1e-6:
            raise Refusal(f"{path}.{'end' if which else 'start'}", Said(
                "must leave {takes} free: the corner there is rounded", takes=Mm(takes)))

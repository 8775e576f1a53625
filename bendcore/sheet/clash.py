"""Do the faces of a folded part run through each other? Exact for convex pieces.

Faces are cut into convex prisms with their thickness, bend zones into the prisms
between their facets. Two convex bodies are apart if some axis separates them; the
candidates are the normals of both and the cross products of their edges (separating
axis theorem, Gottschalk, Lin and Manocha 1996). The depth is the least overlap over
all axes.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon, STRtree, constrained_delaunay_triangles

from .fold import Folded, fold
from .model import Sheet
from .rings import polygons
from .unfold import FlatPattern, unfold
from .vectors import cross, plane_axes, unit

DEEP = 0.05
"""Faces may touch; an overlap deeper than this is a clash, mm."""
ZONE = "bend "
"""Goes before a bend's id, since a bend and its face may share one."""
FACET = 15.0
"""Degrees to a facet of a zone."""


@dataclass(frozen=True)
class Bodies:
    """Convex pieces of four corners above and four below: ``points`` (n, 8, 3). ``axes`` (n, 5, 3)
    are their unit normals, ``edges`` (n, 5, 3) unit vectors along their edges, 0 where there are
    fewer; ``of`` says which face or zone each belongs to."""

    of: tuple[str, ...]
    points: np.ndarray
    axes: np.ndarray
    edges: np.ndarray


@dataclass(frozen=True)
class Clash:
    """``one`` and ``other`` are faces, or bends as :data:`ZONE` and their id; ``depth`` in mm."""

    one: str
    other: str
    depth: float


def bodies(folded: Folded) -> Bodies:
    """Every face and zone of the folded part as convex bodies."""
    of, rings, starts, ends = [], [], [], []
    for face in folded.faces:
        for convex in convex_parts(face.corners, face.normal):
            for quad in quads(convex):
                of.append(face.id)
                rings.append(quad)
                starts.append(face.normal)
                ends.append(face.normal)
    for bend in folded.bends:
        arc = bend.arc
        count = len(arc) - 1
        of += [ZONE + bend.id] * count
        rings += list(facets_of(arc))
        starts += list(bend.normals[:-1])
        ends += list(bend.normals[1:])
    return prisms(tuple(of), np.array(rings), np.array(starts), np.array(ends), folded.thickness)


def facets_of(arc: np.ndarray) -> np.ndarray:
    """The quads (m - 1, 4, 3) across a zone whose top runs through ``arc``, (m, 2, 3)."""
    return np.stack([arc[:-1, 0], arc[1:, 0], arc[1:, 1], arc[:-1, 1]], axis=1)


def quads(ring: np.ndarray) -> Iterator[np.ndarray]:
    """A convex ring in pieces of four corners; a triangle names its last twice."""
    for i in range(1, len(ring) - 1, 2):
        yield ring[[0, i, i + 1, min(i + 2, len(ring) - 1)]]


def prisms(of: tuple[str, ...], tops: np.ndarray, n0: np.ndarray, n1: np.ndarray, thickness: float) -> Bodies:
    """Between a quad (n, 4, 3) and what lies the thickness under it; of a zone the normals turn a little from
    its first edge to its second."""
    turned = np.stack([n0, n1, n1, n0], axis=1)
    below = tops - thickness * turned
    sides = unit(np.roll(tops, -1, axis=1) - tops)
    flat = (n0 * n1).sum(axis=-1) > 1 - 1e-12
    closed = (sides[:, 0] == 0).all(axis=-1)  # a hem closed about nothing turns on its upper edge
    sides[closed, 0] = unit(below[closed, 1] - below[closed, 0])
    axes = np.concatenate([unit(n0 + n1)[:, None], cross(sides, turned)], axis=1)
    edges = np.concatenate([sides, n0[:, None]], axis=1)
    along = sides[:, 3]
    # a zone's piece: its two ends are parallel, and it is bounded by the planes of n0 and n1
    zone = ~flat
    axes[zone, 1:] = np.stack([along[zone], cross(along[zone], n0[zone]), cross(along[zone], n1[zone]),
                               np.zeros_like(along[zone])], axis=1)
    edges[zone] = np.stack([along[zone], sides[zone, 0], n0[zone], n1[zone], np.zeros_like(along[zone])], axis=1)
    return Bodies(of, np.concatenate([tops, below], axis=1), unit(axes), edges)


def convex_parts(corners: np.ndarray, normal: np.ndarray) -> list[np.ndarray]:
    """A planar outline as convex rings: itself if it is convex, else triangles."""
    if _is_convex(corners, normal):
        return [corners]
    u, v = plane_axes(corners, normal)
    plane = np.column_stack([(corners - corners[0]) @ u, (corners - corners[0]) @ v])
    rings = [np.array(part.exterior.coords[:3]) for part in constrained_delaunay_triangles(Polygon(plane)).geoms]
    return [corners[0] + ring[:, :1] * u + ring[:, 1:] * v for ring in rings]


def _is_convex(corners, normal):
    steps = np.roll(corners, -1, axis=0) - corners
    turns = cross(steps, np.roll(steps, -1, axis=0)) @ normal
    return bool((turns > -1e-9).all() or (turns < 1e-9).all())


def depths(found: Bodies, one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """How deep bodies ``one`` (k,) run into bodies ``other`` (k,), mm; 0 or less when they are apart."""
    normals = np.concatenate([found.axes[one], found.axes[other]], axis=1)
    deep = _least(found, one, other, normals)
    near = np.flatnonzero(deep > DEEP)
    if len(near):
        a, b = one[near], other[near]
        crossed = cross(found.edges[a][:, :, None], found.edges[b][:, None]).reshape(len(near), -1, 3)
        deep[near] = np.minimum(deep[near], _least(found, a, b, unit(crossed)))
    return deep


def _least(found, one, other, axes):
    """The least overlap over the axes (k, m, 3); an axis of 0 says nothing."""
    turned = axes.transpose(0, 2, 1)
    pa, pb = found.points[one] @ turned, found.points[other] @ turned
    over = np.minimum(pa.max(axis=1) - pb.min(axis=1), pb.max(axis=1) - pa.min(axis=1))
    return np.where((axes == 0).all(axis=-1), np.inf, over).min(axis=1)


def clashes(sheet: Sheet, folded: Folded | None = None) -> Iterator[Clash]:
    """Pairs of faces and zones of the part, fully bent, that run through each other."""
    found = bodies(folded or fold(sheet, facet=FACET))
    names = sorted(set(found.of))
    number = {name: i for i, name in enumerate(names)}
    of = np.array([number[name] for name in found.of])
    apart = ~np.eye(len(names), dtype=bool)
    for bend in sheet.bends:
        for face in (bend.parent, bend.child):
            i, j = number[ZONE + bend.id], number[face]
            apart[i, j] = apart[j, i] = False
    low, high = found.points.min(axis=1), found.points.max(axis=1)
    near = (low[:, None] < high[None] - DEEP).all(axis=-1)
    one, other = np.nonzero(np.triu(near & near.T & apart[of[:, None], of[None]], 1))
    if not len(one):
        return
    deep = depths(found, one, other)
    worst: dict[tuple[int, int], float] = {}
    for i, j, depth in zip(of[one], of[other], deep, strict=True):
        if depth > DEEP:
            pair = (min(i, j), max(i, j))
            worst[pair] = max(worst.get(pair, 0.0), float(depth))
    for (i, j), depth in worst.items():
        yield Clash(names[i], names[j], depth)


def flat_overlaps(sheet: Sheet, flat: FlatPattern | None = None) -> list[Clash]:
    """Pairs of faces or zones that lie on each other in the blank; depth as √area, mm."""
    flat = flat or unfold(sheet)
    names = [*flat.faces, *(ZONE + b.bend.id for b in flat.bends)]
    places = polygons([*flat.faces.values(), *([*b.tangents[0], *reversed(b.tangents[1])] for b in flat.bends)])
    places[len(flat.faces):] = shapely.convex_hull(places[len(flat.faces):])
    one, other = STRtree(places).query(places, predicate="intersects")
    one, other = one[one < other], other[one < other]
    areas = shapely.area(shapely.intersection(places[one], places[other], grid_size=1e-6))
    return [Clash(names[i], names[j], area ** 0.5)
            for i, j, area in zip(one.tolist(), other.tolist(), areas.tolist(), strict=True) if area > DEEP ** 2]

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
from shapely import Polygon, constrained_delaunay_triangles

from .fold import Folded, fold
from .model import Sheet
from .unfold import FlatPattern, unfold

DEEP = 0.05
"""Faces may touch; an overlap deeper than this is a clash, mm."""
ZONE = "bend "
"""Goes before a bend's id, since a bend and its face may share one."""


@dataclass(frozen=True)
class Body:
    """A convex piece: ``points`` (n, 3), ``axes`` (m, 3) its face normals and ``edges``."""

    of: str
    points: np.ndarray
    axes: np.ndarray
    edges: np.ndarray

    @property
    def box(self) -> tuple[np.ndarray, np.ndarray]:
        return self.points.min(axis=0), self.points.max(axis=0)


@dataclass(frozen=True)
class Clash:
    """``one`` and ``other`` are faces, or bends as :data:`ZONE` and their id; ``depth`` in mm."""

    one: str
    other: str
    depth: float


def bodies(folded: Folded) -> list[Body]:
    """Every face and zone of the folded part as convex bodies."""
    found = []
    for face in folded.faces:
        for ring in convex_parts(face.corners, face.normal):
            found.append(_prism(face.id, ring, face.normal, face.normal, folded.thickness))
    for bend in folded.bends:
        for i in range(len(bend.arc) - 1):
            quad = np.array([bend.arc[i, 0], bend.arc[i + 1, 0], bend.arc[i + 1, 1], bend.arc[i, 1]])
            found.append(_wedge(ZONE + bend.id, quad, bend.normals[i], bend.normals[i + 1], folded.thickness))
    return found


def convex_parts(corners: np.ndarray, normal: np.ndarray) -> list[np.ndarray]:
    """A planar outline as convex rings: itself if it is convex, else triangles."""
    if _is_convex(corners, normal):
        return [corners]
    u = (corners[1] - corners[0]) / np.linalg.norm(corners[1] - corners[0])
    v = np.cross(normal, u)
    plane = np.column_stack([(corners - corners[0]) @ u, (corners - corners[0]) @ v])
    rings = [np.array(part.exterior.coords[:3]) for part in constrained_delaunay_triangles(Polygon(plane)).geoms]
    return [corners[0] + ring[:, :1] * u + ring[:, 1:] * v for ring in rings]


def _is_convex(corners, normal):
    steps = np.roll(corners, -1, axis=0) - corners
    turns = np.cross(steps, np.roll(steps, -1, axis=0)) @ normal
    return bool((turns > -1e-9).all() or (turns < 1e-9).all())


def _prism(name, ring, n0, n1, thickness):
    sides = np.roll(ring, -1, axis=0) - ring
    sides = sides[np.linalg.norm(sides, axis=1) > 1e-9]
    points = np.concatenate([ring, ring - thickness * n0])
    axes = np.concatenate([[n0], np.cross(sides, n0)])
    return Body(name, points, axes, np.concatenate([sides, [n1]]))


def _wedge(name, quad, n0, n1, thickness):
    """The piece of a zone between two facets; its normals turn a little."""
    below = np.array([quad[0] - thickness * n0, quad[1] - thickness * n1, quad[2] - thickness * n1,
                      quad[3] - thickness * n0])
    along, across = quad[3] - quad[0], quad[1] - quad[0]
    if np.linalg.norm(across) < 1e-9:
        across = below[1] - below[0]
    middle = (n0 + n1) / np.linalg.norm(n0 + n1)
    axes = np.array([middle, along, np.cross(along, n0), np.cross(along, n1)])
    return Body(name, np.concatenate([quad, below]), axes, np.array([along, across, n0, n1]))


def overlap(a: Body, b: Body) -> float:
    """How deep two bodies run into each other, mm; 0 or less when they are apart."""
    crosses = np.cross(a.edges[:, None, :], b.edges[None, :, :]).reshape(-1, 3)
    axes = np.concatenate([a.axes, b.axes, crosses])
    long = np.linalg.norm(axes, axis=1)
    axes = axes[long > 1e-9] / long[long > 1e-9, None]
    pa, pb = a.points @ axes.T, b.points @ axes.T
    depth = np.minimum(pa.max(axis=0) - pb.min(axis=0), pb.max(axis=0) - pa.min(axis=0))
    return float(depth.min())


def clashes(sheet: Sheet) -> Iterator[Clash]:
    """Pairs of faces and zones of the part, fully bent, that run through each other."""
    pieces = bodies(fold(sheet, facet=15.0))
    neighbours = {frozenset((ZONE + bend.id, face)) for bend in sheet.bends for face in (bend.parent, bend.child)}
    low = np.array([p.box[0] for p in pieces])
    high = np.array([p.box[1] for p in pieces])
    seen: dict[frozenset, float] = {}
    for i, piece in enumerate(pieces):
        near = np.flatnonzero((low[i + 1:] < high[i] - DEEP).all(axis=1) & (high[i + 1:] > low[i] + DEEP).all(axis=1))
        for j in near + i + 1:
            pair = frozenset((piece.of, pieces[j].of))
            if len(pair) == 1 or pair in neighbours:
                continue
            depth = overlap(piece, pieces[j])
            if depth > max(DEEP, seen.get(pair, 0.0)):
                seen[pair] = depth
    for pair, depth in seen.items():
        yield Clash(*sorted(pair), depth)


def flat_overlaps(sheet: Sheet, flat: FlatPattern | None = None) -> list[Clash]:
    """Pairs of faces or zones that lie on each other in the blank; depth as √area, mm."""
    flat = flat or unfold(sheet)
    shapes = {name: Polygon(points) for name, points in flat.faces.items()}
    shapes |= {ZONE + b.bend.id: Polygon([*b.tangents[0], *reversed(b.tangents[1])]).convex_hull
               for b in flat.bends}
    names, found = list(shapes), []
    for i, one in enumerate(names):
        for other in names[i + 1:]:
            area = shapes[one].intersection(shapes[other], grid_size=1e-6).area
            if area > DEEP ** 2:
                found.append(Clash(one, other, area ** 0.5))
    return found

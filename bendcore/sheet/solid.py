"""The folded part as a triangle mesh with thickness, for looking at.

Bends are true arcs, faceted; the mesh is closed along every edge of every face and
zone, so that it can be lit from either side.
"""

from dataclasses import dataclass

import numpy as np
from shapely import Polygon, constrained_delaunay_triangles
from shapely.geometry.polygon import orient

from .clash import ZONE
from .fold import Folded
from .vectors import plane_axes


@dataclass(frozen=True)
class Mesh:
    """``triangles`` (n, 3, 3) and ``edges`` (m, 2, 3) in mm; ``owners`` are (face or bend, how many
    triangles) in the order of the triangles, and ``flats`` says which of them are faces."""

    triangles: np.ndarray
    edges: np.ndarray
    owners: tuple[tuple[str, int], ...]
    flats: frozenset[str]

    def as_dict(self) -> dict:
        """``positions`` flat [x, y, z, …], ``edges`` [x, y, z, x, y, z, …] in mm, and ``faces``
        [[id or "", triangles], …]."""
        return {"positions": np.round(self.triangles, 3).reshape(-1).tolist(),
                "edges": np.round(self.edges, 3).reshape(-1).tolist(),
                "faces": [[name if name in self.flats else "", count] for name, count in self.owners]}


def mesh(folded: Folded) -> Mesh:
    """Every face and zone with its thickness."""
    triangles, edges, owners = [], [], []
    for face in folded.faces:
        down = folded.thickness * face.normal
        points = np.concatenate([face.corners, *face.holes])
        rings = np.array(_triangulate(face.corners, face.normal, face.holes))
        own = [points[rings], (points - down)[rings[:, ::-1]]]
        for ring in (face.corners, *(hole[::-1] for hole in face.holes)):
            own.append(_walls(ring, ring - down))
        for ring in (face.corners, face.corners - down, *face.holes):
            edges.append(np.stack([ring, np.roll(ring, -1, axis=0)], axis=1))
        triangles += own
        owners.append((face.id, sum(map(len, own))))
    for bend in folded.bends:
        top = bend.arc
        bottom = top - folded.thickness * bend.normals[:, None, :]
        own = [_quads(top[:-1, 0], top[1:, 0], top[1:, 1], top[:-1, 1]),
               _quads(bottom[:-1, 1], bottom[1:, 1], bottom[1:, 0], bottom[:-1, 0])]
        for side in (0, 1):
            own.append(_quads(top[:-1, side], top[1:, side], bottom[1:, side], bottom[:-1, side]))
            edges += [np.stack([layer[:-1, side], layer[1:, side]], axis=1) for layer in (top, bottom)]
        triangles += own
        owners.append((ZONE + bend.id, sum(map(len, own))))
    return Mesh(np.concatenate(triangles), np.concatenate(edges), tuple(owners),
                frozenset(face.id for face in folded.faces))


def _triangulate(top, normal, holes=()):
    """Index triples, counter-clockwise, into a planar outline and then its holes; plain convex outlines as a fan."""
    if len(top) <= 4 and not holes:
        return [[0, i, i + 1] for i in range(1, len(top) - 1)]
    points = np.concatenate([top, *holes])
    u, v = plane_axes(top, normal)
    plane = np.column_stack([(points - top[0]) @ u, (points - top[0]) @ v])
    rings = np.split(plane, np.cumsum([len(top), *map(len, holes)])[:-1])
    parts = constrained_delaunay_triangles(Polygon(rings[0], rings[1:])).geoms
    corners = np.array([orient(p).exterior.coords[:3] for p in parts])
    far = ((corners[:, :, None] - plane[None, None]) ** 2).sum(axis=-1)
    return far.argmin(axis=-1)


def _quads(a, b, c, d) -> np.ndarray:
    """Two triangles to each quad of four rows of corners."""
    return np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)])


def _walls(top, bottom) -> np.ndarray:
    """The wall all round a ring."""
    return _quads(top, bottom, np.roll(bottom, -1, axis=0), np.roll(top, -1, axis=0))

"""The folded part as a triangle mesh with thickness, for looking at.

Bends are true arcs, faceted; the mesh is closed along every edge of every face and
zone, so that it can be lit from either side.
"""

import numpy as np
from shapely import Polygon, constrained_delaunay_triangles
from shapely.geometry.polygon import orient

from .fold import Folded


def mesh(folded: Folded) -> dict:
    """``positions`` flat [x, y, z, …] and ``edges`` [x, y, z, x, y, z, …] in mm."""
    triangles, edges = [], []
    for face in folded.faces:
        top, bottom = face.corners, face.corners - folded.thickness * face.normal
        points = np.concatenate([top, *face.holes])
        under = points - folded.thickness * face.normal
        for ring in _triangulate(top, face.normal, face.holes):
            triangles += [points[ring], under[ring[::-1]]]
        _walls(top, bottom, triangles)
        for hole in face.holes:
            _walls(hole[::-1], hole[::-1] - folded.thickness * face.normal, triangles)
            edges += [np.array([hole[i], hole[(i + 1) % len(hole)]]) for i in range(len(hole))]
        for layer in (top, bottom):
            edges += [np.array([layer[i], layer[(i + 1) % len(layer)]]) for i in range(len(layer))]
    for bend in folded.bends:
        top = bend.arc
        bottom = top - folded.thickness * bend.normals[:, None, :]
        for layer, turn in ((top, 1), (bottom, -1)):
            for i in range(len(layer) - 1):
                quad = [layer[i, 0], layer[i + 1, 0], layer[i + 1, 1], layer[i, 1]][::turn]
                triangles += [np.array(quad[:3]), np.array([quad[0], quad[2], quad[3]])]
        for side in (0, 1):
            for i in range(len(top) - 1):
                quad = [top[i, side], top[i + 1, side], bottom[i + 1, side], bottom[i, side]]
                triangles += [np.array(quad[:3]), np.array([quad[0], quad[2], quad[3]])]
                edges += [np.array([quad[0], quad[1]]), np.array([quad[3], quad[2]])]
    return {"positions": _flat(triangles), "edges": _flat(edges)}


def _triangulate(top, normal, holes=()):
    """Index triples, counter-clockwise, into a planar outline and then its holes; plain convex outlines as a fan."""
    if len(top) <= 4 and not holes:
        return [np.array([0, i, i + 1]) for i in range(1, len(top) - 1)]
    points = np.concatenate([top, *holes])
    u = (top[1] - top[0]) / np.linalg.norm(top[1] - top[0])
    v = np.cross(normal, u)
    plane = np.column_stack([(points - top[0]) @ u, (points - top[0]) @ v])
    rings = np.split(plane, np.cumsum([len(top), *map(len, holes)])[:-1])
    parts = constrained_delaunay_triangles(Polygon(rings[0], rings[1:])).geoms
    return [np.array([int(np.argmin(np.hypot(*(plane - corner).T))) for corner in orient(p).exterior.coords[:3]])
            for p in parts]


def _walls(top, bottom, triangles):
    for i in range(len(top)):
        j = (i + 1) % len(top)
        triangles += [np.array([top[i], bottom[i], bottom[j]]), np.array([top[i], bottom[j], top[j]])]


def _flat(rows) -> list[float]:
    return np.round(np.concatenate([row.reshape(-1) for row in rows]), 3).tolist() if rows else []

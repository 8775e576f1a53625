"""The folded part as a closed triangle mesh with its thickness.

Faces and zones share their corners along every tangent line, and nothing lies between them
there, so that the whole is one solid: every edge belongs to two triangles, all wound
counter-clockwise seen from outside. Bends are true arcs, faceted.
"""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from mapbox_earcut import triangulate_float64

from .clash import ZONE
from .fold import Folded
from .pierced import joined_along, pierced
from .sound import BARE
from .vectors import cross, plane_axes

NEAR = 1e-3
"""A corner of a face so near to the end of a tangent line is that end, mm."""
SAME = 1e-9
"""Corners nearer than this are one, mm; a triangle with two such is left out."""
TOP, BENEATH = 1, -1
STRAIGHT = 1e-6
"""A corner so near to the line between its neighbours stands in an edge, mm."""


@dataclass(frozen=True)
class Mesh:
    """``triangles`` (n, 3, 3) and ``edges`` (m, 2, 3) in mm; ``owners`` are (face or bend, how many
    triangles) in the order of the triangles, and ``flats`` says which of them are faces. ``sides`` (n,) is 1 on what
    was the sheet's top in the flat, −1 beneath, 0 on its edges; of every owner in that order."""

    triangles: np.ndarray
    edges: np.ndarray
    owners: tuple[tuple[str, int], ...]
    flats: frozenset[str]
    sides: np.ndarray

    def as_dict(self) -> dict:
        """``positions`` flat [x, y, z, …], ``edges`` [x, y, z, x, y, z, …] in mm, and ``faces``
        [[id or "", triangles, of these on the top, beneath], …]."""
        begins = np.cumsum([0, *(count for _, count in self.owners)])
        sides = [self.sides[begin:end] for begin, end in pairwise(begins.tolist())]
        return {"positions": np.round(self.triangles, 3).reshape(-1).tolist(),
                "edges": np.round(self.edges, 3).reshape(-1).tolist(),
                "faces": [[name if name in self.flats else "", count, int((own == TOP).sum()),
                           int((own == BENEATH).sum())] for (name, count), own in zip(self.owners, sides, strict=True)]}


def mesh(folded: Folded) -> Mesh:
    """Every face and zone with its thickness."""
    triangles, edges, owners, sides = [], [], [], []

    def add(name, *layers):
        """What is on the top, what is beneath, what is at the edges."""
        own = np.concatenate(layers)
        side = np.repeat([TOP, BENEATH, 0], [len(layer) for layer in layers]).astype(np.int8)
        kept = (np.abs(own - np.roll(own, 1, axis=1)).max(axis=2) > SAME).all(axis=1)
        triangles.append(own[kept])
        sides.append(side[kept])
        owners.append((name, int(kept.sum())))

    for face in folded.faces:
        ring, walled = _with_tangents(face, folded.bends)
        down = folded.thickness * face.normal
        holes = [hole[::-1] for hole in face.holes]
        points = np.concatenate([ring, *holes])
        index = _triangulate(ring, face.normal, holes)
        walls = [_quads(ring, ring - down, np.roll(ring, -1, axis=0) - down, np.roll(ring, -1, axis=0), walled)]
        walls += [_quads(hole, hole - down, np.roll(hole, -1, axis=0) - down, np.roll(hole, -1, axis=0))
                  for hole in holes]
        add(face.id, points[index], (points - down)[index[:, ::-1]], np.concatenate(walls))
        for outline in (face.rim, face.rim - down, *face.holes):
            edges.append(np.stack([outline, np.roll(outline, -1, axis=0)], axis=1))
    for bend in folded.bends:
        if bend.openings:
            layers, lines = pierced(bend, folded.thickness)
            add(ZONE + bend.id, *layers)
            edges.append(lines)
            continue
        top = bend.arc
        under = top - folded.thickness * bend.normals[:, None, :]
        a, b, c, d = (layer[:, side] for side in (0, 1) for layer in (top, under))
        add(ZONE + bend.id, _quads(a[:-1], a[1:], c[1:], c[:-1]), _quads(d[:-1], d[1:], b[1:], b[:-1]),
            np.concatenate([_quads(a[:-1], b[:-1], b[1:], a[1:]), _quads(c[1:], d[1:], d[:-1], c[:-1])]))
        edges += [np.stack([line[:-1], line[1:]], axis=1) for line in (a, b, c, d)]
    return Mesh(np.concatenate(triangles), np.concatenate(edges), tuple(owners),
                frozenset(face.id for face in folded.faces), np.concatenate(sides))


def _with_tangents(face, bends) -> tuple[np.ndarray, np.ndarray]:
    """A face's ring with the ends of its tangent lines among its corners, nothing between them, and which
    of its edges, by their first corner, have a wall: all but the tangent lines."""
    ring, spans, ends = list(face.rim), [], []
    for bend in bends:
        if bend.parent == face.id:
            spans += joined_along(bend, 0)
        elif bend.child == face.id:
            spans += [(end, start) for start, end in joined_along(bend, -1)]
    for end in (end for span in spans for end in span):
        _put_in(ring, end, ends)
    walled = [True] * len(ring)
    for start, end in spans:
        i, j = _index(ring, start), _index(ring, end)
        between = (j - i - 1) % len(ring)
        if any(_off(ring[(i + k) % len(ring)], start, end) > BARE for k in range(1, between + 1)):
            continue  # the tangent line is not all on the ring: sound refuses such
        gone = {(i + k) % len(ring) for k in range(1, between + 1)}
        walled[i] = False
        ring, walled = ([item for k, item in enumerate(row) if k not in gone] for row in (ring, walled))
    return np.array(ring), np.array(walled)


def _put_in(ring: list, point: np.ndarray, ends: list) -> None:
    """The point in place of the corner that it is, or in the edge that it lies on; ``ends`` are those put in before,
    which stay."""
    points = np.array(ring)
    far = np.linalg.norm(points - point, axis=1)
    if ends:
        far[(np.linalg.norm(points[:, None] - np.array(ends)[None], axis=2) == 0).any(axis=1) & (far > SAME)] = np.inf
    nearest = int(far.argmin())
    ends.append(point)
    if far[nearest] <= NEAR:
        ring[nearest] = point
        return
    along = np.roll(points, -1, axis=0) - points
    share = np.clip(((point - points) * along).sum(axis=1) / (along * along).sum(axis=1), 0, 1)
    ring.insert(int(np.linalg.norm(points + share[:, None] * along - point, axis=1).argmin()) + 1, point)


def _index(ring, point) -> int:
    return int(np.linalg.norm(np.array(ring) - point, axis=1).argmin())


def _off(point, start, end) -> float:
    along = (end - start) / np.linalg.norm(end - start)
    return float(np.linalg.norm(cross(point - start, along)))


def _triangulate(ring, normal, holes) -> np.ndarray:
    """Index triples, counter-clockwise, into a planar outline and then its holes, of which every corner is
    used: the triangulation leaves out what stands in a straight edge, so that is taken a hair further in."""
    u, v = plane_axes(ring, normal)
    rings = [np.column_stack([(part - ring[0]) @ u, (part - ring[0]) @ v]) for part in (ring, *holes)]
    plane = np.concatenate([_bent_in(part) for part in rings])
    found = triangulate_float64(plane, np.cumsum([len(part) for part in rings]).astype(np.uint32)).reshape(-1, 3)
    (ax, ay), (bx, by), (cx, cy) = (plane[found[:, i]].T for i in range(3))
    if ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)).sum() < 0:
        found = found[:, ::-1]
    return found.astype(int)


def _bent_in(ring) -> np.ndarray:
    """A ring in the plane with its metal to the left, straight corners moved to that side."""
    before, after = np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0)
    along = after - before
    left = np.column_stack([-along[:, 1], along[:, 0]]) / np.linalg.norm(along, axis=1)[:, None]
    off = ((ring - before) * left).sum(axis=1)
    return ring + np.where(np.abs(off) < STRAIGHT, 2 * STRAIGHT, 0.0)[:, None] * left


def _quads(a, b, c, d, which=slice(None)) -> np.ndarray:
    """Two triangles to each quad of four rows of corners."""
    a, b, c, d = (row[which] for row in (a, b, c, d))
    return np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)])

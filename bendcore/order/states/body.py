"""Where the faces of a sheet stand beside a bend, whatever else is bent.

A bend parts the tree of faces into two *halves*, each rigid while the bend is made. A half is drawn in axes of its own,
(s, n, x): s from the bend's tangent line into the half, n towards the inside of the bend (its inner surface at n = 0,
the metal below down to −t), x along the bend from the first point of its line in the flat. A :class:`Node` is a face
of a half with the zone that leads to it. Where it stands depends only on the bends between it and the one being made,
its *path*: the same path at the same levels is the same pose, and there are far fewer of those than states.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ...sheet.clash import convex_parts
from ...sheet.fold import beyond, zone_arc
from ...sheet.model import Bend, Edge, Sheet
from ...sheet.section import facets
from ...sheet.unfold import FlatBend, FlatPattern

PARENT, CHILD = 0, 1
"""The two halves of a bend: that of its parent face, that of its child."""
UP = np.array([0.0, 0.0, 1.0])
PARALLEL = 1e-7
POLYGON = 3
"""As the library of shapes counts its types."""


@dataclass(frozen=True)
class Node:
    """A face of a half: ``via`` the bend (by index) that leads to it, None for a face beside the bend made;
    ``path`` the bends from there, nearest first; ``before`` the node it hangs on, by index in its half."""

    face: str
    via: int | None
    outwards: bool
    path: tuple[int, ...]
    before: int
    root: tuple[int, int]
    """(bend being made, half) it belongs to."""


@dataclass(frozen=True)
class Half:
    """One side of the bends ``made`` in one stroke: its nodes, each after the one it hangs on."""

    made: tuple[int, ...]
    side: int
    nodes: tuple[Node, ...]

    @cached_property
    def bends(self) -> tuple[int, ...]:
        """The bends within it, in the order of the body."""
        return tuple(sorted({node.via for node in self.nodes if node.via is not None}))


@dataclass(frozen=True)
class Pose:
    """Convex bodies of a node in a half's axes: ``bodies`` are (k, 3) points each, ``rings`` outlines (k, 2) that cover
    its silhouette along the bend, ``span`` from where to where along it it reaches."""

    bodies: tuple[np.ndarray, ...]
    rings: tuple[np.ndarray, ...]
    span: tuple[float, float]
    even: bool
    """Whether its section is the same all along its span."""
    cuts: dict = field(default_factory=dict, compare=False, repr=False)
    """Silhouettes of stretches of it, as they were asked for."""

    @cached_property
    def shape(self) -> BaseGeometry:
        """The silhouette along the bend as one geometry."""
        return multipolygon(self.rings)

    @cached_property
    def hulls(self) -> np.ndarray:
        """The silhouette of each body that has one."""
        return silhouettes(*flattened(self.bodies))[1]


@dataclass(frozen=True)
class Body:
    """A sheet and its flat, ready to be bent: bends are counted in the order of the flat."""

    sheet: Sheet
    flat: FlatPattern
    _frames: dict = field(default_factory=dict, compare=False)
    _poses: dict = field(default_factory=dict, compare=False)
    _halves: dict = field(default_factory=dict, compare=False)

    @property
    def thickness(self) -> float:
        """Of the sheet, mm."""
        return self.sheet.thickness

    @cached_property
    def lines(self) -> tuple[FlatBend, ...]:
        """The bends in the flat."""
        return self.flat.bends

    @cached_property
    def bends(self) -> tuple[Bend, ...]:
        """The bends, in the order of the flat."""
        return tuple(line.bend for line in self.lines)

    @cached_property
    def index(self) -> dict[str, int]:
        """Bends by id."""
        return {bend.id: i for i, bend in enumerate(self.bends)}

    @cached_property
    def beside(self) -> dict[str, tuple[tuple[int, str, bool], ...]]:
        """By face: (bend, face beyond it, whether that is its child)."""
        found: dict[str, list] = {face.id: [] for face in self.sheet.faces}
        for i, bend in enumerate(self.bends):
            found[bend.parent].append((i, bend.child, True))
            found[bend.child].append((i, bend.parent, False))
        return {face: tuple(rows) for face, rows in found.items()}

    @cached_property
    def depth(self) -> dict[str, int]:
        """How many bends lie between a face and the root."""
        found = {self.sheet.root: 0}
        for bend in self.sheet.bends:
            found[bend.child] = found[bend.parent] + 1
        return found

    @cached_property
    def turned(self) -> dict[str, np.ndarray]:
        """By face: the turn (2, 2) from its own plane into the flat."""
        found = {}
        for face in self.sheet.faces:
            (x0, y0), (x1, y1) = face.outline[:2]
            (u0, v0), (u1, v1) = self.flat.faces[face.id][:2]
            turn = math.atan2(v1 - v0, u1 - u0) - math.atan2(y1 - y0, x1 - x0)
            c, s = math.cos(turn), math.sin(turn)
            found[face.id] = np.array([[c, -s], [s, c]])
        return found

    def line(self, i: int) -> tuple[np.ndarray, np.ndarray, float]:
        """(first point, direction, length) of a bend's line in the flat."""
        first, last = map(np.array, self.lines[i].line)
        long = float(np.linalg.norm(last - first))
        return first, (last - first) / long, long

    def heading(self, i: int, side: int) -> int:
        """Which way a half lies from the bend's line in the flat, whole degrees."""
        return self._headings[i][side]

    @cached_property
    def _headings(self) -> list[tuple[int, int]]:
        return [tuple(round(math.degrees(math.atan2(*(np.mean(edge, axis=0) - np.mean(bend.line, axis=0))[::-1]))) % 360
                      for edge in bend.tangents) for bend in self.lines]

    def depth_of(self, face: str, edge: Edge) -> float:
        """How far a face reaches from one of its edges, mm."""
        (x0, y0), (x1, y1) = edge
        along = np.array([x1 - x0, y1 - y0]) / math.dist(*edge)
        points = np.array(self.sheet.face[face].outline) - (x0, y0)
        return float(np.abs(points @ np.array([along[1], -along[0]])).max())

    def face_at(self, i: int, side: int) -> str:
        """The face beside a bend."""
        bend = self.bends[i]
        return bend.child if side == CHILD else bend.parent

    def between(self, i: int, j: int) -> tuple[int, ...]:
        """The bends on the way through the tree from bend ``i`` to bend ``j``, without them."""
        key = ("between", i, j)
        if key not in self._halves:
            came: dict[str, tuple[int, ...]] = {self.bends[i].parent: (), self.bends[i].child: ()}
            queue = list(came)
            while queue:
                face = queue.pop()
                for k, beyond_it, _ in self.beside[face]:
                    if k != i and beyond_it not in came:
                        came[beyond_it] = (*came[face], k)
                        queue.append(beyond_it)
            ways = (came[self.bends[j].parent], came[self.bends[j].child])
            self._halves[key] = min(ways, key=len)
        return self._halves[key]

    # --- halves --------------------------------------------------------------------

    def half(self, made: tuple[int, ...], side: int) -> Half:
        """Everything on one side of the bends made together."""
        key = (made, side)
        if key not in self._halves:
            self._halves[key] = Half(made, side, tuple(self._walk(made, side)))
        return self._halves[key]

    def _walk(self, made, side) -> list[Node]:
        """Faces on the side of each bend made that the first one's ``side`` faces, nearest first."""
        heading = self.heading(made[0], side)
        nodes: list[Node] = []
        for i in made:
            own = next(s for s in (PARENT, CHILD) if abs((self.heading(i, s) - heading + 180) % 360 - 180) < 2)
            root = self.face_at(i, own)
            if any(node.face == root for node in nodes):
                continue
            nodes.append(Node(root, None, True, (), -1, (i, own)))
            at = len(nodes) - 1
            while at < len(nodes):
                here = nodes[at]
                came = nodes[here.before].face if here.before >= 0 else None
                for j, face, outwards in self.beside[here.face]:
                    if j not in made and face != came:
                        nodes.append(Node(face, j, outwards, (*here.path, j), at, (i, own)))
                at += 1
        return nodes

    # --- poses -----------------------------------------------------------------------

    def pose(self, half: Half, n: int, levels: Sequence[float]) -> Pose:
        """Where node ``n`` of a half stands with the bends of its path at these angles, degrees."""
        key = (half.made[0], half.side, half.nodes[n].face, half.nodes[n].root, tuple(levels))
        if key not in self._poses:
            self._poses[key] = self._posed(half, n, tuple(levels))
        return self._poses[key]

    def _posed(self, half, n, angles) -> Pose:
        node, frame = half.nodes[n], self.frame(half, n, angles)
        bodies = [placed(frame, part) for part in self._face_bodies[node.face]]
        rings = rings_in(silhouettes(*flattened(bodies))[1])
        even = all(is_even(body) for body in bodies)
        if node.via is not None:
            bend, angle = self.bends[node.via], angles[-1]
            base = frame if not node.outwards else self.frame(half, node.before, angles[:-1])
            zone = [placed(base, part) for part in self._zone_bodies(node.via, angle)]
            along = self._axis(base, bend)
            parallel = abs(along[2]) > 1 - PARALLEL
            if parallel and not any(bend.taper):
                rings.append(self._zone_ring(base, node.via, angle))
            else:
                rings += rings_in(silhouettes(*flattened(zone))[1])
                even = False
            bodies += zone
        x = np.concatenate([body[:, 2] for body in bodies])
        return Pose(tuple(bodies), tuple(rings), (float(x.min()), float(x.max())), even)

    @staticmethod
    def _axis(frame, bend) -> np.ndarray:
        (x0, y0), (x1, y1) = bend.parent_edge
        along = frame[:3, :2] @ np.array([x1 - x0, y1 - y0])
        return along / np.linalg.norm(along)

    def frame(self, half: Half, n: int, angles: Sequence[float]) -> np.ndarray:
        """(4, 4): a face's plane, (x, y, above the top, 1), → a half's axes."""
        node = half.nodes[n]
        key = (half.made[0], half.side, node.face, node.root, tuple(angles))
        if key not in self._frames:
            if node.via is None:
                self._frames[key] = self._root(half.made[0], *node.root)
            else:
                step = self._step(node.via, angles[-1], node.outwards)
                self._frames[key] = self.frame(half, node.before, angles[:-1]) @ step
        return self._frames[key]

    def _root(self, first, i, side) -> np.ndarray:
        """The face beside bend ``i`` in the axes of the bend ``first``, with which it is made."""
        bend, face = self.bends[i], self.face_at(i, side)
        start, along, _ = self.line(first)
        turn = self.turned[face]
        u = turn.T @ along
        (p, q) = map(np.array, bend.child_edge if side == CHILD else bend.parent_edge)
        if (q - p) @ u < 0:
            p, q = q, p
        near = np.array(self.lines[i].tangents[side][0])
        at = float((near - start) @ along)
        far = turn.T @ (np.mean(self.lines[i].tangents[side], axis=0) - np.mean(self.lines[i].line, axis=0))
        inwards = far / np.linalg.norm(far)
        inwards -= (inwards @ u) * u
        inwards /= np.linalg.norm(inwards)
        sign = self.bends[first].sign
        found = np.eye(4)
        found[0] = [*inwards, 0.0, -inwards @ p]
        found[1] = [0.0, 0.0, sign, 0.0 if sign > 0 else -self.thickness]
        found[2] = [*u, 0.0, at - u @ p]
        return found

    def _step(self, j, angle, outwards) -> np.ndarray:
        """From the face beyond a bend into the plane of the face before it."""
        key = ("step", j, angle)
        if key not in self._frames:
            bend = self.bends[j]
            arc, _, out = zone_arc(bend, self.near(j), UP, angle, self.thickness, 180.0)
            self._frames[key] = beyond(bend.child_edge, arc[-1], out).matrix
            self._frames["back", j, angle] = np.linalg.inv(self._frames[key])
        return self._frames[key if outwards else ("back", j, angle)]

    def near(self, j: int) -> np.ndarray:
        """Where a bend begins, (2, 3), in the plane of its parent."""
        return np.array([[x, y, 0.0] for x, y in self.bends[j].parent_edge])

    @cached_property
    def _face_bodies(self) -> dict[str, list[np.ndarray]]:
        """By face: its convex parts with their thickness, (2k, 4)."""
        found = {}
        for face in self.sheet.faces:
            top = np.array([[x, y, 0.0] for x, y in face.outline])
            found[face.id] = [thickened(ring, UP, self.thickness) for ring in convex_parts(top, UP)]
        return found

    def _arc(self, j, angle):
        key = ("arc", j, angle)
        if key not in self._frames:
            bend = self.bends[j]
            count = 1 if angle < 1e-9 else facets(max(bend.figures.radius_at(angle), 0.0) + self.thickness, angle)
            self._frames[key] = zone_arc(bend, self.near(j), UP, angle, self.thickness,
                                         angle / count * (1 + 1e-9) if angle > 1e-9 else 180.0)[:2]
        return self._frames[key]

    def _zone_bodies(self, j, angle) -> list[np.ndarray]:
        """A zone facet by facet, (8, 4) each, in the plane of its parent."""
        key = ("zone", j, angle)
        if key not in self._frames:
            arc, normals = self._arc(j, angle)
            low = arc - self.thickness * normals[:, None, :]
            parts = [np.concatenate([arc[k], arc[k + 1], low[k], low[k + 1]]) for k in range(len(arc) - 1)]
            self._frames[key] = [np.column_stack([part, np.ones(8)]) for part in parts]
        return self._frames[key]

    def _zone_ring(self, frame, j, angle) -> np.ndarray:
        """A zone's outline along its axis."""
        arc, normals = self._arc(j, angle)
        top = arc[:, 0]
        ring = np.concatenate([top, (top - self.thickness * normals)[::-1]])
        return placed(frame, np.column_stack([ring, np.ones(len(ring))]))[:, :2]


def placed(frame: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Points (k, 4) of a plane in a half's axes, (k, 3)."""
    return points @ frame[:3].T


def thickened(ring: np.ndarray, normal: np.ndarray, thickness: float) -> np.ndarray:
    """A convex ring and the same the thickness below it, (2k, 4)."""
    both = np.concatenate([ring, ring - thickness * normal])
    return np.column_stack([both, np.ones(len(both))])


def multipolygon(rings: Sequence[np.ndarray]) -> BaseGeometry:
    """Outlines as one geometry; they may lie on each other."""
    return shapely.multipolygons([shapely.polygons(ring) for ring in rings])


def flattened(bodies: Sequence[np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
    """Points of several bodies along the bend, (k, 2), and the body of each."""
    return (np.concatenate([body[:, :2] for body in bodies]),
            np.repeat(np.arange(len(bodies)), [len(body) for body in bodies]))


def silhouettes(points: np.ndarray, of: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The hulls of several sets of points (k, 2), ``of`` the set of each in rising order: which sets have one, not a
    line or less, and what it is."""
    if not len(of):
        return of, np.zeros(0, object)
    first = np.flatnonzero(np.append(True, of[1:] != of[:-1]))
    count = np.diff(np.append(first, len(of)))
    enough = np.repeat(count > 2, count)
    if not enough.all():
        return silhouettes(points[enough], of[enough])
    found = shapely.convex_hull(shapely.linestrings(points, indices=np.repeat(np.arange(len(first)), count)))
    there = shapely.get_type_id(found) == POLYGON
    return of[first][there], found[there]


def rings_in(polygons: np.ndarray) -> list[np.ndarray]:
    """Corners (k, 2) of each."""
    corners, at = shapely.get_coordinates(polygons, return_index=True)
    return np.split(corners, np.flatnonzero(np.diff(at)) + 1) if len(polygons) else []


def is_even(points: np.ndarray) -> bool:
    """Whether a convex body is a prism along the bend."""
    x = points[:, 2]
    low, high = x.min(), x.max()
    if high - low < 1e-9 or not ((x - low < 1e-6) | (high - x < 1e-6)).all():
        return False
    ends = [points[at][:, :2] for at in (x - low < 1e-6, high - x < 1e-6)]
    if len(ends[0]) != len(ends[1]):
        return False
    one, other = (np.array(sorted(np.round(end, 6).tolist())) for end in ends)
    return bool(np.abs(one - other).max() < 1e-5)

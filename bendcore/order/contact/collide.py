"""Does a part of the sheet meet a tool? Proved over a whole swing, not sampled.

Parts are polygons in the plane of a half (see :mod:`..states.body`), tools regions already inset by what counts as a
hit. :func:`swing_hits` proves a swing: between two angles no point of the part moves further than a bound, so an
interval is clear when the distances at its ends add up to more than the bound. Intervals that are not proved are cut
until the bound is below :data:`RESOLUTION`.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import ArrayLike
from shapely import Polygon
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from ...brakes.shapes import inset

RESOLUTION = 0.02
COARSE = 7
"""Angles looked at first; the rest follows from the distances there."""
EVERY = 8
"""Of many angles so many are passed over at first."""
SPLIT = 4
"""Intervals in doubt are cut into this many."""
RADII = np.array([0.0, 2.0, 8.0, 32.0, 128.0, 512.0, 1e5])
"""What is looked at more closely is cut by these first: squares about the origin, less those within. They overlap."""
REACH = math.sqrt(2) * RADII[1:]
"""The greatest distance from the origin in each."""
STRIPS = [(n, *corners) for n, (hole, r) in enumerate(zip(0.999 * RADII, RADII[1:], strict=False)) for corners in (
    ((hole, -r, r, r), (-r, -r, -hole, r), (-r, hole, r, r), (-r, -r, r, -hole)) if hole else ((-r, -r, r, r),))]
"""What each is made of: its number, and the corners of its strips."""
STRAIGHT = 1.1
"""The origin's path between two angles is at most this much longer than its chord's legs."""


def beside(points: np.ndarray, side: ArrayLike, y: ArrayLike, z: ArrayLike, h: ArrayLike) -> np.ndarray:
    """Points of a half, (…, 2) or with their place along the bend (…, 3), in machine axes: the half's origin stands at
    (``y``, ``z``), risen by ``h`` radians, ``side`` 1 to the back or −1 to the front."""
    c, d = np.cos(h), np.sin(h)
    s, n = points[..., 0], points[..., 1]
    found = np.empty((*np.broadcast_shapes(s.shape, np.shape(h)), points.shape[-1]))
    found[..., 0], found[..., 1], found[..., 2:] = side * (y + s * c - n * d), z + s * d + n * c, points[..., 2:]
    return found


@dataclass(frozen=True)
class Nodes:
    """Parts to test, in a half's plane: geometries, points (k, 2) whose box holds each, in order, and ``of`` which each
    is (k,), their greatest distance from the origin (n,); on which ``side`` their half lies (n,), and how far they are
    moved ``back`` from there to the front, mm (n,)."""

    shapes: np.ndarray
    points: np.ndarray
    of: np.ndarray
    reach: np.ndarray
    side: np.ndarray
    back: np.ndarray

    @cached_property
    def first(self) -> np.ndarray:
        """Where the points of each begin (n,)."""
        return np.searchsorted(self.of, np.arange(len(self.shapes)))

    @classmethod
    def made(cls, shapes: Sequence[BaseGeometry], side: ArrayLike = 1, back: ArrayLike = 0.0) -> "Nodes":
        """One node from each geometry; none is empty."""
        shapes = np.array(shapes, object)
        points, of = shapely.get_coordinates(shapes, return_index=True)
        reach = np.maximum.reduceat(np.hypot(points[:, 0], points[:, 1]), np.searchsorted(of, np.arange(len(shapes))))
        return cls(shapes, points, of, reach, np.broadcast_to(side, len(shapes)), np.broadcast_to(back, len(shapes)))

    def some(self, which: np.ndarray) -> "Nodes":
        """Some of them, by index in rising order."""
        if len(which) == len(self.shapes):
            return self
        place = np.full(len(self.shapes), -1)
        place[which] = np.arange(len(which))
        of = place[self.of]
        return Nodes(self.shapes[which], self.points[of >= 0], of[of >= 0], self.reach[which], self.side[which],
                     self.back[which])

    def placed(self, which: np.ndarray, y: np.ndarray, z: np.ndarray, h: np.ndarray) -> np.ndarray:
        """Geometries of the nodes ``which`` (m,), each in its own pose (arrays of m)."""
        shapes = self.shapes[which]
        own, index = shapely.get_coordinates(shapes, return_index=True)
        y = y - self.side[which] * self.back[which]
        return shapely.set_coordinates(shapes.copy(), beside(own, self.side[which][index], y[index], z[index],
                                                             h[index]))

    def box_gaps(self, boxes: np.ndarray, y: np.ndarray, z: np.ndarray, h: np.ndarray) -> np.ndarray:
        """(poses, n) lower bounds of the distance to tools, from bounding boxes."""
        y, z, h = (v[:, None] for v in (y, z, h))
        at = beside(self.points[None], self.side[self.of], y - (self.side * self.back)[self.of], z, h)
        low, high = (some.reduceat(at, self.first, axis=1) for some in (np.minimum, np.maximum))
        gaps = [np.hypot(*np.moveaxis(np.maximum(0, np.maximum(box[:2] - high, low - box[2:])), -1, 0))
                for box in boxes]
        return np.min(gaps, axis=0)


def swing_hits(nodes: Nodes, tool: BaseGeometry, path: Callable, end: float) -> np.ndarray:
    """For each node, an angle in [0, ``end``] at which it meets a tool, or NaN.

    ``tool`` is an inset geometry at rest; ``path(angles)`` gives (y, z, h) of the
    half relative to it.
    """
    witness = np.full(len(nodes.shapes), np.nan)
    boxes = [np.array(part.bounds) for part in getattr(tool, "geoms", [tool]) if not part.is_empty]
    if not boxes:
        return witness
    shapely.prepare(tool)
    grid = np.linspace(0.0, end, COARSE)
    y, z, h = path(grid)
    distance = nodes.box_gaps(boxes, y, z, h)
    turn = np.abs(np.diff(h))[:, None]
    shift = STRAIGHT * (np.abs(np.diff(y)) + np.abs(np.diff(z)))[:, None]
    bound = turn * nodes.reach + shift
    doubt = distance[:-1] + distance[1:] <= bound
    asked = np.zeros(distance.shape, bool)
    asked[:-1] |= doubt
    asked[1:] |= doubt
    at, which = np.nonzero(asked)
    if not len(at):
        return witness
    distance[at, which] = shapely.distance(nodes.placed(which, y[at], z[at], h[at]), tool)
    for j in range(COARSE - 1, -1, -1):
        witness[asked[j] & (distance[j] == 0)] = grid[j]
    doubt &= (distance[:-1] + distance[1:] <= bound) & np.isnan(witness)
    j, which = np.nonzero(doubt)
    low, high, d_low, d_high = grid[j], grid[j + 1], distance[j, which], distance[j + 1, which]
    nodes, which, rows, owner = _cut(nodes, which, (d_low + d_high)[:, None] <= turn[j] * REACH + shift[j])
    if not len(rows):
        return witness
    low, high, d_low, d_high = (v[rows] for v in (low, high, d_low, d_high))
    bound = _moved(map(np.vstack, zip(path(low), path(high), strict=True)), nodes.reach[which])[0]
    close = d_low + d_high <= bound
    which, low, high, d_low, d_high = (v[close] for v in (which, low, high, d_low, d_high))
    while len(which):
        m = len(which)
        angles = low + (high - low) * np.linspace(0, 1, SPLIT + 1)[:, None]
        y, z, h = (v.reshape(SPLIT + 1, m) for v in path(angles.ravel()))
        inner = slice(1, SPLIT)
        placed = nodes.placed(np.tile(which, SPLIT - 1), y[inner].ravel(), z[inner].ravel(), h[inner].ravel())
        distance = np.vstack([d_low, shapely.distance(placed, tool).reshape(SPLIT - 1, m), d_high])
        for k in range(1, SPLIT):
            met = distance[k] == 0
            witness[owner[which[met]]] = angles[k, met]
        bound = _moved((y, z, h), nodes.reach[which])
        doubt = (distance[:-1] + distance[1:] <= bound) & (bound > RESOLUTION) & np.isnan(witness[owner[which]])
        k, column = np.nonzero(doubt)
        which, low, high = which[column], angles[k, column], angles[k + 1, column]
        d_low, d_high = distance[k, column], distance[k + 1, column]
    return witness


def least_distance(nodes: Nodes, tool: BaseGeometry, path: Callable, angles: np.ndarray) -> float:
    """The least distance from a tool that any node has at any of the ``angles`` (k,) in rising order, mm; infinite
    where there are no nodes. Every :data:`EVERY`th is looked at first; of those between, where the bound of
    :func:`swing_hits` leaves room for less."""
    way, count = path(angles), len(nodes.shapes)
    if not count:
        return math.inf

    def distances(rows, which):
        return shapely.distance(nodes.placed(which, *(v[rows] for v in way)), tool)

    first = np.unique(np.append(np.arange(0, len(angles), EVERY), len(angles) - 1))
    known = distances(np.repeat(first, count), np.tile(np.arange(count), len(first))).reshape(-1, count)
    moved = _moved([v[first, None] for v in way], nodes.reach)
    at, which = np.nonzero(known[:-1] + known[1:] - moved < 2 * known.min())
    inner = [np.arange(first[i] + 1, first[i + 1]) for i in at]
    if not sum(map(len, inner)):
        return float(known.min())
    return float(min(known.min(), distances(np.concatenate(inner), np.repeat(which, list(map(len, inner)))).min()))


def _moved(way, reach) -> np.ndarray:
    """How far points at most ``reach`` from the origin move from each row of (y, z, h) to the next."""
    y, z, h = (np.abs(np.diff(v, axis=0)) for v in way)
    return h * reach + STRAIGHT * (y + z)


def _cut(nodes: Nodes, which: np.ndarray, wanted: np.ndarray) -> tuple[Nodes, np.ndarray, np.ndarray, np.ndarray]:
    """Nodes cut into rings about the origin, since what is near it moves little while it may touch for long: the
    parts, and for each row of ``which`` and part of its node in a ring that is ``wanted`` (rows, rings) for it: (part,
    row), and the node by part."""
    own, back = np.unique(which, return_inverse=True)
    polygons, of = shapely.get_parts(nodes.shapes[own], return_index=True)
    low, high = np.split(shapely.bounds(polygons), 2, axis=1)
    asked = np.zeros((len(own), len(REACH)), bool)
    np.logical_or.at(asked, back, wanted)
    parts, n, ring = [], [], []
    for k, *corners in STRIPS:
        inside = (low <= corners[2:]).all(axis=1) & (high >= corners[:2]).all(axis=1) & asked[of, k]
        if inside.any():
            parts.append(_clipped(polygons[inside], corners))
            n.append(np.flatnonzero(inside))
            ring.append(np.full(len(n[-1]), k))
    parts, n, ring = (np.concatenate(some) if some else np.zeros(0, int) for some in (parts, n, ring))
    full = ~shapely.is_empty(parts)
    n, ring, parts = n[full], ring[full], parts[full]
    node = of[n]
    rows, part = np.nonzero((back[:, None] == node[None]) & wanted[:, ring])
    owner = own[node]
    return Nodes.made(parts, nodes.side[owner], nodes.back[owner]) if len(parts) else nodes, part, rows, owner


def _clipped(polygons: np.ndarray, corners: Sequence[float]) -> np.ndarray:
    """What of polygons lies in a rectangle (x and y of its lower left corner and of its upper right one)."""
    try:
        return shapely.clip_by_rect(polygons, *corners)
    except shapely.errors.GEOSException:  # a sliver on a corner: it makes a ring of three points of that, and gives up
        return shapely.intersection(polygons, shapely.box(*corners))


def into_half(region: BaseGeometry, side: int, y: float, z: float, h: float) -> BaseGeometry:
    """A region as a half that lies there sees it, ready to be asked often."""
    c, d = math.cos(h), math.sin(h)
    placed = affine_transform(region, [side * c, d, -side * d, c, -y * c - z * d, y * d - z * c])
    shapely.prepare(placed)
    return placed


def deepest(parts: np.ndarray, tool: Polygon, most: float = 200.0) -> tuple[float, int]:
    """The largest distance from a point of the overlap to the tool's boundary, mm, over all of the geometries
    ``parts``, and which of them is so deep. They are halved together: tools shrunk by the same steps are kept."""
    low, high, at = 0.0, most, 0
    while high - low > 5e-4:
        middle = (low + high) / 2
        shrunk = inset(tool, middle)
        met = np.zeros(1, bool) if shrunk.is_empty else shapely.intersects(parts, shrunk)
        if met.any():
            low, at = middle, int(met.argmax())
        else:
            high = middle
    return low, at

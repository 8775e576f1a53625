"""The part against itself while a bend is made.

Each pair of bodies, one of either half, is looked at through the whole swing up to the bend's angle; whether they meet
depends only on the bends of their two paths. Clear is proved as for tools: between two angles nothing moves further
than a bound. What stays within that bound of each other, corners that touch for good among it, is looked at every
:data:`STEP` degrees.
"""

from dataclasses import dataclass

import numpy as np

from ...sheet.clash import DEEP, Bodies, convex_parts, depths, facets_of, prisms, quads
from ...sheet.fold import zone_arc
from ..states.body import UP, Half
from ..states.moves import OPEN, Job, Levels, Move
from .collide import beside
from .halves import Halves

COARSE = 9
STEP = 1.5
FACET = 22.5


@dataclass(frozen=True)
class Swung:
    """Bodies of a half in its own axes, those of each node in one run: ``of`` is the node of each."""

    bodies: Bodies
    of: np.ndarray
    reach: np.ndarray


class Itself:
    """Whether a part runs into itself, kept by pairs of faces."""

    def __init__(self, job: Job, halves: Halves):
        self.job, self.halves = job, halves
        self._met: dict[tuple, bool] = {}
        self._nodes: dict[tuple, Bodies] = {}
        self._local: dict[tuple, Bodies] = {}

    def meets(self, levels: Levels, move: Move) -> bool:
        """Whether any face runs into another while the bend is made."""
        return bool(self.pairs(levels, move, first=True))

    def pairs(self, levels: Levels, move: Move, first: bool = False) -> list[tuple[str, str]]:
        """Faces that do, one of the held half and one of the free; the ``first`` found, or all."""
        sides = []
        for side in (move.side, 1 - move.side):
            half = self.halves.half(move.bends, side)
            level = dict(zip(half.bends, (levels[i] for i in half.bends), strict=True))
            stands = ((half, n, tuple(level[j] for j in node.path)) for n, node in enumerate(half.nodes))
            sides.append([node for node in stands if OPEN not in node[2]])
        asked, keys = [], {}
        for one in sides[0]:
            for other in sides[1]:
                if any(one[2]) or any(other[2]):
                    key = (move.bends, move.to, one[0].nodes[one[1]].face, one[2], other[0].nodes[other[1]].face,
                           other[2])
                    keys[key] = (one, other)
                    if key not in self._met:
                        asked.append(key)
        if asked:
            self._ask(move, asked, keys)
        found = [(key[2], key[4]) for key in keys if self._met[key]]
        return found[:1] if first else found

    def worst(self, levels: Levels, move: Move) -> tuple[str, str, float, float, float] | None:
        """(face, the other it runs into, how deep in mm, at which angle deepest, from which on) of the pair that goes
        deepest; None where none meets."""
        found, end = None, self.job.angle(move.bends[0], move.to)
        angles = np.append(np.arange(0.0, end, STEP), end)
        figures = self.job.body.bends[move.bends[0]].figures
        for one, other in self.pairs(levels, move):
            sides = []
            for side, face in ((move.side, one), (1 - move.side, other)):
                half = self.halves.half(move.bends, side)
                level = dict(zip(half.bends, (levels[i] for i in half.bends), strict=True))
                n = next(k for k, node in enumerate(half.nodes) if node.face == face)
                sides.append(self._swung({0: (half, n, tuple(level[j] for j in half.nodes[n].path))}))
            held, free = sides
            pairs = np.array([(a, b) for a in range(len(held.of)) for b in range(len(free.of))])
            rows, at = (v.ravel() for v in np.meshgrid(np.arange(len(pairs)), np.arange(len(angles)), indexing="ij"))
            deep = _depths(held, free, pairs[rows], *_path(figures, angles[at])).reshape(len(pairs), -1).max(axis=0)
            if found is None or deep.max() > found[2]:
                found = (one, other, float(deep.max()), float(angles[deep.argmax()]),
                         float(angles[(deep > DEEP).argmax()]))
        return found

    def _ask(self, move, asked, keys) -> None:
        """Settle pairs of nodes, all in one go."""
        halves: list[dict] = [{}, {}]
        for key in asked:
            for side, node in enumerate(keys[key]):
                halves[side].setdefault(node[1:], node)
        swung = [self._swung(rows) for rows in halves]
        number = [{node: n for n, node in enumerate(rows)} for rows in halves]
        wanted = np.zeros((len(halves[0]), len(halves[1])), bool)
        for key in asked:
            wanted[number[0][keys[key][0][1:]], number[1][keys[key][1][1:]]] = True
        met = self._swing(move, *swung, wanted)
        for key in asked:
            self._met[key] = bool(met[number[0][keys[key][0][1:]], number[1][keys[key][1][1:]]])

    def _swung(self, rows) -> Swung:
        found = [self._node(half, n, own) for half, n, own in rows.values()]
        of = np.repeat(np.arange(len(found)), [len(b.points) for b in found])
        points = np.concatenate([b.points for b in found])
        whole = Bodies((), points, np.concatenate([b.axes for b in found]), np.concatenate([b.edges for b in found]))
        return Swung(whole, of, np.hypot(points[..., 0], points[..., 1]).max(axis=1))

    def _node(self, half: Half, n: int, own: tuple[int, ...]) -> Bodies:
        """A node's bodies in its half's axes."""
        node = half.nodes[n]
        key = (half.made, half.side, node.face, own)
        if key not in self._nodes:
            body, angles = self.job.body, self.job.angles(node.path, own)
            parts = [_moved(self._face(node.face), body.frame(half, n, angles))]
            if node.via is not None:
                base = body.frame(half, n, angles) if not node.outwards else body.frame(half, node.before, angles[:-1])
                parts.append(_moved(self._zone(node.via, angles[-1]), base))
            self._nodes[key] = Bodies((), *(np.concatenate([getattr(p, name) for p in parts])
                                            for name in ("points", "axes", "edges")))
        return self._nodes[key]

    def _face(self, name: str) -> Bodies:
        key = ("face", name)
        if key not in self._local:
            top = np.array([[x, y, 0.0] for x, y in self.job.body.sheet.face[name].outline])
            found = np.array([quad for ring in convex_parts(top, UP) for quad in quads(ring)])
            up = np.tile(UP, (len(found), 1))
            self._local[key] = prisms((), found, up, up, self.job.body.thickness)
        return self._local[key]

    def _zone(self, j: int, angle: float) -> Bodies:
        key = ("zone", j, angle)
        if key not in self._local:
            body = self.job.body
            arc, normals, _ = zone_arc(body.bends[j], body.near(j), UP, angle, body.thickness, FACET)
            self._local[key] = prisms((), facets_of(arc), normals[:-1], normals[1:], body.thickness)
        return self._local[key]

    def _swing(self, move, held: Swung, free: Swung, wanted: np.ndarray) -> np.ndarray:
        """(nodes held, nodes free): whether any of their bodies meet between flat and bent."""
        end = self.job.angle(move.bends[0], move.to)
        figures = self.job.body.bends[move.bends[0]].figures
        grid = np.linspace(0.0, end, COARSE)
        (y, z, h), met = _path(figures, grid), np.zeros(wanted.shape, bool)
        gap = _gaps(held, free, y, z, h)
        bound = _bounds(held, free, y, z, h)
        doubt = (gap[:-1] + gap[1:] <= bound) & wanted[held.of[:, None], free.of[None]]
        near = doubt.any(axis=0)
        asked = np.argwhere(near)
        if not len(asked):
            return met
        reach = held.reach[asked[:, 0]] + free.reach[asked[:, 1]]
        doubt = doubt[:, near].T
        deep = np.full((len(asked), COARSE), -np.inf)
        rows, at = np.nonzero(np.pad(doubt, ((0, 0), (0, 1))) | np.pad(doubt, ((0, 0), (1, 0))))
        deep[rows, at] = _depths(held, free, asked[rows], *_path(figures, grid[at]))
        self._mark(met, held, free, asked[(deep > DEEP).any(axis=1)])
        rows, at = np.nonzero(doubt)
        low, high, d0, d1 = grid[at], grid[at + 1], deep[rows, at], deep[rows, at + 1]
        while len(rows):
            may = _bound(low, high) * reach[rows] + _shift(figures, low, high)
            close = (-d0 - d1 <= may + DEEP) & (high - low > STEP) & ~met[held.of[asked[rows, 0]],
                                                                         free.of[asked[rows, 1]]]
            rows, low, high, d0, d1 = (v[close] for v in (rows, low, high, d0, d1))
            if not len(rows):
                break
            middle = (low + high) / 2
            dm = _depths(held, free, asked[rows], *_path(figures, middle))
            self._mark(met, held, free, asked[rows[dm > DEEP]])
            rows, low, high = np.tile(rows, 2), np.concatenate([low, middle]), np.concatenate([middle, high])
            d0, d1 = np.concatenate([d0, dm]), np.concatenate([dm, d1])
        return met

    @staticmethod
    def _mark(met, held, free, pairs) -> None:
        met[held.of[pairs[:, 0]], free.of[pairs[:, 1]]] = True


def _bound(low, high) -> np.ndarray:
    """By how much either half turns between two angles, radians."""
    return np.radians(high - low) / 2


def _shift(figures, low, high) -> np.ndarray:
    """By how much both move besides."""
    (y0, z0, _), (y1, z1, _) = _path(figures, low), _path(figures, high)
    return 2 * 1.1 * (np.abs(y1 - y0) + np.abs(z1 - z0))


def _path(figures, angles) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Both halves rise alike about the bend: the tangent line's place and turn of each, about the arc's middle."""
    h = np.radians(np.maximum(angles, 1e-7)) / 2
    radius = np.maximum(figures.allowance / (2 * h) - figures.k * figures.thickness, 0.0)
    return radius * np.sin(h), radius * (1 - np.cos(h)), h


def _gaps(held, free, y, z, h) -> np.ndarray:
    """(angles, bodies held, bodies free): how far apart their boxes are."""
    boxes, (y, z, h) = [], (v[:, None, None] for v in (y, z, h))
    for swung, side in ((held, 1), (free, -1)):
        at = beside(swung.bodies.points[None], side, y, z, h)
        boxes.append((at.min(axis=2), at.max(axis=2)))
    (low, high), (low2, high2) = boxes
    return np.maximum(low[:, :, None] - high2[:, None], low2[:, None] - high[:, :, None]).max(axis=-1)


def _bounds(held, free, y, z, h) -> np.ndarray:
    """(intervals, bodies held, bodies free): how far they may move towards each other between two angles."""
    turn, shift = np.abs(np.diff(h)), np.abs(np.diff(y)) + np.abs(np.diff(z))
    reach = held.reach[:, None] + free.reach[None]
    return turn[:, None, None] * reach[None] + 2 * 1.1 * shift[:, None, None] + DEEP


def _depths(held, free, pairs, y, z, h) -> np.ndarray:
    """How deep each pair is in each other, each at an angle of its own."""
    rows = []
    for swung, side, column in ((held, 1, 0), (free, -1, 1)):
        own, b = pairs[:, column], swung.bodies
        at = [v[:, None] for v in (y, z, h)]
        rows.append((beside(b.points[own], side, *at), beside(b.axes[own], side, 0.0, 0.0, at[2]),
                     beside(b.edges[own], side, 0.0, 0.0, at[2])))
    count = np.arange(len(pairs))
    return depths(Bodies((), *(np.concatenate(both) for both in zip(*rows, strict=True))), count, count + len(pairs))


def _moved(found: Bodies, frame: np.ndarray) -> Bodies:
    """Bodies of a face's plane in a half's axes."""
    turn, shift = frame[:3, :3].T, frame[:3, 3]
    return Bodies(found.of, found.points @ turn + shift, found.axes @ turn, found.edges @ turn)

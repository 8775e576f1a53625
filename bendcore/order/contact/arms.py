"""The halves of a bend of a part that is the same all along its bends, in its section.

Where every bend is parallel and every face reaches alike along them, a half is an *arm*: link by link the next bend and
the face beyond it, each a plane outline carried by the bends before it. Axes are a half's (:mod:`..states.body`)
without their third, as complex numbers: s + ni, mm. Where a link stands for every combination of the levels of its
bends, its *places*, is worked out in one go by turns and shifts of the plane; links that are alike, in whichever half,
are one.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import numpy as np
import shapely

from ...brakes.pieces import ENDS
from ..states.body import PARALLEL, Half
from ..states.moves import FLAT, OPEN, Job
from .halves import LAPPED, NEAR, OTHER, OWN

MOST_PLACES = 4096
"""Links that stand in more places than this are looked at place by place, as they are asked for."""
FEW_BENDS = 18
"""With more bends than this every link is."""
ALIKE = 1e-3
"""Faces reach alike along the bend when their ends lie no further from its ends than this, mm."""
CORNERS = 8


@dataclass(frozen=True, eq=False)
class Link:
    """One bend of an arm and the face beyond it, beyond the link ``before``; none before the face at the bend made.

    ``rings`` are by level of the bend the outlines (k,) with everything before it flat; ``turn`` and ``shift``
    (levels,) carry what hangs beyond it: z → turn·z + shift. ``closed`` says of each level whether a hem lies closed
    there. Places are counted with the nearest bend first.
    """

    before: "Link | None"
    levels: tuple[int, ...]
    rings: tuple[tuple[np.ndarray, ...], ...]
    turn: np.ndarray
    shift: np.ndarray
    closed: tuple[bool, ...]
    depth: int
    places: int
    struck: dict = field(default_factory=dict, repr=False)
    """By test and side: (places,) whether it, or what hangs before it, meets a tool there (:mod:`.section`)."""
    met: dict = field(default_factory=dict, repr=False)
    """By test, side, how far back, and the stages of the bends up to it: whether it meets a tool, place by place."""

    @cached_property
    def _carried(self) -> tuple[np.ndarray, np.ndarray]:
        """(turn, shift) by place of the link before, of what it carries."""
        if self.before is None:
            return np.ones(1, complex), np.zeros(1, complex)
        turn, shift = self.before._carried
        return ((turn[:, None] * self.before.turn).ravel(),
                (turn[:, None] * self.before.shift + shift[:, None]).ravel())

    @cached_property
    def kind(self) -> np.ndarray:
        """(places,): what it is to the bend being made, as :mod:`.halves` has it."""
        if self.before is None:
            return np.array([OWN])
        alone = np.where(np.array(self.levels) == FLAT, OWN, np.where(self.closed, LAPPED, NEAR))
        return np.where((self.before.kind == OWN)[:, None], alone, OTHER).ravel()

    @cached_property
    def far(self) -> float:
        """How far it reaches with everything flat, mm."""
        return float(max(ring.real.max() for ring in self.rings[0]))

    @cached_property
    def flat(self) -> np.ndarray:
        """(places,): how much lies flat from the bend made to the first one bent, mm; without end where none is."""
        if self.before is None:
            return np.array([np.inf])
        found = np.repeat(self.before.flat, len(self.levels))
        found[1:len(self.levels)] = self.before.far
        return found

    @cached_property
    def deepest(self) -> np.ndarray:
        """(places,): how far it, or what hangs before it, reaches from the bend made, mm."""
        own = shapely.bounds(self.shapes(np.arange(self.places)))[:, 2]
        return own if self.before is None else np.maximum(own, np.repeat(self.before.deepest, len(self.levels)))

    @cached_property
    def corners(self) -> np.ndarray:
        """(places, 8, 2) points whose box holds it in every place."""
        turn, shift = self._carried
        found = np.empty((len(turn), len(self.levels), CORNERS), complex)
        for n, rings in enumerate(self.rings):
            own = np.concatenate([_box(rings[0]), _box(np.concatenate(rings[1:] or rings))])
            found[:, n] = turn[:, None] * own + shift[:, None]
        found = found.reshape(-1, CORNERS)
        return np.stack([found.real, found.imag], axis=-1)

    @cached_property
    def reach(self) -> np.ndarray:
        """(places,): its greatest distance from the bend made, mm."""
        return np.hypot(self.corners[..., 0], self.corners[..., 1]).max(axis=1)

    @cached_property
    def _shapes(self) -> np.ndarray:
        return np.full(self.places, None, object)

    def shapes(self, which: np.ndarray) -> np.ndarray:
        """Its outlines in some places, each drawn when it is first asked for."""
        found, count = self._shapes[which], len(self.levels)
        missing = which[np.equal(found, None)]
        if not len(missing):
            return found
        turn, shift = self._carried
        for n, rings in enumerate(self.rings):
            places = missing[missing % count == n]
            if len(places):
                laid = [turn[places // count, None] * ring + shift[places // count, None] for ring in rings]
                self._shapes[places] = shapely.multipolygons(np.stack(
                    [shapely.polygons(np.stack([own.real, own.imag], axis=-1)) for own in laid], axis=1))
        return self._shapes[which]


class Standing(NamedTuple):
    """One link in one place: its outlines, and what it is to the bend being made."""

    link: Link
    stages: bytes
    rings: tuple[np.ndarray, ...]
    kind: int


def _box(ring: np.ndarray) -> np.ndarray:
    """Corners (4,) about an outline."""
    low, high = complex(ring.real.min(), ring.imag.min()), complex(ring.real.max(), ring.imag.max())
    return np.array([low, complex(high.real, low.imag), high, complex(low.real, high.imag)])


class Place(NamedTuple):
    """How far out an arm is known in a state, at which of the link's places that is, and whether that is all of it
    that is to be looked at."""

    depth: int
    at: int
    is_all: bool


@dataclass(frozen=True)
class Arm:
    """A half of a bend in its section: ``bends`` outwards, and the links from the face at the bend made."""

    bends: tuple[int, ...]
    links: tuple[Link, ...]
    counted: tuple[Link, ...]
    """Those of which every place is worked out."""

    def standing(self, levels: Sequence[int], beyond: int) -> list[Standing]:
        """The links farther out than the ``beyond``-th where they stand; none beyond a level left open."""
        found, turn, shift, stages, kind = [], 1.0 + 0j, 0j, b"", OWN
        for bend, link in zip(self.bends, self.links[1:], strict=True):
            if levels[bend] == OPEN:
                break
            n = link.levels.index(levels[bend])
            stages += bytes((n,))
            kind = OTHER if kind != OWN else OWN if not n else LAPPED if link.closed[n] else NEAR
            if link.depth > beyond:
                found.append(Standing(link, stages, tuple(turn * ring + shift for ring in link.rings[n]), kind))
            turn, shift = turn * link.turn[n], turn * link.shift[n] + shift
        return found

    def lies_flat(self, levels: Sequence[int]) -> float:
        """How much lies flat beside the bend made, mm; what is left open counts as flat."""
        bent = (n for n, bend in enumerate(self.bends) if levels[bend] > FLAT)
        return self.links[next(bent, -1)].far

    def place(self, levels: Sequence[int]) -> Place:
        """Where it stands, the bends of the job at ``levels``; not beyond one left open."""
        at = depth = 0
        for bend, link in zip(self.bends, self.counted[1:], strict=False):
            if levels[bend] == OPEN:
                return Place(depth, at, True)
            at, depth = at * len(link.levels) + link.levels.index(levels[bend]), depth + 1
        rest = self.bends[depth:]
        return Place(depth, at, not rest or levels[rest[0]] == OPEN)

    def places(self, stage: np.ndarray) -> np.ndarray:
        """(states,): the same of the last link counted; ``stage`` (bends, states) as the horizon has
        them."""
        found = np.zeros(stage.shape[1], int)
        for bend, link in zip(self.bends, self.counted[1:], strict=False):
            found = found * len(link.levels) + stage[bend]
        return found

    def flat(self, link: Link) -> np.ndarray:
        """(places,): how much lies flat beside the bend made, mm; without end where more may lie flat beyond it."""
        if link is not self.links[-1]:
            return link.flat
        found = link.flat.copy()
        found[0] = link.far
        return found


class Arms:
    """The arms of one :class:`Job`."""

    def __init__(self, job: Job):
        self.job = job
        self._links: dict[bytes, Link] = {}
        self._arms: dict[tuple[int, int], Arm | None] = {}
        self._drawn: dict[tuple, tuple | None] = {}

    @cached_property
    def are_there(self) -> bool:
        """Whether all bends are parallel in the flat, and begin and end alike."""
        if not self.job.count:
            return False
        rows = [self.job.body.line(i) for i in range(self.job.count)]
        along = rows[0][1]
        ends = [sorted((float(first @ along), float((first + way * long) @ along))) for first, way, long in rows]
        across = [abs(way[0] * along[1] - way[1] * along[0]) for _, way, _ in rows]
        return max(across) < PARALLEL and bool(np.ptp(ends, axis=0).max() < ALIKE / 2)

    def sides(self, bends: tuple[int, ...], side: int) -> tuple[Arm, Arm] | None:
        """The held half and the free one; None where either is no arm."""
        if len(bends) > 1 or not self.are_there:
            return None
        found = self.arm(bends[0], side), self.arm(bends[0], 1 - side)
        return found if None not in found else None

    def arm(self, i: int, side: int) -> Arm | None:
        """A half of a bend as an arm; None where it is none."""
        if (i, side) not in self._arms:
            self._arms[i, side] = self._arm(self.job.body.half((i,), side))
        return self._arms[i, side]

    def _arm(self, half: Half) -> Arm | None:
        low, high = self.job.reach(half.made)
        if high - low <= 3 * ENDS or any(node.before != n - 1 for n, node in enumerate(half.nodes)):
            return None
        links, said = [], b""
        for n, node in enumerate(half.nodes):
            drawn = self._link(half, n, (low, high))
            if drawn is None:
                return None
            levels, rings, _, _, closed = drawn
            said += repr((levels, closed)).encode() + b"".join(
                np.round([ring.real + 0.0, ring.imag + 0.0], 6).tobytes() for own in rings for ring in own)
            if said not in self._links:
                before = links[-1] if links else None
                self._links[said] = Link(before, *drawn, len(node.path), before.places * len(levels) if before else 1)
            links.append(self._links[said])
        most = MOST_PLACES if self.job.count <= FEW_BENDS else 1
        return Arm(half.nodes[-1].path, tuple(links), tuple(link for link in links if link.places <= most))

    def _link(self, half, n, line):
        """A node all before which is flat; None where its section is not the same all along the bend. The same face
        beyond the same bend is drawn once, and laid there for every bend made on that side of it."""
        node, sign = half.nodes[n], self.job.body.bends[half.made[0]].sign
        key = (node.face, node.via, node.outwards) if node.via is not None else (node.face, *node.root, "root")
        at, down = self._begins(half, n), -1j * self.job.body.thickness
        if key not in self._drawn:
            found = self._draw(half, n, line)
            self._drawn[key] = found and _laid(found, sign, down, -at)
        return self._drawn[key] and _laid(self._drawn[key], sign, down, at)

    def _begins(self, half, n) -> float:
        """How far from the bend made a node begins, everything flat, mm."""
        node, body = half.nodes[n], self.job.body
        if node.via is None:
            return 0.0
        bend = body.bends[node.via]
        x, y = np.mean(bend.parent_edge if node.outwards else bend.child_edge, axis=0)
        return float((body.frame(half, node.before, (0.0,) * (len(node.path) - 1)) @ [x, y, 0.0, 1.0])[0])

    def _draw(self, half, n, line):
        job, node = self.job, half.nodes[n]
        levels = (FLAT,) if node.via is None else (FLAT, *job.stages(node.via))
        flat, rings, turns, shifts = (0.0,) * max(len(node.path) - 1, 0), [], [], []
        still = np.linalg.inv(job.body.frame(half, n, (0.0,) * len(node.path)))
        for level in levels:
            angles = flat if node.via is None else (*flat, job.angle(node.via, level))
            pose = job.body.pose(half, n, angles)
            motion = job.body.frame(half, n, angles) @ still
            if not pose.even or max(abs(pose.span[0] - line[0]), abs(pose.span[1] - line[1])) > ALIKE / 2 or (
                    abs(motion[2, 2] - 1) > PARALLEL or len(pose.rings) > 2):
                return None
            rings.append(tuple(ring[:, 0] + 1j * ring[:, 1] for ring in pose.rings))
            turns.append(complex(motion[0, 0], motion[1, 0]))
            shifts.append(complex(motion[0, 3], motion[1, 3]))
        closed = tuple(node.via is not None and job.is_closing(node.via, level) for level in levels)
        return levels, tuple(rings), np.array(turns), np.array(shifts), closed


def _laid(drawn, sign: int, down: complex, at: float):
    """A link drawn from its own beginning, laid so far out; for a bend made downwards turned over about the middle of
    the sheet, ``down`` from one face to the other."""
    levels, rings, turn, shift, closed = drawn
    if sign < 0:
        rings = tuple(tuple(np.conj(ring) + down for ring in own) for own in rings)
        turn, shift = np.conj(turn), np.conj(shift) + down - np.conj(turn) * down
    return levels, tuple(tuple(ring + at for ring in own) for own in rings), turn, shift + at - turn * at, closed

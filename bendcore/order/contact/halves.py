"""What one half of a sheet meets of one tool, node by node, and kept.

Where a node stands depends only on the bends of its path, so that it is tested once for each of their levels, and the
answer serves every state that shares them; so does what a tool is met by, for every pair it is part of.
"""

import numpy as np
import shapely

from ...brakes.pieces import ENDS
from ...brakes.setting import FRAME, WHOLE, Meeting
from ..states.body import Half, Node, Pose
from ..states.moves import OPEN, Job
from .collide import Nodes, into_half, swing_hits
from .spans import Span, coarsely, joined, outline, within

NOTHING: tuple[Span, ...] = ()
OWN, NEAR, OTHER, LAPPED = 0, 1, 2, 3
"""A face still flat with the bend being made, one that hangs on such a face, any other, and a closed hem on one still
flat."""


class Halves:
    """The halves of one :class:`Job`, and what they meet."""

    def __init__(self, job: Job):
        self.job = job
        self._tables: dict[tuple, dict[tuple, tuple[Span, ...] | None]] = {}
        self._met: dict[tuple, tuple[Span, ...]] = {}
        self._places: dict[tuple, list] = {}
        self._later: dict[tuple, tuple] = {}

    def half(self, bends: tuple[int, ...], side: int) -> Half:
        """The half on a side of these bends."""
        return self.job.body.half(bends, side)

    def met(self, half: Half, levels: tuple[int, ...], to: int, meeting: Meeting,
            clip: Span | None = None, beyond: int | None = None) -> tuple[Span, ...]:
        """From where to where along the bend a half, its bends at ``levels``, meets a tool; ``clip`` looks only at
        what lies within a stretch of the bend, ``beyond`` only at what hangs on a bend. Empty where it does not."""
        key = (half.made, half.side, levels, to, meeting.key, meeting.half, clip, beyond)
        if key not in self._met:
            self._met[key] = self._spans(half, levels, to, meeting, clip, beyond)
        return self._met[key]

    def _spans(self, half, levels, to, meeting, clip, beyond):
        table = (half.made, half.side, to, meeting.key, meeting.half, clip)
        asked, new = [], []
        for n, at in enumerate(self._paths(half)):
            if beyond is not None and beyond not in half.nodes[n].path:
                continue
            own = tuple(levels[k] for k in at)
            if OPEN in own:
                continue
            known = self._tables.setdefault((table, half.nodes[n].face), {})
            asked.append((known, own))
            if own not in known:
                new.append((known, n, own))
        if new:
            self._fill(half, new, meeting, clip)
        found: list[Span] = []
        for known, own in asked:
            if known[own] is None:  # met somewhere; where is looked at only when it is asked for
                pose, meets = self._later.pop((id(known), own))
                known[own] = (coarsely(pose, self._middle(half.made), meets) if meeting.reach == WHOLE
                              else within(pose, self._middle(half.made), meets),)
            found += known[own]
        return joined(found) if found else NOTHING

    def _paths(self, half: Half) -> list:
        """By node: where the levels of its path stand among those of the half."""
        key = (half.made, half.side)
        if key not in self._places:
            place = {bend: k for k, bend in enumerate(half.bends)}
            self._places[key] = [tuple(place[j] for j in node.path) for node in half.nodes]
        return self._places[key]

    def _fill(self, half, new, meeting, clip) -> None:
        """Settle nodes at levels, all of one kind in one go."""
        own, others, lapped = meeting.regions
        for kind, region in ((OWN, own), (NEAR, others), (OTHER, others), (LAPPED, lapped)):
            some = [row for row in new if self.kind(half, row[1], row[2]) == kind]
            if region.is_empty:
                for known, _, levels in some:
                    known[levels] = NOTHING
            elif some:
                self._test(half, some, meeting, clip, region, kind)

    def kind(self, half: Half, n: int, levels: tuple[int, ...]) -> int:
        """What a node is to the bend being made, its path at ``levels``: one of the four above."""
        if not any(levels):
            return OWN
        if any(levels[:-1]):
            return OTHER
        return LAPPED if self.job.is_closing(half.nodes[n].path[-1], levels[-1]) else NEAR

    def _test(self, half, new, meeting, clip, region, kind) -> None:
        poses = [self.pose(half, n, levels) for _, n, levels in new]
        if clip is None:
            there, shapes = range(len(poses)), [pose.shape for pose in poses]
        else:
            cut = [outline(pose, *clip) for pose in poses]
            there = [k for k, shape in enumerate(cut) if shape]
            shapes = [cut[k] for k in there]
        hits = self._meets(shapes, meeting, region, kind)
        hits = dict(zip(there, hits, strict=True))
        simple = clip is not None or meeting.reach == FRAME or (meeting.reach == WHOLE and not self._hanging)
        for k, (known, _, levels) in enumerate(new):
            hit = hits.get(k, False)
            known[levels] = NOTHING if not hit else (poses[k].span,) if simple else None
            if hit and not simple:
                self._later[id(known), levels] = (
                    poses[k], lambda shapes: self._meets(shapes, meeting, region, kind))

    @staticmethod
    def _meets(shapes, meeting, region, kind) -> np.ndarray:
        """For each of several outlines, whether it meets the tool."""
        if not len(shapes):
            return np.zeros(0, bool)
        if meeting.ends is None:
            placed = meeting.__dict__.setdefault("_placed", {})
            if kind not in placed:
                y, z, h = (float(v) for v in meeting.path(np.zeros(())))
                placed[kind] = into_half(region, meeting.side, y, z, h)
            return shapely.intersects(placed[kind], shapes)
        end = meeting.ends[min(kind, OTHER)]
        return ~np.isnan(swing_hits(Nodes.made(shapes, meeting.side), region, meeting.path, end))

    def _middle(self, made) -> Span:
        """The bend without its ends, beyond which tools may end."""
        low, high = self.job.reach(made)
        return low + ENDS, high - ENDS

    @property
    def _hanging(self) -> bool:
        return any(on.hangs for on in self.job.brakes)

    def pose(self, half: Half, n: int, levels: tuple[int, ...]) -> Pose:
        """Where a node stands with its path at ``levels``."""
        return self.job.body.pose(half, n, self.job.angles(half.nodes[n].path, levels))

    def poses(self, half: Half, levels: tuple[int, ...], only: int | None = None) -> list[tuple[Node, int, Pose]]:
        """Every node of a half with its bends at ``levels``: (node, what it is to the bend being made, pose); ``only``
        those that are so much to it."""
        found = []
        for n, at in enumerate(self._paths(half)):
            own = tuple(levels[k] for k in at)
            if OPEN not in own and only in (None, kind := self.kind(half, n, own)):
                found.append((half.nodes[n], kind, self.pose(half, n, own)))
        return found

    def span(self, half: Half, levels: tuple[int, ...]) -> Span:
        """From where to where along the bend a half reaches."""
        key = ("span", half.made, half.side, levels)
        if key not in self._met:
            spans = [pose.span for _, _, pose in self.poses(half, levels)]
            self._met[key] = (min(low for low, _ in spans), max(high for _, high in spans))
        return self._met[key]

"""What the arms of a part (:mod:`.arms`) meet of a tool, in all their places at once.

What meets a tool anywhere bars it all along the bend, and what hangs before a link hangs there still: a half that is in
the way with some of its bends made is in the way however the rest stand. Every answer here is one that
:class:`.halves.Halves` gives too, face by face, which is its judge in the tests.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product
from typing import NamedTuple

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ...brakes.setting import Meeting, Path, Stroke
from ..states.moves import SIDES, Job, Levels, Move
from .arms import CORNERS, Arm, Arms, Link
from .collide import Nodes, into_half, swing_hits
from .halves import LAPPED, NEAR, OTHER, OWN

TIERS = (4, 7, 10, 99)
"""Links are looked at together as far out as these: beyond one that meets a tool none is looked at."""


@dataclass(frozen=True)
class Test:
    """What is met together, as halves go past it on one way: tools by their regions (for faces of the bend made, for
    others, for closed hems). Those of one ``number`` have the same answer; ``sides`` are those it is asked for: what is
    even is the same from either. ``like`` says of which strokes it is, as :meth:`Section.like` counts them."""

    number: int
    like: int
    path: Path
    ends: tuple[float, float, float] | None
    regions: tuple[BaseGeometry, BaseGeometry, BaseGeometry]
    sides: tuple[int, ...]

    def side(self, side: int) -> int:
        """The one of its sides that answers for a half there."""
        return side if side in self.sides else self.sides[0]

    def meets(self, nodes: Nodes, kinds: np.ndarray) -> np.ndarray:
        """Of nodes of these kinds: whether a tool is met."""
        found = np.zeros(len(kinds), bool)
        own, others, lapped = self.regions
        apart = self.ends is not None and self.ends[1] != self.ends[2]
        rows = [((NEAR,), others, 1), ((OTHER,), others, 2)] if apart else [((NEAR, OTHER), others, 2)]
        for some, region, end in (((OWN,), own, 0), *rows, ((LAPPED,), lapped, 2)):
            here = np.flatnonzero(np.isin(kinds, some))
            if not region.is_empty and len(here):
                found[here] = self._meets(nodes.some(here), region, end)
        return found

    def _meets(self, nodes, region, end) -> np.ndarray:
        if self.ends is not None:
            return ~np.isnan(swing_hits(nodes, region, self.path, self.ends[end]))
        found, lies = np.zeros(len(nodes.shapes), bool), [float(v) for v in self.path(np.zeros(()))]
        for side in self.sides:
            here = nodes.side == side
            found[here] = shapely.intersects(into_half(region, side, *lies), nodes.shapes[here])
        return found


def _together(regions: Iterable[BaseGeometry]) -> BaseGeometry:
    """As one; they may lie on each other."""
    parts = [part for region in regions for part in shapely.get_parts(region) if isinstance(part, Polygon)
             and not part.is_empty]
    return parts[0] if len(parts) == 1 else shapely.multipolygons(parts) if parts else Polygon()


def _drawn(links: Sequence[Sequence[np.ndarray]]) -> np.ndarray:
    """The outlines of several links, one geometry each."""
    rings = [ring for own in links for ring in own]
    points = np.concatenate(rings)
    closed = shapely.linearrings(np.column_stack([points.real, points.imag]),
                                 indices=np.repeat(np.arange(len(rings)), [len(ring) for ring in rings]))
    return shapely.multipolygons(shapely.polygons(closed),
                                 indices=np.repeat(np.arange(len(links)), [len(own) for own in links]))


class Asked(NamedTuple):
    """Some places of a link, on a side, moved to the front as far as ``back`` (k,) says, mm."""

    link: Link
    side: int
    which: np.ndarray
    back: np.ndarray


def _nodes(asked: Sequence[Asked]) -> Nodes:
    """What is asked for as one."""
    points = np.concatenate([one.link.corners[one.which] for one in asked])
    return Nodes(np.concatenate([one.link.shapes(one.which) for one in asked]), points.reshape(-1, 2),
                 np.repeat(np.arange(len(points)), CORNERS),
                 np.concatenate([one.link.reach[one.which] for one in asked]),
                 np.repeat([one.side for one in asked], [len(one.which) for one in asked]),
                 np.concatenate([one.back for one in asked]))


class Section:
    """What the arms of one :class:`Job` meet, kept with their links."""

    def __init__(self, job: Job):
        self.job, self.arms = job, Arms(job)
        self._tests: dict[tuple, Test] = {}

    @cached_property
    def strokes(self) -> dict[tuple[int, int], int]:
        """By bend and level it is brought to: a number, the same for strokes that differ in nothing but their length,
        on which what is met all along a bend does not hang."""
        numbers: dict[Stroke, int] = {}
        return {(i, to): numbers.setdefault(replace(self.job.stroke((i,), to), length=0.0), len(numbers))
                for i in range(self.job.count) for to in self.job.stages(i)}

    def like(self, move: Move) -> int:
        """Which stroke a move of one bend is."""
        return self.strokes[move.bends[0], move.to]

    def tests(self, move: Move, meetings: Iterable[Meeting]) -> list[Test]:
        """The tests that some meetings of a move come to: those that go one way are one."""
        rows: dict[tuple, dict[str, Meeting]] = {}
        sides: dict[tuple, set[int]] = {}
        for meeting in meetings:
            key = meeting.course, meeting.ends
            rows.setdefault(key, {})[meeting.tool] = meeting
            sides.setdefault(key, set()).add(meeting.side)
        found, like = [], self.like(move)
        for (course, ends), some in rows.items():
            key = course, ends, tuple(some), like
            if key not in self._tests:
                regions = tuple(map(_together, zip(*(own.regions for own in some.values()), strict=True)))
                self._tests[key] = Test(len(self._tests), like, next(iter(some.values())).path, ends, regions,
                                        tuple(sorted(sides[course, ends])))
            found.append(self._tests[key])
        return found

    def struck(self, arm: Arm, link: Link, test: Test, side: int) -> np.ndarray:
        """(places,) of a link of an arm: whether it, or what hangs before it, meets a tool there; the half to the back
        (``side`` 1) or to the front (−1)."""
        key = test.number, test.side(side)
        if key not in link.struck:
            self._look([other.counted[-1] for other in self._together(arm, test)], test)
        return link.struck[key]

    def met(self, arm: Arm, levels: Levels, test: Test, side: int, beyond: int, back: float = 0.0) -> bool:
        """Whether links farther out than the ``beyond``-th meet a tool, so far back to the front, the bends at
        ``levels``."""
        side, new, found = test.side(side), [], False
        for one in arm.standing(levels, beyond):
            known = one.link.met.get((test.number, side, back, one.stages))
            if known:
                return True
            if known is None:
                new.append(one)
        if new:
            shapes = _drawn([one.rings for one in new])
            nodes = Nodes.made(shapes, side, back)
            met = test.meets(nodes, np.array([one.kind for one in new]))
            for one, own in zip(new, met.tolist(), strict=True):
                one.link.met[test.number, side, back, one.stages] = own
                found |= own
        return found

    def _together(self, arm: Arm, test: Test) -> list[Arm]:
        """Arms of which the same will be asked: of every bend made by a like stroke."""
        alike = {i for (i, _), like in self.strokes.items() if like == test.like}
        return [arm, *(other for i in alike for side in SIDES if (other := self.arms.arm(i, side)))]

    def look_back(self, rows: Iterable[tuple[Arm, list[np.ndarray]]], test: Test) -> None:
        """Settle what arms to the back meet of a tool that stands, by depth and place, so far from the bend made, mm;
        nothing where that is NaN."""
        rows = list(rows)
        self._look([arm.counted[-1] for arm, _ in rows], test,
                   {id(link): back for arm, backs in rows for link, back in zip(arm.counted, backs, strict=True)})

    def _look(self, ends: Iterable[Link], test: Test, backs: dict[int, np.ndarray] | None = None) -> None:
        """Settle these links and all before them."""
        wanted: dict[int, dict[int, Link]] = {}
        for link in ends:
            while link is not None and (test.number, test.sides[0]) not in link.struck:
                tier = next(n for n, depth in enumerate(TIERS) if link.depth <= depth)
                if id(link) in wanted.setdefault(tier, {}):
                    break
                wanted[tier][id(link)] = link
                link = link.before
        for tier in sorted(wanted):
            self._settle(sorted(wanted[tier].values(), key=lambda link: link.depth), test, backs or {})

    @staticmethod
    def _settle(tier: list[Link], test: Test, backs: dict[int, np.ndarray]) -> None:
        """The same of links of which what lies before them is settled, or lies among them."""
        asked = []
        for side, link in product(test.sides, tier):
            back, known = backs.get(id(link)), _known(link, (test.number, side))
            which = np.flatnonzero(~known if back is None else ~known & ~np.isnan(back))
            asked.append(Asked(link, side, which, np.zeros(len(which)) if back is None else back[which]))
        met = test.meets(_nodes(asked), np.concatenate([one.link.kind[one.which] for one in asked]))
        first = 0
        for link, side, which, _ in asked:
            found = np.repeat(link.before.struck[test.number, side] if link.before else np.zeros(1, bool),
                              len(link.levels))
            found[which] |= met[first:first + len(which)]
            link.struck[test.number, side], first = found, first + len(which)


def _known(link: Link, key: tuple[int, int]) -> np.ndarray:
    """(places,): what of a link is struck by what is settled before it."""
    settled, repeat = link.before, len(link.levels)
    while settled is not None and key not in settled.struck:
        repeat *= len(settled.levels)
        settled = settled.before
    return np.repeat(settled.struck[key], repeat) if settled else np.zeros(link.places, bool)

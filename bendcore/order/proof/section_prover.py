"""Moves of a part that is the same all along its bends, proved in its section (:mod:`..contact.section`).

All places of both halves are settled at once for every mount, so that a state is looked up; and what no mount allows is
known of all states before any search begins.
"""

from collections.abc import Iterable, Iterator
from functools import cached_property
from typing import Protocol

import numpy as np

from ...brakes.setting import FRAME, FREE, HELD, Meeting, OnBrake, Stroke, Way
from ..contact.arms import Arm, Link, Place
from ..contact.section import Section, Test
from ..states.moves import SIDES, Job, Levels, Move
from .gauge import Gauge
from .needs import Blocks, Need

SLACK = 1e-4
"""By so much more than it does a face is taken to reach, as :mod:`..contact.flats` has it, mm."""
TO_BACK, TO_FRONT = 1, -1
Tests = tuple[list[Test], list[Test]]
"""Of the held half and of the free one."""


class FaceByFace(Protocol):
    """What is asked of the proof that looks at every face (:class:`.prover.Prover`, where the words are)."""

    job: Job
    section: Section
    long: float

    def sides(self, levels: Levels, move: Move) -> tuple: ...  # noqa: D102
    def fits(self, on: int, bends: tuple[int, ...], to: int) -> tuple[int, ...]: ...  # noqa: D102
    def asks(self, on: OnBrake, mount: int, move: Move, barred: dict) -> Blocks | None: ...  # noqa: D102
    def has_room(self, on: OnBrake, move: Move, mount: int, long: float) -> bool: ...  # noqa: D102
    def located(self, levels: Levels, move: Move) -> Gauge: ...  # noqa: D102
    def stand(self, move: Move) -> "Stand | None": ...  # noqa: D102


class Stand:
    """One bend brought to one level on one brake, one side held: by mount and place of either half whether it lies and
    swings there."""

    def __init__(self, prover: FaceByFace, move: Move, arms: tuple[Arm, Arm]):
        self.prover, self.move, self.arms, self.section = prover, move, arms, prover.section
        self.on: OnBrake = prover.job.brakes[move.on]
        self.stroke: Stroke = prover.job.stroke(move.bends, move.to)
        asks = ((mount, prover.asks(self.on, mount, move, {})) for mount in prover.fits(move.on, move.bends, move.to))
        self.needs = [Need(mount, groups) for mount, groups in asks if groups is not None]
        self._slides: dict[int, bool] = {}
        self._ways: dict[tuple, Tests] = {}

    @cached_property
    def swings(self) -> list[Tests]:
        """By need: what is met while the bend is made, and on the way in where there is but one."""
        return [self._tests((*self.on.swing(self.stroke, need.mount), *self._only_way_in(need.mount)))
                for need in self.needs]

    # --- all states --------------------------------------------------------------------

    @cached_property
    def may(self) -> tuple[list[np.ndarray], list[np.ndarray]]:
        """For the held half and for the free one, by depth: (needs, places) whether it lies and swings so far out."""
        return tuple([np.array([self._lies_and_swings(arm, link, n, need.mount, tests[n])
                                for need, tests in zip(self.needs, self.swings, strict=True)],
                               bool).reshape(len(self.needs), link.places) for link in arm.counted]
                     for n, arm in enumerate(self.arms))

    def _lies_and_swings(self, arm: Arm, link: Link, n: int, mount: int, tests: list[Test]) -> np.ndarray:
        need = self.on.need(self.stroke, mount, (HELD, FREE)[n]) - 1e-9
        found = arm.flat(link) + SLACK >= need
        if n == 0 and self.on.deepest is not None:
            found &= link.deepest + self.on.brake.nose_radius <= self.on.deepest + 1e-6
        for test in tests:
            found = found & ~self.section.struck(arm, link, test, (TO_BACK, TO_FRONT)[n])
        return found

    def possible(self, stage: np.ndarray) -> np.ndarray:
        """(states,), of which ``stage`` (bends, states) says how many stages each bend has come: whether any mount
        allows it, as far as that is known without looking at ways out."""
        found = np.zeros(stage.shape[1], bool)
        places = [arm.places(stage) for arm in self.arms]
        for held, free in zip(self.may[0][-1], self.may[1][-1], strict=True):
            found |= held[places[0]] & free[places[1]]
        return found

    def _tests(self, meetings: Iterable[Meeting]) -> Tests:
        some = [meeting for meeting in meetings if meeting.reach != FRAME or self._is_beyond_frames]
        if self.on.stops:  # both halves go past the same
            both = self.section.tests(self.move, some)
            return both, both
        return tuple(self.section.tests(self.move, [meeting for meeting in some if meeting.half == which])
                     for which in (HELD, FREE))

    @cached_property
    def _is_beyond_frames(self) -> bool:
        """Whether it reaches beyond the space between the side frames, as it does in every state or in none."""
        low, high = self.prover.job.reach(self.move.bends)
        return self.on.stops and high - low > self.on.brake.between_frames

    def _only_way_in(self, mount: int) -> tuple[Meeting, ...]:
        """What is met on the way in where there is but one."""
        ways = self.on.ways_in(self.stroke, mount) if self.on.stops else ()
        return ways[0].meetings if len(ways) == 1 else ()

    # --- the stop ------------------------------------------------------------------------

    def stops(self, stage: np.ndarray) -> np.ndarray:
        """(states,): where the stop stands, to the hundredth; NaN for a line, and where what hangs beyond a face at the
        stop would swing against it whatever is mounted."""
        held = self.arms[0]
        found = np.full(stage.shape[1], round(self._stands_at[0][0], 2))
        for bend, places in zip(held.bends[::-1], self._stands_at[:0:-1], strict=True):
            for level, at in enumerate(places, 1):
                found[stage[bend] == level] = round(at, 2)
        never = np.ones(held.counted[-1].places, bool)
        for mount in self._by_die:
            never &= self._against(mount)[-1]
            if not never.any():
                return found
        found[never[held.places(stage)]] = np.nan
        return found

    def clear_of_stop(self, levels: Levels, gauge: Gauge) -> int:
        """For which mounts it swings clear of the stop it is located by, one bit each."""
        place = self.arms[0].place(levels)
        return sum(1 << need.mount for need in self.needs if not self._against(need.mount)[place.depth][place.at]
                   and (place.is_all or not self._meets_stop(need.mount, levels, place, gauge)))

    def _meets_stop(self, mount, levels, place, gauge) -> bool:
        """Whether what hangs beyond the links counted swings against the stop."""
        stop = self.on.stop(self.stroke, mount, 0.0)
        if stop is None or gauge.over is None:
            return False
        beyond = max(place.depth, self.arms[0].bends.index(gauge.over))
        test, = self.section.tests(self.move, [stop])
        return self.section.met(self.arms[0], levels, test, TO_BACK, beyond, gauge.stop)

    @cached_property
    def _by_die(self) -> list[int]:
        """One mount of each that differ in how the part goes past the stop."""
        found: dict = {}
        for need in self.needs:
            stop = self.on.stop(self.stroke, need.mount, 0.0)
            found.setdefault(stop and stop.key, need.mount)
        return list(found.values())

    @cached_property
    def _stands_at(self) -> list[list[float]]:
        """Where the stop stands with nothing bent, then with the first bend out bent to each of its levels, the second,
        and so on; NaN for a line."""
        held, flat = self.arms[0], list(self.prover.job.flat)
        rows = [[self._place(flat)]]
        for bend, link in zip(held.bends, held.links[1:], strict=True):
            rows.append([self._place([*flat[:bend], level, *flat[bend + 1:]]) for level in link.levels[1:]])
        return rows

    def _place(self, levels) -> float:
        gauge = self.prover.located(tuple(levels), self.move)
        return np.nan if gauge.stop is None else float(gauge.stop)

    def _against(self, mount: int) -> list[np.ndarray]:
        """By depth: (places,) whether what hangs beyond the face at the stop swings against it."""
        held, stop = self.arms[0], self.on.stop(self.stroke, mount, 0.0)
        if stop is None or len(held.counted) == 1:
            return [np.zeros(link.places, bool) for link in held.counted]
        test, = self.section.tests(self.move, [stop])
        if not all((test.number, TO_BACK) in link.struck for link in held.counted):
            self.section.look_back([(stand.arms[0], stand.faces_at) for stand in self._alike()], test)
        return [link.struck[test.number, TO_BACK] for link in held.counted]

    @cached_property
    def faces_at(self) -> list[np.ndarray]:
        """By depth: (places,) where the face at the stop lies, mm; NaN where there is none."""
        found = [np.full(1, np.nan)]
        for link, places in zip(self.arms[0].counted[1:], self._stands_at[1:], strict=False):
            found.append(np.repeat(found[-1], len(link.levels)))
            found[-1][1:len(link.levels)] = places
        return found

    def _alike(self) -> "Iterator[Stand]":
        """Every one that is made by a like stroke, itself among them."""
        for (i, to), like in self.section.strokes.items():
            if like == self.section.like(self.move):
                stands = (self.prover.stand(Move(self.move.on, (i,), to, side)) for side in SIDES)
                yield from (stand for stand in stands if stand is not None)

    # --- one state ---------------------------------------------------------------------

    def able(self, levels: Levels) -> Iterator[Need]:
        """What would do for a state, mount by mount; a level left open, and what hangs beyond it, is passed over."""
        places = held, free = tuple(arm.place(levels) for arm in self.arms)
        some = self.may[0][held.depth][:, held.at] & self.may[1][free.depth][:, free.at]
        for n in np.flatnonzero(some):
            need = self.needs[n]
            if self._goes_on(n, levels, places) and self._passes(need.mount, levels, places):
                yield need

    def _goes_on(self, n: int, levels: Levels, places: tuple[Place, Place]) -> bool:
        """Whether what hangs beyond the links counted lies and swings too."""
        for which, (arm, place) in enumerate(zip(self.arms, places, strict=True)):
            if place.is_all:
                continue
            need = self.on.need(self.stroke, self.needs[n].mount, (HELD, FREE)[which]) - 1e-9
            if arm.lies_flat(levels) + SLACK < need:
                return False
            if which == 0 and self.on.deepest is not None and self.on.deepest + 1e-6 < self.on.brake.nose_radius + max(
                    ring.real.max() for one in arm.standing(levels, place.depth) for ring in one.rings):
                return False
        return not any(self._meets(which, levels, place, test)
                       for which, place in enumerate(places) for test in self.swings[n][which])

    def _meets(self, which: int, levels: Levels, place: Place, test: Test) -> bool:
        """Whether a half meets a tool beyond its links counted."""
        return not place.is_all and self.section.met(self.arms[which], levels, test, (TO_BACK, TO_FRONT)[which],
                                                     place.depth)

    def _passes(self, mount: int, levels: Levels, places: tuple[Place, Place]) -> bool:
        """Whether it may come in and go out; where no way is known it need not."""
        into = () if self._only_way_in(mount) else self.on.ways_in(self.stroke, mount)
        return all(self._any(mount, ways, levels, places) for ways in (into, self.on.ways_out(self.stroke, mount)))

    def _any(self, mount: int, ways: Iterable[Way], levels: Levels, places: tuple[Place, Place]) -> bool:
        none = True
        for way in ways:
            none = False
            if way.along:
                if not self._has_room(mount):
                    continue
                if self.on.stops:  # what swung freely slides freely
                    return True
            if self._is_free(way, levels, places):
                return True
        return none

    def _has_room(self, mount: int) -> bool:
        if mount not in self._slides:
            self._slides[mount] = self.prover.has_room(self.on, self.move, mount, self.prover.long)
        return self._slides[mount]

    def _is_free(self, way: Way, levels: Levels, places: tuple[Place, Place]) -> bool:
        if id(way) not in self._ways:
            self._ways[id(way)] = self._tests(way.meetings)  # brakes keep their ways
        return not any(
            self.section.struck(self.arms[n], self.arms[n].links[place.depth], test, (TO_BACK, TO_FRONT)[n])[place.at]
            or self._meets(n, levels, place, test)
            for n, place in enumerate(places) for test in self._ways[id(way)][n])

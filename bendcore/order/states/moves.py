"""States and moves.

A state is how far each bend of the sheet has come: 0 flat, 1 creased (a hem on its way), 2 made. Levels are tuples in
the order of the flat. A move takes one bend, or several that lie in one line and are alike, one stage further on one of
the brakes, with one half towards its stop or under its clamp.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import numpy as np

from ...brakes.brake import Brake
from ...brakes.kinds import on_brake
from ...brakes.setting import LEAST_CREASE, OnBrake, Stroke
from ...part import Part
from .body import CHILD, PARENT, Body
from .facing import along
from .handling import HANDIER, moved, turn

FLAT, CREASED, MADE = 0, 1, 2
OPEN = -1
"""A level left open: what hangs on such a bend is left out, which shows what hangs on the others alone."""
Levels = tuple[int, ...]
SIDES = (CHILD, PARENT)
HEAVY_KG, LONG_MM = 20.0, 1200.0
IN_LINE = 1e-3
"""Lines this near to one are one, mm."""


@dataclass(frozen=True)
class Move:
    """``bends`` (by index) brought to level ``to`` on brake ``on`` (by index), the half on ``side`` of the first
    held."""

    on: int
    bends: tuple[int, ...]
    to: int
    side: int


class Lie(NamedTuple):
    """How things lie after a move, on which the next one's cost depends: the brake, which face is up (1 top, −1), which
    way the held half lies in the flat (degrees), where the stop stands, and what may
    be mounted, by number (see :class:`..proof.needs.Mountings`)."""

    on: int = -1
    face: int = 0
    heading: int = -1
    stop: float | None = None
    mounting: int = 0

    @property
    def lying(self) -> tuple[int, int]:
        """(face up, heading)."""
        return self[1:3]


@dataclass(frozen=True)
class Job:
    """One part on one brake or a choice of several: everything the search looks at."""

    part: Part
    body: Body
    brakes: tuple[OnBrake, ...]
    crease: float
    _strokes: dict = field(default_factory=dict, compare=False)
    _lines: dict = field(default_factory=dict, compare=False)
    _ways: dict = field(default_factory=dict, compare=False, repr=False)
    _efforts: dict = field(default_factory=dict, compare=False, repr=False)
    _turnings: dict = field(default_factory=dict, compare=False, repr=False)
    bears: dict = field(default_factory=dict, compare=False, repr=False)
    """What :mod:`..proof.gauge` found that a stop could bear on, by node and the level of its bend."""

    @classmethod
    def of(cls, part: Part, *brakes: Brake) -> "Job":
        """The part on these brakes."""
        found = tuple(map(on_brake, brakes))
        creases = [on.crease(part.stock.springback) for on in found]
        machines = [angle for angle in creases if angle >= LEAST_CREASE]
        return cls(part, Body(part.sheet, part.flat), found, min(machines or creases))

    @cached_property
    def count(self) -> int:
        """How many bends there are."""
        return len(self.body.bends)

    @property
    def flat(self) -> Levels:
        """Nothing bent yet."""
        return (FLAT,) * self.count

    @property
    def made(self) -> Levels:
        """All bent."""
        return (MADE,) * self.count

    def stages(self, i: int) -> tuple[int, ...]:
        """The levels a bend passes through: a hem is creased, then closed."""
        return (CREASED, MADE) if self.body.bends[i].is_hem else (MADE,)

    def next_stage(self, levels: Levels, i: int) -> int | None:
        """The level a bend comes to next; None when it is made."""
        return next((s for s in self.stages(i) if s > levels[i]), None)

    def progress(self, levels: Levels) -> int:
        """Bends brought one stage further so far."""
        return sum(level if self.body.bends[i].is_hem else level // 2 for i, level in enumerate(levels))

    def angle(self, i: int, level: int) -> float:
        """The angle of bend ``i`` at this level, degrees."""
        return (0.0, self.crease, self.body.bends[i].angle)[level]

    def angles(self, path: Sequence[int], levels: Sequence[int]) -> tuple[float, ...]:
        """The angles of these bends at these levels."""
        return tuple(self.angle(i, level) for i, level in zip(path, levels, strict=True))

    def overbent(self, angle: float) -> float:
        """The angle with the springback, degrees."""
        return angle + self.part.stock.overbend(angle)

    def is_closing(self, i: int, to: int) -> bool:
        """Whether this stroke closes a hem."""
        return self.body.bends[i].is_hem and to == MADE

    def stroke(self, bends: tuple[int, ...], to: int) -> Stroke:
        """What is asked of a brake."""
        key = (bends, to)
        if key not in self._strokes:
            bend, closing = self.body.bends[bends[0]], self.is_closing(bends[0], to)
            angle = self.angle(bends[0], to)
            low, high = self.reach(bends)
            flap = self.body.depth_of(bend.child, bend.child_edge) if bend.is_hem else 0.0
            self._strokes[key] = Stroke(bend.figures, angle, angle if closing else self.overbent(angle), high - low,
                                        closing, bend.is_hem, flap, self.part.stock.material.tensile_mpa)
        return self._strokes[key]

    def way(self, move: Move) -> int:
        """Whether the line of a move's first bend runs to the operator's right or left (:mod:`.facing`)."""
        key = (move.bends[0], move.side)
        if key not in self._ways:
            self._ways[key] = along(self.body.flat, self.body.bends[key[0]].id, self.body.face_at(*key))
        return self._ways[key]

    # --- bends in one line --------------------------------------------------------------

    def line_of(self, bends: tuple[int, ...], i: int) -> tuple[float, float]:
        """From where to where the line of bend ``i`` runs along that of the first of ``bends``."""
        start, along, _ = self.body.line(bends[0])
        first, _, long = self.body.line(i)
        at = float((first - start) @ along)
        return at, at + long

    def lines(self, bends: tuple[int, ...]) -> tuple[tuple[float, float], ...]:
        """The same for all of them."""
        if bends not in self._lines:
            self._lines[bends] = tuple(self.line_of(bends, i) for i in bends)
        return self._lines[bends]

    def reach(self, bends: tuple[int, ...]) -> tuple[float, float]:
        """From the first end of their lines to the last."""
        lines = self.lines(bends)
        return min(low for low, _ in lines), max(high for _, high in lines)

    @cached_property
    def in_line(self) -> tuple[tuple[int, ...], ...]:
        """By bend: those that lie in its line in the flat and are alike, itself among them."""
        found = []
        for i, bend in enumerate(self.body.bends):
            start, along, _ = self.body.line(i)
            across = np.array([-along[1], along[0]])
            alike = [j for j, other in enumerate(self.body.bends) if (other.direction, other.figures) == (
                bend.direction, bend.figures) and all(abs((np.array(p) - start) @ across) < IN_LINE
                                                      for p in self.body.lines[j].line)]
            found.append(tuple(alike))
        return tuple(found)

    def together(self, levels: Levels, i: int) -> tuple[int, ...]:
        """The bends that can be made in one stroke with bend ``i``: alike, in its line, at its level, and joined to it
        by what is still flat; itself alone where there are none."""
        same = [j for j in self.in_line[i] if levels[j] == levels[i]]
        if len(same) < 2:
            return (i,)
        return tuple(j for j in same if j == i or all(levels[k] == FLAT for k in self.body.between(i, j)))

    @cached_property
    def mass_kg(self) -> float:
        """The part's mass."""
        return self.part.mass_kg

    @cached_property
    def by_two(self) -> bool:
        """Whether it is so heavy or long that two people turn it."""
        return by_two(self.part)

    def handling(self, on: OnBrake) -> float:
        """Turning and flipping take so many times as long there."""
        return on.costs.two_person_factor if self.by_two else 1.0

    def effort(self, on: int, i: int, held: int) -> "Effort":
        """What moves when bend ``i`` is struck on a brake with this side held."""
        key = (on, i, held)
        if key not in self._efforts:
            brake = self.brakes[on]
            far = moved(self.body, i, held, brake.stops)
            swing = 0.0 if brake.stops else brake.costs.swing * far * self.handling(brake)
            self._efforts[key] = Effort(far, swing, HANDIER * far)
        return self._efforts[key]

    def turning(self, on: int, one: tuple[int, int], other: tuple[int, int]) -> "Turning":
        """What it takes to turn the sheet on a brake from lying one way (face up, heading) to another."""
        key = (on, one, other)
        if key not in self._turnings:
            brake = self.brakes[on]
            costs, times = brake.costs, self.handling(brake)
            self._turnings[key] = Turning(times * costs.flip * (one[0] != other[0]),
                                          times * costs.turn * (one[1] != other[1]), HANDIER * turn(one[1], other[1]))
        return self._turnings[key]


class Effort(NamedTuple):
    """How far what moves in a stroke reaches, metres; what its swing costs, and what it weighs among orders that cost
    the same, seconds."""

    far: float
    swing: float
    sense: float


class Turning(NamedTuple):
    """What turning a sheet over and round costs, and what that weighs among orders that cost the same, seconds."""

    flip: float
    turn: float
    sense: float


def by_two(part: Part) -> bool:
    """Whether a part is so heavy or long that two people turn it."""
    return part.mass_kg > HEAVY_KG or max(part.flat.size) > LONG_MM


def advanced(levels: Levels, bends: Sequence[int], to: int) -> Levels:
    """The levels with these bends brought to ``to``."""
    return tuple(to if i in bends else level for i, level in enumerate(levels))

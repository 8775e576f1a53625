"""How the finished dimensions of one part hang on what may be off, and on what is set.

The sums of :mod:`bendcore.order.accuracy.stackup` as equations. What *lasts* is the same from piece to piece (the
stop's offset, K, thickness, the lot's springback, the depth of a pair of tools, a leaf's scale, and what is peculiar to
bends alike, to one bend or to one line); the rest is drawn anew each time. What is *set* at the brake, degrees further
and a line further back, acts where the errors of angle and line act.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..brakes.brake import Brake
from ..brakes.press import die_named
from ..order.accuracy.stackup import StackUp
from ..order.plan import Step
from ..order.proof.gauge import LINE
from ..part import Part
from ..quality.checksheet import Dimension
from ..quality.depth import computed
from ..quality.spreads import ALIKE, ANGLE, SCRIBING, STOP_REPEAT, Spreads
from .rows import closing, rows

DEPTH, SCALE, LIKE, OWN_ANGLE, OWN_LINE = "depth", "scale", "like", "own-angle", "own-line"
PECULIAR = {DEPTH: 0.025, SCALE: 0.3, LIKE: 0.15, OWN_ANGLE: 0.1, OWN_LINE: 0.05}
"""What lasts besides: how deep a pair of tools stands, mm; how a leaf's scale stands, of bends of one angle under the
same tools, of one bend, degrees; of one line, mm. *Start*."""

Source = tuple[str, object]
"""What may be off: its kind, and which of that kind."""


@dataclass(frozen=True)
class Settings:
    """What is set otherwise than planned: by bend how many degrees ``further``, by step (from 0) how many mm the stop
    or the line is ``back``, away from the bend."""

    further: Mapping[str, float] = field(default_factory=dict)
    back: Mapping[int, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Bent:
    """A piece: what was set for it, and what was ``measured``, by dimension as it differs from its nominal; ``sure``
    are those that were measured again and found so."""

    settings: Settings
    measured: Mapping[str, float]
    sure: frozenset[str] = frozenset()


class Ties:
    """Of one part bent in one order: ``lasting`` and ``passing`` sources with their standard deviations, and of every
    dimension the effect of each."""

    def __init__(self, part: Part, steps: Sequence[Step], brakes: Iterable[Brake], spreads: Spreads | None = None):
        brakes = tuple(brakes)
        stack = StackUp(part, steps, brakes, spreads)
        self.part, self.steps = part, steps
        sums = stack.sums()
        self.dimensions: dict[str, Dimension] = {dimension.name: dimension for dimension, _ in sums}
        self._rows = {dimension.name: error for dimension, error in sums}
        self._places = stack.errors.places
        sigmas = dict(zip(self._places, stack.errors.sigmas[1:], strict=True))
        self.lasting: dict[Source, float] = {source: sigma for source, sigma in sigmas.items() if source[0] in ALIKE}
        self.passing: dict[Source, float] = {s: sigma for s, sigma in sigmas.items() if s not in self.lasting}
        self._effects: dict[tuple, np.ndarray] = {}
        self._columns = {source: {place: 1.0} for source, place in self._places.items()}
        self._brakes = {brake.name: brake for brake in brakes}
        self.bent = {name: n for n, step in reversed(list(enumerate(steps))) for name in step.bends}
        """By bend the step that makes it."""
        self._peculiar()
        self.closes_on: list[str] = []
        """Legs that take what is left over."""
        self.gauged: dict[int, str] = {}
        """By step, from 0, the leg it sets."""
        self.rows = rows(part)
        for row in self.rows:
            root, sets = closing(row, steps)
            self.closes_on += [leg for leg in row.legs[root:root + 1] if leg in self.dimensions]
            self.gauged |= {n: row.legs[i] for n, i in sets.items() if row.legs[i] in self.dimensions}

    def _peculiar(self) -> None:
        groups: dict[Source, dict[int, float]] = {}
        for name, n in self.bent.items():
            place = self._places.get((ANGLE, name))
            if place is not None:
                step = self.steps[n]
                self._add((OWN_ANGLE, name), {place: 1.0})
                worth, pair = self.worth(name), (step.brake, *step.tools.pair)
                groups.setdefault((LIKE, (round(step.angle, 3), *pair)), {})[place] = 1.0
                machine = (DEPTH, pair) if worth else (SCALE, step.brake)
                groups.setdefault(machine, {})[place] = 1 / worth if worth else 1.0
        for n in range(len(self.steps)):
            place = self._line(n)
            if place is not None:
                self._add((OWN_LINE, n), {place: 1.0})
        for source, columns in groups.items():
            self._add(source, columns)

    def worth(self, bend: str) -> float | None:
        """What a degree is worth in depth at a bend, mm, where it is struck over a V; None elsewhere."""
        step, f = self.steps[self.bent[bend]], self.part.sheet.bend[bend].figures
        die = die_named(self._brakes.get(step.brake), step.tools.die)
        return computed(f, step.bend_to, die.v, die.shoulder_radius) if die and die.kind == "v" else None

    def _add(self, source: Source, columns: dict[int, float]) -> None:
        self.lasting[source] = PECULIAR[source[0]]
        self._columns[source] = columns

    def _line(self, n: int) -> int | None:
        """Where the line of a step stands among the sources."""
        kind = SCRIBING if self.steps[n].gauge.kind == LINE else STOP_REPEAT
        return self._places.get((kind, n))

    def effect(self, name: str, source: Source) -> float:
        """How much a dimension grows for one unit of a source."""
        return sum(self._rows[name][place] * share for place, share in self._columns.get(source, {}).items())

    def effects(self, names: Sequence[str], sources: Iterable[Source]) -> np.ndarray:
        """(dimensions, sources): the same of many."""
        key = tuple(names), tuple(sources)
        if key not in self._effects:
            self._effects[key] = np.array([[self.effect(name, source) for source in key[1]] for name in names]).reshape(
                len(names), len(key[1]))
        return self._effects[key]

    def further(self, name: str, bend: str) -> float:
        """How much a dimension grows when a bend is bent one degree further."""
        return float(self._rows[name][self._places[ANGLE, bend]]) if (ANGLE, bend) in self._places else 0.0

    def back(self, name: str, n: int) -> float:
        """How much a dimension grows when the stop or line of a step is set one mm further from its bend."""
        place = self._line(n)
        return 0.0 if place is None else float(self._rows[name][place])

    def set_by(self, name: str, settings: Settings) -> float:
        """How much a dimension grows by what is set; and by what is certain anyhow."""
        return float(self._rows[name][0]) + sum(
            self.further(name, bend) * degrees for bend, degrees in settings.further.items()) + sum(
            self.back(name, n) * mm for n, mm in settings.back.items())

    def angle_of(self, bend: str) -> str | None:
        """The dimension that is a bend's angle."""
        return next((name for name in (bend, f"{bend}-angle") if name in self._rows
                     and self.dimensions[name].unit != "mm"), None)


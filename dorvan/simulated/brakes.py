"""A press brake and a hand brake that bend with secrets of their own.

A press is told how deep, and finds its angle by its own geometry: its V is worn by a little, and the radius grows with
the strength of the lot. A leaf is told how far it swings. Both spring back by the lot, and stand
off, repeat and bow as they do. A piece is looked at in three places along the bend: at either end and in the middle.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from bendcore.brakes.brake import Brake
from bendcore.brakes.press import die_named
from bendcore.floor.rows import rows, strokes
from bendcore.order.plan import Step
from bendcore.part import Part
from bendcore.quality.spreads import Spreads

from .metal import Metal

ENDS = np.array([-1.0, 0.0, 1.0])
"""Where a piece is looked at, in halves of its width from the middle."""


START = Spreads()


@dataclass(frozen=True)
class Hidden:
    """What nobody at the brake knows. Of the lot: ``thicker`` as a share, ``stronger`` as a share, degrees of
    ``springback`` beyond what is reckoned per 90°, ``k`` beyond what is reckoned. Of the machine: ``offset`` of its
    stop and how it ``repeat``s, ``scribing`` of lines, ``slip`` of the angle from piece to piece, how much too ``low``
    its tools stand, mm, its ``worn`` V as a share, ``bow`` of the bed, degrees by which the middle stays open, ``skew``
    of the stops, mm from end to end, ``overshoot`` of a ram that is jogged, mm, ``zero`` of a leaf's scale, degrees. Of
    the blank: ``longer`` than drawn, mm, by the first leg of its row."""

    thicker: float = 0.0
    stronger: float = 0.0
    springback: float = 0.0
    k: float = 0.0
    offset: float = 0.0
    repeat: float = 0.05
    scribing: float = 0.15
    slip: float = 0.15
    low: float = 0.0
    worn: float = 0.0
    bow: float = 0.0
    skew: float = 0.0
    overshoot: float = 0.04
    zero: float = 0.0
    longer: Mapping[str, float] = field(default_factory=dict)


def drawn(rng: np.random.Generator, spreads: Spreads = START, **known: float) -> Hidden:
    """Secrets of a shop whose sources spread so."""
    return Hidden(**{
        "thicker": rng.normal(0, spreads.thickness), "stronger": rng.normal(0, 0.06),
        "springback": rng.normal(0, spreads.springback), "k": rng.normal(0, spreads.k),
        "offset": rng.normal(0, spreads.stop_offset), "repeat": spreads.stop_repeat, "scribing": spreads.scribing,
        "slip": spreads.angle, "low": rng.normal(0, 0.02), "worn": rng.normal(0, 0.002),
        "bow": abs(rng.normal(0, 0.08)), "skew": rng.normal(0, 0.03), "overshoot": rng.uniform(0.02, 0.06),
        "zero": rng.normal(0, 0.3)} | known)


@dataclass(frozen=True)
class Told:
    """What a brake is told for one stroke: a press how ``deep``, mm, a leaf the angle it is to ``swing``; ``back`` how
    much further than planned the stop or the line is set; ``jogged`` where the ram came down in taps."""

    deep: float | None = None
    swing: float | None = None
    back: float = 0.0
    jogged: bool = False


@dataclass(frozen=True)
class Made:
    """A piece as it is: legs at both ends of the bend, (2,), and angles at one end, in the middle and at the other,
    (3,), by name; the ``blank`` it was made from, longer than drawn by so much in each of its rows."""

    legs: Mapping[str, np.ndarray]
    angles: Mapping[str, np.ndarray]
    blank: Mapping[str, float]


@dataclass
class Simulated:
    """A brake at work on one part in one order."""

    part: Part
    steps: Sequence[Step]
    brake: Brake
    hidden: Hidden
    rng: np.random.Generator
    _rows: list = field(init=False)

    def __post_init__(self):
        self._rows = [(row, strokes(row, self.steps)) for row in rows(self.part)]

    def piece(self, told: Mapping[int, Told]) -> Made:
        """One more piece; ``told`` by step from 0."""
        legs, angles, h = {}, {}, self.hidden
        slips = {n: self.rng.normal(0, h.slip) for n in range(len(self.steps))}
        offs = {n: self._off(step) for n, step in enumerate(self.steps)}
        for row, struck in self._rows:
            metal = self._metal(row)
            angle = {s.bend: self._angle(row.bends[s.bend].figures, self.steps[s.step], told[s.step], slips[s.step])
                     for s in struck if not row.bends[s.bend].is_hem}
            for i, bend in enumerate(row.bends):
                metal.bend(i, angle.get(i, np.full(3, bend.figures.angle)))
            for s in struck:
                error = offs[s.step] + told[s.step].back
                if self.brake.kind == "press":
                    metal.strike(s.bend, s.right, error, self.steps[s.step].gauge.stop, s.over,
                                 self.brake.stops.contact_height)
                else:
                    metal.clamp(s.bend, not s.right, error)
            legs |= {name: size[[0, 2]] for name, size in metal.legs().items()}
            angles |= metal.angles()
        return Made(legs, angles, {row.legs[0]: h.longer.get(row.legs[0], 0.0) for row, _ in self._rows})

    def _metal(self, row) -> Metal:
        h, same = self.hidden, np.ones(3)
        t = self.part.stock.thickness * (1 + h.thicker)
        figures = row.bends[0].figures
        wider = 0.25 * figures.inside_radius * h.stronger - 0.1 * figures.inside_radius * h.thicker
        return Metal(row, t * same, (figures.k + h.k) * same, wider * same, h.longer.get(row.legs[0], 0.0) * same)

    def _off(self, step) -> np.ndarray:
        h = self.hidden
        if step.gauge.kind == "line":
            return self.rng.normal(0, h.scribing) + 0.0 * ENDS
        return h.offset + self.rng.normal(0, h.repeat) + h.skew / 2 * ENDS

    def _angle(self, figures, step, told, slip) -> np.ndarray:
        """How a bend stands in the end, in three places."""
        h = self.hidden
        if told.deep is None:
            held = told.swing + h.zero
        else:
            deep = told.deep + h.low + h.overshoot * told.jogged
            held = self._held(figures, deep, die_named(self.brake, step.tools.die))
        reckoned = step.bend_to - step.angle
        opens = (reckoned + h.springback * step.angle / 90) * (held / step.bend_to) ** 0.8
        return held - opens + slip + h.bow * (ENDS ** 2 - 0.5)

    def _held(self, figures, deep, die) -> float:
        """The angle under load so deep in the die: legs that bow a little between shoulder and nose, over a V worn."""
        h = self.hidden
        v, rho = die.v * (1 + h.worn), die.shoulder_radius
        t = figures.thickness * (1 + h.thicker)
        r = figures.inside_radius * (1 + 0.25 * h.stronger)

        def depth(angle):
            half = math.radians(angle) / 2
            bows = 0.002 * v * math.sin(half) ** 2
            return math.tan(half) * v / 2 + rho * (1 - 1 / math.cos(half)) - (r + t) * (1 / math.cos(half) - 1) + bows

        low, high = 0.0, 179.0
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if depth(middle) < deep else (low, middle)
        return low

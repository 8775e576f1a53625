"""What an order does to the finished dimensions: the spread of each, and its chance of being good.

Each stroke ties its bend line to what lies at the stop, or to a scribed line, with that one's error; each bend takes
more or less metal than was reckoned, half of it from either side on a press, all of it from the free side where the
other is clamped at its tangent line; each angle moves apexes and what bears on a formed face. So every edge of a face
moves by a sum over the sources of error, and a dimension by the sum of its two ends (handbook, *Tolerances follow the
order*). A stop against a flange of just 90° is met at its heel when that is overbent and at the stop's top when it is
open: such a bend in the line is taken by its mean slope, and what is left of it as a source of its own.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ...bending.bend import allowance_from_k
from ...brakes.brake import Brake
from ...part import Part
from ...quality.checksheet import Dimension, dimensions
from ...quality.spreads import ANGLE, SCRIBING, SPRINGBACK, STOP_OFFSET, STOP_REPEAT, THICKNESS, K, Spreads
from ...sheet.model import Bend
from ...units import MM_PER
from ..plan import Step
from ..proof.gauge import EDGE, FACE, contact
from ..states.body import CHILD, PARENT, Body
from .finished import Sizes

KINK = "kink"
MEAN_OF_HALF = 1 / math.sqrt(2 * math.pi)
"""Of max(0, X), X normal with 1: its mean …"""
REST_OF_HALF = math.sqrt(0.25 - MEAN_OF_HALF ** 2)
"""… and what is left of it beside X/2."""


@dataclass(frozen=True)
class Expected:
    """A finished dimension as an order makes it: ``mean`` off its nominal and ``sigma`` in its unit, the ``chance`` of
    being within its tolerance, and the share of each source in the square of sigma, largest first."""

    dimension: Dimension
    mean: float
    sigma: float
    chance: float
    shares: tuple[tuple[str, float], ...]


@dataclass
class Errors:
    """Sums over sources of error: vectors, one place to each source met so far, the first for what is certain."""

    spreads: Spreads
    places: dict[tuple, int] = field(default_factory=dict)
    sigmas: list[float] = field(default_factory=lambda: [0.0])

    def source(self, name: str, which: object = None, sigma: float | None = None) -> np.ndarray:
        """A source as a vector; ``which`` tells those apart that are drawn anew each time."""
        key = (name, which)
        if key not in self.places:
            self.places[key] = len(self.sigmas)
            self.sigmas.append(self.spreads.of(name) if sigma is None else sigma)
        return self.unit(self.places[key])

    @property
    def nothing(self) -> np.ndarray:
        """No error at all."""
        return np.zeros(MOST_SOURCES)

    def unit(self, place: int) -> np.ndarray:
        """One of a source; place 0 is certain."""
        found = np.zeros(MOST_SOURCES)
        found[place] = 1.0
        return found

    def sigma(self, error: np.ndarray) -> float:
        """The standard deviation of a sum."""
        return float(np.linalg.norm(error[:len(self.sigmas)] * self.sigmas))

    def shares(self, error: np.ndarray) -> tuple[tuple[str, float], ...]:
        """Of each kind of source in its square."""
        found: dict[str, float] = {}
        for (name, _), place in self.places.items():
            name = ANGLE if name == KINK else name
            found[name] = found.get(name, 0.0) + float(error[place] * self.sigmas[place]) ** 2
        whole = sum(found.values()) or 1.0
        return tuple(sorted(((name, part / whole) for name, part in found.items() if part > 1e-9 * whole),
                            key=lambda row: -row[1]))


MOST_SOURCES = 256


class StackUp:
    """The errors of one part bent in one order: how far each side of each bend moves, and its angle."""

    def __init__(self, part: Part, steps: Sequence[Step], brakes: Iterable[Brake], spreads: Spreads | None = None):
        self.part, self.body = part, Body(part.sheet, part.flat)
        self.errors = Errors(spreads or Spreads())
        self.brakes = {brake.name: brake for brake in brakes}
        self.thickness = self.errors.source(THICKNESS) * part.stock.thickness
        self.moved: dict[tuple[str, str], np.ndarray] = {}
        """(bend, face beside it) → how far the face's edge moves out, mm."""
        bent_on = {name: step.brake for step in steps for name in step.bends}
        self.angles = {bend.id: self._angle(bend, bent_on.get(bend.id)) for bend in self.body.bends}
        for n, step in enumerate(steps):
            if step.bends[0] not in {bend for bend, _ in self.moved}:
                self._locate(n, step)

    def _angle(self, bend, brake) -> np.ndarray:
        """Degrees, bent on this brake; a closed hem has none."""
        if bend.is_hem:
            return self.errors.nothing
        own = self.errors.source(ANGLE, bend.id, self.brakes[brake].accuracy.angle if brake else None)
        return self.errors.source(SPRINGBACK) * bend.angle / 90 + own

    def taken(self, bend: Bend) -> np.ndarray:
        """How much more metal a bend takes than was reckoned, mm: BA = θ·(r + K·t)."""
        f, turn = bend.figures, math.radians(bend.angle)
        return (self.errors.source(K) * turn * f.thickness + self.thickness * turn * f.k
                + np.radians(self.angles[bend.id]) * (f.inside_radius + f.k * f.thickness))

    def _locate(self, n: int, step: Step) -> None:
        """One stroke: its bends lie in one line, and are located together."""
        i = self.body.index[step.bends[0]]
        side = next(s for s in (CHILD, PARENT) if self.body.face_at(i, s) == step.held)
        held = {node.face for node in self.body.half((i,), side).nodes}
        brake = self.brakes[step.brake]
        off = self._off(n, step, brake, i, side)
        for name in step.bends:
            bend = self.body.sheet.bend[name]
            near, far = (bend.parent, bend.child) if bend.parent in held else (bend.child, bend.parent)
            taken = self.taken(bend)
            if brake.kind == "press":  # the middle of the bend is struck
                self.moved[name, near], self.moved[name, far] = off - taken / 2, -off - taken / 2
            else:  # its tangent line lies under the nose
                self.moved[name, near], self.moved[name, far] = off, -off - taken

    def _off(self, n, step, brake, i, side) -> np.ndarray:
        """How far the bend lies from what it is located by beyond what was set, mm."""
        errors, gauge = self.errors, step.gauge
        if gauge.kind not in (EDGE, FACE):
            return errors.source(SCRIBING, n, brake.accuracy.scribing)
        known = brake.accuracy
        stop = errors.source(STOP_OFFSET, brake.name, known.stop_offset) + errors.source(STOP_REPEAT, n,
                                                                                         known.stop_repeat)
        if gauge.kind == EDGE:
            return stop
        half = self.body.half((i,), side)
        node = next(node for node in half.nodes if node.face == gauge.of)
        bend = self.body.bends[node.path[-1]]
        near = bend.parent if node.outwards else bend.child
        return stop - self._bears(bend, node, i, brake.stops.contact_height) - self.moved[bend.id, near]

    def _bears(self, bend, node, i, height) -> np.ndarray:
        """How far what bears on the stop stands out from the tangent line of a bend that is already made, mm."""
        up = bend.sign == self.body.bends[i].sign
        flange = self.body.depth_of(node.face, bend.child_edge if node.outwards else bend.parent_edge)
        f, t, step = bend.figures, self.part.stock.thickness, 1e-4

        def at(angle, thick=t):  # of the same radius, whatever its angle
            bent = replace(f, angle=angle, thickness=thick,
                           allowance=allowance_from_k(angle, f.inside_radius, thick, f.k))
            return contact(bent, angle, up, flange, height, thick)

        found = self.thickness * (at(f.angle, t + step) - at(f.angle, t - step)) / (2 * step)
        if bend.is_hem:
            return found
        opening, closing = ((at(f.angle + way * step) - at(f.angle)) / (way * step) for way in (-1, 1))
        found = found + self.angles[bend.id] * (opening + closing) / 2
        kink = (closing - opening) * self.errors.sigma(self.angles[bend.id])
        if abs(kink) > 1e-6:
            found = found + self.errors.unit(0) * kink * MEAN_OF_HALF
            found = found + self.errors.source(KINK, (bend.id, i), 1.0) * abs(kink) * REST_OF_HALF
        return found

    def sums(self) -> list[tuple[Dimension, np.ndarray]]:
        """Every finished dimension that hangs on the bends, and its error as a sum over the sources."""
        sizes = Sizes(self)
        found = [(dimension, sizes.of(dimension.name)) for dimension in dimensions(self.part)]
        return [(dimension, error) for dimension, error in found if error is not None]

    def expected(self) -> list[Expected]:
        """Every finished dimension that hangs on the bends, as far as it can be told."""
        found = []
        for dimension, error in self.sums():
            mean, sigma = float(error[0]), self.errors.sigma(error)
            found.append(Expected(dimension, mean, sigma, _within(dimension.tolerance, mean, sigma),
                                  self.errors.shares(error)))
        return found


def _within(tolerance: float, mean: float, sigma: float) -> float:
    """The chance that a normal one lies within ± a tolerance."""
    if sigma < 1e-12:
        return float(abs(mean) <= tolerance)
    high, low = ((side * tolerance - mean) / sigma / math.sqrt(2) for side in (1, -1))
    return (math.erf(high) - math.erf(low)) / 2


def written(expected: Sequence[Expected], units: str) -> list[dict]:
    """``dimensions`` of an order as data, lengths in ``units``, angles in degrees."""
    rows = []
    for row in expected:
        per = MM_PER[units] if row.dimension.unit == "mm" else 1.0
        rows.append({"name": row.dimension.name, "nominal": row.dimension.nominal / per,
                     "tolerance": row.dimension.tolerance / per, "mean": row.mean / per, "sigma": row.sigma / per,
                     "chance": row.chance, "shares": dict(row.shares)})
    return rows


def stack_up(part: Part, steps: Sequence[Step], brakes: Iterable[Brake],
             spreads: Spreads | None = None) -> list[Expected]:
    """The finished dimensions of a part bent so on these brakes, in the order of its check sheet."""
    return StackUp(part, steps, brakes, spreads).expected()

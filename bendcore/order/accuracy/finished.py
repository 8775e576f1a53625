"""How a finished dimension moves with the bends that bound it.

A leg is its flat face and a setback at each end; a hem its flap and the fold; what is measured across the part follows
from those. Where the largest of several ends decides (*overall across*), the section is drawn for many draws of the
errors at once, because the larger of two alike spreads less than either.
"""

import math
from collections.abc import Sequence
from functools import cached_property

import numpy as np

from ...bending.bend import inside_setback, outside_setback
from ...families.legs import INSIDE, OUTSIDE, Leg
from ...part import Part
from ...sheet.model import Bend, Face, Point

DRAWS = 20_000
SEED = 14
ARC = 8
STEP = 1e-4


def face_under(part: Part, leg: Leg) -> str:
    """The face a leg measures, also where another name is given to it; empty for one that no bend bounds."""
    if leg.id in part.sheet.face:
        return leg.id
    ends = [part.sheet.bend[end] for end in leg.ends if end in part.sheet.bend]
    if len(ends) == 2:
        return next(iter({ends[0].parent, ends[0].child} & {ends[1].parent, ends[1].child}), ends[0].parent)
    if not ends:
        return ""
    sides = ((ends[0].parent, ends[0].parent_edge), (ends[0].child, ends[0].child_edge))
    return min(sides, key=lambda side: abs(_deep(part.sheet.face[side[0]], *side[1]) - leg.flat))[0]


def _deep(face: Face, one: Point, other: Point) -> float:
    """How far a face reaches from one of its edges, mm."""
    (x0, y0), (x1, y1) = one, other
    long = math.dist(one, other)
    return max(abs((x1 - x0) * (y - y0) - (y1 - y0) * (x - x0)) for x, y in face.outline) / long


class Sizes:
    """Finished sizes of a :class:`~.stackup.StackUp`, each as a sum over its sources of error."""

    def __init__(self, stack):
        self.stack, self.shape, self.errors = stack, stack.part.shape, stack.errors
        self.sheet, self.t = stack.part.sheet, stack.part.stock.thickness
        self.legs = {leg.id: leg for leg in self.shape.legs}
        self.angle_of = {self.shape.angle_row(bend.id): bend for bend in self.sheet.bends}

    def of(self, name: str) -> np.ndarray | None:
        """The error of a dimension of the check sheet; None where it does not hang on the bends, or is not told."""
        if name in self.legs:
            return self.leg(self.legs[name])
        hem = self.sheet.bend.get(name)
        if hem is not None and hem.is_hem:
            return self.stack.moved[hem.id, hem.child] + self.stack.thickness if self.is_made(hem.id) else None
        if name in self.angle_of:
            return self.stack.angles[self.angle_of[name].id]
        return self._of_section(name) if self.shape.is_strip else self.shape.size_error(name, self)

    @property
    def nothing(self) -> np.ndarray:
        """No error at all."""
        return self.errors.nothing

    def is_made(self, *bends: str) -> bool:
        """Whether a stroke of the order makes them all."""
        return all((bend, self.sheet.bend[bend].parent) in self.stack.moved for bend in bends)

    def apex(self, bend: Bend) -> np.ndarray:
        """How far the outer apex of a bend moves off its parent face."""
        return self.stack.moved[bend.id, bend.parent] + self.setback(bend, OUTSIDE)

    def leg(self, leg: Leg, dims: str = "") -> np.ndarray | None:
        """A leg's size, under its own ``dims`` or others; None for one that no bend bounds."""
        ends = [self.sheet.bend[end] for end in leg.ends if end in self.sheet.bend]
        face = face_under(self.stack.part, leg)
        hems = [bend for bend in self.sheet.bends if bend.is_hem and bend.parent == face and None in leg.ends
                and (self.shape.is_strip or leg.id == face)]
        if not ends and not hems or not self.is_made(*(bend.id for bend in (*ends, *hems))):
            return None
        error = sum((self.stack.moved[bend.id, face] + self.setback(bend, dims or leg.dims) for bend in ends),
                    self.errors.nothing)
        return error + sum((self.stack.moved[hem.id, face] + self.stack.thickness for hem in hems), self.errors.nothing)

    def setback(self, bend: Bend, dims: str) -> np.ndarray:
        """How far an apex moves beyond the tangent line."""
        f = bend.figures
        if dims == OUTSIDE:
            def at(angle, t):
                return outside_setback(angle, f.inside_radius, t, f.convention)
        elif dims == INSIDE:
            def at(angle, t):
                return inside_setback(angle, f.inside_radius, f.convention)
        else:
            return self.errors.nothing
        by_angle = (at(f.angle + STEP, self.t) - at(f.angle - STEP, self.t)) / (2 * STEP)
        by_thickness = (at(f.angle, self.t + STEP) - at(f.angle, self.t - STEP)) / (2 * STEP)
        return self.stack.angles[bend.id] * by_angle + self.stack.thickness * by_thickness

    # --- across the part ------------------------------------------------------------------

    def diagonal(self, one: Leg, other: Leg) -> np.ndarray | None:
        """Across an opening of two inner sizes."""
        sizes = [(self.leg(leg, INSIDE), leg.outside - self.t * len([end for end in leg.ends if end]))
                 for leg in (one, other)]
        if any(error is None for error, _ in sizes):
            return None
        long = math.hypot(*(size for _, size in sizes))
        return sum(error * size / long for error, size in sizes)

    # --- where the largest decides ----------------------------------------------------------

    def _of_section(self, name: str) -> np.ndarray | None:
        """Over all of a strip."""
        if name not in ("across", "high") or not self.is_made(*self.sheet.bend):
            return None
        points = self._points
        lies = points[2 * [name for name, _ in self.stack.part.strip.flats].index(self.stack.part.strip.lies_on)]
        along = lies[1] - lies[0]
        along = along / np.linalg.norm(along, axis=0)
        axis = along if name == "across" else np.stack([-along[1], along[0]])
        reach = np.concatenate([np.einsum("dn,kdn->kn", axis, piece) for piece in points])
        return self._as_drawn(np.ptp(reach, axis=0))

    @cached_property
    def _points(self) -> list[np.ndarray]:
        """The section of a strip in every draw, by flat and zone."""
        strip, drawn = self.stack.part.strip, self._drawn
        lengths = [flat + sum((drawn(self.stack.moved[bend.id, face]) for bend in self.sheet.bends
                               if face in (bend.parent, bend.child)), 0.0) for face, flat in strip.flats]
        t = self.t + drawn(self.stack.thickness)
        turns = [np.radians(bend.figures.angle + drawn(self.stack.angles[bend.id])) for bend in strip.bends]
        return _section(lengths, turns, strip.bends, t)

    def overall(self, legs: Sequence[Leg], turns: Sequence[tuple[str, int]], heading: float, axis: int,
                nominal: float) -> np.ndarray | None:
        """Over all along an ``axis`` of a chain of legs measured outside; see
        :class:`~bendcore.families.propagation.Propagation`."""
        sizes = [self.leg(leg, OUTSIDE) for leg in legs]
        if any(size is None for size in sizes):
            return None
        drawn = self._drawn
        at, turn, points = np.zeros((2, 1)), heading, [np.zeros((2, DRAWS))]
        for n, (leg, size) in enumerate(zip(legs, sizes, strict=True)):
            if n:
                name, way = turns[n - 1]
                turn = turn + way * np.radians(self.sheet.bend[name].angle + drawn(self.stack.angles[name]))
            at = at + (leg.outside + drawn(size)) * np.stack([np.cos(turn) * np.ones(DRAWS),
                                                              np.sin(turn) * np.ones(DRAWS)])
            points.append(at)
        reach = np.ptp(np.stack(points)[:, axis], axis=0)
        return self._as_drawn(reach) if abs(reach.mean() - nominal) < 1.0 else None

    @cached_property
    def _draws(self) -> np.ndarray:
        """Draws of every source, the first of them 1 (:data:`DRAWS`, sources)."""
        draws = np.random.default_rng(SEED).normal(size=(DRAWS, len(self.errors.sigmas))) * self.errors.sigmas
        draws[:, 0] = 1.0
        return draws

    def _drawn(self, error: np.ndarray) -> np.ndarray:
        """What a sum of the sources comes to in each draw."""
        return self._draws @ error[:len(self.errors.sigmas)]

    def _as_drawn(self, values: np.ndarray) -> np.ndarray:
        """A size that was drawn as a sum of its sources: by its regression on them, scaled to the spread it has."""
        draws, sigmas = self._draws, np.array(self.errors.sigmas)
        off = values - values.mean()
        slopes = np.divide(off @ draws, len(values) * sigmas ** 2, out=np.zeros(len(sigmas)), where=sigmas > 0)
        slopes[0] = 0.0
        slopes[np.abs(slopes * sigmas) < 0.02 * off.std()] = 0.0
        spread = float(np.linalg.norm(slopes * sigmas))
        error = self.errors.nothing.copy()
        error[:len(sigmas)] = slopes * (off.std() / spread if spread else 0.0)
        return error


def _section(lengths, turns, bends, t) -> list[np.ndarray]:
    """Points of a strip's section for many draws at once: by flat and zone, (k, 2, draws)."""
    at, turn, found = np.zeros((2, DRAWS)), np.zeros(DRAWS), []
    for n, long in enumerate(lengths):
        along = np.stack([np.cos(turn), np.sin(turn)])
        normal = np.stack([-along[1], along[0]])
        far = at + long * along
        found.append(np.stack([at, far, far - t * normal, at - t * normal]))
        if n == len(bends):
            return found
        bend, radius = bends[n], bends[n].figures.inside_radius
        own = radius if bend.sign > 0 else radius + t
        centre, rays = far + bend.sign * own * normal, []
        for share in np.linspace(0, 1, ARC + 1):
            a = turns[n] * share
            spoke = np.sin(a) * along - bend.sign * np.cos(a) * normal
            rays += [centre + (radius + t) * spoke, centre + radius * spoke]
        found.append(np.stack(rays))
        at, turn = centre + own * spoke, turn + bend.sign * turns[n]
    return found

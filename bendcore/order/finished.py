"""How a finished dimension moves with the bends that bound it.

A leg is its flat face and a setback at each end; a hem its flap and the fold; what is measured across the part follows
from those. Where the largest of several ends decides (*overall across*), the section is drawn for many draws of the
errors at once, because the larger of two alike spreads less than either.
"""

import math

import numpy as np

from ..bending.bend import inside_setback, outside_setback
from ..families.common import INSIDE, OUTSIDE, Leg
from ..families.guard.shape import widened
from ..part import Part
from ..quality.checksheet import lies_on
from ..sheet.model import Bend, Face, Point

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
        self.plain = self.shape.kind == "profile"

    def of(self, name: str) -> np.ndarray | None:
        """The error of a dimension of the check sheet; None where it does not hang on the bends, or is not told."""
        bend = self.sheet.bend.get(name if self.plain else name.removesuffix("-angle"))
        if name in self.legs:
            return self.leg(self.legs[name])
        if bend is not None and bend.is_hem:
            return self.stack.moved[bend.id, bend.child] + self.stack.thickness if self._made(bend) else None
        if bend is not None and (self.plain or name.endswith("-angle")):
            return self.stack.angles[bend.id]
        return getattr(self, f"_across_{self.shape.kind}", lambda name: None)(name)

    def _made(self, *bends) -> bool:
        return all((bend.id, bend.parent) in self.stack.moved for bend in bends)

    def leg(self, leg: Leg, dims: str = "") -> np.ndarray | None:
        """A leg's size, under its own ``dims`` or others; None for one that no bend bounds."""
        ends = [self.sheet.bend[end] for end in leg.ends if end in self.sheet.bend]
        face = face_under(self.stack.part, leg)
        hems = [bend for bend in self.sheet.bends if bend.is_hem and bend.parent == face and None in leg.ends
                and (self.plain or leg.id == face)]
        if not ends and not hems or not self._made(*ends, *hems):
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

    def _across_tray(self, name):
        return self._diagonal(self.shape.length, self.shape.width) if name.startswith("diagonal") else None

    def _across_sleeve(self, name):
        sides = [next((leg for leg in self.shape.panels if None not in leg.ends and abs(leg.outside - size) < 1e-6),
                      None) for size in (self.shape.width, self.shape.height)]
        if name.startswith("diagonal"):
            return self._diagonal(*sides) if all(sides) else None
        side = sides[name == "height"] if name in ("width", "height") else None
        return self.leg(side, OUTSIDE) if side else None

    def _diagonal(self, one, other):
        """Across an opening of two inner sizes."""
        sizes = [(self.leg(leg, INSIDE), leg.outside - self.t * len([end for end in leg.ends if end]))
                 for leg in (one, other)]
        if any(error is None for error, _ in sizes):
            return None
        long = math.hypot(*(size for _, size in sizes))
        return sum(error * size / long for error, size in sizes)

    def _across_plate(self, name):
        numbers = {f"edge-{n}": i for i, (n, _) in enumerate(self.shape.numbered())}
        if name not in numbers:
            return None
        outline, at, error = self.shape.outline, numbers[name], self.errors.nothing
        for flange in {flange.edge: flange for flange in self.shape.flanges}.values():
            bend = self.sheet.bend[flange.bend.id]
            if not self._made(bend):
                return None
            ends = []
            for way in (STEP, -STEP):
                corners = widened(outline, [way * (i == flange.edge) for i in range(len(outline))])
                ends.append(math.dist(corners[at], corners[(at + 1) % len(outline)]))
            slope = (ends[0] - ends[1]) / (2 * STEP)
            error = error + slope * (self.stack.moved[bend.id, bend.parent] + self.setback(bend, OUTSIDE))
        return error if error.any() else None

    # --- where the largest decides ----------------------------------------------------------

    def _across_profile(self, name):
        if name not in ("across", "high") or not self._made(*self.sheet.bends):
            return None
        strip = self.stack.part.strip
        drawn = self._drawn()
        lengths = [flat + sum((drawn(self.stack.moved[bend.id, face]) for bend in self.sheet.bends
                               if face in (bend.parent, bend.child)), 0.0) for face, flat in strip.flats]
        t = self.t + drawn(self.stack.thickness)
        turns = [np.radians(bend.figures.angle + drawn(self.stack.angles[bend.id])) for bend in strip.bends]
        points = _section(lengths, turns, strip.bends, t)
        lies = points[2 * [name for name, _ in strip.flats].index(lies_on(self.stack.part))]
        along = lies[1] - lies[0]
        along = along / np.linalg.norm(along, axis=0)
        axis = along if name == "across" else np.stack([-along[1], along[0]])
        reach = np.concatenate([np.einsum("dn,kdn->kn", axis, piece) for piece in points])
        return self._as_drawn(np.ptp(reach, axis=0))

    def _across_guard(self, name):
        sizes = [self.leg(leg, OUTSIDE) for leg in self.shape.panels]
        bends = [self.sheet.bend[bend.id] for bend in self.shape.corners]
        if name not in ("long", "high") or any(size is None for size in sizes):
            return None
        outline, first = self.shape.outline, self.shape.wrapped[0]
        (x0, y0), (x1, y1) = outline[first], outline[(first + 1) % len(outline)]
        drawn = self._drawn()
        at, turn, points = np.zeros((2, 1)), math.atan2(y1 - y0, x1 - x0), [np.zeros((2, DRAWS))]
        for n, (leg, size) in enumerate(zip(self.shape.panels, sizes, strict=True)):
            if n:
                turn = turn + bends[n - 1].sign * np.radians(bends[n - 1].angle + drawn(self.stack.angles[
                    bends[n - 1].id]))
            at = at + (leg.outside + drawn(size)) * np.stack([np.cos(turn) * np.ones(DRAWS),
                                                              np.sin(turn) * np.ones(DRAWS)])
            points.append(at)
        reach = np.ptp(np.stack(points)[:, name == "high"], axis=0)
        nominal = max(p[name == "high"] for p in outline) - min(p[name == "high"] for p in outline)
        return self._as_drawn(reach) if abs(reach.mean() - nominal) < 1.0 else None

    def _drawn(self):
        """Draws of every source, and what a sum of them comes to in each."""
        count = len(self.errors.sigmas)
        draws = np.random.default_rng(SEED).normal(size=(DRAWS, count)) * self.errors.sigmas
        draws[:, 0] = 1.0
        self._draws = draws
        return lambda error: draws @ error[:count]

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

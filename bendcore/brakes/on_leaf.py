"""Bending on a leaf or finger brake, on bench bars and in tongs.

One half lies clamped, its tangent line at y = nose radius, its top at z = 0. The other wraps at the part's inside
radius r about (nose radius, r), the zone used up in proportion to the angle, and swings up with the leaf; on a bench it
is beaten up, and there is no leaf. Bed and leaf stand the thickness lower than drawn.
"""

from collections.abc import Iterator
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import ArrayLike
from shapely import Polygon, box
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from ..said import Deg, Mm, Said
from .bench import BenchBrake
from .leaf import LeafBrake
from .setting import (
    FREE,
    HELD,
    HEM_CREASE,
    LEAST_CREASE,
    PIECES,
    WHOLE,
    Meeting,
    Path,
    Reason,
    Stroke,
    Tool,
    Way,
    disc,
    kept,
    still,
    turned_about,
)
from .shapes import FAR, inset, swept

FORWARD = (0.0, 4.0, 10.0, 20.0, 40.0, 80.0, 160.0)
"""How far a part is drawn forward from under the nose before the clamp rises past it, mm."""
LIFTS = (0.0, 15.0, 40.0, 90.0, 180.0, 360.0)
"""How far it is lifted off the bed before it goes forwards, mm."""
DRAWN = 2.0
"""While the clamp opens by its first crack the part may be drawn forward by so many times as much."""
BENCH_CREASE = 90.0
"""Between bars a hem is turned up so far, taken out and beaten down on a block."""
FINGER = "finger"
BELOW = ("bed", "leaf", "backing")
"""What carries the sheet: a closed hem lies on it with the face it is folded on."""


class OnLeaf:
    """A :class:`~bendcore.brakes.setting.OnBrake` for brakes that clamp one side and turn up the other."""

    hangs, stops = True, False

    def __init__(self, brake: LeafBrake | BenchBrake):
        self.brake, self.name, self.kind, self.costs = brake, brake.name, brake.kind, brake.costs
        self.most = brake.length
        self.bench = brake.kind == "bench"
        self.fingered = not self.bench and bool(brake.fingers)
        self.mounts = (FINGER,)
        self.nose = brake.nose_radius
        self.above = "bar" if self.bench else FINGER if self.fingered else "nose"

    # --- tools ------------------------------------------------------------------------

    @cached_property
    def _over(self) -> dict[str, Polygon]:
        """What is above the sheet, at rest on it."""
        if self.bench:
            return {self.above: Polygon(self.brake.bar_section)}
        return {self.above: Polygon(self.brake.finger_section), "beam": Polygon(self.brake.beam_section)}

    @kept
    def _under(self, thickness: float) -> dict[str, Polygon]:
        """What is below it, under a sheet so thick."""
        found = {"backing": self.brake.backing_section} if self.bench else {
            "bed": self.brake.bed_section, "leaf": self.brake.leaf_section}
        return {name: translate(Polygon(section), 0.0, -thickness) for name, section in found.items()}

    @cached_property
    def upper(self) -> dict[str, Polygon]:
        """What is above the sheet, inset."""
        return {name: inset(shape) for name, shape in self._over.items()}

    @kept
    def lower(self, thickness: float) -> dict[str, Polygon]:
        """What is below it, inset."""
        return {name: inset(shape) for name, shape in self._under(thickness).items()}

    def pieces(self, mount: int) -> dict[str, tuple[float, ...]]:
        """The fingers owned, if there are any."""
        return {FINGER: self.brake.fingers} if self.fingered else {}

    def depends(self, name: str, mount: int) -> str:
        """Every tool by itself."""
        return name

    def mounts_for(self, stroke: Stroke) -> tuple[int, ...]:
        """There is but one."""
        return (0,)

    def crease(self, springback: float) -> float:
        """As far as the leaf swings, at most the usual; on a bench square."""
        if self.bench:
            return BENCH_CREASE
        return max(LEAST_CREASE, min(HEM_CREASE, self.brake.max_angle / (1 + springback / 90)))

    # --- limits -----------------------------------------------------------------------

    def reasons(self, stroke: Stroke, mount: int) -> list[Reason]:
        """Length, radius, angle, and what the plate bears."""
        found, t = [], stroke.thickness
        if stroke.length > self.most + 1e-9:
            found.append(Reason("machine-length", Said("{wide} long; {brake} is {most}", wide=Mm(stroke.length),
                                                       brake=self.name, most=Mm(self.most))))
        if not stroke.is_hem and stroke.figures.inside_radius < self.nose - 1e-9:
            found.append(Reason("nose", Said("an inside radius of {r} is below the {nose} of the nose",
                                             r=Mm(stroke.figures.inside_radius), nose=Mm(self.nose))))
        if not self.bench:
            if not stroke.closing and stroke.bend_to > self.brake.max_angle + 1e-6:
                found.append(Reason("leaf-angle", Said("bending to {angle}; the leaf swings to {most}", angle=Deg(
                    round(stroke.bend_to, 1)), most=Deg(self.brake.max_angle))))
            bears = self.brake.rated.bears(stroke.length, stroke.tensile)
            if t > bears + 1e-9:
                found.append(Reason("capacity", Said("{t} is above the {bears} of this metal that the plate stands for",
                                                     t=Mm(t), bears=Mm(bears))))
        return found

    def need(self, stroke: Stroke, mount: int, half: str) -> float:
        """The smallest hold and the smallest flange."""
        return 0.0 if stroke.closing else self.brake.min_hold if half == HELD else self.brake.min_flange

    @property
    def deepest(self) -> float | None:
        """How far the clamped side may reach behind the bar's front, mm."""
        return self.brake.clamp_depth if self.bench else None

    # --- motion -----------------------------------------------------------------------

    def machine(self, stroke: Stroke, mount: int) -> tuple[Path, Path]:
        """The held half lies still; of a hem being closed all but the flap lies in front."""
        if stroke.closing:
            return still(0.0, 0.0), still(-stroke.flap, 0.0)
        return still(self.nose, 0.0), self._free(stroke)

    def tools(self, stroke: Stroke, mount: int) -> list[Tool]:
        """What is above the sheet, what below, and the leaf."""
        held, free = self.machine(stroke, mount)
        if self.bench and stroke.closing:
            return []
        t, up = stroke.thickness, self._doubled(stroke) if stroke.closing else 0.0
        found = [Tool(name, translate(shape, 0.0, up), disc(self.nose + t) if name == self.above else Polygon(), held,
                      free, PIECES if self.fingered and name == self.above else WHOLE)
                 for name, shape in self._over.items()]
        for name, shape in self._under(t).items():
            paths, moves = (held, free), ""
            if name == "leaf" and not stroke.closing:
                paths, moves = (self._carried(held, False, stroke), self._carried(free, True, stroke)), "leaf"
            found.append(Tool(name, shape, Polygon(), *paths, moves=moves))
        return found

    def sight(self, stroke: Stroke) -> float | None:
        """Where the line to see under the nose lies, from the clamped side's tangent line into the zone, mm."""
        return None if stroke.closing else self._radius(stroke)

    def leaf_lags(self, stroke: Stroke, angles: ArrayLike) -> np.ndarray:
        """How far the leaf stands back from its angle's plane, mm: where the part's radius is larger than the nose's,
        the face carried would run into it there, and it lags until they touch."""
        a = np.radians(angles)
        return np.maximum(0.0, self._radius(stroke) * (1 - np.cos(a)) - self.nose * np.sin(a))

    def _radius(self, stroke: Stroke) -> float:
        """What the free side wraps at: a hem's fold is made closer later."""
        return max(stroke.figures.inside_radius, self.nose) if stroke.is_hem else stroke.figures.inside_radius

    def _free(self, stroke: Stroke) -> Path:
        """The path of the free half."""
        figures = stroke.figures
        r = self._radius(stroke)
        full = figures.angle if not stroke.is_hem else stroke.angle

        def path(angles):
            angles = np.asarray(angles, float)
            a = np.radians(angles)
            left = figures.allowance * np.maximum(0.0, 1 - angles / full)
            c, s = np.cos(a), np.sin(a)
            return -(self.nose - r * s - left * c), r * (1 - c) + left * s, a
        return path

    def _met(self, names, half, side, path, regions, key, ends=None) -> list[Meeting]:
        """One half against tools: fingers apart from what is as long as the brake, that taken together. ``regions``
        are (for own faces, for others) by tool."""
        found = []
        pieces = [name for name in names if name == self.above and self.fingered]
        for some, reach in ((pieces, PIECES), ([name for name in names if name not in pieces], WHOLE)):
            if some:
                def draw(some=tuple(some)):
                    drawn = regions() if callable(regions) else regions
                    own, others = (_union(*(drawn[name][k] for name in some)) for k in (0, 1))
                    return own, others, _union(*(drawn[name][1] for name in some if name not in BELOW))
                found.append(Meeting(" ".join(some), half, side, path, draw, (id(self), reach, *key),
                                     (id(self), half, *key), ends, reach, FINGER if reach == PIECES else ""))
        return found

    @kept
    def swing(self, stroke: Stroke, mount: int) -> tuple[Meeting, ...]:
        """Free side past nose, beam and bed; the leaf past all it does not carry."""
        if stroke.closing:
            return self._closing(stroke)
        free, held = self._free(stroke), still(self.nose, 0.0)
        t, angle, end = stroke.thickness, stroke.angle, stroke.bend_to
        regions = self._regions(t)
        fixed = [name for name in regions if name != "leaf"]
        turned = [name for name in fixed if name != self.above]
        found = [*self._met([self.above], FREE, -1, free, regions, ("swing", "nose"), (angle, end, end)),
                 *self._met(turned, FREE, -1, free, regions, ("swing",), (end, end, end)),
                 *self._met(fixed, HELD, 1, held, regions, ("still",))]
        if "leaf" in regions:
            carried = {"leaf": (Polygon(), regions["leaf"][1])}
            found += self._met(["leaf"], FREE, -1, self._carried(free, True, stroke), carried, ("leaf",),
                               (angle, angle, angle))
            near = box(-stroke.figures.allowance - t, -FAR, FAR, FAR)
            spared = {"leaf": (regions["leaf"][0].difference(near), regions["leaf"][1])}
            found += self._met(["leaf"], HELD, 1, self._carried(held, False, stroke), spared, ("leaf",),
                               (angle, angle, angle))
        return tuple(found)

    @kept
    def _regions(self, thickness: float) -> dict[str, tuple[BaseGeometry, BaseGeometry]]:
        """By tool: inset for faces of the bend being made, which may touch the nose, and for all others."""
        found = {name: (shape.difference(disc(self.nose + thickness)) if name == self.above else shape, shape)
                 for name, shape in self.upper.items()}
        return found | {name: (shape, shape) for name, shape in self.lower(thickness).items()}

    def _carried(self, path: Path, free: bool, stroke: Stroke) -> Path:
        """A half's path as the leaf sees it, which turns about its pivot with the bend: what lies to the back turns
        up against it, what it carries hardly moves."""
        turn = -1.0 if free else 1.0

        def seen(angles):
            y, z, h = path(angles)
            y, z = turned_about(self.brake.pivot, turn * y, z, angles)
            return turn * y, z + self.leaf_lags(stroke, angles), h + turn * np.radians(angles)
        return seen

    @staticmethod
    def _doubled(stroke) -> float:
        """How high the flap of a closed hem stands over the sheet it lies on."""
        return stroke.thickness + 2 * stroke.figures.inside_radius

    def _closing(self, stroke) -> tuple[Meeting, ...]:
        """The fold pushed in under the nose, flap up; the rest lies in front. On a bench it is beaten on a block."""
        if self.bench:
            return ()
        lies, up = still(-stroke.flap, 0.0), self._doubled(stroke)
        regions = {name: (Polygon(), swept(translate(shape, 0.0, up), 0.0, FAR)) for name, shape in self.upper.items()}
        regions |= {name: (Polygon(), shape) for name, shape in self.lower(stroke.thickness).items()}
        return tuple(self._met(list(regions), FREE, -1, lies, regions, ("flatten",)))

    # --- in and out -------------------------------------------------------------------

    def ways_in(self, stroke: Stroke, mount: int) -> Iterator[Way]:
        """The sheet flat at the bend, by every way there is."""
        return iter(()) if stroke.closing else self._ways(stroke, 0.0)

    def ways_out(self, stroke: Stroke, mount: int) -> Iterator[Way]:
        """The same, bent and sprung back, the leaf down again."""
        return iter(()) if stroke.closing else self._ways(stroke, stroke.angle)

    def _ways(self, stroke, angle) -> Iterator[Way]:
        """Ways by number, each worked out once."""
        return (self._way(stroke, angle, n) for n in range(len(self._routes(stroke.thickness))))

    @kept
    def _routes(self, thickness: float) -> list[tuple]:
        """(name, how far forward first, how far lifted, which end): the likely first."""
        most = (self.brake.opening or FAR) - min(thickness + 1.0, self.brake.opening or FAR)
        lifts = [lift for lift in LIFTS if lift <= most]
        return [("up", 0.0, 0.0, 0), ("along", 0.0, 0.0, 1), ("along", 0.0, 0.0, -1),
                ("forwards", 0.0, 0.0, 0), ("forwards", 10.0, 0.0, 0),
                *(("up", ahead, lift, 0) for lift in lifts for ahead in FORWARD if ahead or lift)]

    @kept
    def _way(self, stroke, angle, number) -> Way:
        y, z, h = (float(v) for v in self._free(stroke)(np.array(angle)))
        name, ahead, lift, along = self._routes(stroke.thickness)[number]
        t = stroke.thickness

        def regions():
            return self._risen(t, name, ahead, lift) | self._left_below(t, name, ahead, lift)

        met, tools = [], [*self.upper, *self.lower(stroke.thickness)]
        for half, side, path, at in ((HELD, 1, still(self.nose, 0.0), None), (FREE, -1, still(y, z, h), angle)):
            met += self._met(tools, half, side, path, regions, (name, ahead, lift, at))
        return Way("drawn" if ahead and name == "up" else name, tuple(met), along)

    @kept
    def _risen(self, t, name, ahead, lift) -> dict[str, tuple[BaseGeometry, BaseGeometry]]:
        """What the tools above pass through as the part sees it: opened by a crack, past it while it is drawn forward,
        and up; where the opening has an end, past it once more as it leaves."""
        most = self.brake.opening or FAR
        crack = min(t + 1.0, most)

        def passed(shape) -> BaseGeometry:
            if name == "along":
                return shape
            first = min(ahead, DRAWN * crack)
            opened, shape = swept(shape, first, crack), translate(shape, first, crack)
            if name == "forwards":
                return _union(opened, swept(shape, FAR, 0.0))
            up = swept(translate(shape, ahead - first, 0.0), 0.0, max(0.0, most - crack))
            away = [swept(translate(shape, ahead - first, most - crack - lift), FAR, 0.0)] if most < FAR else []
            return _union(opened, swept(shape, ahead - first, 0.0), up, *away)

        return {tool: (passed(own), passed(others)) for tool, (own, others) in self._regions(t).items()
                if tool in self.upper}

    @kept
    def _left_below(self, t, name, ahead, lift) -> dict[str, tuple[BaseGeometry, BaseGeometry]]:
        """The same of the tools below, on which the part's own faces lie."""
        def passed(shape) -> BaseGeometry:
            if name == "along":
                return shape
            at = translate(shape, ahead, 0.0)
            return _union(swept(shape, ahead, 0.0), swept(at, 0.0, -lift), swept(translate(at, 0.0, -lift), FAR, 0.0))

        return {tool: (Polygon(), passed(shape)) for tool, shape in self.lower(t).items()}


def _union(*shapes: BaseGeometry) -> BaseGeometry:
    return shapely.union_all([shape for shape in shapes if not shape.is_empty] or [Polygon()])

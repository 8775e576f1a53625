"""What is rolled: one blank without bends, whose ends are cut so that the finished piece ends in planes.

Diameters are given outside, inside or neutral in the end's plane. The wall is measured square to itself, so in the
plane of a cone's end the neutral diameter is D_out − 2(1 − K)t/cos α, or D_in + 2Kt/cos α; K is 0.5 unless measured
(handbook, *Rolled and hammered work*).
"""

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..bending.bend import APEX
from ..develop.rolled import Cone, Surface, Tube, least, rounds
from ..develop.shell import NAME, shell
from ..errors import Refusal
from ..fields import Choice, Group, Length, Number
from ..said import Mm, Said
from ..sheet.model import Face, Point, Sheet
from ..sheet.solid import Mesh
from .common import Given
from .joint import FOLD, RIVET, WELD, Joint
from .legs import INSIDE, OUTSIDE, Leg, Run, ShapeBend
from .shape import ROLLS, Shape

NEUTRAL = "neutral"
HALF = 0.5
"""K of rolled work unless measured (*start*)."""
BUTT, LAP, LOCK = "butt", "lap", "lock"
SEAM = Group("seam", {
    "kind": Choice("kind", (BUTT, LAP, LOCK), default=BUTT, brings={LAP: ("width",), LOCK: ("width",)}),
    "width": Length("width", label="Width of the seam", start=10, over=0),
    "at": Number("at", label="At, degrees from 0", low=-360, high=360)}, thing="seam")
K = Number("K", label="K of rolling", rare=True)
SEEN_AT = np.linspace(0, 2 * math.pi, 72, endpoint=False)
"""The generators, radians, at which an end is drawn."""
EVERY = 30
"""Generators are told every so many degrees."""


def tilt(words: str) -> Number:
    """An end's tilt, degrees."""
    return Number(words, label=f"{words.capitalize()}, degrees", low=-85, high=85)


@dataclass(frozen=True)
class Seam:
    """How the edges are joined, and ``at`` how many degrees from the generator at 0°; ``width`` in mm."""

    kind: str
    width: float
    at: float

    @property
    def added(self) -> tuple[float, float]:
        """A lap on one edge; a lock takes its width on one and twice that on the other."""
        return {BUTT: (0.0, 0.0), LAP: (0.0, self.width), LOCK: (self.width, 2 * self.width)}[self.kind]


@dataclass(frozen=True)
class Rolled(Shape):
    """A rolled piece, read: its neutral ``surface`` and seam; ``sizes`` (name, title, mm) are what is measured."""

    surface: Surface
    thickness: float
    k: float
    dims: str
    seam: Seam
    sizes: tuple[tuple[str, str, float], ...]

    convention = APEX
    making = ROLLS
    runs: tuple[Run, ...] = ()
    legs: tuple[Leg, ...] = ()
    bends: tuple[ShapeBend, ...] = ()
    longest_bend = 0.0

    def rings(self) -> tuple[np.ndarray, ...]:
        """Its ends, in the diameters it is given by; a cone's large one first."""
        off = {OUTSIDE: (1 - self.k) * self.thickness, INSIDE: -self.k * self.thickness}.get(self.dims, 0.0)
        ends = [self.surface.space(SEEN_AT, s, off) for s in self.surface.span(SEEN_AT)]
        return tuple(sorted(ends, key=lambda ring: float(ring[:, 2].mean())))

    @property
    def laid(self) -> Surface:
        """The surface as it is laid flat: what beads will draw in is there still."""
        return self.surface

    @cached_property
    def blank(self) -> tuple[Point, ...]:
        """The outline: the first end, the second seam edge, the other end back, the first seam edge."""
        phi = rounds(self.laid, math.radians(self.seam.at))
        low, high = (self._turned(self.laid.flat(phi, s)) for s in self.laid.span(phi))
        way = 1 if isinstance(self.surface, Tube) else -1  # a cone's first end is above
        before, after = (way * width for width in self.seam.added)
        ring = [*low, *_beside(low[-1], high[-1], after), *high[::-1], *_beside(high[0], low[0], before)]
        points = np.array(ring)
        x, y = points.T
        if np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)) < 0:
            points = points[::-1]
        return tuple(map(tuple, points.tolist()))

    def seam_edges(self) -> tuple[tuple[Point, Point], tuple[Point, Point]]:
        """(from, to) of the edges that meet at the seam, on the blank: the one a lap is added to, and the other; what
        the seam adds is left out."""
        start = math.radians(self.seam.at)
        found = []
        for phi in (np.array([start + 2 * math.pi]), np.array([start])):
            ends = [self._turned(self.laid.flat(phi, s))[0] for s in self.laid.span(phi)]
            found.append(tuple(tuple(end.tolist()) for end in ends))
        return tuple(found)

    def _turned(self, points: np.ndarray) -> np.ndarray:
        """A cone's flat with the middle of its blank straight down."""
        if isinstance(self.surface, Tube):
            return points
        middle = (math.radians(self.seam.at) + math.pi) * math.sin(self.surface.half_angle)
        c, s = math.cos(middle), math.sin(middle)
        return points @ np.array([[c, -s], [s, c]])

    @property
    def centres(self) -> tuple[Point, ...]:
        """Ends of an upright cone's blank are true arcs about its apex."""
        return ((0.0, 0.0),) if isinstance(self.surface, Cone) else ()

    def generators(self) -> Iterator[tuple[int, Point, Point]]:
        """(angle, from, to) in the blank, every 30° that lies in it."""
        start = math.ceil(self.seam.at / EVERY) * EVERY
        for angle in range(int(start), int(start) + 360, EVERY):
            phi = np.array([math.radians(angle)])
            ends = [self._turned(self.laid.flat(phi, s))[0] for s in self.laid.span(phi)]
            yield angle % 360, *(tuple(end.tolist()) for end in ends)

    def lengths(self) -> list[tuple[int, float, float]]:
        """(angle, from, to) along the generators every 30°, mm."""
        low, high = self.laid.span(np.radians(np.arange(0, 360, EVERY)))
        rows = np.round(np.column_stack([low, high]), 9) + 0.0  # no length is less than nothing by a rounding
        return [(EVERY * n, *row) for n, row in enumerate(rows.tolist())]

    def development(self, per: float) -> dict:
        """What the open file tells of it, lengths divided by ``per``."""
        if isinstance(self.surface, Tube):
            return {"kind": "tube", "girth": self.surface.girth / per, "generators": [
                {"at": angle, "length": (high - low) / per} for angle, low, high in self.lengths()]}
        outer, inner = self.surface.radii
        return {"kind": "cone", "outer_radius": outer / per, "inner_radius": inner / per,
                "sector_angle": math.degrees(self.surface.sector), "generators": [
                    {"at": angle, "from": low / per, "to": high / per} for angle, low, high in self.lengths()]}

    def shell(self, facet: float) -> Mesh:
        """The finished piece as a solid, its lap or lock left out."""
        return shell(self.surface, self.thickness, self.k, math.radians(self.seam.at), facet)

    @property
    def inside(self) -> tuple[float, float]:
        """The inside radii at both ends where the axis meets their planes, square to the wall, mm."""
        if isinstance(self.surface, Tube):
            return (self.surface.diameter / 2 - self.k * self.thickness,) * 2
        c = math.cos(self.surface.half_angle)
        return tuple(size / 2 / c - self.k * self.thickness for size in (self.surface.small, self.surface.large))

    @property
    def slant(self) -> float:
        """By how much the longest generator is longer than the shortest, mm."""
        low, high = self.surface.span(np.linspace(0, 2 * math.pi, 361))
        return float(np.ptp(high - low))

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured of the finished piece."""
        return list(self.sizes)

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Its seam."""
        length = max(math.dist(*edge) for edge in self.seam_edges())
        yield Joint("seam", "seam", length, {BUTT: WELD, LAP: RIVET, LOCK: FOLD}[self.seam.kind], closes=True)

    def round_sizes(self) -> dict[str, float]:
        """Its diameters as they are given."""
        return {name: mm for name, _, mm in self.sizes if name in ("diameter", "large", "small")}

    def place(self, name: str) -> str:
        """Its height or length: the whole."""
        return "height" if isinstance(self.surface, Cone) else "length"

    def _called(self, name: str) -> str:
        return "Blank" if name == NAME else name

    def _sheet(self) -> Sheet:
        return Sheet(self.thickness, NAME, (Face(NAME, self.blank),), ())


def _beside(one, other, width) -> list:
    """The corners of a strip so wide beside an edge, on the right of the way from one to the other."""
    if not width:
        return []
    along = (other - one) / np.linalg.norm(other - one)
    out = np.array([along[1], -along[0]]) * width
    return [one + out, other + out]


def read_seam(shape: dict, given: Given) -> Seam:
    """The seam; refuses a width that is missing or belongs to none."""
    block = shape.get("seam", {})
    kind = block.get("kind", BUTT)
    if kind == BUTT and "width" in block and given.length(block["width"], "seam.width"):
        raise Refusal("seam.width", "does not belong to a butt seam")
    if kind != BUTT and "width" not in block:
        raise Refusal("seam.width", "is missing: give the width of the seam")
    width = SEAM.mm(block, "width", "seam", given.length) if kind != BUTT else 0.0
    return Seam(kind, width, float(block.get("at", 180.0)))


def neutral(size: float, dims: str, thickness: float, k: float, half_angle: float = 0.0) -> float:
    """The neutral diameter of one given so, mm."""
    wall = 2 * thickness / math.cos(half_angle)
    return size - {OUTSIDE: (1 - k) * wall, INSIDE: -k * wall, NEUTRAL: 0.0}[dims]


def refuse_meeting(surface: Surface, thickness: float, tilts: Mapping[str, float], long: str, more: str) -> None:
    """Refuse a piece whose ends meet within it: at the steeper of its ``tilts``, or where it has none at how ``long``
    it is; ``more`` says what else would do."""
    if least(surface) <= thickness:
        path = max(tilts, key=lambda key: abs(tilts[key])) if any(tilts.values()) else long
        raise Refusal(path, f"brings the two ends together within the piece: tilt less, or {more}")


def held(size: float, path: str, thickness: float) -> float:
    """A neutral diameter, if the wall leaves any."""
    if size <= 0:
        raise Refusal(path, Said("leaves nothing within the wall of {t}: make it larger", t=Mm(thickness)))
    return size


def mirror_seam(shape: dict, length: Callable[[Any], float]) -> dict:
    """The other hand of what is rolled: its ends tilt about the diameter from 90° to 270°, so only the seam goes to the
    other side."""
    if "seam" in shape and "at" in shape["seam"]:
        shape["seam"]["at"] = -shape["seam"]["at"]
    return shape

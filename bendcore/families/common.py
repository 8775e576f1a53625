"""What all families share: legs, bends and hems, and what each takes from a size.

A *leg* is one dimensioned flat stretch between two of its ends; at each end stands a
bend, a hem, or nothing. Sizes are given outside, inside or flat (tangent to tangent).
"""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar

from shapely import Polygon

from ..bending.bend import APEX, BendFigures, allowance_from_k, check_angle
from ..errors import Refusal
from ..fields import Group, ReadLength, find
from ..measured import is_measured, radius_of
from ..said import Mm, Said
from ..schools.school import CLOSED_HEM_K, School
from ..sheet.model import Bend, Hole, Point, Sheet
from ..sheet.rings import without_tiny
from ..sheet.solid import Mesh
from ..units import read_angle
from .declared import HEM, LARGE, RADIUS

OUTSIDE, INSIDE, FLAT = "outside", "inside", "flat"
ROLLS, BLOCK, BARS = "rolls", "block", "bars"
FACET = LARGE["facet"]
SHORTEST_FLAT = 1e-6
SAME = 1e-6
"""Corners of a face nearer than this are one, mm."""


@dataclass(frozen=True)
class ShapeBend:
    """A bend of a shape: its id, ``up`` or ``down``, and its figures."""

    id: str
    direction: str
    figures: BendFigures


@dataclass(frozen=True)
class Hem:
    """An edge folded back onto the leg ``on``. ``length`` and that leg are measured to
    the outside of the fold; ``flat`` is the face left beyond the bend zone."""

    id: str
    length: float
    gap: float
    direction: str
    figures: BendFigures
    flat: float
    on: str = ""

    @property
    def size(self) -> float:
        """As a leg's: its length, mm."""
        return self.length


@dataclass(frozen=True)
class Leg:
    """One flat stretch. ``size`` as given under ``dims``; ``flat`` tangent to tangent.

    ``setbacks`` is what each end loses from the size as given; ``ends`` name the bend
    at each end, None at a free edge or a hem.
    """

    id: str
    size: float
    dims: str
    flat: float
    setbacks: tuple[float, float]
    outside: float
    ends: tuple[str | None, str | None] = (None, None)


@dataclass(frozen=True)
class Run:
    """A developed length across the blank: legs and hems by id, bends by id, in order."""

    name: str
    legs: tuple[str, ...]
    bends: tuple[str, ...]


class Shape:
    """What a family gives besides its own: ``fields``, ``legs``, ``bends``, ``runs``, ``_sheet()``; where its faces and
    bends belong (``place``, ``thing``) and what they are called (``_called``, ``short``)."""

    def sheet(self) -> Sheet:
        """Its faces joined at bends, built once; refuses what leaves no room for a face."""
        return self._built

    @cached_property
    def _built(self) -> Sheet:
        sheet = self._sheet()
        faces = tuple(face if len(ring := without_tiny(face.outline, SAME)) == len(face.outline)
                      else replace(face, outline=ring) for face in sheet.faces)
        return replace(sheet, faces=faces)

    fields: ClassVar[Group]
    """As declared by its family."""
    blank: tuple[tuple[float, float], ...] = ()
    """The blank's outline in the root face's coordinates, where the family knows it."""

    def shell(self, facet: float) -> Mesh | None:
        """The finished part as a solid where it is not folded but rolled, ``facet`` degrees to a facet."""
        return None

    def development(self, per: float) -> dict | None:
        """What is told of a surface laid flat, lengths divided by ``per``; None of flat faces."""
        return None

    def generators(self) -> Iterable[tuple[int, Point, Point]]:
        """(angle, from, to) of straight lines of a surface, in the coordinates of its blank."""
        return ()

    def scribed(self) -> Iterable[tuple[str, Point, Point]]:
        """(what, from, to) of what is scribed on a blank without bend lines, in its coordinates."""
        return ()

    making: ClassVar[str] = ""
    """Where it is made by its card and not bent in steps: ROLLS or BLOCK."""
    centres: tuple[Point, ...] = ()
    """About them lie the true arcs of the blank's outline."""

    @property
    def all_bends(self) -> tuple["ShapeBend | Hem", ...]:
        """Every bend; families with hems add theirs."""
        return self.bends

    @cached_property
    def hems(self) -> tuple[Hem, ...]:
        """Its edges folded back."""
        return tuple(b for b in self.all_bends if isinstance(b, Hem))

    @cached_property
    def bend(self) -> dict[str, ShapeBend | Hem]:
        """Bends and hems by id."""
        return {b.id: b for b in self.all_bends}

    def place(self, name: str) -> str:
        """The field below ``shape`` to which a face or bend belongs; empty where the whole is meant."""
        return ""

    def called(self, name: str) -> str:
        """A face, bend or leg as people call it, the same on every sheet and card; what is none is left as it is."""
        return self._called(name) if name in self._ids else name

    def short(self, name: str) -> str:
        """The same where it is drawn, and its place says the rest."""
        return name

    def _called(self, name: str) -> str:
        """As its field is called."""
        found = find(self.fields, name if name in self.fields.fields else self.place(name))
        return found.name if found and found.name else name

    @cached_property
    def _ids(self) -> frozenset[str]:
        return frozenset([*(leg.id for leg in self.legs), *(b.id for b in self.all_bends), *self.sheet().face])

    def thing(self, name: str) -> str:
        """What a face or bend belongs to on the drawing, as its field declares it; empty for the whole."""
        found = find(self.fields, self.place(name))
        return found.thing if found else ""

    def at_ends(self, leg: Leg) -> tuple[ShapeBend | None, ShapeBend | None]:
        """The bends at a leg's two ends."""
        return tuple(self.bend[name] if name else None for name in leg.ends)

    def developed(self, run: Run, allowance: Callable[[ShapeBend | Hem], float] | None = None) -> float:
        """Length of a run in mm, with other allowances if asked."""
        flats = {item.id: item.flat for item in (*self.legs, *self.hems)}
        width = allowance or (lambda b: b.figures.allowance)
        return sum(flats[name] for name in run.legs) + sum(width(self.bend[name]) for name in run.bends)

    @property
    def developed_length(self) -> float:
        """The first run: a strip's length, a tray's from left to right."""
        return self.developed(self.runs[0])


def read_slot(centre: Point, width: float, long: float, angle: float, path: str) -> Hole:
    """A slot ``long`` from end to end; refuses one that is no longer than wide."""
    if long <= width:
        raise Refusal(f"{path}.length", "must be more than its width, end to end")
    return Hole(centre, width, long, angle, path=path)


def positive(value: float, path: str) -> float:
    """The value, if it is more than 0; refused at the path else."""
    if value <= 0:
        raise Refusal(path, "must be greater than 0")
    return value


@dataclass(frozen=True)
class Given:
    """What a shape is read with: the sheet's ``thickness``, mm; the part's ``inside_radius``, mm, None where every bend
    gives its own; the ``school`` of its allowance; how lengths are read; to where a size above 90° runs."""

    thickness: float
    inside_radius: float | None
    school: School
    length: ReadLength
    convention: str = APEX


def read_radius(block: dict, path: str, given: Given) -> float:
    """A bend's own inside radius, or the part's, mm."""
    radius = given.inside_radius
    if "inside_radius" in block:
        where = f"{path}.inside_radius"
        told = block["inside_radius"]
        radius = radius_of(told, lambda part: given.length(part, where), where) if is_measured(told) else (
            RADIUS.held(given.length(told, where), where))
    if radius is None:
        raise Refusal(f"{path}.inside_radius", "is missing: give it here, on the part, or name a die")
    return radius


def read_size(value: Any, path: str, length: ReadLength, dims: str) -> tuple[float, str]:
    """(mm, how it is measured) of a size that may say so itself, or be set by its mate.

    Besides a length: ``{"length", "dims"}``; ``{"around": 240, "clearance": 0.5}``, inside, so
    that a mate of 240 goes in with 0.5 at either side; ``{"into": …}``, outside, to go into it.
    """
    if not isinstance(value, dict):
        return positive(length(value, path), path), dims
    mates = [key for key in ("around", "into") if key in value]
    if len(mates) + ("length" in value) != 1:
        raise Refusal(path, "needs one of length, around and into")
    if not mates:
        return positive(length(value["length"], path), path), value.get("dims", dims)
    if "dims" in value:
        raise Refusal(f"{path}.dims", "does not belong to a fit: around is measured inside, into outside")
    way = mates[0]
    clear = length(value.get("clearance", 0), f"{path}.clearance")
    size = positive(length(value[way], f"{path}.{way}"), f"{path}.{way}") + (2 if way == "around" else -2) * clear
    return positive(size, path), INSIDE if way == "around" else OUTSIDE


def read_bend(name: str, block: dict, direction: str, path: str, given: Given, angle: float | None = None) -> ShapeBend:
    """A bend from its block; ``angle`` stands in where the block gives none."""
    swept = check_angle(read_angle(block.get("angle", angle), f"{path}.angle"), f"{path}.angle")
    radius = read_radius(block, path, given)
    figures = given.school.figures(swept, radius, given.thickness, given.convention)
    facet = FACET.held(given.length(block["facet"], f"{path}.facet"), f"{path}.facet") if "facet" in block else None
    return ShapeBend(name, direction, replace(figures, made=block.get("made", ""), facet=facet))


def read_hem(name: str, block: dict, direction: str, path: str, given: Given, on: str) -> Hem:
    """A hem from its block, folded ``direction`` onto the leg ``on``."""
    size, gap = (HEM.mm(block, key, path, given.length) for key in ("length", "gap"))
    fold = gap / 2 + given.thickness
    if size - fold <= SHORTEST_FLAT:
        raise Refusal(f"{path}.length", Said("must be more than {fold}, which the fold itself takes", fold=Mm(fold)))
    figures = hem_figures(gap, given.thickness, given.school, block.get("k"))
    return Hem(name, size, gap, direction, figures, size - fold, on)


def hem_figures(gap: float, thickness: float, school: School, k: float | None = None) -> BendFigures:
    """A fold of 180° about ``gap``: by K where it is given or the hem is closed, else by the school."""
    radius = gap / 2
    if k is not None or gap == 0:
        width = allowance_from_k(180, radius, thickness, CLOSED_HEM_K if k is None else k)
    else:
        width = school.figures(180, radius, thickness, "tangent").allowance
    return BendFigures(180, radius, thickness, width, "tangent")


def loss(end: ShapeBend | Hem | None, dims: str) -> float:
    """What a leg's size as given loses at one end, down to its flat."""
    if end is None or dims == FLAT:
        return 0.0
    if isinstance(end, Hem):
        return end.figures.outside_setback
    return end.figures.outside_setback if dims == OUTSIDE else end.figures.inside_setback


def make_leg(name: str, size: float, dims: str, ends: tuple[ShapeBend | Hem | None, ShapeBend | Hem | None],
             path: str) -> Leg:
    """A leg between two ends; refuses one that its bends use up."""
    losses = (loss(ends[0], dims), loss(ends[1], dims))
    flat = size - sum(losses)
    if flat <= SHORTEST_FLAT:
        raise Refusal(path, Said("must be more than {taken}, which its bends take ({size} given)",
                                 taken=Mm(sum(losses)),
                                 size=Mm(size)))
    names = tuple(end.id if isinstance(end, ShapeBend) else None for end in ends)
    return Leg(name, size, dims, flat, losses, flat + sum(loss(end, OUTSIDE) for end in ends), names)


def rectangle(length: float, width: float) -> tuple[tuple[float, float], ...]:
    """A face's outline from its lower-left corner at the origin."""
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))


def joint_across(bend: "ShapeBend | Hem", parent: str, child: str, at: float, span: tuple[float, float]) -> Bend:
    """A bend across a face whose x runs up it: ``at`` up the parent, along the ``span`` of both's y."""
    low, high = span
    return Bend(bend.id, parent, child, ((at, low), (at, high)), ((0.0, low), (0.0, high)), bend.direction,
                bend.figures)


def turn_at(outline: Sequence[Point], corner: int) -> float:
    """Degrees an outline turns at a corner, to the left positive."""
    before, here, after = (outline[(corner + step) % len(outline)] for step in (-1, 0, 1))
    turn = math.atan2(after[1] - here[1], after[0] - here[0]) - math.atan2(here[1] - before[1], here[0] - before[0])
    return math.degrees((turn + math.pi) % (2 * math.pi) - math.pi)


def read_points(points: list, path: str, length: ReadLength) -> list[tuple[float, float]]:
    """Pairs of lengths, mm; refusals name the one of the pair."""
    return [(length(x, f"{path}[{i}][0]"), length(y, f"{path}[{i}][1]")) for i, (x, y) in enumerate(points)]


def check_ring(points: list[tuple[float, float]], path: str) -> Polygon:
    """The ring as a polygon; refuses one that crosses itself or holds no area."""
    (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*points, strict=True))
    ring = Polygon(points)
    if ring.area < 1e-6 * max(1.0, x1 - x0, y1 - y0):
        raise Refusal(path, "has no area: its corners lie in one line")
    if not ring.is_valid:
        raise Refusal(path, "must not cross or touch itself")
    return ring


def read_outline(points: list, length: ReadLength) -> tuple[tuple[Point, ...], dict[int, tuple[int, bool]]]:
    """Corners counter-clockwise in mm, and where each edge as numbered (from 1) lies among
    them, with whether they were given clockwise; refuses an outline that crosses itself."""
    found = read_points(points, "outline", length)
    for i, (a, b) in enumerate(zip(found, [*found[1:], found[0]], strict=True)):
        if math.dist(a, b) < 1e-3:
            raise Refusal(f"outline[{i}]", "lies on the next corner")
    shape, n = check_ring(found, "outline"), len(found)
    if shape.exterior.is_ccw:
        return tuple(found), {i + 1: (i, False) for i in range(n)}
    return tuple(found[::-1]), {i + 1: ((n - 2 - i) % n, True) for i in range(n)}

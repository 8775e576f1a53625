"""What families read alike: bends, hems, legs with what their ends take from a size, outlines."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from shapely import Polygon

from ..bending.bend import APEX, BendFigures, allowance_from_k, check_angle
from ..errors import Refusal
from ..fields import ReadLength
from ..measured import is_measured, radius_of
from ..said import Mm, Said
from ..schools.school import CLOSED_HEM_K, School
from ..sheet.model import Bend, Hole, Point
from ..units import read_angle
from .declared import HEM, LARGE, RADIUS
from .legs import FLAT, INSIDE, OUTSIDE, Hem, Leg, ShapeBend

FACET = LARGE["facet"]
SHORTEST_FLAT = 1e-6


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


def joint_across(bend: ShapeBend | Hem, parent: str, child: str, at: float, span: tuple[float, float]) -> Bend:
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


def swapped(shape: dict, one: str, other: str) -> dict:
    """A file's ``shape`` with what stands at either end in the other's place."""
    ends = {one: shape.pop(other, None), other: shape.pop(one, None)}
    return shape | {key: block for key, block in ends.items() if block}

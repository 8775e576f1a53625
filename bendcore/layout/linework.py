"""The linework of a flat: all that is cut, bent, marked and written on it, whoever draws it.

Every file that leaves (DXF and SVG of a part, a sheet of a cutting plan) draws this, so that none leaves anything out.
Lengths in mm from the blank's lower-left corner; bulges as DXF has them: the tangent of a quarter of the sweep of what
follows a corner, to the left positive.
"""

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from ..part import Part
from ..sheet.model import DOWN, UP, Hole, Point
from .arcs import with_bulges
from .scribed import scribed

CUT, BEND_UP, BEND_DOWN, TANGENT, MARK, TEXT = "CUT", "BEND_UP", "BEND_DOWN", "TANGENT", "MARK", "TEXT"
LAYERS = {CUT: 7, BEND_UP: 5, BEND_DOWN: 1, TANGENT: 8, MARK: 3, TEXT: 2}
"""Layers with their colours, as DXF numbers them."""
STEP = math.radians(7.5)
"""A ring's chords sweep no more of an arc than this."""
TURNED = {BEND_UP: BEND_DOWN, BEND_DOWN: BEND_UP}
Move = Callable[[Point], Point]
"""A place moved and turned, or mirrored where that is said."""


@dataclass(frozen=True)
class Contour:
    """A closed cut: ``corners`` (x, y, bulge), or a circle of ``diameter`` about ``centre``.

    >>> len(Contour(centre=(0.0, 0.0), diameter=8.0).ring), Contour(((0, 0, 0), (2, 0, 0), (0, 2, 0))).ring[:2]
    (48, [(0, 0), (2, 0)])
    """

    corners: tuple[tuple[float, float, float], ...] = ()
    centre: Point = (0.0, 0.0)
    diameter: float = 0.0

    @property
    def is_circle(self) -> bool:
        """Whether it has no corners."""
        return not self.corners

    def moved(self, move: Move) -> "Contour":
        """The same elsewhere."""
        return replace(self, corners=tuple((*move((x, y)), bulge) for x, y, bulge in self.corners),
                       centre=move(self.centre))

    def mirrored(self, mirror: Move) -> "Contour":
        """The same in a mirror, still counter-clockwise where it was."""
        back = [(*mirror((x, y)), bulge) for (x, y, _), (_, _, bulge) in
                zip(self.corners, (self.corners[-1:] + self.corners[:-1]), strict=True)]
        return replace(self, corners=tuple(back[::-1]), centre=mirror(self.centre))

    @property
    def ring(self) -> list[Point]:
        """Points on it, arcs in chords of :data:`STEP` at most."""
        if self.is_circle:
            (x, y), r, n = self.centre, self.diameter / 2, round(2 * math.pi / STEP)
            return [(x + r * math.cos(2 * math.pi * i / n), y + r * math.sin(2 * math.pi * i / n)) for i in range(n)]
        found: list[Point] = []
        for start, end in zip(self.corners, (*self.corners[1:], self.corners[0]), strict=True):
            found += _chords(start[:2], end[:2], start[2])
        return found


@dataclass(frozen=True)
class Stroke:
    """A line on a ``layer``; ``label`` is written along it."""

    layer: str
    start: Point
    end: Point
    label: str = ""

    def moved(self, move: Move) -> "Stroke":
        """The same elsewhere."""
        return replace(self, start=move(self.start), end=move(self.end))

    def mirrored(self, mirror: Move) -> "Stroke":
        """The same in a mirror, a bend up now a bend down, its label told so."""
        layer = TURNED.get(self.layer, self.layer)
        label = self.label
        if layer != self.layer:
            name, way, rest = label.split(" ", 2)
            label = f"{name} {DOWN if way == UP else UP} {rest}"
        return Stroke(layer, mirror(self.start), mirror(self.end), label)

    def beside(self, size: float) -> tuple[Point, float]:
        """(where, degrees) its label stands: at its middle, along it, ``size`` / 2 to its left."""
        (x0, y0), (x1, y1) = self.start, self.end
        turn = math.atan2(y1 - y0, x1 - x0)
        middle = (x0 + x1) / 2, (y0 + y1) / 2
        return (middle[0] - math.sin(turn) * size / 2, middle[1] + math.cos(turn) * size / 2), math.degrees(turn)


@dataclass(frozen=True)
class Linework:
    """``contours``, the outline first and then what is cut out of it; ``strokes``; ``size`` of its letters, mm."""

    contours: tuple[Contour, ...]
    strokes: tuple[Stroke, ...]
    size: float

    def moved(self, move: Move) -> "Linework":
        """The same elsewhere."""
        return replace(self, contours=tuple(c.moved(move) for c in self.contours),
                       strokes=tuple(s.moved(move) for s in self.strokes))

    def turned_over(self, length: float) -> "Linework":
        """As the blank, ``length`` long, looks from beneath, turned over about the middle of its length: what bends up
        seen from above bends down seen so."""
        def move(point: Point) -> Point:
            return length - point[0], point[1]

        return replace(self, contours=tuple(c.mirrored(move) for c in self.contours),
                       strokes=tuple(s.mirrored(move) for s in self.strokes))

    def as_data(self) -> dict[str, Any]:
        """For records, as JSON has it; :func:`read_linework` reads it."""
        return {"contours": [[list(map(_fine, corner)) for corner in c.corners] if c.corners else
                             {"centre": list(map(_fine, c.centre)), "diameter": _fine(c.diameter)}
                             for c in self.contours],
                "strokes": [[s.layer, *map(_fine, (*s.start, *s.end)), s.label] for s in self.strokes],
                "size": _fine(self.size)}


def read_linework(data: dict[str, Any]) -> Linework:
    """What :meth:`Linework.as_data` wrote."""
    contours = [Contour(centre=tuple(c["centre"]), diameter=c["diameter"]) if isinstance(c, dict) else
                Contour(tuple(map(tuple, c))) for c in data["contours"]]
    strokes = [Stroke(layer, (x0, y0), (x1, y1), label) for layer, x0, y0, x1, y1, label in data["strokes"]]
    return Linework(tuple(contours), tuple(strokes), data["size"])


def linework(part: Part) -> Linework:
    """Of a part's flat: its outline with true arcs, holes, slots and openings; bend lines with their labels, tangents
    and whatever is scribed."""
    flat = part.flat
    centres = [(x + flat.shift[0], y + flat.shift[1]) for x, y in part.shape.centres]
    outline = Contour(tuple(with_bulges(flat.outline, centres)))
    size = max(flat.size[1] / 60, 2.5 if part.units == "mm" else 0.1 * part.per_unit)
    return Linework((outline, *map(_cut_out, flat.holes)), tuple(_strokes(part)), size)


def _strokes(part: Part) -> Iterator[Stroke]:
    for _, *ends in scribed(part):
        yield Stroke(MARK, *ends)
    for flat in part.flat.bends:
        bend = flat.bend
        label = (f"{bend.id} {bend.direction} {bend.angle:.10g} "
                 f"R{bend.figures.inside_radius / part.per_unit:.6g}")
        yield Stroke(BEND_UP if bend.direction == "up" else BEND_DOWN, *flat.line, label)
        for tangent in flat.tangents:
            yield Stroke(TANGENT, *tangent)


def _cut_out(hole: Hole) -> Contour:
    if hole.ring:
        return Contour(tuple((x, y, 0.0) for x, y in hole.outline()))
    if not hole.is_slot:
        return Contour(centre=hole.centre, diameter=hole.diameter)
    (ax, ay), (bx, by) = hole.ends
    turn, r = math.radians(hole.angle), hole.diameter / 2
    nx, ny = -math.sin(turn) * r, math.cos(turn) * r
    return Contour(((bx - nx, by - ny, 1.0), (bx + nx, by + ny, 0.0), (ax + nx, ay + ny, 1.0), (ax - nx, ay - ny, 0.0)))


def _chords(start: Point, end: Point, bulge: float) -> Iterable[Point]:
    """Points from ``start`` up to, not with, ``end``."""
    if not bulge:
        return [start]
    sweep = 4 * math.atan(bulge)
    n = max(1, math.ceil(abs(sweep) / STEP))
    (x0, y0), (x1, y1) = start, end
    off = (1 - bulge ** 2) / (4 * bulge)  # the centre stands so many chords to the left of the chord's middle
    cx, cy = (x0 + x1) / 2 - (y1 - y0) * off, (y0 + y1) / 2 + (x1 - x0) * off
    found = []
    for i in range(n):
        c, s = math.cos(sweep * i / n), math.sin(sweep * i / n)
        found.append((cx + (x0 - cx) * c - (y0 - cy) * s, cy + (x0 - cx) * s + (y0 - cy) * c))
    return found


def _fine(value: float) -> float:
    """To a millionth of a millimetre: records need no more."""
    return round(value, 6)

"""Flat faces joined at bends, as an immutable tree.

Each :class:`Face` is drawn in plane coordinates of its own, seen from the sheet's
top, outline counter-clockwise, reaching from tangent line to tangent line. Each
:class:`Bend` joins an edge of a parent face to an edge of a child face. How wide
the bend is in the flat and how it turns in space are worked out by
:mod:`~bendcore.sheet.unfold` and :mod:`~bendcore.sheet.fold`; nothing here knows
which family of part the faces came from.
"""

import math
from dataclasses import dataclass, field
from functools import cached_property

from ..bending.bend import BendFigures

Point = tuple[float, float]
Edge = tuple[Point, Point]
UP, DOWN = "up", "down"


def _signed_area(ring) -> float:
    """By the shoelace formula; counter-clockwise is positive."""
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(ring, (*ring[1:], ring[0]), strict=True)) / 2


@dataclass(frozen=True)
class Hole:
    """A round hole, or with a ``length`` a slot with round ends lying at ``angle``, in the
    coordinates of its face; ``diameter`` is a slot's width, ``length`` end to end. With a
    ``ring`` an opening of any form, its corners about ``centre`` before it is turned by ``angle``."""

    centre: Point
    diameter: float
    length: float = 0.0
    angle: float = 0.0
    ring: tuple[Point, ...] = ()
    room: float = 0.0
    """Diameter that must stay free about it, a collar's rim, where that is more than the hole."""
    path: str = field(default="", compare=False)
    """The field of the part that it comes from, below ``shape``."""
    is_across: bool = False
    """Whether it lies across a bend of its face."""

    @classmethod
    def opening(cls, corners: "list[Point]", path: str = "") -> "Hole":
        """An opening by its corners; ``centre`` is the middle of their box, ``diameter`` its larger side."""
        (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*corners, strict=True))
        centre = ((x0 + x1) / 2, (y0 + y1) / 2)
        turned = corners if _signed_area(corners) > 0 else corners[::-1]
        return cls(centre, max(x1 - x0, y1 - y0), ring=tuple((x - centre[0], y - centre[1]) for x, y in turned),
                   path=path)

    @property
    def is_slot(self) -> bool:
        """Whether it is longer than wide."""
        return self.length > self.diameter

    @property
    def area(self) -> float:
        """mm²."""
        if self.ring:
            return _signed_area(self.ring)
        straight = self.length - self.diameter if self.is_slot else 0.0
        return math.pi * self.diameter ** 2 / 4 + straight * self.diameter

    @property
    def ends(self) -> tuple[Point, Point]:
        """Centres of a slot's round ends; twice the centre of a hole."""
        half = (self.length - self.diameter) / 2 if self.is_slot else 0.0
        dx, dy = half * math.cos(math.radians(self.angle)), half * math.sin(math.radians(self.angle))
        (x, y) = self.centre
        return (x - dx, y - dy), (x + dx, y + dy)

    def outline(self, steps: int = 24) -> list[Point]:
        """Points round it, counter-clockwise, ``steps`` to each half."""
        if self.ring:
            cos, sin, (cx, cy) = math.cos(math.radians(self.angle)), math.sin(math.radians(self.angle)), self.centre
            return [(cx + x * cos - y * sin, cy + x * sin + y * cos) for x, y in self.ring]
        found, start = [], math.radians(self.angle) + math.pi / 2
        for (x, y), turn in zip(self.ends, (0.0, math.pi), strict=True):
            for i in range(steps + self.is_slot):  # a round hole's halves share their ends
                a = start + turn + math.pi * i / steps
                found.append((x + self.diameter / 2 * math.cos(a), y + self.diameter / 2 * math.sin(a)))
        return found


@dataclass(frozen=True)
class Face:
    """``outline`` runs counter-clockwise; the closing edge is implied."""

    id: str
    outline: tuple[Point, ...]
    holes: tuple[Hole, ...] = ()
    notches: tuple[tuple[Point, ...], ...] = ()
    """What openings across its bends take of it, rings that reach to a tangent line; the ``outline`` is whole."""


@dataclass(frozen=True)
class Bend:
    """``parent_edge`` runs counter-clockwise round the parent, so the child lies to
    its right; ``child_edge`` is the same line in the child's coordinates, its ends
    in the same order, farther out where the zone tapers. ``angle`` 180 is a hem."""

    id: str
    parent: str
    child: str
    parent_edge: Edge
    child_edge: Edge
    direction: str
    figures: BendFigures
    taper: tuple[float, float] = (0.0, 0.0)
    """How far the child's edge begins and ends beyond the parent's, along the line, mm."""
    openings: tuple[tuple[Point, ...], ...] = ()
    """What openings that lie across it take of its zone: rings of (along from its first end, across from the parent's
    tangent line), mm."""

    @property
    def angle(self) -> float:
        """Bent from flat, degrees."""
        return self.figures.angle

    @property
    def sign(self) -> int:
        """1 up, −1 down."""
        return 1 if self.direction == UP else -1

    @property
    def is_hem(self) -> bool:
        """Whether it is a fold of 180°."""
        return self.angle >= 180

    def edge_in(self, face: str) -> Edge:
        """Its tangent line in one of the two faces beside it, in that face's coordinates."""
        return self.child_edge if self.child == face else self.parent_edge


@dataclass(frozen=True)
class Sheet:
    """A tree of faces from ``root``. Bends are listed so that each parent is
    reached before its children."""

    thickness: float
    root: str
    faces: tuple[Face, ...]
    bends: tuple[Bend, ...]

    def __post_init__(self):
        reached = {self.root}
        for bend in self.bends:
            if bend.parent not in reached or bend.child in reached:
                raise ValueError(f"bend {bend.id} does not continue the tree of faces")
            reached.add(bend.child)
        if reached != {face.id for face in self.faces}:
            raise ValueError("some faces are not joined to the root")

    @cached_property
    def face(self) -> dict[str, Face]:
        """Faces by id."""
        return {face.id: face for face in self.faces}

    @cached_property
    def face_area(self) -> float:
        """Area of the flat faces of one side, holes not taken off, mm²."""
        return sum(abs(_signed_area(f.outline)) for f in self.faces)

    @cached_property
    def bend(self) -> dict[str, Bend]:
        """Bends by id."""
        return {bend.id: bend for bend in self.bends}

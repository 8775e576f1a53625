"""Sheet → flat pattern: every face laid in one plane, bend zones between them."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

from shapely import GEOSException, Polygon, make_valid, union_all

from .model import Bend, Edge, Hole, Point, Sheet
from .rings import polygons, without_tiny

LAP = 1e-5
"""Zones are joined to their faces with so much lap, mm: two edges computed apart never quite meet."""


@dataclass(frozen=True)
class Placement:
    """A turn by (``cos``, ``sin``) and a shift, from a face's plane to the blank's."""

    cos: float = 1.0
    sin: float = 0.0
    dx: float = 0.0
    dy: float = 0.0

    @property
    def turn(self) -> float:
        """Degrees counter-clockwise."""
        return math.degrees(math.atan2(self.sin, self.cos))

    def __call__(self, point: Point) -> Point:
        """The point of the face as it lies in the blank."""
        x, y = point
        return (x * self.cos - y * self.sin + self.dx, x * self.sin + y * self.cos + self.dy)


@dataclass(frozen=True)
class FlatBend:
    """A bend in the flat: its centre line and its two tangent lines, the parent's first."""

    bend: Bend
    line: Edge
    tangents: tuple[Edge, Edge]

    @property
    def at(self) -> tuple[str, float] | None:
        """Where a line square to the blank's edges lies: (``"x"`` or ``"y"``, mm from the datum)."""
        (x0, y0), (x1, y1) = self.line
        if abs(x0 - x1) < 1e-6:
            return "x", x0
        return ("y", y0) if abs(y0 - y1) < 1e-6 else None


@dataclass(frozen=True)
class FlatPattern:
    """The blank, its lower-left corner at the origin."""

    outline: tuple[Point, ...]
    holes: tuple[Hole, ...]
    faces: dict[str, tuple[Point, ...]]
    bends: tuple[FlatBend, ...]
    thickness: float
    shift: Point = (0.0, 0.0)
    """From the root face's own coordinates to the blank's."""

    @cached_property
    def size(self) -> tuple[float, float]:
        """(length, width) of the blank, mm."""
        return (max(x for x, _ in self.outline), max(y for _, y in self.outline))

    @cached_property
    def line(self) -> dict[str, Edge]:
        """The centre line of each bend by its id, mm."""
        return {flat.bend.id: flat.line for flat in self.bends}

    @cached_property
    def blank(self) -> Polygon:
        """The outline as a polygon, its holes not cut out."""
        return Polygon(self.outline)

    @cached_property
    def area(self) -> float:
        """Without its holes, mm²."""
        return self.blank.area - sum(hole.area for hole in self.holes)

    def mass_kg(self, density_kg_m3: float) -> float:
        """Mass by the metal's density, kg."""
        return self.area * self.thickness * density_kg_m3 * 1e-9


def outward(edge: Edge) -> Point:
    """Unit vector to the right of a directed edge."""
    (x0, y0), (x1, y1) = edge
    length = math.hypot(x1 - x0, y1 - y0)
    return ((y1 - y0) / length, -(x1 - x0) / length)


def _across(near: Edge, width: float, taper: tuple[float, float]) -> Edge:
    """The far side of a zone ``width`` wide, its ends moved along the line by ``taper``."""
    (ox, oy), ((x0, y0), (x1, y1)), (first, last) = outward(near), near, taper
    return (x0 + ox * width - oy * first, y0 + oy * width + ox * first), (
        x1 + ox * width - oy * last, y1 + oy * width + ox * last)


def _joined(faces, zones) -> Polygon:
    """Faces and zones as one blank."""
    pieces = polygons([*faces.values(), *(_strip(*zone) for zone in zones)])
    try:
        whole = union_all(pieces)
    except GEOSException:  # a face so narrow that its zones run past each other: its checks say what is wrong with it
        whole = union_all(make_valid(pieces))
    whole = whole.simplify(LAP / 10)
    return max(getattr(whole, "geoms", [whole]), key=lambda piece: piece.area)


def _strip(bend: Bend, near: Edge, far: Edge) -> list[Point]:
    """A zone with its laps, which go on along its slanted sides."""
    wide = bend.figures.allowance
    slope = [by / wide * LAP if wide else 0.0 for by in bend.taper]  # a sharp hem with K 0 has no zone
    return [*_across(near, -LAP, (-slope[0], -slope[1])), *reversed(_across(far, LAP, slope))]


def _midway(one: Edge, other: Edge) -> Edge:
    return tuple(((x0 + x1) / 2, (y0 + y1) / 2) for (x0, y0), (x1, y1) in zip(one, other, strict=True))


def _lay(child_edge: Edge, onto: Edge) -> Placement:
    """The placement that brings ``child_edge`` onto ``onto``."""
    (cx, cy), (nx, ny) = outward(child_edge), outward(onto)
    cos, sin = cx * nx + cy * ny, cx * ny - cy * nx
    (x, y), (tx, ty) = child_edge[0], onto[0]
    return Placement(cos, sin, tx - (x * cos - y * sin), ty - (x * sin + y * cos))


def unfold(sheet: Sheet, outline: tuple[Point, ...] = ()) -> FlatPattern:
    """Lay the sheet flat. Each child lies one bend allowance from its parent. ``outline`` is the blank's,
    in the root's coordinates, where it is known already; else faces and zones are joined."""
    placed = {sheet.root: Placement()}
    zones: list[tuple[Bend, Edge, Edge]] = []
    for bend in sheet.bends:
        near = tuple(placed[bend.parent](p) for p in bend.parent_edge)
        far = _across(near, bend.figures.allowance, bend.taper)
        placed[bend.child] = _lay(bend.child_edge, far)
        zones.append((bend, near, far))

    faces = {f.id: tuple(placed[f.id](p) for p in f.outline) for f in sheet.faces}
    whole = Polygon(outline) if outline else _joined(faces, zones)
    left, bottom = whole.bounds[:2]

    def move(points):
        return tuple((x - left, y - bottom) for x, y in points)

    bends = [FlatBend(bend, _upwards(move(_midway(near, far))), (_upwards(move(near)), _upwards(move(far))))
             for bend, near, far in zones]
    holes = tuple(replace(h, centre=move([placed[f.id](h.centre)])[0], angle=h.angle + placed[f.id].turn)
                  for f in sheet.faces for h in f.holes)
    return FlatPattern(
        outline=without_tiny(move(whole.exterior.coords[:-1])), holes=holes,
        faces={name: move(points) for name, points in faces.items()},
        bends=tuple(sorted(bends, key=lambda b: (b.line[0][0], b.line[0][1]))),
        thickness=sheet.thickness, shift=(-left, -bottom),
    )


def _upwards(edge: Edge) -> Edge:
    return edge if (edge[0][1], edge[0][0]) <= (edge[1][1], edge[1][0]) else edge[::-1]

"""Openings that lie across a bend: what they take of the faces beside it and of its zone.

The blank is cut flat, so such an opening is one ring there. Folded, its middle follows the bend: each face has a notch
at the tangent line, the zone a piece cut out.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely import Polygon, box
from shapely.affinity import affine_transform
from shapely.ops import unary_union

from .model import Bend, Edge, Face, Hole, Point, Sheet
from .rings import TINY

BEYOND = 1e5
"""Far past any face, mm."""


@dataclass(frozen=True)
class ZoneAxes:
    """At a bend: u along its tangent lines from their first end, v across from the parent's; of the parent or the
    child, whose coordinates ``to`` and ``back`` take to these and from them."""

    to: tuple[float, ...]
    back: tuple[float, ...]

    @classmethod
    def of(cls, edge: Edge, ahead: float) -> "ZoneAxes":
        """By a tangent line in the coordinates of its face; v there is ``ahead``."""
        (x, y), (x1, y1) = edge
        long = ((x1 - x) ** 2 + (y1 - y) ** 2) ** 0.5
        ux, uy = (x1 - x) / long, (y1 - y) / long
        vx, vy = uy, -ux  # to the right, where the child lies
        return cls((ux, uy, vx, vy, -(ux * x + uy * y), -(vx * x + vy * y) + ahead),
                   (ux, vx, uy, vy, x - vx * ahead, y - vy * ahead))


def with_openings_across(sheet: Sheet) -> Sheet:
    """The sheet with every hole that leaves its face over one of its bends, and lies within both faces and the zone
    else, told as such. What leaves its face otherwise stays as it is, to be refused."""
    faces, bends = {face.id: face for face in sheet.faces}, {bend.id: bend for bend in sheet.bends}
    for face in sheet.faces:
        if not face.holes:
            continue
        inner = Polygon(face.outline).buffer(-TINY, join_style="mitre")
        for n, hole in enumerate(face.holes):
            ring = Polygon(hole.outline())
            if inner.covers(ring):
                continue
            for bend in sheet.bends:
                if face.id in (bend.parent, bend.child) and (cut := _cut(sheet, face, bend, ring)):
                    _note(faces, bends, face.id, n, hole, bend, cut)
                    break
    return replace(sheet, faces=tuple(faces.values()), bends=tuple(bends.values()))


Cut = tuple[list[tuple[Point, ...]], list[tuple[Point, ...]], list[tuple[Point, ...]]]
"""What an opening takes of (the parent, the child, the zone), rings in the coordinates of each."""


def _cut(sheet: Sheet, face: Face, bend: Bend, ring: Polygon) -> Cut | None:
    """What a ring on a face takes at a bend; None where it does not lie across this one alone."""
    wide, long = bend.figures.allowance, ((bend.parent_edge[1][0] - bend.parent_edge[0][0]) ** 2
                                          + (bend.parent_edge[1][1] - bend.parent_edge[0][1]) ** 2) ** 0.5
    parent, child = ZoneAxes.of(bend.parent_edge, 0.0), ZoneAxes.of(bend.child_edge, wide)
    opening = affine_transform(ring, (parent if face.id == bend.parent else child).to)
    zone = box(0.0, 0.0, long, wide)
    sides = [affine_transform(Polygon(sheet.face[name].outline), axes.to) for name, axes in (
        (bend.parent, parent), (bend.child, child))]
    below, above = box(-BEYOND, -BEYOND, BEYOND, 0.0), box(-BEYOND, wide, BEYOND, BEYOND)
    metal = unary_union([sides[0] & below, sides[1] & above, zone]).buffer(1e-7).buffer(-1e-7 - TINY)
    in_zone = opening & zone
    if in_zone.area < 1e-9 or not metal.covers(opening):
        return None
    return (_rings(opening & below, parent.back), _rings(opening & above, child.back), _rings(in_zone))


def _rings(shape, back: Sequence[float] = ()) -> list[tuple[Point, ...]]:
    """The outer rings of what has an area, counter-clockwise."""
    pieces = [piece for piece in getattr(shape, "geoms", [shape]) if piece.geom_type == "Polygon" and piece.area > 1e-9]
    moved = [affine_transform(piece, back) if back else piece for piece in pieces]
    return [tuple((piece if piece.exterior.is_ccw else piece.reverse()).exterior.coords[:-1]) for piece in moved]


def _note(faces: dict[str, Face], bends: dict[str, Bend], on: str, n: int, hole: Hole, bend: Bend, cut: Cut) -> None:
    """Keep what an opening takes with the faces and the bend."""
    own = faces[on]
    faces[on] = replace(own, holes=(*own.holes[:n], replace(hole, is_across=True), *own.holes[n + 1:]))
    for name, rings in ((bend.parent, cut[0]), (bend.child, cut[1])):
        faces[name] = replace(faces[name], notches=(*faces[name].notches, *rings))
    bends[bend.id] = replace(bends[bend.id], openings=(*bends[bend.id].openings, *cut[2]))

"""What is left of a face when strips and reliefs are cut from it."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from shapely import Point as At
from shapely import Polygon, union_all

from ..bending.bend import BendFigures
from ..errors import Refusal
from ..said import Mm, Said
from ..sheet.model import Point
from ..sheet.rings import polygons, without_tiny
from .common import Given

EARS = 0.1
"""What falls off beside reliefs is no more than this share of the face."""
SLIVER = 1e-6
"""What is narrower than this between cuts is no metal, mm."""
PAST = 0.1
"""What is cut away at an edge is cut so far past it, mm."""


@dataclass(frozen=True)
class EdgeAxes:
    """At an edge of an outline: its first corner, its direction, and the direction into the face."""

    corner: Point
    along: Point
    inward: Point

    @classmethod
    def of(cls, outline: Sequence[Point], edge: int) -> "EdgeAxes":
        """Those of the edge from this corner, counted from 0, of an outline that runs counter-clockwise."""
        a, b = outline[edge], outline[(edge + 1) % len(outline)]
        long = math.dist(a, b)
        along = ((b[0] - a[0]) / long, (b[1] - a[1]) / long)
        return cls(a, along, (-along[1], along[0]))

    def at(self, u: float, v: float) -> Point:
        """The point u along the edge and v within it."""
        (x, y), along, inward = self.corner, self.along, self.inward
        return (x + along[0] * u + inward[0] * v, y + along[1] * u + inward[1] * v)

    def strip(self, low: float, high: float, deep: float) -> list[Point]:
        """What is cut away along it from ``low`` to ``high``, so ``deep`` and a little past the edge."""
        return [self.at(u, v) for u, v in ((low, -PAST), (high, -PAST), (high, deep), (low, deep))]


def relief_depth(figures: BendFigures) -> float:
    """From the edge past the tangent line by r + t/2, mm."""
    return figures.outside_setback + figures.inside_radius + figures.thickness / 2


def read_relief(shape: dict, given: Given) -> float:
    """How wide the file's ``shape`` wants its reliefs, mm: the sheet's thickness and at least 1 mm where it does not
    say; refuses a narrower one than that thickness."""
    thickness = given.thickness
    relief = given.length(shape["relief"], "relief") if "relief" in shape else max(thickness, 1.0)
    if relief < thickness - 1e-9:
        raise Refusal("relief", Said("must be at least as wide as the sheet is thick ({thick})", thick=Mm(thickness)))
    return relief


def cut_from(outline: Sequence[Point], away: Sequence[Sequence[Point]], feet: Iterable[Point], path: str,
             called: str) -> tuple[Point, ...]:
    """The outline less what is cut ``away``, counter-clockwise; refuses at the ``path`` where it comes apart, or where
    one of the ``feet``, that something hangs on, is cut off with it. Ears between a relief and a corner fall off."""
    body = Polygon(outline) - union_all(polygons(away))
    for size in (-SLIVER, SLIVER):
        body = body.buffer(size, join_style="mitre", mitre_limit=100)
    body = body.simplify(SLIVER)
    pieces = sorted(getattr(body, "geoms", [body]), key=lambda piece: piece.area)
    ears = sum(piece.area for piece in pieces[:-1])
    body = pieces[-1] if pieces else body
    if ears > EARS * body.area:
        raise Refusal(path, f"and their reliefs cut {called} into {len(pieces)} pieces: make it larger, or leave more "
                            "free at the corners")
    if body.is_empty or body.interiors or any(body.distance(At(p)) > 1e-3 for p in feet):
        raise Refusal(path, f"leave nothing of {called} between them, or cut it in two: make it larger")
    ring = without_tiny(body.exterior.coords[:-1])
    return tuple(ring if body.exterior.is_ccw else ring[::-1])

"""What is left of a face when strips and reliefs are cut from it."""

from collections.abc import Iterable, Sequence

from shapely import Point as At
from shapely import Polygon, union_all

from ..errors import Refusal
from ..sheet.model import Point
from ..sheet.rings import polygons, without_tiny

EARS = 0.1
"""What falls off beside reliefs is no more than this share of the face."""
SLIVER = 1e-6
"""What is narrower than this between cuts is no metal, mm."""


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

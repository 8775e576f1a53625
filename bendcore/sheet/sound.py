"""Is a sheet one piece that can be cut out? What no cutter could cut is refused, at its field.

* Every face is a ring that does not cross itself.
* Holes lie within their face, clear of each other and of what must stay free about them.
* Faces and zones join along their tangent lines and nowhere else. Two pieces that touched
  would be one piece, and a tangent line that lies on no face would hang on nothing. Neither can
  be when area and perimeter of the blank are those of its pieces, less twice the tangent lines;
  only where they are not is looked for the place.
"""

import math
from collections.abc import Callable

import numpy as np
import shapely
from shapely import LineString, Polygon, STRtree

from ..errors import Refusal
from ..said import Mm, Said
from .clash import ZONE, flat_overlaps
from .model import Sheet
from .rings import TINY, polygons
from .unfold import FlatPattern

SLIT = 0.05
"""What is nearer than this is cut as one, mm."""
BARE = 0.05
"""So much of a tangent line may lie off its face, mm."""
MOST_POINTS = 20_000
"""Corners of all faces and holes of one part."""


def refuse_unsound(sheet: Sheet, flat: Callable[[], FlatPattern], whole: bool, place: Callable[[str], str]) -> None:
    """Refuse a sheet that is not one piece.

    ``flat`` gives its flat pattern; ``whole`` says that the blank was given and not joined of its pieces;
    ``place`` gives the field of a face or bend by its id. What lies on each other in the blank is left to
    :mod:`bendcore.checks`, so that it can be seen and changed.
    """
    rings = [face.outline for face in sheet.faces]
    count = sum(map(len, rings)) + sum(len(h.ring) or 2 for face in sheet.faces for h in face.holes)
    if count > MOST_POINTS:
        raise Refusal("", f"has {count} corners; at most {MOST_POINTS} are taken")
    faces = polygons(rings)
    for face, valid in zip(sheet.faces, shapely.is_valid(faces), strict=True):
        if not valid:
            raise Refusal(place(face.id), f"makes an outline of {face.id} that crosses or touches itself")
    for face, ring in zip(sheet.faces, faces, strict=True):
        if face.holes:
            _holes(face, ring)
    if not whole:
        _one_piece(sheet, faces, flat(), place)


def _holes(face, ring) -> None:
    shapes = polygons([_kept_free(hole) for hole in face.holes])
    inside = shapely.covered_by(shapes, ring.buffer(-TINY, join_style="mitre"))
    for hole, fits in zip(face.holes, inside, strict=True):
        if not fits and not hole.is_across:
            raise Refusal(hole.path, f"leaves the flat of {face.id}: it must not run into a bend or off the edge")
    for one, other in zip(*STRtree(shapes).query(shapes, predicate="dwithin", distance=SLIT), strict=True):
        if one > other:
            first = face.holes[other].path
            raise Refusal(face.holes[one].path, "lies on another of its row, or touches it: make them smaller or fewer"
                          if first == face.holes[one].path else f"lies on {first}, or touches it")


def _kept_free(hole):
    if hole.room > hole.diameter:
        return shapely.Point(hole.centre).buffer(hole.room / 2).exterior.coords
    return hole.outline()


def _one_piece(sheet, faces, flat, place) -> None:
    tangents = np.array([b.tangents for b in flat.bends]).reshape(-1, 2, 2, 2)
    zones = shapely.convex_hull(shapely.multipoints(tangents.reshape(-1, 4, 2))) if len(tangents) else []
    long = float(np.linalg.norm(tangents[:, :, 1] - tangents[:, :, 0], axis=-1).sum())
    blank = flat.blank
    area = float(shapely.area(faces).sum() + shapely.area(zones).sum())
    edge = float(shapely.length(faces).sum() + shapely.length(zones).sum()) - 2 * long
    loose = 4 * BARE + 1e-4 * len(faces)
    if abs(blank.length - edge) < loose and abs(blank.area - area) < loose * math.sqrt(area):
        return
    if flat_overlaps(sheet, flat):
        return
    outlines = {name: LineString([*ring, ring[0]]).buffer(TINY) for name, ring in flat.faces.items()}
    for bend in flat.bends:
        for name, line in zip((bend.bend.parent, bend.bend.child), bend.tangents, strict=True):
            bare = LineString(line).difference(outlines[name]).length
            if bare > BARE:
                raise Refusal(place(bend.bend.id), Said(
                    "leaves {bare} of the bend {bend} hanging on nothing: a relief or a corner has cut it away",
                    bare=Mm(bare), bend=bend.bend.id))
    pieces = {name: Polygon(ring) for name, ring in flat.faces.items()} | {
        ZONE + b.bend.id: zone for b, zone in zip(flat.bends, zones, strict=True)}
    joined = {frozenset((ZONE + b.id, face)) for b in sheet.bends for face in (b.parent, b.child)}
    names = list(pieces)
    for i, j in zip(*STRtree(list(pieces.values())).query(list(pieces.values()), "dwithin", SLIT / 2), strict=True):
        apart = i < j and frozenset((names[i], names[j])) not in joined
        if apart and _along(pieces[names[i]], pieces[names[j]]) > SLIT:
            one, other = (names[k].removeprefix(ZONE) for k in (i, j))
            raise Refusal(
                place(other), f"touches {one} in the blank, where a cut must part them: leave a gap between them")
    raise Refusal("", f"does not lie flat in one piece: {blank.area:.2f} mm² of a blank for {area:.2f} mm² of faces "
                      "and bends")


def _along(one, other) -> float:
    """How long two pieces run side by side within a slit, mm."""
    return one.boundary.intersection(other.buffer(SLIT / 2)).length

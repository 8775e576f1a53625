"""Metal that is left: between a hole and a bend, and between what is cut out and what is cut off.

A hole nearer to a tangent line than 2 t (an opening: 2.5 t + r), or within the die, is drawn into the bend and
stretches (*start* values of general practice). A web narrower than the sheet is thick tears when it is
bent or pressed, and burns away when it is cut hot.
"""

import math
from collections.abc import Iterator
from itertools import combinations

import shapely
from shapely import LineString, Point, Polygon, STRtree

from ..notices import CAUTION, Notice
from ..part import Part
from ..said import Mm, Said
from ..sheet.model import Bend, Face, Hole
from ..sheet.rings import TINY

CLOSE = 0.02
"""A web so little short of the thickness is as good as that, mm."""
ROUND = 0.01
"""By less than this share of its diameter an outline of a round hole lies within it."""


def near_bends(part: Part) -> Iterator[Notice]:
    """Holes and slots too near a bend stretch, on the face where they are; those across one take some of it away."""
    for joint in part.sheet.bends:
        if joint.openings:
            gone = sum(max(u for u, _ in ring) - min(u for u, _ in ring) for ring in joint.openings)
            yield Notice("opening", CAUTION, joint.id,
                         Said("{gone} of its {long} are cut out: the edges there pull out of shape, and the rest takes "
                              "all of it", gone=Mm(gone), long=Mm(math.dist(*joint.parent_edge))),
                         ("pierce it after bending", "leave bridges across it and cut them out after bending"))
    t = part.stock.thickness
    for where, hole, joint, have in near_lines(part):
        f = joint.figures
        need = 2.5 * t + f.inside_radius if hole.is_slot or hole.ring else 2 * t
        if part.die:
            need = max(need, part.die.v / 2 - f.allowance / 2)
        if have < need - 1e-9:
            short = Mm(need - have)
            yield Notice("hole", CAUTION, where,
                         Said("{have} from the tangent line of {bend}, {short} too near: it will stretch",
                              have=Mm(have), bend=joint.id, short=short),
                         (Said("move it {short} away", short=short), "pierce it after bending",
                          "cut a relief slot between", "use a narrower V"))


def near_lines(part: Part) -> Iterator[tuple[str, Hole, Bend, float]]:
    """(where, hole, bend, metal between the hole's edge and the tangent line in mm) of every hole at every bend of its
    face."""
    faces = part.sheet.face
    for joint in part.sheet.bends:
        for name, edge in ((joint.parent, joint.parent_edge), (joint.child, joint.child_edge)):
            line = LineString(edge)
            for where, hole in _named(faces[name]):
                if hole.is_across and joint.openings:
                    continue
                yield where, hole, joint, _apart(hole, line)


def thin_webs(part: Part) -> Iterator[Notice]:
    """Webs narrower than the thickness: between holes, between a hole and the edge, between two edges."""
    least, blank = part.stock.thickness - CLOSE, part.flat.blank
    if least <= 0 or not blank.is_valid:
        return
    if part.flat.holes:
        yield from _beside_holes(part, blank.exterior, least)
    pieces = _after_cutting(blank, least)
    if len(pieces) != 1:
        yield _neck(part, blank, pieces, least)


def _beside_holes(part, edge, least) -> Iterator[Notice]:
    holes = part.flat.holes
    names = [name for face in part.sheet.faces for name, _ in _named(face)]
    shapes = [Polygon(hole.outline()) for hole in holes]
    ways = ("make it smaller", "leave it out of the blank and pierce it last")
    near = least + ROUND * max(hole.diameter for hole in holes)  # round holes are many-sided here
    for i in (shapely.distance(shapes, edge) < near).nonzero()[0]:
        have = _apart(holes[i], edge)
        if have >= least:
            continue
        yield _thin(names[i], have, "between it and the edge", part,
                    (Said("move it {short} further in", short=Mm(least + CLOSE - have)), *ways))
    for i, j in zip(*STRtree(shapes).query(shapes, predicate="dwithin", distance=near), strict=True):
        have = _apart(holes[i], holes[j]) if i < j else least
        if have < least:
            yield _thin(names[i], have, f"between it and {names[j]}", part,
                        (Said("move them {short} apart", short=Mm(least + CLOSE - have)), *ways,
                         "make them one opening"))


def _after_cutting(blank, least) -> list[Polygon]:
    """What is left of a blank when half of ``least`` is taken off all round: more than one piece where there was
    a neck."""
    left = blank.buffer(-least / 2, join_style="mitre")
    return [piece for piece in getattr(left, "geoms", [left]) if piece.area > TINY]


def _neck(part, blank, pieces, least) -> Notice:
    low, high = 0.0, least  # its width by halving: how much may be taken off until it parts
    for _ in range(12):
        middle = (low + high) / 2
        low, high = (middle, high) if len(_after_cutting(blank, middle)) == 1 else (low, middle)
    faces = {name: Polygon(ring) for name, ring in part.flat.faces.items()}
    if pieces:
        near = min((shapely.shortest_line(*pair) for pair in combinations(pieces, 2)), key=lambda line: line.length)
        where = min(faces, key=lambda name: faces[name].distance(near))
    else:
        where = min(faces, key=lambda name: faces[name].area)
    return _thin(where, high, "left at its narrowest", part,
                 ("make the cuts beside it shorter or narrower", "leave more between them"))


def _thin(where, have, place, part, ways) -> Notice:
    return Notice("web", CAUTION, where,
                  Said("only {have} of metal {place}, less than the sheet is thick ({t}): it tears or burns away",
                       have=Mm(max(have, 0.0)), place=place, t=Mm(part.stock.thickness)), ways)


def _named(face: Face) -> Iterator[tuple[str, Hole]]:
    """Holes of a face with the names they are told by."""
    for n, hole in enumerate(face.holes, 1):
        word = "slot" if hole.is_slot else "opening" if hole.ring else "hole"
        yield f"{face.id}, {word} {n}", hole


def _spine(hole: Hole):
    """(middle line, reach about it): a hole is all that is so near its middle, exactly."""
    if hole.ring:
        return Polygon(hole.outline()), 0.0
    return (LineString(hole.ends) if hole.is_slot else Point(hole.centre)), hole.diameter / 2


def _apart(hole: Hole, other) -> float:
    """Metal between a hole and another, or a line, mm."""
    spine, reach = _spine(hole)
    if isinstance(other, Hole):
        theirs, further = _spine(other)
        return spine.distance(theirs) - reach - further
    return spine.distance(other) - reach

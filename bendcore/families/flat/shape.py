"""A flat as drawn: outline, holes and bend lines, as it comes from a drawing or a cutter's file.

Each line is a bend's centre line from edge to edge; its zone, as wide as the allowance,
is laid about it and the rest falls into faces. The largest face is the root. Faces are
named ``A`` (the root) and then by the bend that joins them; bends are ``B1…`` as listed.
"""

import math
from bisect import bisect_left
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from shapely import Point, Polygon, STRtree

from ...bending.bend import APEX
from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.model import Bend, Face, Hole, Sheet
from ...sheet.rings import without_tiny
from ...sheet.unfold import outward
from ..common import Given, check_ring, hem_figures, positive, read_bend, read_points, read_slot
from ..declared import HEM
from ..legs import OUTSIDE, Leg, Run, ShapeBend
from ..outlines import extent
from ..shape import Shape
from .fields import FIELDS

ROOT = "A"
EVEN = 0.6
"""The outline may change its width by so much within a zone, mm, unless it does so in a straight line."""
STRAIGHT = 0.02
"""So far from straight the outline may run across a zone that tapers, mm."""
SLIVER = 0.01
"""A piece smaller than this between zones is rounding, no face, mm²."""
REACH = 0.5
"""A bend line may end so far from the edge, mm."""


@dataclass(frozen=True)
class Line:
    """A bend's centre line: ``foot``, unit ``along`` and ``across``, and the ``span`` of its zone."""

    bend: ShapeBend
    foot: tuple[float, float]
    along: tuple[float, float]
    span: tuple[float, float]
    slant: tuple[float, float] = (0.0, 0.0)
    """How far the zone's ends move along the line for each mm to its left."""

    @property
    def across(self) -> tuple[float, float]:
        """Unit vector to the line's left."""
        return (-self.along[1], self.along[0])

    def at(self, u: float, v: float) -> tuple[float, float]:
        """The point u along the line and v to its left."""
        (x, y), (dx, dy) = self.foot, self.along
        return (x + dx * u - dy * v, y + dy * u + dx * v)

    @property
    def half(self) -> float:
        """Half the zone's width, mm."""
        return self.bend.figures.allowance / 2

    def tangent(self, v: float) -> tuple[float, float]:
        """From where to where the zone reaches along the line, v to its left."""
        return self.span[0] + self.slant[0] * v, self.span[1] + self.slant[1] * v

    def zone(self) -> list[tuple[float, float]]:
        """Its corners, counter-clockwise."""
        half = self.half
        (right, far), (left, farther) = self.tangent(-half), self.tangent(half)
        return [self.at(right, -half), self.at(far, -half), self.at(farther, half), self.at(left, half)]


@dataclass(frozen=True)
class Flat(Shape):
    """A flat as drawn, with its bend lines."""

    thickness: float
    outline: tuple[tuple[float, float], ...]
    lines: tuple[Line, ...]
    holes: tuple[Hole, ...] = ()
    dims: str = OUTSIDE

    kind = "flat"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()

    @property
    def blank(self) -> tuple[tuple[float, float], ...]:
        """As it was drawn, counter-clockwise."""
        return self.outline if Polygon(self.outline).exterior.is_ccw else self.outline[::-1]

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Its bends but for folds of 180°."""
        return tuple(line.bend for line in self.lines if line.bend.figures.angle < 180)

    @property
    def all_bends(self) -> tuple[ShapeBend, ...]:
        """Folds of 180° too; how far a hem reaches follows from the drawing."""
        return tuple(line.bend for line in self.lines)

    def mate_sizes(self) -> dict[str, float]:
        """Its outline, over all, and its holes."""
        return super().mate_sizes() | extent(self.outline)

    @property
    def longest_bend(self) -> float:
        """Along the longest line, mm."""
        return max((line.span[1] - line.span[0] for line in self.lines), default=0.0)

    @cached_property
    def legs(self) -> tuple[Leg, ...]:
        """The faces that end at one bend: how far each reaches from it."""
        sheet, found = self.sheet(), []
        parents = {joint.parent for joint in sheet.bends}
        for joint in sheet.bends:
            if joint.is_hem or joint.child in parents:
                continue
            (x, y), (ox, oy) = joint.child_edge[0], outward(joint.child_edge)
            flat = max(abs((px - x) * ox + (py - y) * oy) for px, py in sheet.face[joint.child].outline)
            setback = joint.figures.outside_setback
            size = flat + setback
            found.append(Leg(joint.child, size, OUTSIDE, flat, (setback, 0.0), size, (joint.id, None)))
        return tuple(found)

    def openings(self) -> list[tuple[str, str, float]]:
        """None: a drawing says nothing of the finished part's."""
        return []

    def place(self, name: str) -> str:
        """The line's field for a bend, else the outline."""
        return next((f"bends[{i}]" for i, line in enumerate(self.lines) if line.bend.id == name), "outline")

    def thing(self, name: str) -> str:
        """Every bend is one; faces are the whole."""
        return name if name in self.bend else ""

    def _called(self, name: str) -> str:
        """*Bend B1*; faces are *face A*, *face B1*."""
        return f"Bend {name}" if name in self.bend else f"Face {name}"

    def _sheet(self) -> Sheet:
        """The outline cut at its zones, hung together from the largest face."""
        zones = shapely.buffer(_zones(self.lines), 1e-9, join_style="mitre")
        rest = (Polygon(self.outline) - shapely.union_all(zones)).simplify(1e-6)
        pieces = [p for p in getattr(rest, "geoms", [rest]) if p.area > SLIVER]
        pieces.sort(key=lambda piece: -piece.area)
        sides = _sides(pieces, self.lines)
        for line, pair in zip(self.lines, sides, strict=True):
            if None in pair or pair[0] == pair[1]:
                raise Refusal(f"bends[{line.bend.id[1:]}]", "does not part the sheet in two")
        names, faces, joints, waiting = {0: ROOT}, [_face(ROOT, pieces[0], self.holes)], [], [0]
        left = dict(enumerate(sides))
        while waiting:
            parent = waiting.pop(0)
            for i, pair in list(left.items()):
                if parent not in pair:
                    continue
                child = pair[1 - pair.index(parent)]
                line = self.lines[i]
                del left[i]
                if child in names:
                    raise Refusal(f"bends[{i}]", "closes a ring of faces: one of its lines must be cut instead")
                names[child] = line.bend.id
                faces.append(_face(names[child], pieces[child], self.holes))
                joints.append(_joint(line, names[parent], names[child], 1 if pair.index(parent) == 0 else -1))
                waiting.append(child)
        if len(names) != len(pieces):
            raise Refusal("bends", "leave a piece of the sheet that hangs on nothing")
        return Sheet(self.thickness, ROOT, tuple(faces), tuple(joints))


def _zones(lines) -> np.ndarray:
    """The zones of all lines as polygons."""
    return shapely.polygons([line.zone() for line in lines]) if lines else np.empty(0, object)


def _sides(pieces, lines) -> list[list[int | None]]:
    """Of every line the piece to its right and to its left, a little beyond the tangent lines."""
    if not lines:
        return []
    probes = [line.at(sum(line.span) / 2, way * (line.half + 1e-3)) for line in lines for way in (-1, 1)]
    found: list[int | None] = [None] * len(probes)
    for probe, piece in STRtree(pieces).query(shapely.points(probes), predicate="dwithin", distance=1e-6).T:
        found[probe] = piece if found[probe] is None else min(found[probe], piece)
    return [found[i:i + 2] for i in range(0, len(found), 2)]


def _face(name, piece, holes) -> Face:
    ring = without_tiny(piece.exterior.coords[:-1])
    inside = tuple(hole for hole in holes if piece.contains(Point(hole.centre)))
    return Face(name, ring if piece.exterior.is_ccw else ring[::-1], inside)


def _joint(line, parent, child, way) -> Bend:
    """Both tangent lines, the child to the right of them. ``way`` +1: it lies to the line's left."""
    (one, other), turned = (line.tangent(v) for v in (-way * line.half, way * line.half)), way > 0
    near, far = (tuple(line.at(u, v) for u in (span[::-1] if turned else span))
                 for span, v in ((one, -way * line.half), (other, way * line.half)))
    low, high = other[0] - one[0], other[1] - one[1]
    return Bend(line.bend.id, parent, child, near, far, line.bend.direction, line.bend.figures,
                (-high, -low) if turned else (low, high))


def read_flat(shape: dict, given: Given) -> Flat:
    """A flat as drawn from the part file's ``shape``; refusals name the field below ``shape``."""
    length, thickness = given.length, given.thickness
    outline = read_points(shape["outline"], "outline", length)
    check_ring(outline, "outline")
    bare = []
    for i, block in enumerate(shape.get("bends", ())):
        for key, kind in (("inside_radius", "bend"), ("k", "fold of 180°")):
            if key in block and _is_fold(block) == (kind == "bend"):
                raise Refusal(f"bends[{i}].{key}", f"belongs to a {kind}")
        bend = _fold(f"B{i + 1}", block, f"bends[{i}]", given) if _is_fold(block) else read_bend(
            f"B{i + 1}", block, block["direction"], f"bends[{i}]", given, 90)
        ends = read_points(block["line"], f"bends[{i}].line", length)
        bare.append(_bare(bend, ends, f"bends[{i}]"))
    spans = zip(*(_spans(outline, bare, share) for share in (-0.98, 0.0, 0.98)), strict=True) if bare else ()
    lines = [_reaching(line, found, f"bends[{i}]") for i, (line, found) in enumerate(zip(bare, spans, strict=True))]
    zones = _zones(lines)
    for i, j in zip(*STRtree(zones).query(zones, predicate="intersects"), strict=True):
        if j < i and zones[i].intersection(zones[j], grid_size=1e-6).area > 1e-4:
            raise Refusal(f"bends[{i}]", f"has a zone that lies on that of B{j + 1}")
    holes = tuple(_hole(f"holes[{i}]", block, length) for i, block in enumerate(shape.get("holes", ())))
    flat = Flat(thickness, tuple(outline), tuple(lines), holes)
    faces = flat.sheet().faces
    for i, hole in enumerate(holes):
        if not any(Polygon(face.outline).contains(Polygon(hole.outline())) for face in faces):
            raise Refusal(f"holes[{i}]", "runs into a bend or off the edge")
    return flat


def _is_fold(block) -> bool:
    return "gap" in block or block.get("angle") in (180, "180")


def _fold(name, block, path, given) -> ShapeBend:
    """A hem's fold: back onto its face, ``gap`` apart."""
    if block.get("angle", 180) not in (180, 180.0, "180"):
        raise Refusal(f"{path}.gap", "belongs to a fold of 180°")
    gap = HEM.mm(block, "gap", path, given.length)
    return ShapeBend(name, block["direction"], hem_figures(gap, given.thickness, given.school, block.get("k")))


def _hole(path, block, length) -> Hole:
    if "outline" in block:
        corners = read_points(block["outline"], f"{path}.outline", length)
        for key in ("x", "y", "diameter", "length", "angle"):
            if key in block:
                raise Refusal(f"{path}.{key}", "does not belong to an opening given by its outline")
        check_ring(corners, f"{path}.outline")
        return Hole.opening(corners, path)
    for key in ("x", "y", "diameter"):
        if key not in block:
            raise Refusal(f"{path}.{key}", "is missing")
    size = positive(length(block["diameter"], f"{path}.diameter"), f"{path}.diameter")
    long = length(block["length"], f"{path}.length") if "length" in block else None
    centre, angle = (length(block["x"], f"{path}.x"), length(block["y"], f"{path}.y")), float(block.get("angle", 0.0))
    if long is None:
        return Hole(centre, size, angle=angle, path=path)
    return read_slot(centre, size, long, angle, path)


def _bare(bend, ends, path) -> Line:
    """The line as drawn, its span from end to end."""
    (x0, y0), (x1, y1) = ends
    long = math.hypot(x1 - x0, y1 - y0)
    if long < 1e-3:
        raise Refusal(f"{path}.line", "has no length")
    return Line(bend, (x0, y0), ((x1 - x0) / long, (y1 - y0) / long), (0.0, long))


def _reaching(bare, spans, path) -> Line:
    """The same line from edge to edge, if its zone is of one width throughout or tapers evenly; ``spans``
    are those of the line moved near either side of the zone, and of itself between them."""
    if None in spans:
        raise Refusal(f"{path}.line", "has a zone that leaves the sheet: the bend is too near an edge")
    low, high = spans[1]
    off = max(abs(low), abs(high - bare.span[1]))
    if off > REACH:
        raise Refusal(f"{path}.line", Said("ends {off} from the edge: it must run from edge to edge", off=Mm(off)))
    slant, reach = [], 0.98 * bare.half
    for middle, right, left in zip(spans[1], spans[0], spans[2], strict=True):
        if abs(right + left - 2 * middle) > 2 * STRAIGHT:  # its end is no straight line across the zone
            if max(abs(right - middle), abs(left - middle)) > EVEN:
                raise Refusal(f"{path}.line",
                              "has a zone in which the outline changes its width: cut a relief, or move it")
            slant.append(0.0)
        else:
            slant.append((left - right) / (2 * reach))
    return replace(bare, span=(low, high), slant=tuple(slant))


def _spans(outline, lines, share) -> list[tuple[float, float] | None]:
    """Where each line, moved to its left by a share of half its zone, lies on the sheet about its middle:
    between the nearest crossings of the outline, inside where as many lie on one hand as an odd number."""
    ring = np.array([*outline, outline[0]])
    along, foot = np.array([line.along for line in lines]), np.array([line.foot for line in lines])
    left = np.column_stack([-along[:, 1], along[:, 0]])
    place = (left * foot).sum(axis=1) + share * np.array([line.half for line in lines])
    across, u = left @ ring.T - place[:, None], along @ ring.T - (along * foot).sum(axis=1)[:, None]
    which, cut = np.nonzero((across[:, :-1] > 0) != (across[:, 1:] > 0))
    before, after = across[which, cut], across[which, cut + 1]
    at = u[which, cut] + before / (before - after) * (u[which, cut + 1] - u[which, cut])
    cuts = at[np.lexsort((at, which))].tolist()
    ends = np.searchsorted(which, np.arange(len(lines) + 1)).tolist()
    found = []
    for line, first, last in zip(lines, ends, ends[1:], strict=False):
        n = bisect_left(cuts, sum(line.span) / 2, first, last)
        found.append((cuts[n - 1], cuts[n]) if (n - first) % 2 and n < last else None)
    return found

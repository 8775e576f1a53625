"""A flanged plate: any straight-sided outline with holes, slots, and flanges on chosen edges.

The outline is that of the finished part, over the outside of its flanges; edge n runs
from corner n to the next, counted from 1. A flange stands on its edge or on part of it
(``start`` and ``end`` are left free at either end), measured from the plate's outside
to its free edge or to the outside of its return. Bends and faces are ``F1…``, returns
``F1-return``, in the order the flanges are listed; the plate is ``plate``.

Along a flange the plate is cut back to the tangent line. Where two flanges meet at a
corner, or come so near it that one would cut away what the other hangs on, both end where
their tangent lines cross, half the gap further, or where they were told to if that is
further still. Where a bend ends inside an edge a relief is cut beside it, past the
tangent line by r + t/2.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from shapely import Point, Polygon

from ..bend import APEX
from ..errors import Refusal
from ..schools import School
from ..sheet.model import Bend, Face, Hole, Sheet
from .common import (
    OUTSIDE,
    Leg,
    Run,
    Shape,
    ShapeBend,
    make_leg,
    positive,
    read_bend,
    read_outline,
    read_size,
    rectangle,
    turn_at,
)

SLIVER = 1e-6
"""What is narrower than this between cuts is no metal, mm."""


@dataclass(frozen=True)
class Flange:
    """``span`` is where its zone lies along the edge, mm from the edge's first corner."""

    id: str
    edge: int
    span: tuple[float, float]
    leg: Leg
    bend: ShapeBend
    holes: tuple[Hole, ...] = ()
    back: Leg | None = None
    back_bend: ShapeBend | None = None
    reliefs: tuple[bool, bool] = (False, False)
    cut: tuple[float, float] = (0.0, 0.0)
    """Along the edge, what is cut back to the tangent line."""


@dataclass(frozen=True)
class Plate(Shape):
    thickness: float
    outline: tuple[tuple[float, float], ...]
    """Corners counter-clockwise, over the outside of the flanges, mm."""
    flanges: tuple[Flange, ...]
    holes: tuple[Hole, ...] = ()
    relief: float = 1.0
    """Width of a relief, mm."""
    dims: str = OUTSIDE
    turned: bool = False
    """Whether the corners were given clockwise, so that edges are counted the other way."""

    kind = "plate"
    convention = APEX
    runs: tuple[Run, ...] = ()

    @property
    def legs(self) -> tuple[Leg, ...]:
        return tuple(leg for f in self.flanges for leg in (f.leg, f.back) if leg)

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        return tuple(b for f in self.flanges for b in (f.bend, f.back_bend) if b)

    @property
    def longest_bend(self) -> float:
        return max((f.span[1] - f.span[0] for f in self.flanges), default=0.0)

    def numbered(self) -> list[tuple[int, tuple]]:
        """(number as given, (corner, corner)) of every edge."""
        n = len(self.outline)
        edges = list(zip(self.outline, [*self.outline[1:], self.outline[0]], strict=True))
        return [((n - 2 - i) % n + 1 if self.turned else i + 1, edge) for i, edge in enumerate(edges)]

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of the finished outline's edges."""
        return [(f"edge-{n}", f"Edge {n}, over the flanges", math.dist(*edge)) for n, edge in sorted(self.numbered())]

    def _sheet(self) -> Sheet:
        """Plate, flanges and returns as faces joined at bends."""
        faces, joints = [Face("plate", self._body(), self.holes)], []
        for flange in self.flanges:
            a, along, inward = self._axes(flange.edge)
            setback, (low, high) = flange.bend.figures.outside_setback, flange.span
            near = tuple((a[0] + along[0] * u + inward[0] * setback, a[1] + along[1] * u + inward[1] * setback)
                         for u in (low, high))
            wide = high - low
            faces.append(Face(flange.id, rectangle(flange.leg.flat, wide), flange.holes))
            joints.append(Bend(flange.id, "plate", flange.id, near, ((0.0, 0.0), (0.0, wide)), flange.bend.direction,
                               flange.bend.figures))
            if flange.back:
                name, height = flange.back.id, flange.leg.flat
                faces.append(Face(name, rectangle(flange.back.flat, wide)))
                joints.append(Bend(name, flange.id, name, ((height, 0.0), (height, wide)), ((0.0, 0.0), (0.0, wide)),
                                   flange.back_bend.direction, flange.back_bend.figures))
        return Sheet(self.thickness, "plate", tuple(faces), tuple(joints))

    def _axes(self, edge):
        """First corner of an edge, its direction, and the direction into the plate."""
        a, b = self.outline[edge], self.outline[(edge + 1) % len(self.outline)]
        long = math.dist(a, b)
        along = ((b[0] - a[0]) / long, (b[1] - a[1]) / long)
        return a, along, (-along[1], along[0])

    def _body(self):
        """The plate between its tangent lines, reliefs cut."""
        body = Polygon(self.outline)
        for flange in self.flanges:
            f = flange.bend.figures
            body -= self._strip(flange.edge, *flange.cut, f.outside_setback)
            deep = _relief_depth(f)
            for cut, at in zip(flange.reliefs, ((flange.span[0] - self.relief, flange.span[0]),
                                                (flange.span[1], flange.span[1] + self.relief)), strict=True):
                if cut:
                    body -= self._strip(flange.edge, *at, deep)
        for size in (-SLIVER, SLIVER):
            body = body.buffer(size, join_style="mitre", mitre_limit=100)
        body = body.simplify(SLIVER)
        pieces = sorted(getattr(body, "geoms", [body]), key=lambda piece: piece.area)
        body = pieces[-1] if pieces else body  # ears between a relief and a corner fall off
        if body.is_empty or body.interiors or any(body.distance(Point(p)) > 1e-3 for p in self._feet()):
            raise Refusal("flanges", "leave nothing of the plate between them, or cut it in two: make it larger")
        ring = list(body.exterior.coords[:-1])
        return tuple(ring if body.exterior.is_ccw else ring[::-1])

    def _feet(self):
        """The middle of every flange's tangent line, which must stay on the plate."""
        for flange in self.flanges:
            a, along, inward = self._axes(flange.edge)
            u, v = sum(flange.span) / 2, flange.bend.figures.outside_setback
            yield (a[0] + along[0] * u + inward[0] * v, a[1] + along[1] * u + inward[1] * v)

    def _strip(self, edge, low, high, deep):
        a, along, inward = self._axes(edge)
        return Polygon([(a[0] + along[0] * u + inward[0] * v, a[1] + along[1] * u + inward[1] * v)
                        for u, v in ((low, -0.1), (high, -0.1), (high, deep), (low, deep))])


def read_plate(shape: dict, *, thickness: float, inside_radius: float | None, school: School,
               length: Callable) -> Plate:
    """A flanged plate from the part file's ``shape``; refusals name the field below ``shape``."""
    outline, numbers = read_outline(shape["outline"], length)
    relief = length(shape["relief"], "relief") if "relief" in shape else max(thickness, 1.0)
    if relief < thickness - 1e-9:
        raise Refusal("relief", f"must be at least as wide as the sheet is thick ({thickness:g} mm)")
    gap = length(shape.get("gap", 0.5), "gap")
    if gap < 0:
        raise Refusal("gap", "must not be negative")
    given = {"thickness": thickness, "inside_radius": inside_radius, "school": school, "length": length}
    blocks = [_Block.read(i, block, numbers, outline, given) for i, block in enumerate(shape.get("flanges", ()))]
    for i, block in enumerate(blocks):
        for other in blocks[:i]:
            if block.edge == other.edge and block.lies_on(other):
                raise Refusal(f"flanges[{i}].edge", f"has a flange on the same stretch already ({other.name})")
    flanges = tuple(block.flange(blocks, outline, gap, relief) for block in blocks)
    turned = numbers[1][1]
    plate = Plate(thickness, outline, flanges, (), relief, turned=turned)
    body = Polygon(plate.sheet().face["plate"].outline)
    holes = [_read_hole(f"holes[{i}]", block, length) for i, block in enumerate(shape.get("holes", ()))]
    holes += [_read_slot(f"slots[{i}]", block, length) for i, block in enumerate(shape.get("slots", ()))]
    paths = [f"holes[{i}]" for i in range(len(shape.get("holes", ())))] + [
        f"slots[{i}]" for i in range(len(shape.get("slots", ())))]
    for path, hole in zip(paths, holes, strict=True):
        if not body.contains(Polygon(hole.outline())):
            raise Refusal(f"{path}.x", "leaves the plate's flat: a hole must not run into a bend or off the edge")
    return replace(plate, holes=tuple(holes))


@dataclass(frozen=True)
class _Block:
    """A flange as given, before its neighbours are known."""

    i: int
    name: str
    edge: int
    edge_length: float
    free: tuple[float, float]
    """Left free at either end of the edge, mm."""
    bend: ShapeBend
    leg: Leg
    back_bend: ShapeBend | None
    back: Leg | None
    holes: list
    length: Callable

    @classmethod
    def read(cls, i, block, numbers, outline, given):
        path, length, name = f"flanges[{i}]", given["length"], f"F{i + 1}"
        if block["edge"] not in numbers:
            raise Refusal(f"{path}.edge", f"must be an edge of the outline, 1 to {len(numbers)}")
        edge, turned = numbers[block["edge"]]
        long = math.dist(outline[edge], outline[(edge + 1) % len(outline)])
        free = [length(block.get(key, 0), f"{path}.{key}") for key in ("start", "end")]
        for key, size in zip(("start", "end"), free, strict=True):
            if size < 0:
                raise Refusal(f"{path}.{key}", "must not be negative")
        if sum(free) >= long - 1e-6:
            raise Refusal(f"{path}.end", f"leaves nothing of the edge, which is {long:g} mm long")
        free = free[::-1] if turned else free
        bend = read_bend(name, block, block["direction"], path, convention=APEX, angle=90, **given)
        back_bend = back = None
        if "return" in block:
            inner = block["return"]
            back_bend = read_bend(f"{name}-return", inner, inner["direction"], f"{path}.return", convention=APEX,
                                  angle=90, **given)
            back = make_leg(f"{name}-return", positive(length(inner["length"], f"{path}.return.length"),
                                                       f"{path}.return.length"), OUTSIDE, (back_bend, None),
                            f"{path}.return.length")
        size = read_size(block["length"], f"{path}.length", length, OUTSIDE)
        leg = make_leg(name, *size, (bend, back_bend), f"{path}.length")
        return cls(i, name, edge, long, tuple(free), bend, leg, back_bend, back,
                   block.get("holes", []), length)

    def lies_on(self, other) -> bool:
        """Whether two flanges of one edge share a stretch of it."""
        return all(a + b < self.edge_length - 1e-9 for a, b in zip(self.free, other.free[::-1], strict=True))

    def flange(self, blocks, outline, gap, relief) -> Flange:
        n, given = len(outline), (blocks, outline, gap, relief)
        low, relief_low, cut_low = self._end(*given, self.edge, (self.edge - 1) % n, 0)
        high, relief_high, cut_high = self._end(*given, (self.edge + 1) % n, (self.edge + 1) % n, 1)
        span = (low, self.edge_length - high)
        if span[1] - span[0] <= 1e-6:
            raise Refusal(f"flanges[{self.i}].edge", "is left no length between its neighbours")
        return Flange(self.name, self.edge, span, self.leg, self.bend, self._holes(span[1] - span[0]), self.back,
                      self.back_bend, (relief_low, relief_high), (cut_low, self.edge_length - cut_high))

    def _end(self, blocks, outline, gap, relief, corner, neighbour, which) -> tuple[float, bool, float]:
        """At one end, by the corner and who stands beyond it: (where the zone ends, whether a relief
        parts it from the plate, where the cut to the tangent line ends), mm from the corner."""
        inner, free = math.pi - math.radians(turn_at(outline, corner)), self.free[which]
        if inner >= math.pi - 1e-9:  # beside the flange the plate goes on: the slot parts the two
            ends = free if free > 1e-9 else relief
            return ends, True, ends
        past = 1.0 if inner <= math.pi / 2 + 1e-9 else 0.0
        beside = min((b for b in blocks if b.edge == neighbour), key=lambda b: b.free[1 - which], default=None)
        if beside and self._nears(beside, which, inner, relief) and beside._nears(self, 1 - which, inner, relief):
            return max(free, self._crossing(beside, inner, self._setback) + gap / 2), False, -past
        slant = self._setback / math.tan(inner)
        return (slant, False, -past) if free <= 1e-9 <= slant + 2e-9 else (free, True, free)

    def _nears(self, other, which, inner, relief) -> bool:
        """Whether this end's zone or its relief reaches behind the other flange's tangent line."""
        f = self.bend.figures
        zone, cut = (self._crossing(other, inner, v) for v in (f.outside_setback - f.allowance, _relief_depth(f)))
        return self.free[which] < max(1e-9, zone, relief + cut)

    def _crossing(self, other, inner, deep) -> float:
        """Where the other's tangent line runs, ``deep`` within this edge: how far from the corner, mm."""
        return max(0.0, (other._setback + deep * math.cos(inner)) / math.sin(inner))

    @property
    def _setback(self) -> float:
        return self.bend.figures.outside_setback

    def _holes(self, wide):
        found = []
        for j, block in enumerate(self.holes):
            path = f"flanges[{self.i}].holes[{j}]"
            size = positive(self.length(block["diameter"], f"{path}.diameter"), f"{path}.diameter")
            up = self.length(block["up"], f"{path}.up") - self.leg.setbacks[0]
            along = self.length(block["along"], f"{path}.along")
            if not size / 2 < up < self.leg.flat - size / 2:
                raise Refusal(f"{path}.up", "leaves the flange's flat")
            if not size / 2 < along < wide - size / 2:
                raise Refusal(f"{path}.along", "leaves the flange's flat")
            found.append(Hole((up, along), size))
        return tuple(found)


def _relief_depth(figures) -> float:
    """From the edge past the tangent line by r + t/2, mm."""
    return figures.outside_setback + figures.inside_radius + figures.thickness / 2


def _read_hole(path, block, length) -> Hole:
    size = positive(length(block["diameter"], f"{path}.diameter"), f"{path}.diameter")
    return Hole((length(block["x"], f"{path}.x"), length(block["y"], f"{path}.y")), size)


def _read_slot(path, block, length) -> Hole:
    width = positive(length(block["width"], f"{path}.width"), f"{path}.width")
    long = length(block["length"], f"{path}.length")
    if long <= width:
        raise Refusal(f"{path}.length", "must be more than its width, end to end")
    return Hole((length(block["x"], f"{path}.x"), length(block["y"], f"{path}.y")), width, long,
                float(block.get("angle", 0.0)))


"""The flanges of a plate: each on an edge or part of it, its ends beside its neighbours.

Where two flanges meet at a corner, or come so near it that one would cut away what the
other hangs on, both bends end half the gap short of where their tangent lines cross, or
where they were told to if that is further still. If both stand to the same side they go
on past their bends until they are the gap apart, or stay as far off each other as they
lean together (:mod:`.meeting`); returns that stand inwards are mitred. In an inner corner,
where they would lie on each other in the blank, both are cut on the line that halves it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely import LineString, Polygon, box

from ...bending.bend import BendFigures
from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.model import Hole, Point
from ..common import Given, make_leg, read_bend, read_size, turn_at
from ..legs import OUTSIDE, Leg, ShapeBend
from ..meeting import End, Lean, Lip, Meeting, lip_panel, panel, square_off
from ..metal import PAST, relief_depth
from .fields import FLANGE, FLANGE_HOLE, RETURN

STEEP = 1.0
"""Flanges of which one would have to slant more than this, along over up, to meet the other end square."""


@dataclass(frozen=True)
class Flange:
    """``span`` is where its zone lies along the edge, mm from the edge's first corner; the outlines
    of the flange and its return have x up from the tangent line and y from the span's start."""

    id: str
    edge: int
    span: tuple[float, float]
    leg: Leg
    bend: ShapeBend
    outline: tuple[Point, ...]
    holes: tuple[Hole, ...] = ()
    back: Leg | None = None
    back_bend: ShapeBend | None = None
    back_outline: tuple[Point, ...] = ()
    reliefs: tuple[float, float] = (0.0, 0.0)
    """How wide the relief beside either end of the bend is, mm; 0 for none."""
    cut: tuple[float, float] = (0.0, 0.0)
    """Along the edge, what is cut back to the tangent line."""
    first: tuple[float, float] = (0.0, 1.0)
    """Where along the edge its holes are counted from, mm, and +1 or −1 for which way."""


@dataclass(frozen=True)
class _End:
    """By a corner: where the zone ends and where the cut to the tangent line does, mm from the
    corner; how wide a relief parts it from the plate, 0 for none; and how the flange itself ends."""

    zone: float
    cut: float
    relief: float = 0.0
    wall: End = End(0.0)


@dataclass(frozen=True)
class _Corner:
    """A corner of the plate, ``inner`` the angle within it, radians; the plate's ``gap`` and ``relief``
    and the least ``web`` that may stay beside a relief, mm."""

    inner: float
    gap: float
    relief: float
    web: float

    def crossing(self, other: BendFigures, deep: float) -> float:
        """Where the other edge's tangent line runs, ``deep`` within this edge: how far from the corner, mm."""
        return (other.outside_setback + deep * math.cos(self.inner)) / math.sin(self.inner)

    def reaches_behind(self, figures: BendFigures, free: float, other: BendFigures) -> bool:
        """Whether a zone ``free`` from the corner lies behind the other's tangent line."""
        return free < max(1e-9, self.crossing(other, figures.outside_setback - figures.allowance))

    def slants(self, figures: BendFigures, free: float) -> bool:
        """Whether a zone told to begin ``free`` from the corner begins where its tangent line meets the other edge."""
        slant = figures.outside_setback / math.tan(self.inner)
        return slant > -1e-9 and free <= max(slant, 0.0) + 2e-9

    def undercuts(self, figures: BendFigures, free: float, other: BendFigures, beyond: float) -> bool:
        """Whether the relief of a zone ``free`` from the corner cuts away what the other's tangent line, which
        begins ``beyond`` from the corner, hangs on, or leaves less than a web of it. The relief reaches as far
        at either of its ends; both are looked at in the plane of the corner, this edge along x."""
        if self.slants(figures, free):
            return False  # no relief is cut there
        sin, cos, deep = math.sin(self.inner), math.cos(self.inner), other.outside_setback
        start = beyond if beyond > 1e-9 else max(0.0, deep / math.tan(self.inner))
        line = LineString([(s * cos + deep * sin, s * sin - deep * cos) for s in (start, start + 1e4)])
        return box(free - self.relief, 0.0, free, relief_depth(figures)).distance(line) < self.web - 1e-9

    def clear(self, inwards: float, free: float, stands: tuple[float, float]) -> bool:
        """Whether what stands (in, out) of the other edge, ``free`` from the corner on, keeps off a strip
        ``inwards`` wide along this edge."""
        cos = math.cos(self.inner)
        return free * math.sin(self.inner) - max(stands[0] * cos, -stands[1] * cos) >= inwards + self.gap


@dataclass(frozen=True)
class _Asked:
    """A flange as given, before its neighbours are known."""

    path: str
    id: str
    edge: int
    edge_length: float
    free: tuple[float, float]
    """Left free at either end of the edge, mm."""
    first: tuple[float, float]
    """Where holes are counted from, mm from the edge's first corner, and +1 or −1 for which way."""
    bend: ShapeBend
    leg: Leg
    back_bend: ShapeBend | None
    back: Leg | None

    @property
    def folds_in(self) -> bool:
        return self.back is not None and self.back_bend.direction == self.bend.direction

    def lip(self, halved: bool) -> Lip:
        """The return as it stands on the flange."""
        return Lip.of(self.bend.figures, self.back_bend.figures, self.back.flat, self.folds_in, halved)

    @property
    def stands(self) -> tuple[float, float]:
        """How far it stands in and out of its edge once folded, mm."""
        figures, lean = self.bend.figures, Lean.of(self.bend.figures)
        out = [lean.out(0.0), lean.out(self.leg.flat)]
        if self.back:
            lip = self.lip(halved=False)
            far = (lip.inside + lip.flat) * math.cos(math.radians(lip.swept))
            out.append(lean.out(self.leg.flat + lip.inside) + far)
        return figures.outside_setback - min(out), max(out) + figures.thickness - figures.outside_setback

    @property
    def lies(self) -> tuple[float, float]:
        """How far it lies out and in of its edge in the blank, mm."""
        figures = self.bend.figures
        back = self.back_bend.figures.allowance + self.back.flat if self.back else 0.0
        return figures.allowance - figures.outside_setback + self.leg.flat + back, figures.outside_setback

    def lies_on(self, other: "_Asked") -> bool:
        """Whether both stand on one stretch of an edge."""
        return self.edge == other.edge and all(
            a + b < self.edge_length - 1e-9 for a, b in zip(self.free, other.free[::-1], strict=True))

    def apart(self, other: "_Asked", which: int) -> float | None:
        """How far another flange of the same edge stands off this one's start (0) or end (1), mm; None elsewhere."""
        far = self.free[which] + other.free[1 - which] - self.edge_length
        return far if other is not self and other.edge == self.edge and far > -1e-9 else None

    def end(self, corner: _Corner, beside: "_Asked | None", which: int) -> _End:
        """How it ends by a corner; ``which`` is 0 at its start, ``beside`` the nearest flange past the corner."""
        inner, free, figures = corner.inner, self.free[which], self.bend.figures
        if inner >= math.pi - 1e-9:  # beside the flange the plate goes on: the slot parts the two
            zone = free if free > 1e-9 else corner.relief
            return self._halved(_End(zone, zone, corner.relief), corner, beside, which)
        past = -1.0 if inner <= math.pi / 2 + 1e-9 else 0.0
        if beside:
            other, beyond = beside.bend.figures, beside.free[1 - which]
            crossing = corner.crossing(other, figures.outside_setback)
            if (corner.reaches_behind(figures, free, other) and corner.reaches_behind(other, beyond, figures)) or (
                    corner.undercuts(figures, free, other, beyond) or corner.undercuts(other, beyond, figures, free)):
                end, told = self._meeting(corner, other, free, crossing, past)
                return self._ended(end, corner, beside, crossing, told)
        if corner.slants(figures, free):  # nearer to the corner the tangent line lies off the plate
            end = _End(figures.outside_setback / math.tan(inner), past)
        else:  # an ear between relief and corner that hangs on less than a web falls off
            lean = relief_depth(figures) / math.tan(inner)
            ear = free - corner.relief - lean < corner.web
            end = _End(free, free, max(corner.relief, free + max(0.0, -lean) + PAST) if ear else corner.relief)
        if beside and not corner.clear(self.stands[0], beyond, beside.stands) and not corner.clear(
                beside.stands[0], free, self.stands):
            return self._ended(end, corner, beside, crossing, told=True)
        return end

    def _meeting(self, corner, other, free, crossing, past) -> tuple[_End, bool]:
        """Where the zone ends at a corner that both come to, and whether it was told to. Of two much unlike at
        a shallow corner the tangent lines cross beyond it: both end on the line that halves it, a relief between."""
        own, gap = self.bend.figures, corner.gap / 2
        if crossing > -own.outside_setback and corner.crossing(own, other.outside_setback) > -other.outside_setback:
            told = free > max(1e-9, crossing + gap)
            return _End(free if told else crossing + gap, min(past, crossing)), told
        half = math.tan(corner.inner / 2)
        slot = corner.relief / 2 / math.sin(corner.inner / 2)
        even = max(free, slot + max(relief_depth(own), relief_depth(other)) / half)
        return _End(even, even, even - relief_depth(own) / half), True

    def _halved(self, end: _End, corner, beside, which) -> _End:
        """The same end by an inner corner, where two flanges would lie on each other in the blank:
        cut on the line that halves the corner, a relief's width apart."""
        notch = replace(corner, inner=2 * math.pi - corner.inner)
        if not beside or notch.clear(self.lies[0], beside.free[1 - which], beside.lies) or notch.clear(
                beside.lies[0], self.free[which], self.lies):
            return end
        slope, figures = 1 / math.tan(notch.inner / 2), self.bend.figures
        off = corner.relief / 2 / math.sin(notch.inner / 2)
        reach = end.zone - (figures.allowance - figures.outside_setback) * slope - off
        low = min(0.0, reach)
        wall = End(reach - low, -slope, most=0.0)
        if self.back:
            far = self.leg.flat + self.back_bend.figures.allowance
            wall = replace(wall, lip_reach=wall.reach - far * slope, lip_slope=-slope)
        return _End(end.zone - low, end.cut - low, end.relief, wall)

    def _ended(self, end: _End, corner, beside, crossing, told) -> _End:
        """The same end where the flange stays off its neighbour; ``told`` keeps it within its zone,
        which is shorter where the flange is already at its tangent line."""
        if beside.bend.direction != self.bend.direction:
            return end
        wall = self._wall(corner, beside, end.zone - crossing, told)
        low = min(0.0, wall.at(0.0))
        if low:
            wall = self._wall(corner, beside, end.zone - low - crossing, told)
        return _End(end.zone - low, end.cut - low if end.relief else end.cut, end.relief, wall)

    def _wall(self, corner, beside, short, told) -> End:
        """Where the flange ends past its zone, which ends ``short`` of where the tangent lines cross."""
        figures, other = self.bend.figures, beside.bend.figures
        turn, own, leant = math.pi - corner.inner, Lean.of(figures), Lean.of(other)
        meeting, theirs = Meeting(own, leant, corner.gap, turn, short), Meeting(leant, own, corner.gap, turn)
        end = replace(meeting.open(), most=0.0) if told else meeting.open()
        if meeting.slope * theirs.slope < 0 and max(abs(meeting.slope), abs(theirs.slope)) > STEEP:
            # one leans off the other: their planes meet far out, and between them stays a wedge
            back = square_off((own, self.leg.flat), (leant, beside.leg.flat), corner.gap, turn, figures.thickness)
            end = End(min(0.0, short - back))
        if not self.back:
            return end
        if not self.folds_in:
            return meeting.with_outward_lip(end, self.leg.flat, self.back_bend.figures)
        return meeting.with_lip(end, self.lip(beside.folds_in), self.leg.flat, figures.thickness)

    def flange(self, start: _End, end: _End) -> Flange:
        """The flange between its two ends."""
        span = (start.zone, self.edge_length - end.zone)
        wide = span[1] - span[0]
        if wide <= 1e-6:
            raise Refusal(f"{self.path}.edge", "is left no length between its neighbours")
        outline, back = panel(self.leg.flat, wide, start.wall, end.wall), ()
        if not outline:
            raise Refusal(f"{self.path}.length", "is so long that its mitres meet: make it shorter")
        if self.back:
            back = lip_panel(self.leg.flat, wide, start.wall, end.wall, self.back.flat)
            if not back:
                raise Refusal(f"{self.path}.return.length", "is so long that its mitres meet: make it shorter")
        return Flange(self.id, self.edge, span, self.leg, self.bend, outline, (), self.back, self.back_bend, back,
                      (start.relief, end.relief), (start.cut, self.edge_length - end.cut), self.first)


def read_flanges(blocks: Sequence[dict], outline: Sequence[Point], numbers: dict[int, tuple[int, bool]], gap: float,
                 relief: float, given: Given) -> tuple[Flange, ...]:
    """A plate's flanges from the part file's blocks; ``numbers`` tells where an edge as numbered
    lies among the outline's and whether it was given clockwise."""
    found = [_read(i, block, numbers, outline, given) for i, block in enumerate(blocks)]
    for i, one in enumerate(found):
        for other in found[:i]:
            if one.lies_on(other):
                raise Refusal(f"{one.path}.edge", f"has a flange on the same stretch already ({other.id})")
    found, n, flanges = _parted(found, gap), len(outline), []
    for one, block in zip(found, blocks, strict=True):
        ends = []
        for which, at, edge in ((0, one.edge, one.edge - 1), (1, one.edge + 1, one.edge + 1)):
            apart = min((far for far in (one.apart(f, which) for f in found) if far is not None), default=None)
            if apart is not None:  # one slot between two of an edge, unless a web stays between two
                slot = relief if apart >= 2 * relief + given.thickness - 1e-9 else apart
                ends.append(_End(one.free[which], one.free[which], slot))
                continue
            corner = _Corner(math.pi - math.radians(turn_at(outline, at % n)), gap, relief, given.thickness)
            beside = min((f for f in found if f.edge == edge % n), key=lambda f, w=which: f.free[1 - w], default=None)
            ends.append(one.end(corner, beside, which))
        flange = one.flange(*ends)
        flanges.append(replace(flange, holes=_read_holes(one, block, flange, given.length)))
    return tuple(flanges)


def _parted(found: list[_Asked], gap: float) -> list[_Asked]:
    """The same flanges, those that come nearer to each other on one edge than the gap ended a little earlier."""
    for i, one in enumerate(found):
        for j, other in enumerate(found):
            short = (gap - far) / 2 if (far := one.apart(other, 1)) is not None and far < gap else 0.0
            if short:
                found[i] = one = replace(one, free=(one.free[0], one.free[1] + short))
                found[j] = replace(other, free=(other.free[0] + short, other.free[1]))
    return found


def _read(i, block, numbers, outline, given: Given) -> _Asked:
    path, name, length = f"flanges[{i}]", f"F{i + 1}", given.length
    if block["edge"] not in numbers:
        raise Refusal(f"{path}.edge", f"must be an edge of the outline, 1 to {len(numbers)}")
    edge, turned = numbers[block["edge"]]
    long = math.dist(outline[edge], outline[(edge + 1) % len(outline)])
    free = [FLANGE.mm(block, key, path, length) for key in ("start", "end")]
    if sum(free) >= long - 1e-6:
        raise Refusal(f"{path}.end", Said("leaves nothing of the edge, which is {long} long", long=Mm(long)))
    bend = read_bend(name, block, block["direction"], path, given, 90)
    back_bend = back = None
    if "return" in block:
        inner, where = block["return"], f"{path}.return"
        back_bend = read_bend(f"{name}-return", inner, inner["direction"], where, given, 90)
        size = RETURN.mm(inner, "length", where, length)
        back = make_leg(f"{name}-return", size, OUTSIDE, (back_bend, None), f"{where}.length")
    size = read_size(block["length"], f"{path}.length", length, OUTSIDE)
    leg = make_leg(name, *size, (bend, back_bend), f"{path}.length")
    first = (long - free[0], -1.0) if turned else (free[0], 1.0)
    return _Asked(path, name, edge, long, tuple(free[::-1] if turned else free), first, bend, leg, back_bend, back)


def _read_holes(asked, block, flange, length) -> tuple[Hole, ...]:
    """The holes of a flange, which must lie within its outline. ``along`` counts from the edge's first corner
    as listed, plus what is left free there, whatever stands beside the flange."""
    found, face, (first, way) = [], Polygon(flange.outline), asked.first
    for j, inner in enumerate(block.get("holes", ())):
        where = f"{asked.path}.holes[{j}]"
        size = FLANGE_HOLE.mm(inner, "diameter", where, length)
        up = length(inner["up"], f"{where}.up") - flange.leg.setbacks[0]
        along = first + way * length(inner["along"], f"{where}.along") - flange.span[0]
        if not size / 2 < up < flange.leg.flat - size / 2:
            raise Refusal(f"{where}.up", "leaves the flange's flat")
        hole = Hole((up, along), size, path=where)
        if not face.contains(Polygon(hole.outline())):
            raise Refusal(f"{where}.along", "leaves the flange's flat")
        found.append(hole)
    return tuple(found)

"""The blank of a rib: its web, the strips its flanges are hammered up from, and the reliefs between them.

A strip reaches from the tangent line to the free edge, both offsets of the outline, so it is as wide everywhere as the
section takes. At a corner that sticks out it ends where the tangent lines cross; at one that goes in, two strips are
parted on the line that halves the corner, since they would lie on each other; where the next edge is plain it ends
square. Where a bend ends inside the metal a round relief is cut about the end of its tangent line, open to the outside.

The outline is walked once round and put together from offsets and their crossings; only reliefs are cut from it.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from shapely import LineString, Polygon

from ...develop.curves import SHORT, Edge, meeting, turn
from ...develop.hammered import Section
from ...develop.rolled import FINE
from ...sheet.model import Point
from ...sheet.rings import without_tiny
from .sides import Side, Stretch

AREA = 1e-3
"""Less is no metal, mm²."""
FAR = 4.0
"""Tangent lines that cross further away than so many flange widths do not meet."""


@dataclass(frozen=True)
class End:
    """Where a strip ends: at the ``share`` of its edge, ``beside`` which side; ``halved`` where the corner between the
    two goes in; ``foot`` about which a relief is cut, ``corner`` where the outline leaves the strip, ``straight`` from
    its free edge."""

    share: float
    beside: Side | None = None
    halved: bool = False
    foot: Point | None = None
    corner: Point | None = None
    straight: bool = False


@dataclass(frozen=True)
class Strip:
    """What one flange is hammered up from, along ``sides`` from its first ``end`` to its last."""

    sides: tuple[Side, ...]
    section: Section
    ends: tuple[End, End]
    fine: float = FINE
    """How far chords may lie off its curves, mm."""

    @cached_property
    def edges(self) -> tuple[tuple[Side, Edge], ...]:
        """The sides' edges, the first and the last as long as the bend."""
        found = [side.edge for side in self.sides]
        for place, end in zip((0, -1), self.ends, strict=True):
            first = (end.share, 1.0) if place == 0 else (0.0, end.share)
            if len(found) == 1:
                first = (self.ends[0].share, self.ends[1].share)
            found[place] = self.sides[place].edge.part(*first)
        return tuple(zip(self.sides, found, strict=True))

    def moved(self, off: float) -> list[Edge]:
        """Its edges moved outwards; at a corner that goes in they end where both neighbours meet, mm."""
        found = [edge.offset(off) for _, edge in self.edges]
        for place, end in zip((0, -1), self.ends, strict=True):
            if end.halved:
                edge = found[place]
                cross = meeting(edge, end.beside.edge.offset(off), edge.b if place else edge.a)
                if cross is None:
                    raise ValueError("two flanges do not meet in their corner")
                share = edge.where(cross)
                found[place] = edge.part(0.0, share) if place else edge.part(share, 1.0)
        return found

    def line(self, off: float) -> list[Point]:
        """The points of :meth:`moved`."""
        return [edge.at(share) for edge, (_, whole) in zip(self.moved(off), self.edges, strict=True)
                for share in whole.shares(self.section.reach, self.fine)]

    def round(self, off: float) -> list[Point]:
        """Its part of an outline: the line so far off, and the way to it from its neighbours and on to them."""
        inner, (first, last) = self.moved(-self.section.setback), self.ends
        before = [first.corner, *(() if first.straight else (inner[0].a,))]
        after = [*(() if last.straight else (inner[-1].b,)), last.corner]
        return [*(before if first.beside and not first.halved else ()), *self.line(off),
                *(after if last.beside and not last.halved else ())]

    def bands(self, low: float | None = None, high: float | None = None) -> list[Polygon]:
        """What lies between two lines, or between tangent line and free edge, along each of its edges, mm."""
        inner = self.moved(-self.section.setback if low is None else low)
        outer = self.moved(self.section.reach if high is None else high)
        return [Polygon([a.at(s) for s in shares] + [b.at(s) for s in shares[::-1]])
                for a, b, (_, whole) in zip(inner, outer, self.edges, strict=True)
                for shares in (whole.shares(self.section.reach, self.fine),)]


@dataclass(frozen=True)
class Blank:
    """``reliefs`` are (centre, what is cut away)."""

    sides: tuple[Side, ...]
    strips: tuple[Strip, ...]
    reliefs: tuple[tuple[Point, Polygon], ...]
    fine: float = FINE

    def drawn(self, fine: float) -> "Blank":
        """The same, its chords no further off the curves than so many mm."""
        return replace(self, strips=tuple(replace(strip, fine=fine) for strip in self.strips), fine=fine)

    @cached_property
    def web(self) -> Polygon:
        """Within the tangent lines, before reliefs and holes are cut."""
        return Polygon(self._walk(lambda strip: -strip.section.setback))

    @cached_property
    def whole(self) -> Polygon:
        """Web and strips, before reliefs are cut."""
        return Polygon(self._walk(lambda strip: strip.section.reach))

    @cached_property
    def pieces(self) -> list[Polygon]:
        """What is left of it, the largest first: one piece, unless the reliefs cut it apart."""
        body = self.whole - shapely.union_all([area for _, area in self.reliefs])
        found = [piece for piece in getattr(body, "geoms", [body]) if piece.area > AREA]
        return sorted(found, key=lambda piece: -piece.area)

    @property
    def centres(self) -> tuple[Point, ...]:
        """About them lie the true arcs of its outline."""
        return tuple(dict.fromkeys([s.edge.centre for s in self.sides if s.edge.sweep]
                                   + [centre for centre, _ in self.reliefs]))

    def _walk(self, level: Callable[[Strip], float]) -> list[Point]:
        """Once round: strips along their line at this level, plain sides between them."""
        strips = {id(strip.sides[0]): strip for strip in self.strips}
        held = {id(side) for strip in self.strips for side in strip.sides}
        begins, ends = ({id(end.beside): end.corner for strip in self.strips for end in strip.ends[n:n + 1]
                         if end.beside} for n in (1, 0))
        found = []
        for side in self.sides:
            if id(side) in strips:
                found += strips[id(side)].round(level(strips[id(side)]))
            elif id(side) not in held:
                low = side.edge.where(begins[id(side)]) if id(side) in begins else 0.0
                high = side.edge.where(ends[id(side)]) if id(side) in ends else 1.0
                if high <= low:
                    raise ValueError("two flanges meet along a plain edge")
                found += side.edge.part(low, high).points(self.fine)
        return without_tiny(found)


def blank_of(sides: tuple[Side, ...], runs: Sequence[Stretch], section: Section, relief: float) -> Blank:
    """The blank; ValueError where an arc is too small for the flange on its hollow side, a bend is left no length, or a
    flange would run into itself."""
    strips = []
    for run in runs:
        ends = (_end(run.sides[0].edge, run.before, section, 0), _end(run.sides[-1].edge, run.after, section, 1))
        strips.append(Strip(run.sides, section, ends))
    cuts = {}
    for strip in strips:
        for place, end in zip((0, -1), strip.ends, strict=True):
            if end.foot:
                edge, way = strip.sides[place].edge, (1.0 if place else -1.0)
                key = tuple(round(v, 6) for v in end.foot)  # of two flanges that meet there it is one
                cuts[key] = (end.foot, _relief(end, edge, way, section, relief))
    blank = Blank(sides, tuple(strips), tuple(cuts.values()))
    bands = [band for strip in strips for band in strip.bands()]
    if not all(shape.is_valid for shape in (blank.web, blank.whole, *bands)) or not blank.web.within(
            blank.whole.buffer(AREA)):
        raise ValueError("flanges run into each other")
    return blank


def _end(edge: Edge, beside: Side | None, section: Section, end: int) -> End:
    """Where the bend along an edge ends, at its start (0) or its end (1)."""
    if beside is None:
        return End(float(end))
    inner, corner, way = edge.offset(-section.setback), (edge.b if end else edge.a), (1 if end else -1)
    cross = meeting(inner, beside.edge.offset(-section.setback) if beside.flanged else beside.edge, corner)
    if cross and math.dist(cross, corner) > FAR * section.width:
        cross = None
    if beside.flanged:
        if cross is None:
            raise ValueError("two flanges do not meet in their corner")
        bend = turn(edge, beside.edge) if end else turn(beside.edge, edge)
        if bend < 0:
            return End(float(end), beside, True, cross, cross)
        share = inner.where(cross) - way * _lean(section) * math.tan(bend / 2) / edge.length
        return End(share, beside, False, cross, cross)
    beyond = math.inf if cross is None else (inner.where(cross) - end) * way * edge.length
    if beyond < SHORT:
        return End(inner.where(cross), beside, False, None, cross)
    return End(float(end), beside, False, inner.at(float(end)), corner, True)


def _lean(section: Section) -> float:
    """By how much a flange bent further than square gives way to its neighbours, which lean over the web as it does."""
    inner, _ = section.at(np.array(section.figures.allowance + section.flat), 0.0)
    lean = -float(inner) - section.setback
    return lean + section.figures.thickness if lean > 0 else 0.0


def _relief(end: End, edge: Edge, way: float, section: Section, radius: float) -> Polygon:
    """What is cut about the foot of a bend: round, and open to the outside beyond its end."""
    out = np.array(edge.outward(float(way > 0)))
    foot, far = np.array(end.foot), 2 * (section.width + section.reach + radius)
    if end.halved:
        other = np.array(end.beside.edge.outward(float(way < 0)))
        out = (out + other) / np.linalg.norm(out + other)
        return LineString([foot, foot + out * far]).buffer(radius, cap_style="flat") | _disc(end.foot, radius)
    if not end.straight:
        return _disc(end.foot, radius)
    along = np.array(edge.heading(float(way > 0))) * way * radius
    return Polygon([foot, foot + along, foot + along + out * far, foot + out * far]) | _disc(end.foot, radius)


def _disc(centre: Point, radius: float) -> Polygon:
    count = max(24, math.ceil(math.pi / math.acos(1 - min(FINE / radius, 1))))
    turns = np.linspace(0, 2 * math.pi, count, endpoint=False)
    return Polygon(np.column_stack([centre[0] + radius * np.cos(turns), centre[1] + radius * np.sin(turns)]))

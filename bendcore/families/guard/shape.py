"""A guard: a wrapper that follows the straight-lined outline of a side plate.

The outline is that of the guard seen from its front side, over the wrapper (``outside``)
or within it (``inside``); edge n runs from corner n to the next, counted from 1. The
wrapper covers the edges ``wrapped`` from first to last, all of them if not said; then it
closes at the outline's first corner in a butt seam. Legs are ``L1…`` in the order of the
outline counter-clockwise, bends ``B1…``, turned edges ``L1-front`` and ``L1-back``.

Where two turned edges lean towards each other at a bend they are either *mitred* on the
plane that halves the corner, or they *bypass*: every other leg's edges lie the thickness
and the gap further in, and lap behind their neighbours'. Where they lean apart they end
square at the tangent line of the bend.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...bending.bend import APEX
from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.model import DOWN, UP, Bend, Face, Sheet
from ..common import Given, loss, make_leg, read_bend, read_outline, read_size, turn_at
from ..joint import SPOT, Joint
from ..legs import INSIDE, OUTSIDE, Leg, Run, ShapeBend
from ..outlines import widened
from ..propagation import Propagation
from ..shape import Mate, Resize, Shape
from .fields import BYPASS, CORNER_FIELDS, FIELDS, MITRE
from .side import Wrapper, side_plate

FRONT, BACK = "front", "back"
STRAIGHT = 0.5
"""Edges that turn by less than this, degrees, are one edge."""


@dataclass(frozen=True)
class Turned:
    """The turned edges of one side: ``bends`` of every leg, in order."""

    leg: Leg
    way: str
    bends: tuple[ShapeBend, ...]


@dataclass(frozen=True)
class Guard(Shape):
    """A wrapper about a side outline, read."""

    thickness: float
    dims: str
    outline: tuple[tuple[float, float], ...]
    """Corners counter-clockwise, over the wrapper's outer faces, mm."""
    wrapped: tuple[int, ...]
    """Edges under the legs, by index into ``outline``."""
    panels: tuple[Leg, ...]
    corners: tuple[ShapeBend, ...]
    across: Leg
    """Over the turned edges, or over the bare edges."""
    turned: dict[str, Turned]
    style: str
    gap: float
    numbers: dict[int, int]
    """Edge by index → its number as given."""

    kind = "guard"
    fields = FIELDS
    convention = APEX

    @property
    def is_closed(self) -> bool:
        """Whether it goes all the way round."""
        return len(self.wrapped) == len(self.outline)

    @property
    def legs(self) -> tuple[Leg, ...]:
        """Legs of the wrapper, its width, its turned edges."""
        return (*self.panels, self.across, *(side.leg for side in self.turned.values()))

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Corners of the wrapper, then turned edges."""
        return (*self.corners, *(bend for side in self.turned.values() for bend in side.bends))

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max(self.across.flat, *(p.flat for p in self.panels))

    @property
    def runs(self) -> tuple[Run, ...]:
        """Round the girth, and across the width."""
        rims = self.turned.values()
        return (Run("girth", tuple(p.id for p in self.panels), tuple(b.id for b in self.corners)),
                Run("width", ("across", *(r.leg.id for r in rims)), tuple(r.bends[0].id for r in rims)))

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured across the finished guard."""
        spans = [max(axis) - min(axis) for axis in zip(*self.outline, strict=True)]
        return [("long", "Side, overall along", spans[0]), ("high", "Side, overall up", spans[1])]

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """Over all, leg after leg round the outline."""
        if name not in ("long", "high"):
            return None
        axis, first = int(name == "high"), self.wrapped[0]
        (x0, y0), (x1, y1) = self.outline[first], self.outline[(first + 1) % len(self.outline)]
        turns = [(bend.id, 1 if bend.direction == UP else -1) for bend in self.corners]
        span = [p[axis] for p in self.outline]
        return errors.overall(self.panels, turns, math.atan2(y1 - y0, x1 - x0), axis, max(span) - min(span))

    def resized(self) -> Iterator[Resize]:
        """Its width, and that of its turned edges."""
        yield Resize((self.across,), (("width",),), "Make the width {size}")
        for side, turned in self.turned.items():
            yield Resize((turned.leg,), ((side, "width"),), f"Make the {side}'s width {{size}}")

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Its side plates."""
        if mates.get("side"):
            yield Joint("side", "side plate along the wrapper", sum(leg.size for leg in self.panels), SPOT,
                        mates["side"], closes=True)

    def mates(self) -> tuple[Mate, ...]:
        """Its side plates."""
        return (Mate("side", "Side plate", 2, 0.3),)

    def mate_sizes(self) -> dict[str, float]:
        """Its legs."""
        return {leg.id: leg.size for leg in self.panels}

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """The outline within the wrapper, its corners snipped clear of the bends."""
        wrapper = Wrapper(self.outline, self.wrapped, self.panels, self.corners, self.thickness)
        return side_plate(wrapper, sizes, clearance)

    def place(self, name: str) -> str:
        """The turned edge's field, else the outline."""
        side, _ = self._turned_at(name)
        return f"{side}.width" if side else "outline"

    def _turned_at(self, name: str) -> tuple[str, str]:
        """(side, leg) of a turned edge; empty for what is none."""
        return self._edges.get(name, ("", ""))

    @cached_property
    def _edges(self) -> dict[str, tuple[str, str]]:
        return {bend.id: (side, panel.id) for side, edges in self.turned.items()
                for panel, bend in zip(self.panels, edges.bends, strict=True)}

    def thing(self, name: str) -> str:
        """A leg is its edge of the outline, a turned edge that of its side."""
        edge = next((self.numbers[at] for leg, at in zip(self.panels, self.wrapped, strict=True) if leg.id == name), 0)
        return f"edge-{edge}" if edge else self._turned_at(name)[0]

    def short(self, name: str) -> str:
        """A leg by its number; a turned edge by its side."""
        return self._turned_at(name)[0] or name

    def _called(self, name: str) -> str:
        """*Leg L2*, *bend B1*, *edge at the front, L2*."""
        side, leg = self._turned_at(name)
        if side:
            return f"Edge at the {side}, {leg}"
        return f"Bend {name}" if name in {bend.id for bend in self.corners} else f"Leg {name}"

    def _sheet(self) -> Sheet:
        """Legs in a row, turned edges at the front and back of each."""
        faces, joints = [], []
        for i, panel in enumerate(self.panels):
            low, high = self._band(i)
            faces.append(Face(panel.id, ((0.0, low), (panel.flat, low), (panel.flat, high), (0.0, high))))
            if i:
                bend, before = self.corners[i - 1], self.panels[i - 1]
                bands = (self._band(i - 1), (low, high))
                span = (max(b[0] for b in bands), min(b[1] for b in bands))
                joints.append(Bend(bend.id, before.id, panel.id, tuple((before.flat, y) for y in span),
                                   tuple((0.0, y) for y in span), bend.direction, bend.figures))
        for name, side in self.turned.items():
            for i, panel in enumerate(self.panels):
                self._edge(i, panel, name, side, faces, joints)
        return Sheet(self.thickness, self.panels[0].id, tuple(faces), tuple(joints))

    def _is_behind(self, i: int) -> bool:
        """Whether leg i's turned edges lie behind their neighbours'."""
        return self.style == BYPASS and i % 2 == 1

    def _band(self, i: int) -> tuple[float, float]:
        """Where leg i lies across the wrapper, tangent line to tangent line."""
        back = self.thickness + self.gap if self._is_behind(i) else 0.0
        return back * (FRONT in self.turned), self.across.flat - back * (BACK in self.turned)

    def _edge(self, i, panel, name, side, faces, joints):
        """One leg's turned edge, x along the leg; the back is walked the other way."""
        flat, bend = panel.flat, side.bends[i]
        (s0, f0), (s1, f1) = (self._limits(i, end, bend, side.leg.flat) for end in (0, 1))
        if flat - s0 - s1 <= 1e-6 or flat - f0 - f1 <= 1e-6:
            raise Refusal(f"{name}.width", f"is so wide that the corners of {bend.id} meet: make it narrower")
        near, far, at = (s0, flat - s1), (f0, flat - f1), self._band(i)[name == BACK]
        if name == BACK:
            near, far = (tuple(flat - x for x in pair[::-1]) for pair in (near, far))
            line = ((flat - near[0], at), (flat - near[1], at))
        else:
            line = ((near[0], at), (near[1], at))
        high = side.leg.flat
        faces.append(Face(bend.id, ((0.0, near[0]), (high, far[0]), (high, far[1]), (0.0, near[1]))))
        joints.append(Bend(bend.id, panel.id, bend.id, line, ((0.0, near[0]), (0.0, near[1])), bend.direction,
                           bend.figures))

    def _limits(self, i, end, edge, flat) -> tuple[float, float]:
        """How far a turned edge stays back from its leg's end, at its tangent line and at its free edge.

        Seen square to the side plate: depth v runs inwards from the leg's outer face (for edges
        turned out, outwards from its inner face), and x along the leg from the corner's apex.
        """
        other = i + (1 if end else -1)
        corner = self._corner_at(i, end)
        if corner is None or corner[1] != edge.direction:
            return 0.0, 0.0
        turn, _, spent = corner
        depth = edge.figures.outside_setback
        if self._is_behind(i) == self._is_behind(other % len(self.panels)):
            stand = self.gap / 2 / math.cos(turn / 2)
            start, far = (v * math.tan(turn / 2) + stand - spent for v in (depth, depth + flat))
        elif self._is_behind(i):  # clear of the zone of the edge before it
            start, far = ((depth + self.gap - v * math.cos(turn)) / math.sin(turn) - spent
                          for v in (depth, depth + flat))
        else:  # no farther than the next leg's outer face
            start, far = (-v / math.tan(turn) - spent for v in (depth, depth + flat))
        start = max(0.0, start)
        return start, max(start, far)

    def _corner_at(self, i, end) -> tuple[float, str, float] | None:
        """(turn in radians, direction, what the leg's end has lost from the apex) of a leg's corner;
        None at a free end."""
        if 0 <= i - 1 + end < len(self.corners):
            bend = self.corners[i - 1 + end]
            return math.radians(bend.figures.angle), bend.direction, bend.figures.outside_setback
        if not self.is_closed:
            return None
        turn = turn_at(self.outline, self.wrapped[0])
        return math.radians(turn), UP, seam_loss(turn, self.thickness, self.gap)


def seam_loss(turn: float, thickness: float, gap: float) -> float:
    """What either leg gives up at an open corner turned by ``turn`` degrees, so that their inner
    edges stand ``gap`` apart, mm."""
    half = math.radians(turn) / 2
    return thickness * math.tan(half) + gap / 2 / math.cos(half)


def read_guard(shape: dict, given: Given) -> Guard:
    """A guard from the part file's ``shape``; refusals name the field below ``shape``."""
    length, thickness = given.length, given.thickness
    outline, numbers = read_outline(shape["outline"], length)
    dims, n = shape.get("dims", OUTSIDE), len(outline)
    wrapped = _wrapped(shape.get("wrapped"), numbers, n)
    turns = [turn_at(outline, i) for i in range(n)]
    for i in wrapped if len(wrapped) == n else wrapped[1:]:
        if abs(turns[i]) < STRAIGHT:
            raise Refusal("outline", f"runs straight on at corner {_number_of(i, numbers, n)}: leave that corner out")
    if len(wrapped) == n and turns[wrapped[0]] < 0:
        raise Refusal("outline", "has its first corner turned inwards: begin at another, for the seam to lie there")
    corners = tuple(read_bend(f"B{j}", {}, UP if turns[i] > 0 else DOWN, "inside_radius", given, abs(turns[i]))
                    for j, i in enumerate(wrapped[1:], 1))
    block = shape.get("corners", {})
    gap = CORNER_FIELDS.mm(block, "gap", "corners", length)
    # within the wrapper the outline's corner is the inner apex already
    cut = seam_loss(turns[wrapped[0]], thickness if dims == OUTSIDE else 0.0, gap) if len(wrapped) == n else 0.0
    panels = tuple(_panel(j, math.dist(outline[i], outline[(i + 1) % n]), dims, corners, cut)
                   for j, i in enumerate(wrapped))
    turned = {side: _read_turned(shape[side], side, panels, given) for side in (FRONT, BACK) if side in shape}
    ends = tuple(turned[side].bends[0] if side in turned else None for side in (FRONT, BACK))
    size, how = read_size(shape["width"], "width", length, OUTSIDE)
    outer = outline if dims == OUTSIDE else widened(outline, [thickness * (i in wrapped) for i in range(n)])
    across = make_leg("across", size, how, ends, "width")
    guard = Guard(thickness, dims, outer, wrapped, panels, corners, across, turned, block.get("style", MITRE), gap,
                  {at: number for number, (at, _) in numbers.items()})
    guard.sheet()  # refuses turned edges whose corners meet
    return guard


def _wrapped(asked, numbers, n) -> tuple[int, ...]:
    """The edges wrapped, counter-clockwise from the first."""
    if asked is None:
        return tuple((step - numbers[1][1]) % n for step in range(n))  # clockwise, the first corner is the last here
    for j, number in enumerate(asked):
        if number not in numbers:
            raise Refusal(f"wrapped[{j}]", f"must be an edge from 1 to {n}")
    first, last = (numbers[number][0] for number in (asked if not numbers[1][1] else asked[::-1]))
    return tuple((first + step) % n for step in range((last - first) % n + 1))


def _number_of(corner, numbers, n) -> int:
    """A corner's number as given, from its place counter-clockwise."""
    return n - corner if numbers[1][1] else corner + 1


def _panel(j, size, dims, corners, cut) -> Leg:
    """A leg between two corners: at one that turns inwards, outer and inner change places."""
    swap = {OUTSIDE: INSIDE, INSIDE: OUTSIDE}
    ends = (corners[j - 1] if j else None, corners[j] if j < len(corners) else None)
    losses = [loss(end, dims if end is None or end.direction == UP else swap[dims]) if end else cut for end in ends]
    flat = size - sum(losses)
    if flat <= 1e-6:
        raise Refusal("outline", Said("has an edge of {size} under {leg}, whose bends take {taken}", size=Mm(size),
                                       leg=f"L{j + 1}", taken=Mm(sum(losses))))
    over = flat + sum(loss(end, OUTSIDE) for end in ends)
    return Leg(f"L{j + 1}", size, dims, flat, tuple(losses), over, tuple(end.id if end else None for end in ends))


def _read_turned(block, side, panels, given) -> Turned:
    way = block["direction"]
    bends = tuple(read_bend(f"{panel.id}-{side}", block, UP if way == "in" else DOWN, side, given, 90)
                  for panel in panels)
    size, _ = read_size(block["width"], f"{side}.width", given.length, OUTSIDE)
    # measured from the wrapper's outer face: of edges turned out that is the bend's inside
    leg = make_leg(f"{side}-edge", size, OUTSIDE if way == "in" else INSIDE, (bends[0], None), f"{side}.width")
    return Turned(leg, way, bends)

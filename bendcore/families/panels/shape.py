"""A base face of any straight-sided outline and a tree of panels: on any edge of any face, over all or part of it, one
more face, with hems and openings. Faces are ``base`` and the panels ``P1`` …, which their bends are called after."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

import numpy as np

from ...bending.bend import APEX
from ...fields import Steps
from ...sheet.model import Bend, Edge, Face, Hole, Point, Sheet
from ..common import turn_at
from ..joint import WELD, Joint
from ..legs import Hem, Leg, Run, ShapeBend
from ..metal import cut_from
from ..outlines import extent
from ..plate.flanges import relief_depth
from ..propagation import Propagation, edge_error
from ..shape import Resize, Shape
from .corner import Bent
from .fields import FIELDS

BASE = "base"
BEND_EDGE = 3
"""The edge of a panel's mould on which it is bent."""
NOTCH = 0.02
"""No shallower notch is cut beside a bend, mm."""
PAST = 0.1
"""What is cut away at an edge is cut so far past it, mm."""


@dataclass(frozen=True)
class Panel:
    """A panel: ``on`` which face and on which ``edge`` of its mould, ``long`` as that is; its ``mould``; where its bend
    lies along the edge (``zone``); whether the parent's metal goes on beside either end of it (``parted``); how much
    was left ``free`` there; mm."""

    id: str
    path: str
    on: str
    edge: int
    bend: ShapeBend
    leg: Leg
    mould: tuple[Point, ...]
    zone: tuple[float, float]
    long: float
    parted: tuple[bool, bool]
    hem: Hem | None
    free: tuple[float, float]

    @property
    def asked_bent(self) -> Bent:
        """What hangs on its edge."""
        return Bent(self.bend.figures, self.bend.direction)

    @property
    def setback(self) -> float:
        """From the outside of its bend to its tangent line, mm."""
        return self.bend.figures.outside_setback


@dataclass(frozen=True)
class Panels(Shape):
    """Panels on panels, read; ``outline`` are the base's corners counter-clockwise over the outside of what is bent
    there, ``cut_out`` by face its openings in the coordinates of its mould, mm."""

    thickness: float
    dims: str
    outline: tuple[Point, ...]
    panels: tuple[Panel, ...]
    relief: float
    gap: float
    cut_out: Mapping[str, tuple[Hole, ...]] = field(default_factory=dict)
    turned: bool = False
    """Whether the corners were given clockwise, so that edges are counted the other way."""

    kind = "panels"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The panels."""
        return tuple(panel.leg for panel in self.panels)

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Those of the panels."""
        return tuple(panel.bend for panel in self.panels)

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Hems too."""
        return (*self.bends, *(panel.hem for panel in self.panels if panel.hem))

    @property
    def holes(self) -> tuple[Hole, ...]:
        """Those of the base."""
        return self.cut_out.get(BASE, ())

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max((panel.zone[1] - panel.zone[0] for panel in self.panels), default=0.0)

    def numbered(self) -> list[tuple[int, Edge]]:
        """(number as given, (corner, corner)) of every edge of the base."""
        n = len(self.outline)
        edges = list(zip(self.outline, (*self.outline[1:], self.outline[0]), strict=True))
        return [((n - 2 - i) % n + 1 if self.turned else i + 1, edge) for i, edge in enumerate(edges)]

    def counted_edges(self) -> list[tuple[int, Edge]]:
        """Clockwise where the corners were given so."""
        return [(n, edge[::-1] if self.turned else edge) for n, edge in self.numbered()]

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of the base's edges as they are finished."""
        return [(f"edge-{n}", f"Edge {n} of the base, over its panels", math.dist(*edge))
                for n, edge in sorted(self.numbered())]

    def edges(self) -> dict[str, Edge]:
        """Of the finished base."""
        return {f"edge-{n}": edge for n, edge in self.numbered()}

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """An edge of the base is as much longer as the panels beside it stand further out."""
        numbers = {f"edge-{n}": i for i, (n, _) in enumerate(self.numbered())}
        bends = {panel.edge: self.sheet().bend[panel.id] for panel in self.panels if panel.on == BASE}
        return edge_error(self.outline, numbers[name], bends, errors) if name in numbers else None

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Corners at which two panels that stand to the same side meet: welded over the height of the lower."""
        for i, one in enumerate(self.panels):
            for other in self.panels[:i]:
                if one.bend.direction == other.bend.direction and self._meet(one, other):
                    yield Joint(f"corner:{other.id}-{one.id}", f"corner of panels {other.id} and {one.id}",
                                min(one.leg.outside, other.leg.outside), WELD)

    def _meet(self, one: Panel, other: Panel) -> bool:
        """Whether two panels come to one corner of their face that sticks out."""
        if one.on != other.on:
            return False
        ring = self._mould(one.on)
        for first, second in ((one, other), (other, one)):
            if (first.edge + 1) % len(ring) == second.edge and first.free[1] == second.free[0] == 0:
                return turn_at(ring, second.edge) > 0
        return False

    def size_path(self, leg: str) -> Steps | None:
        """A panel's length."""
        return next((("panels", i, "length") for i, panel in enumerate(self.panels) if panel.id == leg), None)

    def resized(self) -> Iterator[Resize]:
        """Its panels."""
        for i, panel in enumerate(self.panels):
            yield Resize((panel.leg,), (("panels", i, "length"),), f"Make panel {panel.id} {{size}}")

    def mate_sizes(self) -> dict[str, float]:
        """Its panels, the base over all, and the base's holes."""
        return super().mate_sizes() | extent(self.outline)

    def place(self, name: str) -> str:
        """The panel's field, or that of its hem."""
        number, hem = name.removeprefix("P").partition("-")[0], name.endswith("-hem")
        return f"panels[{int(number) - 1}]" + (".hem" if hem else "") if number.isdigit() else "outline"

    def thing(self, name: str) -> str:
        """Every panel is one, its hem with it."""
        return "" if name == BASE else name.removesuffix("-hem")

    def _called(self, name: str) -> str:
        """*Base*; *panel P1*; *panel P1, hem*."""
        return "Base" if name == BASE else f"Panel {name}".replace("-hem", ", hem")

    def _sheet(self) -> Sheet:
        """Every face less its strips and reliefs, joined at its bends."""
        faces, bends = [Face(BASE, self._metal(BASE, self.outline, 0.0), self.holes)], []
        for panel in self.panels:
            back = panel.setback
            holes = tuple(_moved(hole, back) for hole in self.cut_out.get(panel.id, ()))
            faces.append(Face(panel.id, self._metal(panel.id, panel.mould, back), holes))
            a, along, inward = _axes(self._mould(panel.on), panel.edge)
            off = self._setback(panel.on)
            near = tuple((a[0] + along[0] * u + inward[0] * back - off, a[1] + along[1] * u + inward[1] * back)
                         for u in panel.zone)
            bends.append(Bend(panel.id, panel.on, panel.id, near, tuple((0.0, u) for u in panel.zone),
                              panel.bend.direction, panel.bend.figures))
            if panel.hem:
                face, bend = self._hem(panel)
                faces.append(face)
                bends.append(bend)
        return Sheet(self.thickness, BASE, tuple(faces), tuple(bends))

    def _mould(self, name: str) -> tuple[Point, ...]:
        return self.outline if name == BASE else next(p.mould for p in self.panels if p.id == name)

    def _setback(self, name: str) -> float:
        """By how much a face's own coordinates begin further up than its mould's."""
        return 0.0 if name == BASE else next(p.setback for p in self.panels if p.id == name)

    def _metal(self, name: str, mould: tuple[Point, ...], off: float) -> tuple[Point, ...]:
        """What stays flat of a face, in its own coordinates."""
        away: list[list[Point]] = []
        feet: list[Point] = []
        if name != BASE:
            low, high = min(y for _, y in mould) - PAST, max(y for _, y in mould) + PAST
            away.append([(-PAST, low), (off, low), (off, high), (-PAST, high)])
            own = next(p for p in self.panels if p.id == name)
            feet.append((off, sum(own.zone) / 2))
            clear = own.asked_bent.deduction + self.gap  # of the parent's metal, in the blank
            away += [[(-PAST, a), (clear, a), (clear, b), (-PAST, b)]
                     for which, (a, b) in enumerate(((low, own.zone[0]), (own.zone[1], high)))
                     if self._goes_on(own, which) and b - a > PAST and clear > off + NOTCH]
            if own.hem:
                x = max(x for x, _ in mould) - own.hem.figures.outside_setback
                far = max(x for x, _ in mould) + PAST
                away.append([(x, low), (far, low), (far, high), (x, high)])
        for panel in self.panels:
            if panel.on == name:
                axes = _axes(mould, panel.edge)
                (low, high), (at_start, at_end) = panel.zone, (self._goes_on(panel, which) for which in (0, 1))
                past = [_ear(mould, panel.edge + which, panel.setback) for which in (0, 1)]
                strip = (low - self.relief if at_start else -past[0],
                         high + self.relief if at_end else panel.long + past[1])
                away.append(_box(axes, *strip, panel.setback))
                deep = relief_depth(panel.bend.figures)
                away += [_box(axes, low - self.relief, low, deep)] * at_start
                away += [_box(axes, high, high + self.relief, deep)] * at_end
                feet.append(_at(axes, (low + high) / 2, panel.setback))
        path = next((p.path for p in self.panels if p.id == name), "panels")
        ring = cut_from(mould, away, feet, path, self._called(name).lower())
        return tuple((x - off, y) for x, y in ring)

    def _goes_on(self, panel: Panel, which: int) -> bool:
        """Whether the face's metal goes on beside this end of a bend: it was parted there, or ends before the edge does
        since bends on the panel's own sides need the corner."""
        if panel.parted[which]:
            return True
        rest = panel.zone[0] if which == 0 else panel.long - panel.zone[1]
        side = 0 if which == 0 else 2
        return rest > 1e-9 and any(one.on == panel.id and one.edge == side for one in self.panels)

    def _hem(self, panel: Panel) -> tuple[Face, Bend]:
        """A panel's far edge folded back, no wider than what it comes to lie on."""
        hem, length = panel.hem, panel.mould[1][0]
        fold, back = hem.figures.outside_setback, hem.flat
        (_, low0), (_, low1), (_, high1), (_, high0) = panel.mould

        def span(v):
            share = v / length
            return low0 + (low1 - low0) * share, high0 + (high1 - high0) * share
        (low, high), (deep_low, deep_high) = span(length - fold), span(length - fold - back)
        x = length - fold - panel.setback
        face = Face(hem.id, ((0.0, low), (back, max(low, deep_low)), (back, min(high, deep_high)), (0.0, high)))
        return face, Bend(hem.id, panel.id, hem.id, ((x, low), (x, high)), ((0.0, low), (0.0, high)), hem.direction,
                          hem.figures)


def _ear(ring: tuple[Point, ...], corner: int, deep: float) -> float:
    """How far a face reaches beyond a corner of its edge, so deep within it, mm."""
    turn = math.radians(turn_at(ring, corner % len(ring)))
    return (deep * math.tan(math.pi / 2 - turn) if 0 < turn < math.pi / 2 else 0.0) + PAST


def _axes(ring: tuple[Point, ...], edge: int) -> tuple[Point, Point, Point]:
    """First corner of an edge, its direction, and the direction into the face."""
    a, b = ring[edge], ring[(edge + 1) % len(ring)]
    long = math.dist(a, b)
    along = ((b[0] - a[0]) / long, (b[1] - a[1]) / long)
    return a, along, (-along[1], along[0])


def _at(axes, u: float, v: float) -> Point:
    a, along, inward = axes
    return (a[0] + along[0] * u + inward[0] * v, a[1] + along[1] * u + inward[1] * v)


def _box(axes, low: float, high: float, deep: float) -> list[Point]:
    return [_at(axes, u, v) for u, v in ((low, -PAST), (high, -PAST), (high, deep), (low, deep))]


def _moved(hole: Hole, back: float) -> Hole:
    """From the mould's coordinates to the face's own."""
    return Hole((hole.centre[0] - back, hole.centre[1]), hole.diameter, hole.length, hole.angle, hole.ring, hole.room,
                hole.path)


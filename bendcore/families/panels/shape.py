"""A base face of any straight-sided outline and a tree of panels: on any edge of any face, over all or part of it, one
more face, with hems and openings. Faces are ``base`` and the panels ``P1`` …, which their bends are called after."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from shapely import Polygon, box

from ...bending.bend import APEX
from ...fields import Steps
from ...notices import NOTE, Notice
from ...said import Mm, Said
from ...sheet.across import with_openings_across
from ...sheet.model import Bend, Face, Hole, Point, Sheet
from ...sheet.rings import TINY
from ..collar import Collar
from ..common import turn_at
from ..joint import SPOT, WELD, Joint
from ..legs import Hem, Leg, Run, ShapeBend
from ..metal import PAST, EdgeAxes, cut_from, relief_depth
from ..outlined import Outlined
from ..shape import Resize
from .curves import Curved
from .fields import CUT_KEYHOLE, CUT_NONE, CUT_ROUND, CUT_SQUARE, FIELDS
from .held import Held
from .meets import Meets
from .notches import Notch

BASE = "base"
MEETS = "meets"
"""Where a file tells of corners; a tab is placed by one of them."""
FAR, AT_END = 1, 2
"""Sides of a panel that has no outline of its own: its start is 0, its bend the last edge of its mould."""
ROUND_STEPS = 12
"""Of the end of a round relief."""
TORN = 0.05
"""Without a relief a bend is torn in beside the metal that stays, so wide, mm."""
NOTCH = 0.02
"""No shallower notch is cut beside a bend, mm."""


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
    reliefs: str = CUT_SQUARE
    is_outlined: bool = False
    """Whether it has an outline of its own."""

    @property
    def is_tab(self) -> bool:
        """Whether a corner asked for it, and not the list of panels."""
        return self.path.startswith(MEETS)

    @property
    def is_fold(self) -> bool:
        """Whether it lies on what it stands on."""
        return self.bend.figures.angle >= 180

    def at(self, place: Point, turned: bool) -> Point:
        """A point (along from where it begins, up) in its mould's coordinates; ``turned`` as its base."""
        along, up = place
        return up, self.long - self.free[1] - along if turned else self.free[0] + along

    @property
    def setback(self) -> float:
        """From the outside of its bend to its tangent line, mm."""
        return self.bend.figures.outside_setback


@dataclass(frozen=True)
class Panels(Outlined):
    """Panels on panels, read; ``outline`` are the base's corners counter-clockwise over the outside of what is bent
    there, ``cut_out`` by face its openings in the coordinates of its mould, mm."""

    thickness: float
    dims: str
    outline: tuple[Point, ...]
    panels: tuple[Panel, ...]
    relief: float
    gap: float
    cut_out: Mapping[str, tuple[Hole, ...]] = field(default_factory=dict)
    arcs: Mapping[str, Curved] = field(default_factory=dict)
    """By face that has any: its mould with its curves."""
    collars: tuple[Collar, ...] = ()
    notches: tuple[Notch, ...] = ()
    turned: bool = False
    """Whether the corners were given clockwise, so that edges are counted the other way."""
    held: tuple[Held, ...] = ()
    """Sizes held over all."""
    meets: Meets = Meets((), 0.0)
    """Corners told by themselves."""

    kind = "panels"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()
    opens_as_panels = False
    edge_title = "Edge {n} of the base, over its panels"

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The panels."""
        return tuple(panel.leg for panel in self.panels)

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Those of the panels, but for folds."""
        return tuple(panel.bend for panel in self.panels if not panel.is_fold)

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Folds and hems too."""
        return (*(panel.bend for panel in self.panels), *(panel.hem for panel in self.panels if panel.hem))

    @property
    def holes(self) -> tuple[Hole, ...]:
        """Those of the base."""
        return self.cut_out.get(BASE, ())

    @property
    def arched(self) -> Mapping[str, frozenset[int]]:
        """By face the edges of its mould that are arcs."""
        return {face: frozenset(i for i, run in enumerate(own.edges) if len(run) > 2)
                for face, own in self.arcs.items()}

    @property
    def centres(self) -> tuple[Point, ...]:
        """Of the base's arcs."""
        return self.arcs[BASE].centres if BASE in self.arcs else ()

    def counted_edges(self) -> list[tuple[int, Sequence[Point]]]:
        """With what lies between the ends of an arc."""
        if BASE not in self.arcs:
            return super().counted_edges()
        edges = self.arcs[BASE].edges
        return [(n, edges[i][::-1] if self.turned else edges[i]) for i, (n, _) in enumerate(self.numbered())]

    def openings(self) -> list[tuple[str, str, float]]:
        """What is held over all stands before the edges of the base."""
        return [(f"held-{n}", f"Overall {n}, {one.dims}: {self._between(one)}", one.size)
                for n, one in enumerate(self.held, 1)] + super().openings()

    def _between(self, one: Held) -> str:
        return " to ".join("base" if name == BASE else f"panel {name}" for name in (one.one, one.other))

    def notices(self, coated: bool) -> Iterator[Notice]:
        """Which sizes give way to those held over all."""
        for n, one in enumerate(self.held, 1):
            size = "its outline" if one.gives == BASE else "its length"
            yield Notice("gives-way", NOTE, one.gives,
                         Said("{size} follows from overall {n}: {held} {dims}, {between}", size=size, n=n,
                              held=Mm(one.size), dims=one.dims, between=self._between(one)))

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max((panel.zone[1] - panel.zone[0] for panel in self.panels), default=0.0)

    def bent_at(self) -> Mapping[int, str]:
        """The bends of the panels on the base."""
        return {panel.edge: panel.id for panel in self.panels if panel.on == BASE}

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Corners at which two panels that stand to the same side meet: welded over the height of the lower, or spot
        welded through their tab."""
        corners = [panel for panel in self.panels if not (panel.is_fold or panel.is_tab)]
        for i, one in enumerate(corners):
            for other in corners[:i]:
                if one.bend.direction == other.bend.direction and self.meet(one, other):
                    told = self.meets.of(one.id, other.id)
                    yield Joint(f"corner:{other.id}-{one.id}", f"corner of panels {other.id} and {one.id}",
                                min(one.leg.outside, other.leg.outside), SPOT if told and told.tab else WELD)

    def meet(self, one: Panel, other: Panel) -> bool:
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
        return next((("panels", i, "length") for i, panel in enumerate(self.panels)
                     if panel.id == leg and not (panel.is_outlined or panel.is_tab)), None)

    def resized(self) -> Iterator[Resize]:
        """Its panels."""
        for i, panel in enumerate(self.panels):
            if not (panel.is_outlined or panel.is_tab):
                yield Resize((panel.leg,), (("panels", i, "length"),), f"Make panel {panel.id} {{size}}")

    def place(self, name: str) -> str:
        """The panel's field, or that of its hem."""
        panel = self._panel.get(name.removesuffix("-hem"))
        return panel.path + (".hem" if name.endswith("-hem") else "") if panel else "outline"

    def thing(self, name: str) -> str:
        """Every panel is one, its hem with it."""
        panel = self._panel.get(name.removesuffix("-hem"))
        if panel and panel.is_tab:
            return f"joint-{int(panel.path[len(MEETS) + 1:-1]) + 1}"
        return f"P{self._number[panel.id]}" if panel else ""

    def _called(self, name: str) -> str:
        """*Base*; *panel P1*; *panel P1, hem*."""
        panel = self._panel.get(name)
        if panel and panel.is_tab:
            return f"Tab of panel {panel.on}"
        return "Base" if name == BASE else f"Panel {name}".replace("-hem", ", hem")

    def _sheet(self) -> Sheet:
        """Every face less its strips and reliefs, joined at its bends."""
        faces, bends = [Face(BASE, self._metal(BASE, self.outline, 0.0), self.holes)], []
        for panel in self.panels:
            back = panel.setback
            holes = tuple(_moved(hole, back) for hole in self.cut_out.get(panel.id, ()))
            faces.append(Face(panel.id, self._metal(panel.id, panel.mould, back), holes))
            axes = EdgeAxes.of(self._mould(panel.on), panel.edge)
            off = self._setback(panel.on)
            near = tuple((x - off, y) for x, y in (axes.at(u, back) for u in panel.zone))
            bends.append(Bend(panel.id, panel.on, panel.id, near, tuple((0.0, u) for u in panel.zone),
                              panel.bend.direction, panel.bend.figures))
            if panel.hem:
                face, bend = self._hem(panel)
                faces.append(face)
                bends.append(bend)
        return with_openings_across(Sheet(self.thickness, BASE, tuple(faces), tuple(bends)))

    @cached_property
    def _number(self) -> dict[str, int]:
        return {BASE: 0} | {panel.id: n for n, panel in enumerate(self.panels, 1)}

    @cached_property
    def _panel(self) -> dict[str, Panel]:
        return {panel.id: panel for panel in self.panels}

    @cached_property
    def _standing(self) -> dict[str, list[Panel]]:
        """The panels on a face, by its name."""
        found: dict[str, list[Panel]] = {}
        for panel in self.panels:
            found.setdefault(panel.on, []).append(panel)
        return found

    def _mould(self, name: str) -> tuple[Point, ...]:
        return self.outline if name == BASE else self._panel[name].mould

    def _setback(self, name: str) -> float:
        """By how much a face's own coordinates begin further up than its mould's."""
        return 0.0 if name == BASE else self._panel[name].setback

    def _metal(self, name: str, mould: tuple[Point, ...], off: float) -> tuple[Point, ...]:
        """What stays flat of a face, in its own coordinates."""
        away: list[list[Point]] = []
        feet: list[Point] = []
        if name != BASE:
            low, high = min(y for _, y in mould) - PAST, max(y for _, y in mould) + PAST
            away.append([(-PAST, low), (off, low), (off, high), (-PAST, high)])
            own = self._panel[name]
            feet.append((off, sum(own.zone) / 2))
            clear = own.bend.figures.deduction + self.gap  # of the parent's metal, in the blank
            away += [[(-PAST, a), (clear, a), (clear, b), (-PAST, b)]
                     for which, (a, b) in enumerate(((low, own.zone[0]), (own.zone[1], high)))
                     if self._goes_on(own, which) and b - a > PAST and clear > off + NOTCH]
            if own.hem:
                x = max(x for x, _ in mould) - own.hem.figures.outside_setback
                far = max(x for x, _ in mould) + PAST
                away.append([(x, low), (far, low), (far, high), (x, high)])
        for panel in self._standing.get(name, ()):
            axes = EdgeAxes.of(mould, panel.edge)
            (low, high), (at_start, at_end) = panel.zone, (self._goes_on(panel, which) for which in (0, 1))
            past = [_ear(mould, panel.edge + which, panel.setback) for which in (0, 1)]
            wide = TORN if panel.reliefs == CUT_NONE else self.relief
            slim = wide / 2 if panel.reliefs == CUT_KEYHOLE else wide
            strip = low - slim if at_start else -past[0], high + slim if at_end else panel.long + past[1]
            away.append(axes.strip(*strip, panel.setback))
            away += [self._relief(axes, panel, at, at < low)
                     for at, is_cut in ((low - wide, at_start), (high, at_end))
                     if is_cut and panel.reliefs != CUT_NONE]
            feet.append(axes.at((low + high) / 2, panel.setback))
        number = self._number[name]
        notches = [notch for notch in self.notches if notch.face == number]
        away += [notch.cut(mould) for notch in notches]
        path = notches[0].path if notches else "panels" if name == BASE else self._panel[name].path
        whole = self.arcs[name].ring if name in self.arcs else mould
        if name != BASE and len(away) == 1 and whole is mould and not own.is_outlined and (ring := _beyond(mould, off)):
            return ring
        ring = cut_from(whole, away, feet, path, self._called(name).lower())
        return tuple((x - off, y) for x, y in ring)

    def _relief(self, axes: EdgeAxes, panel: Panel, low: float, is_start: bool) -> list[Point]:
        """What is cut beside a bend from so far along its edge: square, with a round end, or a slot with an eye."""
        deep, wide = relief_depth(panel.bend.figures), self.relief
        if panel.reliefs == CUT_KEYHOLE:  # a slot half as wide beside the bend, a round hole as wide at its end
            middle = low + wide / 2
            slot = (middle, low + wide) if is_start else (low, middle)
            eye = [(middle + wide / 2 * math.cos(a), deep - wide / 2 + wide / 2 * math.sin(a))
                   for a in (2 * math.pi * n / ROUND_STEPS / 2 for n in range(2 * ROUND_STEPS))]
            ring = Polygon(eye).union(box(slot[0], -PAST, slot[1], deep - wide / 2)).exterior
            return [axes.at(u, v) for u, v in (ring.coords if ring.is_ccw else ring.coords[::-1])[:-1]]
        if panel.reliefs != CUT_ROUND:
            return axes.strip(low, low + wide, deep)
        ends = [(low + wide / 2 + wide / 2 * math.cos(a), deep - wide / 2 + wide / 2 * math.sin(a))
                for a in (math.pi * n / ROUND_STEPS for n in range(ROUND_STEPS + 1))]
        return [axes.at(u, v) for u, v in ((low, -PAST), (low + wide, -PAST), *ends)]

    def _goes_on(self, panel: Panel, which: int) -> bool:
        """Whether the face's metal goes on beside this end of a bend: it was parted there, or ends before the edge does
        since bends on the panel's own sides need the corner."""
        if panel.parted[which]:
            return True
        rest = panel.zone[0] if which == 0 else panel.long - panel.zone[1]
        side = 0 if which == 0 else len(panel.mould) - 2
        return rest > 1e-9 and any(one.edge == side and not one.free[which] for one in self._standing.get(panel.id, ()))

    def _hem(self, panel: Panel) -> tuple[Face, Bend]:
        """A panel's far edge folded back, no wider than what it comes to lie on."""
        hem, length = panel.hem, panel.mould[1][0]
        fold, back = hem.figures.outside_setback, hem.flat
        (_, low0), (_, low1), (_, high1), (_, high0) = panel.mould

        def span(v):
            share = v / length
            return low0 + (low1 - low0) * share, high0 + (high1 - high0) * share
        (low, high), (deep_low, deep_high) = span(length - fold), span(length - fold - back)
        out_low, out_high = span(length - fold + hem.figures.allowance + back)  # as far out as it lies in the blank
        if panel.parted[0]:
            low = max(low, out_low)
        if panel.parted[1]:
            high = min(high, out_high)
        x = length - fold - panel.setback
        face = Face(hem.id, ((0.0, low), (back, max(low, deep_low)), (back, min(high, deep_high)), (0.0, high)))
        return face, Bend(hem.id, panel.id, hem.id, ((x, low), (x, high)), ((0.0, low), (0.0, high)), hem.direction,
                          hem.figures)


def _beyond(mould: tuple[Point, ...], off: float) -> tuple[Point, ...]:
    """A panel of four corners from so far up, in its own coordinates; nothing where a side of it is too short."""
    (_, low0), (far, low1), (_, high1), (_, high0) = mould
    share = off / far
    low, high = low0 + (low1 - low0) * share, high0 + (high1 - high0) * share
    if min(high - low, high1 - low1, far - off) < 2 * TINY:
        return ()
    return (0.0, low), (far - off, low1), (far - off, high1), (0.0, high)


def _ear(ring: tuple[Point, ...], corner: int, deep: float) -> float:
    """How far a face reaches beyond a corner of its edge, so deep within it, mm."""
    turn = math.radians(turn_at(ring, corner % len(ring)))
    return (deep * math.tan(math.pi / 2 - turn) if 0 < turn < math.pi / 2 else 0.0) + PAST


def _moved(hole: Hole, back: float) -> Hole:
    """From the mould's coordinates to the face's own."""
    return Hole((hole.centre[0] - back, hole.centre[1]), hole.diameter, hole.length, hole.angle, hole.ring, hole.room,
                hole.path)


"""Panels from a part file: each is placed on its face once that is known, then bends, ends and metal follow.

A face is drawn by its *mould*: its outline over the outside of what is bent at its edges, counter-clockwise. A panel's
has x up from the outside of its own bend and y along the edge it stands on, from that edge's first corner; its sides
are edges 1 to 3 (as many as its own outline has, where it has one), its bend edge the last.
"""

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import chain

from shapely import LineString, Polygon

from ...errors import Refusal
from ...said import Mm, Said
from ...schools.school import k_factor
from ...sheet.model import Point
from ..common import (
    Given,
    check_ring,
    hem_figures,
    loss,
    make_leg,
    read_bend,
    read_hem,
    read_outline,
    read_points,
    turn_at,
)
from ..legs import INSIDE, OUTSIDE, Hem, ShapeBend
from ..metal import read_relief
from ..outlines import widened
from .corner import End, beside_edge, corner
from .curves import check_straight, curved, read_curves
from .fields import COVERS, CUT_SQUARE, FIELDS, MITRED, PANEL, SIDES, SQUARE, sides
from .held import held, read_held
from .meets import Meets, read_meets
from .notches import Notch, check_clear, read_notches
from .openings import read_openings
from .shape import AT_END, BASE, FAR, MEETS, Panel, Panels

NAME = re.compile(r"[A-Za-z][\w-]{0,40}", re.ASCII)


@dataclass(frozen=True)
class Asked:
    """A panel as given: ``free`` at the first and the second corner of its edge, ``tapers`` there, None where its ends
    follow its neighbours; lengths in mm."""

    path: str
    id: str
    on: str
    edge: int
    free: tuple[float, float]
    tapers: tuple[float | None, float | None]
    length: float
    dims: str
    bend: ShapeBend
    hem: Hem | None
    ends: tuple[str, str]
    sides: int
    reliefs: str
    outline: tuple[Point, ...] = ()
    """Its own mould, where it has one: x up, y along from its edge's first corner."""

    @property
    def is_tab(self) -> bool:
        """Whether a corner asked for it."""
        return self.path.startswith(MEETS)


Standing = dict[str, list[Asked]]
"""The panels that stand on a face, by its name."""


EASED = 2.0
"""The sides of a tab slope in by so much, mm (*start*)."""


def read_panels(shape: dict, given: Given) -> Panels:
    """Panels from the part file's ``shape``; refusals name the field below ``shape``. What is held over all is."""
    if not shape.get("held"):
        return _read(shape, given)
    names = face_names(shape)
    return replace(_read(holding(shape, given), given), held=tuple(read_held(shape, names, given.length)))


def holding(shape: dict, given: Given) -> dict:
    """The ``shape`` with the sizes that give way to those held over all."""
    return held(shape, face_names(shape), given.length, partial(_read, given=given)) if shape.get("held") else shape


def face_names(shape: Mapping) -> list[str]:
    """The base and the panels of a file's ``shape``, as their faces are called."""
    return [BASE, *(block.get("id", f"P{i}") for i, block in enumerate(shape.get("panels", ()), 1))]


def _read(shape: Mapping, given: Given) -> Panels:
    """The same without what is held over all."""
    length, t, dims = given.length, given.thickness, shape.get("dims", OUTSIDE)
    outline, numbers = read_outline(shape["outline"], length)
    relief = read_relief(shape, given)
    gap, turned = FIELDS.mm(shape, "gap", "", length), numbers[1][1]
    asked: list[Asked] = []
    for i in range(len(shape.get("panels", ()))):
        asked.append(_asked(i, shape, numbers, asked, dims, given))
    if dims == INSIDE:
        outline = widened(outline, [max((_wall(one.bend) for one in asked if (one.on, one.edge) == (BASE, i)),
                                        default=0.0) for i in range(len(outline))])
    moulds: dict[str, Sequence[Point]] = {BASE: outline}
    curves = read_curves(shape, [len(outline), *(one.sides + 1 for one in asked)],
                         {0, *(i for i, one in enumerate(asked, 1) if one.outline)}, turned, given)
    for n, own in curves.items():
        if n and asked[n - 1].hem:
            raise Refusal(f"corners[{next(iter(own.radii.values()))[0]}].on", "is hemmed: take its hem off first")
    told = {asked[n - 1].id if n else BASE: own for n, own in curves.items()}
    meets = read_meets(shape, [one.id for one in asked], gap, given)
    standing: Standing = {}
    for one in asked:
        standing.setdefault(one.on, []).append(one)
    panels: dict[str, Panel] = {}
    tabs: list[Asked] = []
    for one in chain(asked, tabs):  # tabs come to their own list on the way, and are placed after all others
        if one.on in told:
            check_straight(told[one.on], moulds[one.on], one.edge, one.free, one.path)
        for tab in _tabs(one, standing, moulds, meets, given):
            if tab.id in {BASE, *(other.id for other in (*asked, *tabs))}:
                raise Refusal(tab.path, f"gives a tab named {tab.id}, as another panel is: rename that")
            standing.setdefault(one.id, []).append(tab)
            tabs.append(tab)
        panel = _placed(one, standing, moulds, panels, meets)
        moulds[one.id], panels[one.id] = panel.mould, panel
    arcs = {face: curved(moulds[face], own) for face, own in told.items()}
    _refuse_shared(tuple(panels.values()))
    panels = {name: replace(panel, zone=_within(panel, standing, meets)) for name, panel in panels.items()}
    found = Panels(t, dims, outline, tuple(panels.values()), relief, gap, turned=turned, arcs=arcs, meets=meets)
    found = replace(found, notches=_notches(shape, found, asked, numbers, moulds, given))
    holes, collars = read_openings(shape, found, given)
    found = replace(found, cut_out=holes, collars=collars)
    found.sheet()  # refuses what cuts a face apart
    return found


def _wall(bend: ShapeBend) -> float:
    """How much larger a size is over the outside than over the inside of a bend, mm."""
    return bend.figures.outside_setback - bend.figures.inside_setback


def _asked(i: int, shape: dict, numbers: dict, before: list[Asked], dims: str, given: Given) -> Asked:
    block = shape["panels"][i]
    path, on, turned = f"panels[{i}]", block.get("on", 0), numbers[1][1]
    if on > i:
        raise Refusal(f"{path}.on", "must be the base, 0" + (f", or a panel before it: 1 to {i}" if i else ""))
    last = before[on - 1].sides if on else len(numbers)
    if not 1 <= block["edge"] <= last:
        called = "" if on == 0 or before[on - 1].outline else ": its start side, its far edge or its end side"
        raise Refusal(f"{path}.edge", f"must be from 1 to {last}{called}")
    edge = numbers[block["edge"]][0] if on == 0 else (last - block["edge"] if turned else block["edge"] - 1)
    size = partial(PANEL.mm, block, path=path, length=given.length)
    free = size("start"), size("end")
    tapers = tuple(size(key) if key in block else None for key in ("start_taper", "end_taper"))
    ends = tuple(block.get(key, block.get("ends", MITRED)) for key in ("start_ends", "end_ends"))
    if turned:
        free, tapers, ends = free[::-1], tapers[::-1], ends[::-1]
    name = _name(block, i, path, before)
    if on and before[on - 1].hem and edge == FAR:
        raise Refusal(f"{path}.edge", f"is hemmed: take the hem of panel {before[on - 1].id} off first")
    bend = _bend(name, block, path, given)
    outline = _own_outline(block, path, free[turned], turned, dims, given) if "outline" in block else ()
    if outline and "length" in block:
        raise Refusal(f"{path}.length", "does not go with an outline of its own, which says how far it reaches")
    if not outline and "length" not in block:
        raise Refusal(f"{path}.length", "is missing: give it, or an outline of its own")
    length = max(x for x, _ in outline) if outline else size("length")
    hem = read_hem(f"{name}-hem", block["hem"], block["hem"].get("direction", block["direction"]), f"{path}.hem", given,
                   name) if "hem" in block else None
    reliefs = block.get("reliefs", shape.get("reliefs", CUT_SQUARE))
    return Asked(path, name, before[on - 1].id if on else BASE, edge, free, tapers, length, block.get("dims", dims),
                 bend, hem, ends, sides(block), reliefs, outline)


def _name(block: Mapping, i: int, path: str, before: list[Asked]) -> str:
    """The panel's own name, or P and its number; refuses one that another face or bend has."""
    name = block.get("id", f"P{i + 1}")
    if not NAME.fullmatch(name) or name == BASE or name.endswith("-hem"):
        raise Refusal(f"{path}.id", "must be letters, digits, - or _, not base, and not end in -hem")
    if any(one.id == name for one in before):
        raise Refusal(f"{path}.id", "is another panel's name")
    return name


def _bend(name: str, block: Mapping, path: str, given: Given) -> ShapeBend:
    """A panel's bend; one of 180° is a fold onto what it stands on."""
    if str(block.get("angle", "")).rstrip("°") not in ("180", "180.0"):
        if "gap" in block:
            raise Refusal(f"{path}.gap", "belongs to a fold of 180°")
        own = replace(given, school=k_factor(float(block["k"]))) if "k" in block else given
        return read_bend(name, dict(block), block["direction"], path, own, 90)
    gap = PANEL.mm(block, "gap", path, given.length) if "gap" in block else 0.0
    return ShapeBend(name, block["direction"], hem_figures(gap, given.thickness, given.school, block.get("k")))


def _own_outline(block: Mapping, path: str, free: float, turned: bool, dims: str, given: Given) -> tuple[Point, ...]:
    """A panel's own outline as its mould, y not yet along the whole edge where that is counted the other way."""
    path = f"{path}.outline"
    if block.get("dims", dims) != OUTSIDE:
        raise Refusal(path, "runs over the outside: set the sizes to outside")
    if "hem" in block:
        raise Refusal(f"{path.removesuffix('.outline')}.hem", "does not go with an outline of its own: put a panel of "
                                                              "180° on one of its edges")
    points = read_points(block["outline"], path, given.length)
    check_ring(points, path)
    for i in (0, -1):
        if abs(points[i][1]) > 1e-6:
            raise Refusal(f"{path}[{i % len(points)}][1]", "must be 0: its first and last corner stand on its bend")
    if points[0][0] >= points[-1][0] or min(v for _, v in points) < -1e-6:
        raise Refusal(path, "must run from the start of its bend up, along and back down to it")
    return tuple((v, u + free) for u, v in points[:: -1 if turned else 1])


def _at_corner(own: Asked, which: int, standing: Standing, moulds, panels, meets: Meets) -> End | None:
    """How a panel ends at the first (0) or second (1) corner of its edge; None where nothing else is bent there."""
    gap = meets.gap
    ring = moulds[own.on]
    inner = _inner(ring, own.edge + which)
    beside = (own.edge + (1 if which else -1)) % len(ring)
    if own.on != BASE and beside == len(ring) - 1:  # in the blank what it stands on has its parent beside it
        bend = panels[own.on].bend
        return corner(own.bend, bend, inner, gap).clear_of(bend.figures.deduction + gap, own.length)
    other = next((one for one in standing[own.on] if one.edge == beside and one.free[1 - which] == 0), None)
    if other is None:
        return None
    told = meets.of(own.id, other.id)
    if told:
        return corner(own.bend, other.bend, inner, told.gap, told.covers(own.id), told.carries_tab(own.id))
    mine, theirs = own.ends[which] == COVERS, other.ends[1 - which] == COVERS
    if mine and theirs and own.bend.direction == other.bend.direction:
        raise Refusal(f"{own.path}.ends", f"cannot cover: panel {other.id} covers at the same corner")
    return corner(own.bend, other.bend, inner, gap, mine - theirs)


def _tabs(own: Asked, standing: Standing, moulds, meets: Meets, given: Given) -> Iterator[Asked]:
    """The tabs bent from a panel at its ends, so that they lie along the one that covers its corner there."""
    for meet in meets.told if not own.is_tab else ():
        if not meet.carries_tab(own.id):
            continue
        other = next((one for one in standing[own.on] if one.id == meet.covering), None)
        ring = moulds[own.on]
        which = next((k for k in (0, 1) if other and other.edge == (own.edge + (1 if k else -1)) % len(ring)
                      and own.free[k] == other.free[1 - k] == 0), None)
        inner = _inner(ring, own.edge + which) if which is not None else math.pi
        if inner > math.pi - 0.01 or own.bend.direction != other.bend.direction:
            raise Refusal(f"{meet.path}.style", "needs two panels that come to one corner that sticks out, bent the "
                                                "same way")
        if any(abs(one.bend.figures.angle - 90) > 1e-9 for one in (own, other)):
            raise Refusal(f"{meet.path}.style", "needs two panels bent by 90°: at others put a panel on the end of one")
        foot = other.bend.figures.outside_setback + meet.gap + given.thickness  # clear of the other's bend
        above = [one.bend.figures.outside_setback for one in standing.get(other.id, ()) if one.edge == FAR]
        above += [other.hem.figures.outside_setback] if other.hem else []
        top = max((size + given.thickness + meet.gap for size in above), default=0.0)
        top += max(0.0, own.length - other.length)
        figures = read_bend(f"{own.id}-tab-{other.id}", {"angle": 180 - math.degrees(inner)}, own.bend.direction,
                            meet.path, given)
        ease = min(EASED, meet.tab / 4)
        yield Asked(meet.path, figures.id, own.id, AT_END if which else 0, (top, foot) if which else (foot, top),
                    (ease, ease), meet.tab, OUTSIDE, figures, None, (SQUARE, SQUARE), len(SIDES), own.reliefs)


def _end(own: Asked, which: int, standing: Standing, moulds, panels, meets: Meets, length: float) -> End:
    """How a panel ends at one corner of its edge: as asked, else beside its neighbour, else with the edge."""
    taper = own.tapers[which]
    sloped = (taper or 0.0) / length
    if own.free[which]:
        return End(own.free[which], own.free[which], sloped, not own.is_tab)
    found = _at_corner(own, which, standing, moulds, panels, meets)
    if found is None:
        return beside_edge(own.bend, _inner(moulds[own.on], own.edge + which), meets.gap, sloped)
    if taper is not None:
        return replace(found, at=max(found.line(0.0), found.zone), slope=sloped)
    stands_on = any(one.edge == (AT_END if which else 0) for one in standing.get(own.id, ()))
    return found.square(length) if own.ends[which] == SQUARE or stands_on else found


def _placed(own: Asked, standing: Standing, moulds, panels, meets: Meets) -> Panel:
    """A panel with its mould; its bend's ``zone`` is what its own face leaves it."""
    ring = moulds[own.on]
    long = math.dist(ring[own.edge], ring[(own.edge + 1) % len(ring)])
    if own.outline:
        return _outlined(own, standing, moulds, panels, meets, long)
    far = next((one.bend for one in standing.get(own.id, ()) if one.edge == FAR), None)
    leg = make_leg(own.id, own.length, own.dims, (own.bend, far or own.hem), f"{own.path}.length")
    length = leg.outside if far or not own.hem else leg.flat + own.bend.figures.outside_setback + loss(own.hem, OUTSIDE)
    start, end = (_end(own, which, standing, moulds, panels, meets, length) for which in (0, 1))
    if long - start.line(0.0) - end.line(0.0) <= 1e-6 or long - start.line(length) - end.line(length) <= 1e-6:
        raise Refusal(f"{own.path}.length", "lets its ends run into each other: make it shorter, leave less free, or "
                                            "lean its neighbours less")
    mould = ((0.0, start.line(0.0)), (length, start.line(length)), (length, long - end.line(length)),
             (0.0, long - end.line(0.0)))
    setback = own.bend.figures.outside_setback
    zone = (max(start.zone, start.line(setback)), long - max(end.zone, end.line(setback)))
    return Panel(own.id, own.path, own.on, own.edge, own.bend, leg, mould, zone, long,
                 (start.is_parted, end.is_parted), own.hem, own.free, own.reliefs)


def _outlined(own: Asked, standing: Standing, moulds, panels, meets: Meets, long: float) -> Panel:
    """A panel of an outline of its own: nothing but its bend gives way to its neighbours."""
    mould = tuple((v, long - u) for v, u in own.outline) if _is_turned(own) else own.outline
    setback, path = own.bend.figures.outside_setback, f"{own.path}.outline"
    below = setback - JUST_BELOW  # above it may be wider than its bend
    at = Polygon(mould).intersection(LineString([(below, -1e6), (below, 1e6)]))
    if at.is_empty or at.geom_type != "LineString":
        raise Refusal(path, Said("must be in one piece where its bend ends, {up} up", up=Mm(setback)))
    low, high = sorted(y for _, y in at.coords)
    ends = [_at_corner(own, which, standing, moulds, panels, meets) if not own.free[which] else None
            for which in (0, 1)]
    zone = (max(low, ends[0].zone if ends[0] else 0.0), min(high, long - (ends[1].zone if ends[1] else 0.0)))
    if low < -1e-6 or high > long + 1e-6 or zone[1] - zone[0] <= 1e-6:
        raise Refusal(path, Said("must stand on its edge, which is {long} long", long=Mm(long)))
    over = next((one.bend for one in standing.get(own.id, ()) if all(
        abs(mould[(one.edge + n) % len(mould)][0] - own.length) < 1e-6 for n in (0, 1))), None)
    leg = make_leg(own.id, own.length, OUTSIDE, (own.bend, over), path)
    inside = low > 1e-6, high < long - 1e-6
    return Panel(own.id, own.path, own.on, own.edge, own.bend, leg, mould, zone, long, inside, None, own.free,
                 own.reliefs, True)


def _is_turned(own: Asked) -> bool:
    """Whether its outline was given the other way round, as its base's."""
    return own.outline[0][1] > own.outline[-1][1]


def _refuse_shared(panels: Sequence[Panel]) -> None:
    """Refuse two panels on the same stretch of an edge."""
    before: dict[tuple[str, int], list[Panel]] = {}
    for one in panels:
        beside = before.setdefault((one.on, one.edge), [])
        for other in beside:
            if max(one.zone[0], other.zone[0]) < min(one.zone[1], other.zone[1]):
                raise Refusal(f"{one.path}.edge", f"has a panel on the same stretch already ({other.id})")
        beside.append(one)


def _inner(ring: Sequence[Point], place: int) -> float:
    """The angle within an outline at a corner, radians."""
    return math.pi - math.radians(turn_at(ring, place % len(ring)))


def _within(panel: Panel, standing: Standing, meets: Meets) -> tuple[float, float]:
    """The panel's zone, ended where bends on its own sides come to its corners."""
    (low, high), last = panel.zone, len(panel.mould) - 1
    for one in standing.get(panel.id, ()):
        if one.edge not in (0, last - 1) or one.free[one.edge != 0] and not one.is_tab:
            continue
        at = 0 if one.edge == 0 else last
        zone = one.bend.figures.outside_setback if one.is_tab else corner(
            panel.bend, one.bend, _inner(panel.mould, at), meets.gap).zone
        if one.edge == 0:
            low = max(low, panel.mould[0][1] + zone)
        else:
            high = min(high, panel.mould[last][1] - zone)
    if high - low <= 1e-6:
        raise Refusal(panel.path, "is left no length of bend between its corners")
    return low, high


def _notches(shape: dict, part: Panels, asked: Sequence[Asked], numbers: Mapping[int, tuple[int, bool]],
             moulds: Mapping[str, Sequence[Point]], given: Given) -> tuple[Notch, ...]:
    """With the edges of their moulds, clear of what is bent there."""
    at = {(0, number): place for number, (place, _) in numbers.items()}
    for n, one in enumerate(asked, 1):
        at |= {(n, k): one.sides - k if part.turned else k - 1 for k in range(1, one.sides + 1)}
    names = dict(enumerate([BASE, *(one.id for one in asked)]))
    long = {}
    for (face, number), edge in at.items():
        ring = moulds[names[face]]
        long[face, number] = math.dist(ring[edge], ring[(edge + 1) % len(ring)])
    found = []
    for notch in read_notches(shape, long, part.turned, given):
        edge, own = at[notch.face, notch.edge], names[notch.face]
        check_clear(notch, ((p.id, p.zone, part.relief if any(p.parted) else 0.0) for p in part.panels
                            if (p.on, p.edge) == (own, edge)))
        if notch.face and asked[notch.face - 1].hem and edge == FAR:
            raise Refusal(f"{notch.path}.edge", "is hemmed: take the hem off first")
        if edge in part.arched.get(own, ()):
            raise Refusal(f"{notch.path}.edge", "is an arc: a notch is cut in a straight edge")
        found.append(replace(notch, edge=edge))
    return tuple(found)


JUST_BELOW = 1e-6
"""A panel is as wide as its bend so far below the tangent line, mm."""

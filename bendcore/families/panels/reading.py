"""Panels from a part file: each is placed on its face once that is known, then bends, ends and metal follow.

A face is drawn by its *mould*: its outline over the outside of what is bent at its edges, counter-clockwise. A panel's
has x up from the outside of its own bend and y along the edge it stands on, from that edge's first corner; its sides
are edges 1 to 3, its bend edge 4.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

from ...errors import Refusal
from ...sheet.model import Hole, Point
from ..common import Given, make_leg, read_bend, read_hem, read_outline, read_slot, turn_at
from ..legs import INSIDE, OUTSIDE, Hem, ShapeBend
from ..metal import read_relief
from ..outlines import widened
from .corner import End, beside_edge, corner
from .fields import FIELDS, HOLE, MOST_OPENINGS, PANEL, REPEAT, SQUARE, WINDOW
from .shape import BASE, BEND_EDGE, Panel, Panels

AT_START, FAR, AT_END = 0, 1, 2
"""The sides of a panel's mould."""


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
    bend: ShapeBend
    hem: Hem | None
    square: bool


def read_panels(shape: dict, given: Given) -> Panels:
    """Panels from the part file's ``shape``; refusals name the field below ``shape``."""
    length, t, dims = given.length, given.thickness, shape.get("dims", OUTSIDE)
    outline, numbers = read_outline(shape["outline"], length)
    relief = read_relief(shape, given)
    gap, turned = FIELDS.mm(shape, "gap", "", length), numbers[1][1]
    asked: list[Asked] = []
    for i, block in enumerate(shape.get("panels", ())):
        asked.append(_asked(i, block, numbers, asked, dims, given))
    if dims == INSIDE:
        outline = widened(outline, [max((_wall(one.bend) for one in asked if (one.on, one.edge) == (BASE, i)),
                                        default=0.0) for i in range(len(outline))])
    moulds: dict[str, Sequence[Point]] = {BASE: outline}
    panels: dict[str, Panel] = {}
    for one in asked:
        panel = _placed(one, asked, moulds, panels, gap, dims)
        moulds[one.id], panels[one.id] = panel.mould, panel
    _refuse_shared(tuple(panels.values()))
    panels = {name: replace(panel, zone=_within(panel, asked, gap)) for name, panel in panels.items()}
    found = Panels(t, dims, outline, tuple(panels.values()), relief, gap, turned=turned)
    holes = _openings(shape, found, given)
    found = replace(found, cut_out=holes)
    found.sheet()  # refuses what cuts a face apart
    return found


def _wall(bend: ShapeBend) -> float:
    """How much larger a size is over the outside than over the inside of a bend, mm."""
    return bend.figures.outside_setback - bend.figures.inside_setback


def _asked(i: int, block: dict, numbers: dict, before: list[Asked], dims: str, given: Given) -> Asked:
    path, on, turned = f"panels[{i}]", block.get("on", 0), numbers[1][1]
    if on > i:
        raise Refusal(f"{path}.on", "must be the base, 0" + (f", or a panel before it: 1 to {i}" if i else ""))
    last = len(numbers) if on == 0 else BEND_EDGE
    if not 1 <= block["edge"] <= last:
        sides = "" if on == 0 else ": its start side, its far edge or its end side"
        raise Refusal(f"{path}.edge", f"must be from 1 to {last}{sides}")
    edge = numbers[block["edge"]][0] if on == 0 else (BEND_EDGE - block["edge"] if turned else block["edge"] - 1)
    size = partial(PANEL.mm, block, path=path, length=given.length)
    free = size("start"), size("end")
    tapers = tuple(size(key) if key in block else None for key in ("start_taper", "end_taper"))
    if turned:
        free, tapers = free[::-1], tapers[::-1]
    name = f"P{i + 1}"
    if on and before[on - 1].hem and edge == FAR:
        raise Refusal(f"{path}.edge", f"is hemmed: take the hem of panel P{on} off first")
    bend = read_bend(name, block, block["direction"], path, given, 90)
    hem = read_hem(f"{name}-hem", block["hem"], block["hem"].get("direction", block["direction"]), f"{path}.hem", given,
                   name) if "hem" in block else None
    return Asked(path, name, f"P{on}" if on else BASE, edge, free, tapers, size("length"), bend, hem,
                 block.get("ends") == SQUARE)


def _at_corner(own: Asked, which: int, asked: list[Asked], moulds, panels, gap: float) -> End | None:
    """How a panel ends at the first (0) or second (1) corner of its edge; None where nothing else is bent there."""
    ring = moulds[own.on]
    inner = _inner(ring, own.edge + which)
    beside = (own.edge + (1 if which else -1)) % len(ring)
    if own.on != BASE and beside == BEND_EDGE:  # in the blank what it stands on has its parent beside it
        bend = panels[own.on].bend
        return corner(own.bend, bend, inner, gap).clear_of(bend.figures.deduction + gap, own.length)
    other = next((one for one in asked if (one.on, one.edge) == (own.on, beside) and one.free[1 - which] == 0), None)
    return corner(own.bend, other.bend, inner, gap) if other else None


def _end(own: Asked, which: int, asked, moulds, panels, gap: float, length: float) -> End:
    """How a panel ends at one corner of its edge: as asked, else beside its neighbour, else with the edge."""
    taper = own.tapers[which]
    sloped = (taper or 0.0) / length
    if own.free[which]:
        return End(own.free[which], own.free[which], sloped, True)
    found = _at_corner(own, which, asked, moulds, panels, gap)
    if found is None:
        return beside_edge(own.bend, _inner(moulds[own.on], own.edge + which), gap, sloped)
    if taper is not None:
        return replace(found, at=max(found.line(0.0), found.zone), slope=sloped)
    stands_on = any((one.on, one.edge) == (own.id, AT_END if which else AT_START) for one in asked)
    return found.square(length) if own.square or stands_on else found


def _placed(own: Asked, asked: list[Asked], moulds, panels, gap: float, dims: str) -> Panel:
    """A panel with its mould; its bend's ``zone`` is what its own face leaves it."""
    ring = moulds[own.on]
    long = math.dist(ring[own.edge], ring[(own.edge + 1) % len(ring)])
    far = next((one.bend for one in asked if (one.on, one.edge) == (own.id, FAR)), None)
    length = own.length + (_wall(own.bend) + (_wall(far) if far else 0.0) if dims == INSIDE else 0.0)
    leg = make_leg(own.id, own.length, dims, (own.bend, far or own.hem), f"{own.path}.length")
    start, end = (_end(own, which, asked, moulds, panels, gap, length) for which in (0, 1))
    if long - start.line(0.0) - end.line(0.0) <= 1e-6 or long - start.line(length) - end.line(length) <= 1e-6:
        raise Refusal(f"{own.path}.length", "lets its ends run into each other: make it shorter, leave less free, or "
                                            "lean its neighbours less")
    mould = ((0.0, start.line(0.0)), (length, start.line(length)), (length, long - end.line(length)),
             (0.0, long - end.line(0.0)))
    setback = own.bend.figures.outside_setback
    zone = (max(start.zone, start.line(setback)), long - max(end.zone, end.line(setback)))
    return Panel(own.id, own.path, own.on, own.edge, own.bend, leg, mould, zone, long,
                 (start.is_parted, end.is_parted), own.hem, own.free)


def _refuse_shared(panels: Sequence[Panel]) -> None:
    """Refuse two panels on the same stretch of an edge."""
    for i, one in enumerate(panels):
        for other in panels[:i]:
            if (one.on, one.edge) == (other.on, other.edge) and max(one.zone[0], other.zone[0]) < min(
                    one.zone[1], other.zone[1]):
                raise Refusal(f"{one.path}.edge", f"has a panel on the same stretch already ({other.id})")


def _inner(ring: Sequence[Point], place: int) -> float:
    """The angle within an outline at a corner, radians."""
    return math.pi - math.radians(turn_at(ring, place % len(ring)))


def _within(panel: Panel, asked: list[Asked], gap: float) -> tuple[float, float]:
    """The panel's zone, ended where bends on its own sides come to its corners."""
    low, high = panel.zone
    for one in asked:
        if one.on != panel.id or one.edge == FAR or one.free[one.edge == AT_END]:
            continue
        place = 0 if one.edge == AT_START else BEND_EDGE
        zone = corner(panel.bend, one.bend, _inner(panel.mould, place), gap).zone
        if one.edge == AT_START:
            low = max(low, panel.mould[0][1] + zone)
        else:
            high = min(high, panel.mould[BEND_EDGE][1] - zone)
    if high - low <= 1e-6:
        raise Refusal(panel.path, "is left no length of bend between its corners")
    return low, high


def _openings(shape: dict, part: Panels, given: Given) -> dict[str, tuple[Hole, ...]]:
    """By face what is cut in it, in its mould's coordinates."""
    found: dict[str, list[Hole]] = {}
    for key, read in (("holes", _hole), ("windows", _window)):
        for i, block in enumerate(shape.get(key, ())):
            path, on = f"{key}[{i}]", block.get("on", 0)
            if on > len(part.panels):
                raise Refusal(f"{path}.on", f"must be from 0 to {len(part.panels)}")
            own = found.setdefault(part.panels[on - 1].id if on else BASE, [])
            for along, up in _repeated(block, path, given):
                if not on:
                    own.append(read(block, path, (along, up), 0.0, given))
                    continue
                panel = part.panels[on - 1]
                y = panel.long - panel.free[1] - along if part.turned else panel.free[0] + along
                own.append(read(block, path, (up, y), 90.0, given))
            if sum(map(len, found.values())) > MOST_OPENINGS:
                raise Refusal(path, f"makes more than {MOST_OPENINGS} openings")
    return {face: tuple(holes) for face, holes in found.items()}


def _repeated(block: dict, path: str, given: Given) -> Iterator[Point]:
    """(along, up) of an opening, or of all in its row or grid."""
    along, up = (given.length(block[axis], f"{path}.{axis}") for axis in "xy")
    if "repeat" not in block:
        yield along, up
        return
    repeat = block["repeat"]
    pitch, rise = (REPEAT.mm(repeat, key, f"{path}.repeat", given.length) for key in ("pitch", "row_pitch"))
    for row in range(repeat.get("rows", 1)):
        for n in range(repeat.get("count", 1)):
            yield along + n * pitch, up + row * rise


def _hole(block: dict, path: str, at: Point, turn: float, given: Given) -> Hole:
    return Hole(at, HOLE.mm(block, "diameter", path, given.length), path=path)


def _window(block: dict, path: str, at: Point, turn: float, given: Given) -> Hole:
    """A rectangle with round corners, a slot where they are as large as they can be; ``turn`` from along to the face's
    x, degrees."""
    long, wide, radius = (WINDOW.mm(block, key, path, given.length) for key in ("length", "width", "radius"))
    if radius > min(long, wide) / 2 + 1e-9:
        raise Refusal(f"{path}.radius", "is more than half its smaller side")
    turn += float(block.get("angle", 0.0))
    if radius > min(long, wide) / 2 - 1e-9 and long > wide:
        return read_slot(at, wide, long, turn, path)
    points = [(x * (long / 2 - radius) + radius * math.cos(a), y * (wide / 2 - radius) + radius * math.sin(a))
              for x, y, quarter in ((1, 1, 0), (-1, 1, 1), (-1, -1, 2), (1, -1, 3))
              for a in (_arc(quarter) if radius else (0.0,))]
    return Hole(at, max(long, wide), 0.0, turn, tuple(points), path=path)


ARC_STEPS = 8


def _arc(quarter: int) -> list[float]:
    return [math.pi / 2 * (quarter + n / ARC_STEPS) for n in range(ARC_STEPS + 1)]

"""The blank of a part with bends both ways, as it is marked out: running marks along two edges from
the datum, and the other lines of every bend."""

import math
from collections.abc import Collection, Iterator, Mapping
from types import MappingProxyType

import numpy as np
import shapely
from shapely import LineString, Polygon

from bendcore.layout.marks import DATUMS, far_side, from_datum
from bendcore.part import Part
from bendcore.sheet.model import Edge
from bendcore.sheet.unfold import FlatBend
from bendcore.units import on_tape, read_off, show_length

from .fit import spread
from .net import net_view

ROOM = (118, 64, 30, 104)

TOLD = (-88, -24, 88, 30)
"""What is written of face and grain about its place: left, top, right, bottom, pixels."""
OVER = 34
"""So far over the blank it stands where it has no place on it, pixels."""
BEYOND = 16
"""A generator's angle stands so far beyond its end, pixels."""
STEP = 24
"""How finely a clear place for it is looked for, pixels."""


def marked_view(part: Part, units: str, conflicts: Collection[str] = (), datum: str = DATUMS[0],
                clamped: Mapping[str, tuple[str, float]] = MappingProxyType({})) -> dict:
    """The flat of :func:`.net.net_view` with its marks in the reader's units, from the ``datum``. ``clamped`` says of a
    bend which face an order on a hand brake clamps, and how far the sight line lies from its tangent line, mm."""
    view, flat = net_view(part, units, room=ROOM, conflicts=conflicts), part.flat
    fit = view["fit"]
    corner, far = fit((0, 0)), fit(flat.size)
    across = [mark(from_datum(flat, datum, "x", at), units) | {"x": fit((at, 0))[0]} for at in _places(flat, "x")]
    for label in spread(across, 8):
        label["y"] = 22 + 32 * label["row"]
        label["y_tape"] = label["y"] + 15
    up = [mark(from_datum(flat, datum, "y", at), units) | {"at": fit((0, at))[1]} for at in _places(flat, "y")]
    return view | {"across": across, "up": _pushed(up), "left": corner[0], "bottom": corner[1], "right": far[0],
                   "top": far[1], "mark_y": round(corner[1] + 22, 1), "mark_x": round(corner[0] - 16, 1),
                   "datum": datum_at(datum, corner, far), "root": _clear_place(part, view),
                   "generators": _generators(part, fit),
                   "tangents": fit.lines(edge for b in flat.bends for edge in b.tangents),
                   "sights": fit.lines(edge for b in flat.bends for edge in sights(b, clamped.get(b.bend.id)))}


def _generators(part: Part, fit) -> list[dict]:
    """Straight lines of a rolled piece, with their angle beyond the end."""
    found = []
    for angle, *ends in part.generators():
        (x0, y0), (x1, y1) = map(fit, ends)
        long = math.dist((x0, y0), (x1, y1))
        found.append({"d": f"M{x0},{y0}L{x1},{y1}", "angle": angle, "x": round(x1 + (x1 - x0) / long * BEYOND, 1),
                      "y": round(y1 + (y1 - y0) / long * BEYOND + 4, 1)})
    return found


def datum_at(datum: str, corner, far) -> dict:
    """Where the datum's mark stands and which way it opens."""
    right, back = far_side(datum, "x"), far_side(datum, "y")
    return {"x": far[0] if right else corner[0], "y": far[1] if back else corner[1], "sx": -1 if right else 1,
            "sy": -1 if back else 1}


def sights(flat: FlatBend, clamped: tuple[str, float] | None = None) -> Iterator[Edge]:
    """The sight line of a bend, r inside the zone from the clamped tangent: of the side an order clamps, or of either
    where there is no order."""
    (p0, p1), (q0, q1) = flat.tangents
    from_parent, from_child = ((p0, q0), (p1, q1)), ((q0, p0), (q1, p1))
    ways = (from_parent, from_child)
    if clamped:
        ways = (from_parent,) if clamped[0] == flat.bend.parent else (from_child,)
    share = (clamped[1] if clamped else flat.bend.figures.inside_radius) / flat.bend.figures.allowance
    for pairs in ways:
        yield tuple((a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share) for a, b in pairs)


def _places(flat, axis: str) -> list[float]:
    """Where marks stand along one edge of the blank: its ends and every line square to it."""
    found = {0.0, flat.size[0 if axis == "x" else 1]}
    found |= {round(b.at[1], 6) for b in flat.bends if b.at and b.at[0] == axis}
    return sorted(found)


def mark(mm: float, units: str) -> dict:
    """A running mark as it is written: large as its reader looks for it, small the other way (on the nearest mark
    of a tape or rule, or in decimals), and how wide that is in pixels."""
    exact, tape = show_length(mm, units), read_off(mm, units)
    big, small = (tape, exact) if on_tape(mm, units) else (exact, tape)
    return {"big": big, "small": small, "w": 9 * max(len(exact), len(tape))}


def _pushed(marks, least=30.0):
    """Marks up the left edge, pushed apart so that both figures of each can be read."""
    text = None
    for label in sorted(marks, key=lambda m: -m["at"]):
        label["text"] = label["at"] if text is None else min(label["at"], text - least)
        text = label["text"]
    return marks


def _clear_place(part: Part, view: dict) -> tuple[float, float]:
    """Where face and grain are told: as near the middle of the root as they meet neither the blank's edge nor a hole,
    a bend's words or a cross-break; over the blank where there is no such place."""
    fit = view["fit"]
    blank = shapely.make_valid(Polygon(fit.all(part.flat.outline)))  # one that lies on itself is drawn too
    taken = [Polygon(fit.all(hole.outline(12))) for hole in part.flat.holes]
    taken += [LineString(fit.all(bend.line)).buffer(20) for bend in part.flat.bends]
    if part.shape.cross_breaks:
        a, b, c, d = view["breaks"]
        taken += [LineString([a, c]), LineString([b, d])]
    free = blank - shapely.union_all(shapely.make_valid(taken))
    x, y = view["faces"][part.sheet.root]
    grid = np.array([(dx, dy) for dx in range(-12, 13) for dy in range(-10, 11)]) * STEP
    grid = grid[np.argsort((grid ** 2).sum(axis=1), kind="stable")] + (x, y)
    boxes = shapely.box(*(np.hstack([grid, grid]) + TOLD).T)
    shapely.prepare(free)
    clear = np.flatnonzero(shapely.contains(free, boxes))
    left, top, right, _ = blank.bounds
    place = grid[clear[0]] if len(clear) else ((left + right) / 2, top - OVER)
    return tuple(round(float(v), 1) for v in place)

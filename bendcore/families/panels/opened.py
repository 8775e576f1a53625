"""Any sheet told as panels: its root face the base, every other face a panel of an outline of its own.

A face's mould is its outline with a strip at each of its bends, from the tangent line to the outside of the bend. So a
sheet and the panels it is told by have the same faces to within rounding, and nothing of another family's rules is
needed: what they cut is cut.
"""

import math
from collections.abc import Sequence

from ...errors import Refusal
from ...sheet.model import Bend, Edge, Face, Hole, Point, Sheet
from ..collar import Collar
from .arcs import with_arcs
from .fields import CUT_NONE

DIGITS = 7
"""Decimals of a millimetre that are kept."""
ON_LINE = 1e-6
"""A tangent line's end lies so near an edge of its face, mm."""
STRAIGHT = 1e-9
"""A corner turns by more than this (sine)."""


def as_panels(sheet: Sheet, radius: float | None = None, from_zero: bool = False) -> dict:
    """The ``shape`` of a part file, lengths in mm, that has the faces and bends of a ``sheet``; bends of the part's own
    ``radius`` are not told theirs. The base keeps its coordinates, or begins at 0, 0 (``from_zero``). Refuses a sheet
    of which a bend tapers or begins within an opening.

    >>> from ...bending.bend import BendFigures
    >>> base, wall = (Face(n, ((0, 0), (40, 0), (40, 20), (0, 20))) for n in ("base", "wall"))
    >>> bend = Bend("B", "base", "wall", ((40, 0), (40, 20)), ((0, 0), (0, 20)), "up", BendFigures(90, 2, 1, 3.8))
    >>> as_panels(Sheet(1, "base", (base, wall), (bend,)), 2)["panels"]
    [{'edge': 2, 'length': 43.0, 'direction': 'up', 'angle': 90.0}]
    """
    drawn = {face.id: with_arcs(_mould(face, sheet)) for face in sheet.faces}
    moulds = {name: corners for name, (corners, _) in drawn.items()}
    base, numbers = moulds[sheet.root], {sheet.root: 0} | {b.child: n for n, b in enumerate(sheet.bends, 1)}
    blocks = []
    for bend in sheet.bends:
        ring = moulds[bend.parent]
        edge = _index(ring, _moved(bend.parent_edge, _right(bend.parent_edge), bend.figures.outside_setback), bend)
        own, on = moulds[bend.child], numbers[bend.parent]
        if on:  # a panel's outline begins at the end of its bend
            edge = (edge - _foot(sheet, bend.parent, ring) - 1) % len(ring)
        blocks.append(({"on": on} if on else {}) | {"edge": edge + 1}
                      | _panel(sheet, bend, own, radius, bool(drawn[bend.child][1])))
    corner = tuple(min(axis) for axis in zip(*base, strict=True)) if from_zero else (0.0, 0.0)
    outline = [[_told(x - corner[0]), _told(y - corner[1])] for x, y in base]
    shape = {"kind": "panels", "outline": outline, "reliefs": CUT_NONE, "gap": 0}
    found: dict[str, list] = {"panels": blocks, "edges": [], "holes": [], "windows": [], "openings": []}
    for face in sheet.faces:
        axes, ring = _Axes.of(sheet, face.id, moulds[face.id], corner), moulds[face.id]
        foot = _foot(sheet, face.id, ring) if numbers[face.id] else -1
        on = {"on": numbers[face.id]} if numbers[face.id] else {}
        found["edges"] += [on | {"edge": (edge - foot - 1) % len(ring) + 1, "rise": _told(rise)}
                           for edge, rise in sorted(drawn[face.id][1].items())]
        for hole in face.holes:
            key, block = _opening(hole, axes)
            found[key].append(on | block)
    return shape | {key: blocks for key, blocks in found.items() if blocks}


def _told(value: float) -> float:
    """As it is written."""
    return round(float(value), DIGITS) + 0.0


def _panel(sheet: Sheet, bend: Bend, ring: Sequence[Point], radius: float | None, is_curved: bool) -> dict:
    """What a panel's block says beside its place."""
    axes = _Axes.of(sheet, bend.child, ring)
    foot = _foot(sheet, bend.child, ring)
    run = [axes.told(ring[(foot + 1 + i) % len(ring)]) for i in range(len(ring))]
    figures = bend.figures
    (a, low), (b, far), (c, away), (d, high) = run if len(run) == 4 else ((0.0, 0.0),) * 4
    plain = not is_curved and len(run) == 4 and a == low == high == 0 and b == a and c == d and far == away and far > 0
    told: dict = {"length": far} if plain else {"outline": [list(p) for p in run]}
    told |= {"direction": bend.direction, "angle": _told(bend.angle)}
    if bend.is_hem:
        return told | ({"gap": _told(2 * figures.inside_radius)} if figures.inside_radius > 0 else {})
    own = {} if radius is not None and abs(figures.inside_radius - radius) < ON_LINE else {
        "inside_radius": _told(figures.inside_radius)}
    return told | own | ({"made": figures.made} if figures.made else {}) | (
        {"facet": figures.facet} if figures.facet is not None else {})


def _right(edge: Edge) -> Point:
    """Unit vector to the right of an edge."""
    (x0, y0), (x1, y1) = edge
    long = math.hypot(x1 - x0, y1 - y0)
    return (y1 - y0) / long, (x0 - x1) / long


def _moved(edge: Edge, way: Point, by: float) -> Edge:
    (x0, y0), (x1, y1) = edge
    return (x0 + way[0] * by, y0 + way[1] * by), (x1 + way[0] * by, y1 + way[1] * by)


def _mould(face: Face, sheet: Sheet) -> list[Point]:
    """A face's outline with a strip at each of its bends."""
    ring = list(face.outline)
    for bend in sheet.bends:
        if face.id not in (bend.parent, bend.child):
            continue
        if any(abs(v) > ON_LINE for v in bend.taper) or abs(
                math.dist(*bend.parent_edge) - math.dist(*bend.child_edge)) > ON_LINE:
            raise Refusal("shape", f"cannot be opened as panels: bend {bend.id} tapers, which a panel's does not")
        edge = bend.parent_edge if face.id == bend.parent else bend.child_edge[::-1]
        out = _moved(edge, _right(edge), bend.figures.outside_setback)
        ring = _with_strip(ring, edge, out, bend)
    return _straightened(ring)


def _with_strip(ring: list[Point], edge: Edge, out: Edge, bend: Bend) -> list[Point]:
    """The ring with the corners of a strip where an edge of it was."""
    for i, a in enumerate(ring):
        b = ring[(i + 1) % len(ring)]
        long = math.dist(a, b)
        if long < ON_LINE:
            continue
        ux, uy = (b[0] - a[0]) / long, (b[1] - a[1]) / long
        at = [((p[0] - a[0]) * ux + (p[1] - a[1]) * uy, abs((p[1] - a[1]) * ux - (p[0] - a[0]) * uy)) for p in edge]
        if max(off for _, off in at) < 10 * ON_LINE and -10 * ON_LINE < at[0][0] < at[1][0] < long + 10 * ON_LINE:
            new = [*([edge[0]] if at[0][0] > 10 * ON_LINE else []), *out,
                   *([edge[1]] if at[1][0] < long - 10 * ON_LINE else [])]
            return ring[:i + 1] + new + ring[i + 1:]
    raise Refusal("shape", f"cannot be opened as panels: bend {bend.id} does not run along one edge of its face")


def _straightened(ring: Sequence[Point]) -> list[Point]:
    """Without corners that do not turn."""
    found, n = [], len(ring)
    for i, here in enumerate(ring):
        before, after = ring[i - 1], ring[(i + 1) % n]
        one, other = (here[0] - before[0], here[1] - before[1]), (after[0] - here[0], after[1] - here[1])
        cross, dot = one[0] * other[1] - one[1] * other[0], one[0] * other[0] + one[1] * other[1]
        if abs(cross) > STRAIGHT * math.hypot(*one) * math.hypot(*other) or dot < 0:
            found.append(here)
    return found


def _index(ring: Sequence[Point], edge: Edge, bend: Bend) -> int:
    """Which edge of a mould a bend's outside is."""
    for i, a in enumerate(ring):
        if math.dist(a, edge[0]) < 1e-4 and math.dist(ring[(i + 1) % len(ring)], edge[1]) < 1e-4:
            return i
    raise Refusal("shape", f"cannot be opened as panels: bend {bend.id} is torn in, without a relief beside it")


def _foot(sheet: Sheet, face: str, ring: Sequence[Point]) -> int:
    """The edge of a face's mould on which it is bent itself."""
    bend = next(b for b in sheet.bends if b.child == face)
    edge = bend.child_edge[::-1]
    return _index(ring, _moved(edge, _right(edge), bend.figures.outside_setback), bend)


class _Axes:
    """From a face's coordinates to what is told: (along, up) of a panel, x and y of the base."""

    def __init__(self, origin: Point, along: Point, up: Point):
        self.origin, self.along, self.up = origin, along, up

    @classmethod
    def of(cls, sheet: Sheet, face: str, ring: Sequence[Point], corner: Point = (0.0, 0.0)) -> "_Axes":
        """Those of the base are its own, from its ``corner``."""
        if face == sheet.root:
            return cls(corner, (1.0, 0.0), (0.0, 1.0))
        foot = _foot(sheet, face, ring)
        end, start = ring[foot], ring[(foot + 1) % len(ring)]
        long = math.dist(start, end)
        along = (end[0] - start[0]) / long, (end[1] - start[1]) / long
        return cls(start, along, (along[1], -along[0]))

    def told(self, point: Point) -> Point:
        """As it is written."""
        dx, dy = point[0] - self.origin[0], point[1] - self.origin[1]
        return (_told(dx * self.along[0] + dy * self.along[1]), _told(dx * self.up[0] + dy * self.up[1]))


def _opening(hole: Hole, axes: _Axes) -> tuple[str, dict]:
    """(the list it stands in, its block)."""
    x, y = axes.told(hole.centre)
    if hole.ring:
        return "openings", {"outline": [list(axes.told(p)) for p in hole.outline()]}
    if not hole.is_slot:
        return "holes", {"x": x, "y": y, "diameter": _told(hole.diameter)}
    one, other = (axes.told(p) for p in hole.ends)
    turned = math.degrees(math.atan2(other[1] - one[1], other[0] - one[0]))
    return "windows", {"x": x, "y": y, "length": _told(hole.length), "width": _told(hole.diameter),
                       "radius": _told(hole.diameter / 2), "angle": _told(turned)}


def with_collars(shape: dict, collars: Sequence[Collar]) -> dict:
    """The ``shape`` with the collars of a part whose base kept its coordinates: holes are told as they end up."""
    about = {(_told(c.centre[0]), _told(c.centre[1])): c for c in collars}
    for hole in shape.get("holes", ()):
        collar = about.get((hole["x"], hole["y"])) if "on" not in hole else None
        if collar:
            hole |= {"diameter": _told(collar.inside),
                     "collar": {"height": _told(collar.height), "direction": collar.direction}}
    return shape


NO_LENGTHS = ("on", "edge", "corner", "angle", "k")
"""Numbers of a shape that are no lengths."""


def in_file_units(shape: dict, units: str) -> dict:
    """A ``shape`` of lengths in mm as a file of these units has it: each with its unit where that is another.

    >>> in_file_units({"outline": [[0.0, 25.4]], "panels": [{"edge": 1, "length": 10.0}]}, "in")
    {'outline': [['0 mm', '25.4 mm']], 'panels': [{'edge': 1, 'length': '10 mm'}]}
    """
    def told(value, key):
        if isinstance(value, dict):
            return {one: told(own, one) for one, own in value.items()}
        if isinstance(value, list):
            return [told(one, key) for one in value]
        return f"{value:.10g} mm" if isinstance(value, int | float) and key not in NO_LENGTHS else value
    return shape if units == "mm" else told(shape, "")

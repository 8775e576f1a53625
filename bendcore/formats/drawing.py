"""Reading a flat from a DXF: outline, holes, and the lines to be bent, with a report.

Entities become polylines (arcs within 0.01 mm); ends nearer than 0.05 mm are joined.
The largest closed contour is the outline; circles and slots in it are holes. Lines are
bends when their layer says so (bend or fold in its name) or when they run alone from
edge to edge inside the outline. Direction comes from the layer (up or down), angle from
a label as Dorvan writes it; what is not said is asked for, with 90° up to begin with.
"""

import io
import math
import re
from collections import Counter, defaultdict
from dataclasses import dataclass

import ezdxf
from ezdxf import path as dxf_path
from ezdxf import recover
from shapely import LineString, Point, Polygon

from ..errors import Refusal
from ..units import MM_PER

MOST_BYTES, MOST_ENTITIES, MOST_POINTS = 5_000_000, 20_000, 200_000
MOST_LABELS, MOST_BENDS, MOST_MEETING, FARTHEST = 1000, 200, 20, 1e6
JOIN, SAME, SAGITTA = 0.05, 1e-6, 0.01
LARGEST, SMALLEST = 5000.0, 5.0
_BEND = re.compile(r"bend|fold", re.IGNORECASE)
_LABEL = re.compile(r"^(\S+) (up|down) ([\d.]+) R([\d.]+)$")
_LEFT_OUT = {"TEXT", "MTEXT", "DIMENSION", "POINT", "HATCH", "LEADER"}
SKIPPED_LAYERS = {"TANGENT", "MARK", "TEXT"}
UNITS = {1: "in", 4: "mm", 5: "cm", 6: "m"}
_PER = MM_PER | {"cm": 10.0, "m": 1000.0}


@dataclass(frozen=True)
class Drawing:
    """``shape`` as a part file has it, lengths in mm; ``report`` says what was done and left out."""

    shape: dict
    report: tuple[str, ...]


@dataclass
class _Chain:
    points: list
    layer: str
    closed: bool = False


def read_dxf(data: bytes, name: str = "drawing") -> Drawing:
    """A flat from a DXF's bytes; refuses, saying where, what cannot be a flat."""
    if len(data) > MOST_BYTES:
        raise Refusal(name, f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        doc, _ = recover.read(io.BytesIO(data))
    except (ezdxf.DXFError, OSError, ValueError, IndexError, KeyError, TypeError, AttributeError):
        raise Refusal(name, "is not a DXF that can be read") from None
    report: list[str] = []
    per = _units(doc, report)
    chains, holes, labels = _entities(doc, per, report)
    outline, loops, open_chains = _contours(chains, report)
    holes += _round(loops, report)
    bends = _bends(open_chains, outline, labels, report)
    _suspect(outline, report)
    shape = {"kind": "flat", "outline": [[x, y] for x, y in outline], "holes": holes, "bends": bends}
    return Drawing(shape, tuple(report))


def _units(doc, report) -> float:
    units = UNITS.get(doc.units)
    if units is None:
        report.append("The drawing names no units; millimetres were taken.")
    return _PER[units or "mm"]


def _entities(doc, per, report):
    """(chains, round holes, labels) of the model space, in mm."""
    chains, holes, labels, left = [], [], [], Counter()
    splines = points = 0
    for n, entity in enumerate(doc.modelspace()):
        if n >= MOST_ENTITIES:
            raise Refusal("drawing", f"has more than {MOST_ENTITIES} entities")
        kind, layer = entity.dxftype(), entity.dxf.layer
        if kind == "TEXT" and (match := _LABEL.match(entity.dxf.text)):
            labels.append(((entity.dxf.insert.x * per, entity.dxf.insert.y * per), match))
            continue
        if kind in _LEFT_OUT or layer.upper() in SKIPPED_LAYERS:
            left[kind if kind in _LEFT_OUT else f"layer {layer}"] += 1
            continue
        if kind == "CIRCLE":
            c = entity.dxf.center
            _within(kind, per, (c.x, c.y, entity.dxf.radius))
            holes.append({"x": c.x * per, "y": c.y * per, "diameter": 2 * entity.dxf.radius * per})
            continue
        if kind == "LWPOLYLINE" and (slot := _slot(entity, per)):
            holes.append(slot)
            continue
        if kind not in ("LINE", "LWPOLYLINE", "POLYLINE", "ARC", "SPLINE", "ELLIPSE"):
            left[kind] += 1
            continue
        splines += kind in ("SPLINE", "ELLIPSE")
        drawn = dxf_path.make_path(entity)
        _within(kind, per, (v for p in drawn.control_vertices() for v in (p.x, p.y)))
        run = [(p.x * per, p.y * per) for p in drawn.flattening(SAGITTA / per)]
        points += len(run)
        if points > MOST_POINTS:
            raise Refusal("drawing", f"has more than {MOST_POINTS} points")
        if len(run) > 1:
            chains.append(_Chain(run, layer))
    if len(labels) > MOST_LABELS:
        raise Refusal("drawing", f"has more than {MOST_LABELS} labels of bends")
    if splines:
        report.append(f"Splines and ellipses taken as polylines within {SAGITTA} mm: {splines}.")
    report += [f"{what} left out ({count})." for what, count in sorted(left.items())]
    return chains, holes, labels


def _within(kind, per, values):
    """Refuse what lies farther out than any sheet: flattening it would have no end."""
    if not all(abs(v) * per <= FARTHEST for v in values):  # a value that is not a number is not within either
        raise Refusal("drawing", f"has a {kind} farther than {FARTHEST / 1e6:g} km from its origin")


def _slot(entity, per) -> dict | None:
    """A slot drawn as two half circles and two lines."""
    points = list(entity.get_points("xyb"))
    if not entity.closed or [round(abs(b), 6) for *_, b in points] not in ([1, 0, 1, 0], [0, 1, 0, 1]):
        return None
    if abs(points[0][2]) < 0.5:
        points = points[1:] + points[:1]
    (ax, ay, _), (bx, by, _), (cx, cy, _), (dx, dy, _) = points
    one, other = ((ax + bx) / 2, (ay + by) / 2), ((cx + dx) / 2, (cy + dy) / 2)
    width = math.dist((ax, ay), (bx, by))
    return {"x": (one[0] + other[0]) / 2 * per, "y": (one[1] + other[1]) / 2 * per, "diameter": width * per,
            "length": (math.dist(one, other) + width) * per,
            "angle": math.degrees(math.atan2(one[1] - other[1], one[0] - other[0]))}


def _contours(chains, report):
    """(outline, other closed contours, open chains) after joining ends."""
    bends = [c for c in chains if _BEND.search(c.layer)]
    loops, left, healed = [], [], 0
    for points, layer, mended in _joined([c for c in chains if not _BEND.search(c.layer)]):
        gap = math.dist(points[0], points[-1])
        healed += mended
        if gap <= JOIN and len(points) > 3:
            healed += gap > SAME
            loops.append(points[:-1])
        else:
            left.append(_Chain(points, layer))
    if healed:
        report.append(f"Gaps under {JOIN} mm closed: {healed}.")
    if not loops:
        where = f": one ends at {_at(left[0].points[-1])}" if left else ""
        raise Refusal("drawing", f"has no closed contour{where}")
    loops.sort(key=lambda ring: -Polygon(ring).area)
    outline = Polygon(loops[0])
    if not outline.is_valid:
        raise Refusal("drawing", "has an outline that crosses itself")
    outline = outline.simplify(1e-6)
    return list(outline.exterior.coords[:-1]), loops[1:], [*bends, *left]


def _joined(chains):
    """(points, layer, gaps mended) of every run of chains that meet end to end; closed ones stay as they are."""
    ends, free = defaultdict(set), {}  # free keeps the order drawn
    for i, chain in enumerate(chains):
        if math.dist(chain.points[0], chain.points[-1]) <= JOIN and len(chain.points) > 3:
            yield chain.points, chain.layer, 0
            continue
        free[i] = chain
        for end in (chain.points[0], chain.points[-1]):
            ends[_cell(end)].add(i)
    while free:
        first = free.pop(next(iter(free)))
        points, mended = list(first.points), 0
        for _ in range(2):  # on from its end, then on from its start
            while math.dist(points[0], points[-1]) > JOIN and (found := _next(points[-1], ends, free)):
                i, theirs = found
                del free[i]
                exact = math.dist(points[-1], theirs[0]) <= SAME
                mended += not exact
                points += theirs[1:] if exact else theirs
            points.reverse()
        yield points, first.layer, mended


def _next(end, ends, free):
    """(number, points from here on) of the free chain whose end is nearest, within JOIN."""
    column, row = _cell(end)
    near = {i for dx in (-1, 0, 1) for dy in (-1, 0, 1) for i in ends.get((column + dx, row + dy), ()) if i in free}
    if len(near) > MOST_MEETING:
        raise Refusal("drawing", f"has more than {MOST_MEETING} lines that meet at {_at(end)}")
    found = [(math.dist(end, run[0]), i, run) for i in near for run in (free[i].points, free[i].points[::-1])]
    gap, i, run = min(found, default=(math.inf, None, None))
    return (i, run) if gap <= JOIN else None


def _cell(point):
    return math.floor(point[0] / JOIN), math.floor(point[1] / JOIN)


def _at(point) -> str:
    return f"({point[0]:.2f}, {point[1]:.2f})"


def _round(loops, report) -> list[dict]:
    """Closed contours inside that are round after all; others are refused where they are."""
    found = []
    for ring in loops:
        shape = Polygon(ring)
        middle, size = shape.centroid, 2 * math.sqrt(shape.area / math.pi)
        if max(abs(math.dist(p, (middle.x, middle.y)) - size / 2) for p in ring) > 0.05:
            raise Refusal("drawing", f"has a cut-out at {_at((middle.x, middle.y))} that is neither round nor "
                                     "a slot")
        found.append({"x": middle.x, "y": middle.y, "diameter": size})
    if found:
        report.append(f"Closed contours taken as round holes: {len(found)}.")
    return found


def _bends(chains, outline, labels, report) -> list[dict]:
    """Bend lines, in the order drawn, with what their layers and labels say."""
    if len(chains) > MOST_BENDS:
        raise Refusal("drawing", f"has more than {MOST_BENDS} open lines: one ends at {_at(chains[0].points[-1])}")
    edge, found, picked = Polygon(outline).exterior, [], 0
    told = _told(chains, labels)
    for chain in chains:
        (x0, y0), (x1, y1) = chain.points[0], chain.points[-1]
        straight = LineString([chain.points[0], chain.points[-1]])
        if max(straight.distance(Point(p)) for p in chain.points) > JOIN:
            raise Refusal("drawing", f"has an open contour from {_at((x0, y0))} to {_at((x1, y1))}")
        named = bool(_BEND.search(chain.layer))
        if not named and max(edge.distance(Point(p)) for p in (chain.points[0], chain.points[-1])) > 0.5:
            raise Refusal("drawing", f"has a loose line from {_at((x0, y0))} to {_at((x1, y1))}: neither "
                                     "a contour nor a bend from edge to edge")
        picked += not named
        direction = "down" if "down" in chain.layer.lower() else "up"
        bend = {"line": [[x0, y0], [x1, y1]], "direction": direction, "angle": 90.0}
        label = told.get(len(found))
        if label:
            bend |= {"direction": label[2], "angle": float(label[3])}
        elif named and "up" not in chain.layer.lower() and "down" not in chain.layer.lower():
            report.append(f"B{len(found) + 1}: direction not said; up was taken.")
        found.append(bend)
    if picked:
        report.append(f"Lines from edge to edge taken as bends, 90° up: {picked}. Change those that are not.")
    return found


def _told(chains, labels) -> dict:
    """Line → its label. A label stands at the middle of its line; the nearest pairs are matched first."""
    middles = [tuple((a + b) / 2 for a, b in zip(c.points[0], c.points[-1], strict=True)) for c in chains]
    pairs = sorted((math.dist(place, middle), i, n)
                   for i, middle in enumerate(middles) for n, (place, _) in enumerate(labels))
    found, used = {}, set()
    for _, i, n in pairs:
        if i not in found and n not in used:
            found[i] = labels[n][1]
            used.add(n)
    return found


def _suspect(outline, report):
    size = max(max(p[axis] for p in outline) - min(p[axis] for p in outline) for axis in (0, 1))
    if size > LARGEST:
        report.append(f"It is {size / 1000:.1f} m across: wrong units are suspected.")
    if size < SMALLEST:
        report.append(f"It is only {size:.2f} mm across: wrong units are suspected.")

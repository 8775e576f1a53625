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
from dataclasses import dataclass

import ezdxf
from ezdxf import path as dxf_path
from ezdxf import recover
from shapely import LineString, Point, Polygon

from ..errors import Refusal
from ..units import MM_PER

MOST_BYTES, MOST_ENTITIES, MOST_POINTS = 5_000_000, 20_000, 200_000
JOIN, SAGITTA = 0.05, 0.01
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
    chains, holes, labels, left = [], [], [], {}
    splines = points = 0
    for n, entity in enumerate(doc.modelspace()):
        if n >= MOST_ENTITIES:
            raise Refusal("drawing", f"has more than {MOST_ENTITIES} entities")
        kind, layer = entity.dxftype(), entity.dxf.layer
        if kind == "TEXT" and (match := _LABEL.match(entity.dxf.text)):
            labels.append(((entity.dxf.insert.x * per, entity.dxf.insert.y * per), match))
            continue
        if kind in _LEFT_OUT or layer.upper() in SKIPPED_LAYERS:
            left[kind if kind in _LEFT_OUT else f"layer {layer}"] = left.get(kind, 0) + 1
            continue
        if kind == "CIRCLE":
            c = entity.dxf.center
            holes.append({"x": c.x * per, "y": c.y * per, "diameter": 2 * entity.dxf.radius * per})
            continue
        if kind == "LWPOLYLINE" and (slot := _slot(entity, per)):
            holes.append(slot)
            continue
        if kind not in ("LINE", "LWPOLYLINE", "POLYLINE", "ARC", "SPLINE", "ELLIPSE"):
            left[kind] = left.get(kind, 0) + 1
            continue
        splines += kind in ("SPLINE", "ELLIPSE")
        run = [(p.x * per, p.y * per) for p in dxf_path.make_path(entity).flattening(SAGITTA / per)]
        points += len(run)
        if points > MOST_POINTS:
            raise Refusal("drawing", f"has more than {MOST_POINTS} points")
        if len(run) > 1 and all(map(math.isfinite, (v for p in run for v in p))):
            chains.append(_Chain(run, layer))
    if splines:
        report.append(f"{splines} splines or ellipses were taken as polylines within {SAGITTA} mm.")
    report += [f"{what} left out ({count})." for what, count in sorted(left.items())]
    return chains, holes, labels


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
    rest = [c for c in chains if not _BEND.search(c.layer)]
    while rest:
        chain = rest.pop()
        points = list(chain.points)
        grew = True
        while grew and math.dist(points[0], points[-1]) > JOIN:
            grew = False
            for i, other in enumerate(rest):
                for theirs in (other.points, other.points[::-1]):
                    gap = math.dist(points[-1], theirs[0])
                    if gap <= JOIN:
                        healed += gap > 1e-6
                        points += theirs[1:] if gap <= 1e-6 else theirs
                        del rest[i]
                        grew = True
                        break
                if grew:
                    break
            if not grew and points is not None and any(
                    math.dist(points[0], end) <= JOIN for o in rest for end in (o.points[0], o.points[-1])):
                points.reverse()
                grew = True
        if math.dist(points[0], points[-1]) <= JOIN and len(points) > 3:
            healed += math.dist(points[0], points[-1]) > 1e-6
            loops.append(points[:-1])
        else:
            left.append(_Chain(points, chain.layer))
    if healed:
        report.append(f"{healed} gaps under {JOIN} mm were closed.")
    if not loops:
        where = f": one ends at ({left[0].points[-1][0]:.2f}, {left[0].points[-1][1]:.2f})" if left else ""
        raise Refusal("drawing", f"has no closed contour{where}")
    loops.sort(key=lambda ring: -Polygon(ring).area)
    outline = Polygon(loops[0])
    if not outline.is_valid:
        raise Refusal("drawing", "has an outline that crosses itself")
    outline = outline.simplify(1e-6)
    return list(outline.exterior.coords[:-1]), loops[1:], [*bends, *left]


def _round(loops, report) -> list[dict]:
    """Closed contours inside that are round after all; others are refused where they are."""
    found = []
    for ring in loops:
        shape = Polygon(ring)
        middle, size = shape.centroid, 2 * math.sqrt(shape.area / math.pi)
        if max(abs(math.dist(p, (middle.x, middle.y)) - size / 2) for p in ring) > 0.05:
            raise Refusal("drawing", f"has a cut-out at ({middle.x:.2f}, {middle.y:.2f}) that is neither round nor "
                                     "a slot")
        found.append({"x": middle.x, "y": middle.y, "diameter": size})
    if found:
        report.append(f"{len(found)} closed contours were taken as round holes.")
    return found


def _bends(chains, outline, labels, report) -> list[dict]:
    """Bend lines, in the order drawn, with what their layers and labels say."""
    whole, found, picked = Polygon(outline), [], 0
    told = _told(chains, labels)
    for chain in chains:
        (x0, y0), (x1, y1) = chain.points[0], chain.points[-1]
        straight = LineString([chain.points[0], chain.points[-1]])
        if max(straight.distance(Point(p)) for p in chain.points) > JOIN:
            raise Refusal("drawing", f"has an open contour from ({x0:.2f}, {y0:.2f}) to ({x1:.2f}, {y1:.2f})")
        named = bool(_BEND.search(chain.layer))
        edge = whole.exterior
        if not named and max(edge.distance(Point(p)) for p in (chain.points[0], chain.points[-1])) > 0.5:
            raise Refusal("drawing", f"has a loose line from ({x0:.2f}, {y0:.2f}) to ({x1:.2f}, {y1:.2f}): neither "
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
        report.append(f"{picked} lines from edge to edge were taken as bends, 90° up: change those that are not.")
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

"""Reading the strokes of a DXF: arcs and curves become polylines within 0.01 mm."""

import io
import math
from collections import Counter
from collections.abc import Collection

from ezdxf import path as dxf_path
from ezdxf import recover

from ..errors import Refusal
from ..said import Fine, Said
from ..units import MM_PER
from .drawing import (
    MOST_BYTES,
    MOST_ENTITIES,
    MOST_POINTS,
    SAGITTA,
    SKIPPED_LAYERS,
    Drawing,
    Strokes,
    Unreadable,
    refusing,
    understand,
    within,
)

UNITS = {1: "in", 4: "mm", 5: "cm", 6: "m"}
_PER = MM_PER | {"cm": 10.0, "m": 1000.0}
MOST_RECORDS, MOST_GROUPS = 12_000, 400_000
"""Records and groups of a file, counted before it is parsed: parsing costs 0.1 ms a record."""
MOST_BENT, MOST_ROUNDED = 4_000, 6_000
"""Control points of splines, and rounded corners (bulges), in one file: each is worked out as a curve."""
_LEFT_OUT = {"TEXT", "MTEXT", "DIMENSION", "POINT", "HATCH", "LEADER"}
_RUNS = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "SPLINE", "ELLIPSE"}


ASKED = "asked"
"""Of the unit: a drawing that names none is refused, so that somebody says what it was drawn in."""


def read_dxf(data: bytes, name: str = "drawing", unit: str = "", without: Collection[str] = ()) -> Drawing:
    """A flat from a DXF's bytes; refuses, saying where, what cannot be a flat. ``unit`` is what it was drawn in (mm,
    cm, m, in), where it does not say so or says it wrongly, or ASKED; layers ``without`` which it is read."""
    if len(data) > MOST_BYTES:
        raise Refusal(name, f"is larger than {MOST_BYTES // 1_000_000} MB")
    if b"\0" in data[:1000]:
        raise Refusal(name, "is a binary DXF: save it as text")
    lines = data.split(b"\n", 2 * MOST_GROUPS)
    if len(lines) > 2 * MOST_GROUPS or sum(code.strip() == b"0" for code in lines[::2]) > MOST_RECORDS:
        raise Refusal(name, f"has more than {MOST_RECORDS} entities, or too much in them: keep the flat only")
    with refusing(name, "a DXF"):
        strokes = _strokes(recover.read(io.BytesIO(data))[0], unit, {layer.upper() for layer in without})
    return understand(strokes)


def _strokes(doc, unit: str, without: Collection[str]) -> Strokes:
    units = unit if unit in _PER else UNITS.get(doc.units)
    if units is None and unit == ASKED:
        raise Refusal("unit", "is not named in the drawing: choose what it was drawn in, and read it in again")
    found, left, splines, curves = Strokes(per=_PER[units or "mm"]), Counter(), 0, Counter()
    if units is None:
        found.report.append("The drawing names no units; millimetres were taken.")
    for n, entity in enumerate(doc.modelspace()):
        if n >= MOST_ENTITIES:
            raise Unreadable(f"has more than {MOST_ENTITIES} entities")
        kind, layer, per = entity.dxftype(), entity.dxf.get("layer", "0"), found.per
        if kind == "TEXT" and found.label((entity.dxf.insert.x * per, entity.dxf.insert.y * per), entity.dxf.text):
            continue
        if kind in _LEFT_OUT or layer.upper() in {*SKIPPED_LAYERS, *without}:
            left[kind if kind in _LEFT_OUT else f"layer {layer}"] += 1
        elif kind == "CIRCLE":
            c = entity.dxf.center
            within(kind, (c.x * per, c.y * per, entity.dxf.radius * per))
            found.openings.append({"x": c.x * per, "y": c.y * per, "diameter": 2 * entity.dxf.radius * per})
        elif kind == "LWPOLYLINE" and (slot := _slot(entity, per)):
            found.openings.append(slot)
        elif kind in _RUNS:
            splines += kind in ("SPLINE", "ELLIPSE")
            _counted(entity, kind, curves, found)
            drawn = dxf_path.make_path(entity)
            within(kind, (v * per for p in drawn.control_vertices() for v in (p.x, p.y)))
            found.add(((p.x * per, p.y * per) for p in drawn.flattening(SAGITTA / per)), layer)
        else:
            left[kind] += 1
    if splines:
        found.report.append(Said("Splines and ellipses taken as polylines within {off}: {count}.", off=Fine(SAGITTA),
                                 count=splines))
    found.report += [f"{what} left out ({count})." for what, count in sorted(left.items())]
    return found


def _counted(entity, kind: str, curves: Counter, found: Strokes) -> None:
    """Refuse a run of more points and curves than are taken before anything is made of it."""
    if kind == "SPLINE":
        curves["spline"] += entity.control_point_count() + entity.fit_point_count()
        if entity.dxf.degree > 9:
            raise Unreadable(f"has a spline of degree {entity.dxf.degree}; at most 9 is taken")
    elif kind == "LWPOLYLINE":
        curves["points"] += len(entity)
        curves["rounded"] += sum(abs(bulge) > 1e-9 for bulge, in entity.get_points("b"))
    elif kind == "POLYLINE":
        curves["points"] += len(entity.vertices)
        curves["rounded"] += sum(abs(v.dxf.bulge) > 1e-9 for v in entity.vertices)
    for what, most, words in (("spline", MOST_BENT, "control points of splines"), ("points", MOST_POINTS, "points"),
                              ("rounded", MOST_ROUNDED, "rounded corners")):
        if curves[what] > most:
            raise Unreadable(f"has more than {most} {words}")


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

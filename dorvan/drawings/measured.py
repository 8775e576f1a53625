"""A brake or a tool in section with its sizes where they are measured: what is typed, and a sheet to fill in."""

import math

import numpy as np
import shapely
from shapely import LineString, Polygon

from bendcore.brakes.measured.compared import Laid
from bendcore.brakes.measured.described import Taken, values
from bendcore.brakes.measured.measure import Kind
from bendcore.sheet.rings import polygons

from .fit import Fit
from .places import places

WIDTH, HEIGHT, MARGIN = 872, 720, 96
LABEL = (108, 44)
NUMBER = (26, 20)
REACHES = np.array([34, 56, 80, 108, 140, 176, 220])
"""How far off its dimension an input may stand, pixels."""
TICK = 5
"""Half the length of a dimension's end strokes, pixels."""
POINTED = 1e-9


def measured_view(kind: Kind, rows: list[Taken], units: str, typed: bool = True, over: Laid | None = None) -> dict:
    """The sections to scale, every size that lies in them as a dimension with its number and a box for its value
    (``typed``), or for its number alone; the scale is set by what is measured, so that what only goes on beyond it
    may be cut off by the edge. A drawing laid ``over`` is drawn too, with a mark where they are farthest apart."""
    sizes = values(rows)
    spans, outlines = kind.spans(sizes), kind.picture(sizes)
    ends = [point for span in spans.values() for point in (span.start, span.end)]
    fit = Fit.into([*ends, (0.0, 0.0)], MARGIN, MARGIN, WIDTH - 2 * MARGIN, HEIGHT - 2 * MARGIN, largest=14.0)
    drawn = polygons([fit.all(points) for points in outlines.values()])
    lines, labels, covered = {}, [], []
    centre = fit(tuple(np.mean(ends, axis=0)))
    for number, row in enumerate(rows, 1):
        span = spans.get(row.measure.name)
        if span is None:
            continue
        start, end, middle = fit(span.start), fit(span.end), fit(span.middle)
        lines[row.measure.name] = _dimension(start, end)
        covered.append(LineString([start, end]))
        labels.append({"number": number, "name": row.measure.name, "at": middle,
                       "away": _away(start, end, middle, centre)})
    avoid = shapely.union_all([*(shapely.make_valid(Polygon(p.exterior)).boundary for p in drawn),
                               *(line.buffer(3) for line in covered)])
    box = LABEL if typed else NUMBER
    found = places(labels, box, REACHES if typed else REACHES / 2, np.array([2, 2, WIDTH - 2, HEIGHT - 2]), avoid)
    for label, (left, top, right, bottom) in zip(labels, found or (), strict=False):
        label |= {"left": left, "top": top, "x": round((left + right) / 2, 1), "y": round((top + bottom) / 2, 1)}
    return {"width": WIDTH, "height": HEIGHT, "box": box, "labels": labels if found else [], "lines": lines,
            "outlines": [(name.removesuffix("_section").replace(".section", ""), fit.path(points))
                         for name, points in outlines.items()], "bar": fit.bar(units),
            "over": over and {"d": fit.path(over.outline), "at": fit(over.at)}}


def _dimension(start, end) -> str:
    """A line between two points with a stroke across it at either end; a dot where they are one."""
    (x, y), (u, v) = start, end
    long = math.hypot(u - x, v - y)
    if long < POINTED:
        return f"M{x - 4:g},{y:g}a4,4 0 1 0 8,0a4,4 0 1 0 -8,0"
    across, down = -(v - y) / long * TICK, (u - x) / long * TICK
    strokes = "".join(f"M{a - across:.1f},{b - down:.1f}L{a + across:.1f},{b + down:.1f}" for a, b in (start, end))
    return f"M{x:g},{y:g}L{u:g},{v:g}{strokes}"


def _away(start, end, middle, centre) -> float:
    """Across the dimension, to the side that lies away from the middle of the drawing."""
    out = (middle[0] - centre[0], middle[1] - centre[1])
    if math.dist(start, end) > POINTED:
        normal = (end[1] - start[1], start[0] - end[0])
        sign = 1 if out[0] * normal[0] + out[1] * normal[1] >= 0 else -1
        out = (sign * normal[0], sign * normal[1])
    return math.atan2(out[1], out[0])


def kind_view(kind: Kind, width: int = 236, height: int = 206) -> list[tuple[str, str]]:
    """A small picture of a kind at its start values."""
    sizes = {one.name: one.start for one in kind.measures}
    spans, outlines = kind.spans(sizes), kind.picture(sizes)
    ends = [point for span in spans.values() for point in (span.start, span.end)]
    fit = Fit.into(ends, 14, 14, width - 28, height - 28)
    return [(name.removesuffix("_section"), fit.path(points)) for name, points in outlines.items()]

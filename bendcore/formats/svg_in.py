"""Reading the strokes of an SVG: groups are layers, curves become polylines within 0.01 mm.

The file's physical width and its view box give the scale; y is turned up. Entities and
document types are refused by the XML reader; scripts, styles, images and references are
left out and told.
"""

import math
import re
from collections import Counter

import numpy as np
from defusedxml.ElementTree import fromstring
from svgelements import Arc, Circle, Close, CubicBezier, Ellipse, Line, Matrix, Move, Path, QuadraticBezier, Rect

from ..errors import Refusal
from ..said import Fine, Said
from .drawing import (
    MOST_BYTES,
    MOST_ENTITIES,
    SAGITTA,
    SKIPPED_LAYERS,
    Chain,
    Drawing,
    Strokes,
    Unreadable,
    refusing,
    understand,
    within,
)

MOST_DEEP, MOST_PATH, MOST_TAGS, MOST_TRANSFORM = 40, 200_000, 40_000, 500
"""Groups within groups, characters of path data in one file, tags, characters of one transform."""
_TRANSFORM = re.compile(r"(?:(?:matrix|translate|scale|rotate|skewX|skewY)\s*\([^()]*\)[\s,]*)*", re.IGNORECASE)
SVG = "{http://www.w3.org/2000/svg}"
LABEL_OF_GROUP = "{http://www.inkscape.org/namespaces/inkscape}label"
MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "px": 25.4 / 96}
SIZES = ("x", "y", "width", "height", "rx", "ry", "r", "cx", "cy", "x1", "y1", "x2", "y2")
_SIZE = re.compile(r"^\s*([-+]?[\d.]+(?:e[-+]?\d+)?)\s*(mm|cm|in|pt|pc|px|)\s*$", re.IGNORECASE)
_LEFT_OUT = {"defs", "style", "script", "clipPath", "mask", "symbol", "pattern", "marker", "metadata", "title", "desc"}


def read_svg(data: bytes, name: str = "drawing") -> Drawing:
    """A flat from an SVG's bytes; refuses, saying where, what cannot be a flat."""
    if len(data) > MOST_BYTES:
        raise Refusal(name, f"is larger than {MOST_BYTES // 1_000_000} MB")
    if data.count(b"<") > MOST_TAGS:
        raise Refusal(name, f"has more than {MOST_TAGS} tags: keep the flat only")
    with refusing(name, "an SVG"):
        root = fromstring(data, forbid_dtd=True)
        if root.tag != f"{SVG}svg":
            raise ValueError("another kind of XML")
        strokes = _Reader(root).strokes()
    return understand(strokes)


class _Reader:
    def __init__(self, root):
        self.root, self.found, self.left = root, Strokes(), Counter()
        self.curves = self.entities = self.path = 0

    def strokes(self) -> Strokes:
        scale, high = self._scale()
        self.found.per = scale
        self._walk(self.root, Matrix(f"translate(0 {high}) scale({scale} {-scale})"), "", 0)
        if self.curves:
            self.found.report.append(Said("Curves taken as polylines within {off}: {count}.", off=Fine(SAGITTA),
                                          count=self.curves))
        self.found.report += [f"{what} left out ({count})." for what, count in sorted(self.left.items())]
        return self.found

    def _scale(self) -> tuple[float, float]:
        """(mm to a user unit, height in mm) from the physical size and the view box."""
        sizes = [_SIZE.match(self.root.get(key, "")) for key in ("width", "height")]
        box = [_number(v) for v in re.split(r"[\s,]+", self.root.get("viewBox", "").strip()) if v][:4]
        if not all(sizes) or not sizes[0][2]:
            self.found.report.append("The drawing names no units; millimetres were taken.")
            return 1.0, box[3] if len(box) == 4 else (float(sizes[1][1]) if sizes[1] else 0.0)
        wide, high = (float(m[1]) * MM[m[2].lower() or "px"] for m in sizes)
        within("size", (wide, high))
        if len(box) != 4 or box[2] <= 0 or wide <= 0:
            return MM[sizes[0][2].lower()], high
        if box[3] > 0 and abs(high / box[3] - wide / box[2]) > 1e-3 * wide / box[2]:
            self.found.report.append("Width and height do not suit the view box; the width was taken.")
        return wide / box[2], (box[3] + box[1]) * wide / box[2]

    def _walk(self, element, matrix, layer, deep):
        if deep > MOST_DEEP:
            raise Unreadable(f"has groups nested deeper than {MOST_DEEP}")
        for child in element:
            self.entities += 1
            if self.entities > MOST_ENTITIES:
                raise Unreadable(f"has more than {MOST_ENTITIES} entities")
            kind = child.tag.removeprefix(SVG) if isinstance(child.tag, str) else "comment"
            if kind in _LEFT_OUT or kind.startswith("{") or kind == "comment":
                continue
            if "display:none" in child.get("style", "").replace(" ", "") or child.get("display") == "none":
                self.left["hidden"] += 1
                continue
            own = _transform(child) * matrix
            within("transform", (own.a, own.b, own.c, own.d, own.e, own.f))
            if kind in ("g", "svg", "a"):
                self._walk(child, own, child.get(LABEL_OF_GROUP) or child.get("id") or layer, deep + 1)
            elif kind == "text":
                self._text(child, own)
            elif layer.upper() in SKIPPED_LAYERS:
                self.left[f"layer {layer}"] += 1
            else:
                self._draw(kind, child, own, layer)

    def _text(self, element, matrix):
        x, y = matrix.point_in_matrix_space((_number(element.get("x")), _number(element.get("y"))))
        if not self.found.label((x, y), "".join(element.itertext()).strip()):
            self.left["text"] += 1

    def _draw(self, kind, element, matrix, layer):
        get = {key: _number(element.get(key)) for key in SIZES}
        if kind == "circle" and _keeps_round(matrix):
            x, y = matrix.point_in_matrix_space((get["cx"], get["cy"]))
            size = 2 * get["r"] * math.hypot(matrix.a, matrix.b)
            within(kind, (x, y, size))
            self.found.openings.append({"x": x, "y": y, "diameter": size})
            return
        path = self._path(kind, element, get)
        if path is None:
            self.left[kind] += 1
            return
        try:
            path = abs(path * matrix)
        except (ValueError, ZeroDivisionError, OverflowError):
            raise Unreadable(f"has a {kind} that cannot be drawn") from None
        slot = _slot(path)
        if slot:
            self.found.openings.append(slot)
            return
        self.found.chains += [Chain(run, layer) for run in self._runs(path, kind) if len(run) > 1]

    def _path(self, kind, element, get):
        if kind in ("path", "polyline", "polygon"):
            text = element.get("d" if kind == "path" else "points", "")
            self.path += len(text)
            if self.path > MOST_PATH:
                raise Unreadable(f"has more than {MOST_PATH} characters of paths")
            try:
                return Path(text if kind == "path" else f"M{text}{'Z' if kind == 'polygon' else ''}")
            except (ValueError, IndexError, TypeError, AttributeError):
                raise Unreadable(f"has a {kind} that cannot be read") from None
        if kind == "line":
            return Path(Move((get["x1"], get["y1"])), Line((get["x1"], get["y1"]), (get["x2"], get["y2"])))
        if kind == "rect":
            return Path(Rect(get["x"], get["y"], get["width"], get["height"], rx=get["rx"] or get["ry"],
                             ry=get["ry"] or get["rx"]))
        if kind in ("circle", "ellipse"):
            return Path(Circle(get["cx"], get["cy"], get["r"]) if kind == "circle" else
                        Ellipse(get["cx"], get["cy"], get["rx"], get["ry"]))
        return None

    def _runs(self, path, kind):
        run = []
        for segment in path:
            within(kind, (v for p in (segment.start, segment.end) if p is not None for v in (p.x, p.y)))
            if isinstance(segment, Move):
                if len(run) > 1:
                    yield run
                run = [(segment.end.x, segment.end.y)]
                continue
            steps = _steps(segment)
            self.found.count(steps)
            self.curves += isinstance(segment, (CubicBezier, QuadraticBezier))
            if steps > 1:
                run += map(tuple, segment.npoint(np.arange(1, steps) / steps).tolist())
            if segment.end is not None:
                run.append((segment.end.x, segment.end.y))
            if isinstance(segment, Close):
                yield run
                run = run[-1:]
        if len(run) > 1:
            yield run


def _transform(element) -> Matrix:
    """A transform, looked over before it is parsed: parsing takes the square of what is no transform."""
    text = element.get("transform", "").strip()
    if len(text) > MOST_TRANSFORM:
        raise Unreadable(f"has a transform of more than {MOST_TRANSFORM} characters")
    if not _TRANSFORM.fullmatch(text):
        raise Unreadable("has a transform that cannot be read")
    return Matrix(text)


def _keeps_round(matrix) -> bool:
    """Whether a circle stays one."""
    across, up = math.hypot(matrix.a, matrix.b), math.hypot(matrix.c, matrix.d)
    skew = matrix.a * matrix.c + matrix.b * matrix.d
    return math.isclose(across, up, rel_tol=1e-6) and abs(skew) <= 1e-6 * across * up


def _number(text) -> float:
    """A number as SVG has it, without its unit; 0 where there is none."""
    match = re.match(r"\s*[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?", text or "", re.IGNORECASE)
    value = float(match[0]) if match else 0.0
    within("number", (value / 1e3,))
    return value


def _steps(segment) -> int:
    """Into how many pieces a segment is cut so that it is true within SAGITTA.

    A Bézier curve of degree d strays from n chords by at most d(d − 1)/8·M/n², M the largest
    second difference of its control points (Wang 1984)."""
    if isinstance(segment, Arc):
        radius, sweep = max(segment.rx, segment.ry), abs(segment.sweep)
        within("arc", (radius,))
        if radius <= SAGITTA:
            return 4
        return max(1, math.ceil(sweep / (2 * math.acos(max(0.0, 1 - SAGITTA / radius)))))
    if isinstance(segment, (CubicBezier, QuadraticBezier)):
        middle = [segment.control] if isinstance(segment, QuadraticBezier) else [segment.control1, segment.control2]
        points = [complex(p.x, p.y) for p in (segment.start, *middle, segment.end)]
        within("curve", (v for p in points for v in (p.real, p.imag)))
        most = max(abs(a - 2 * b + c) for a, b, c in zip(points, points[1:], points[2:], strict=False))
        degree = len(points) - 1
        return max(1, math.ceil(math.sqrt(degree * (degree - 1) / 8 * most / SAGITTA)))
    return 1


def _slot(path) -> dict | None:
    """A slot drawn as two half circles and two lines."""
    kinds = [type(s) for s in path]
    if kinds not in ([Move, Arc, Line, Arc, Close], [Move, Line, Arc, Line, Arc, Close], [Move, Line, Arc, Line, Arc],
                     [Move, Arc, Line, Arc, Line], [Move, Arc, Line, Arc, Line, Close]):
        return None
    one, other = (s for s in path if isinstance(s, Arc))
    for arc in (one, other):
        if abs(abs(arc.sweep) - math.pi) > 1e-3 or not math.isclose(arc.rx, arc.ry, rel_tol=1e-4):
            return None
    (a, b), width = ((one.center, other.center), 2 * one.rx)
    within("slot", (a.x, a.y, b.x, b.y, width))
    return {"x": (a.x + b.x) / 2, "y": (a.y + b.y) / 2, "diameter": width,
            "length": math.hypot(b.x - a.x, b.y - a.y) + width, "angle": math.degrees(math.atan2(b.y - a.y, b.x - a.x))}

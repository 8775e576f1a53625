"""Panels told by names, as the open file has them, told by numbers, as they are edited.

By names a panel has an ``id``, stands ``on`` another's, on its ``start``, ``far`` or ``end`` edge; each face has its
``openings`` with it, arcs are bulges of the outline's edges, ends and corners say by themselves how they are made. By
numbers everything of one kind stands in one list, as inputs and drawings need it. Both say the same part; names stay
with their panels.
"""

import math
from collections.abc import Iterator, Mapping
from typing import Any

from ...errors import Refusal
from ...fields import ReadLength
from .fields import CUT_KEYHOLE, CUT_NONE, CUT_ROUND, CUT_SQUARE, MITRED, MOST_OPENINGS, SQUARE, TABBED

EDGES = {"start": 1, "far": 2, "end": 3}
RELIEFS = {"rectangular": CUT_SQUARE, "round": CUT_ROUND, "keyhole": CUT_KEYHOLE, "tear": CUT_NONE, "none": CUT_NONE}
STYLES = {"open": "open", "weld": "open", "butt": "butt", "overlap": "butt", "tab": TABBED}
"""A weld's gap is its own; what overlaps runs to the other's outer face."""
SHAPE = {"kind", "dims", "outline", "gap", "relief", "openings", "panels", "corners"}
PANEL = {"id", "on", "edge", "start", "end", "angle", "direction", "inside_radius", "k", "length", "dims", "ends",
         "openings", "far", "made", "facet"}
KINDS = {"round": {"diameter"}, "slot": {"length", "width", "angle"},
         "rectangle": {"length", "width", "angle", "corner"}, "outline": {"points"}}
OPTIONAL = {"angle", "corner"}
MOST = 400
"""Openings that a repeat makes at most."""


def is_named(shape: Mapping[str, Any]) -> bool:
    """Whether a ``shape`` is told by names."""
    def blocks(key: str) -> list[dict]:
        rows = shape.get(key)
        return [one for one in rows if isinstance(one, dict)] if isinstance(rows, list) else []

    return (isinstance(shape.get("relief"), dict) or bool(blocks("outline"))
            or any(isinstance(one.get("on"), str) or isinstance(one.get("edge"), str) or "openings" in one
                   or "far" in one or isinstance(one.get("ends"), dict) for one in blocks("panels"))
            or any("of" in one for one in blocks("corners")) or any("kind" in one for one in blocks("openings")))


def by_numbers(shape: Mapping[str, Any], length: ReadLength) -> tuple[dict, dict[str, str]] | None:
    """As :func:`numbered` does it for a shape told by names; None for any other."""
    return numbered(shape, length) if is_named(shape) else None


def numbered(shape: Mapping[str, Any], length: ReadLength) -> tuple[dict, dict[str, str]]:
    """(the ``shape`` told by numbers, by path below it the path it had by names). Refuses, at that path, what is not
    known; what is there is judged once it is read."""
    return _Numbering(shape, length).told()


class _Numbering:
    def __init__(self, shape: Mapping[str, Any], length: ReadLength):
        self.shape, self.length = shape, length
        self.paths: dict[str, str] = {}
        self.made: dict[str, Any] = {"kind": "panels"}
        self.numbers: dict[str, int] = {"base": 0}
        self.count = 0

    def told(self) -> tuple[dict, dict[str, str]]:
        """All of it."""
        _known(self.shape, SHAPE, "")
        self.made |= {key: self.shape[key] for key in ("dims", "gap") if key in self.shape}
        self.made["outline"] = list(self._outline(self.shape.get("outline")))
        self._relief(self.shape.get("relief"))
        self._openings(self.shape.get("openings", []), 0, "openings")
        for i, panel in enumerate(_listed(self.shape.get("panels", []), "panels")):
            self._panel(i, panel)
        for i, corner in enumerate(_listed(self.shape.get("corners", []), "corners")):
            self._corner(i, corner)
        return self.made, self.paths

    def _put(self, key: str, block: dict, path: str) -> None:
        rows = self.made.setdefault(key, [])
        self.paths[f"{key}[{len(rows)}]"] = path
        rows.append(block)

    def _outline(self, points: object) -> Iterator[list]:
        points = _listed(points, "outline")
        ends = [one.get("to") if isinstance(one, dict) else one for one in points]
        for i, end in enumerate(ends):
            if not isinstance(end, list) or len(end) != 2:
                raise Refusal(f"outline[{i}]", "must be two lengths, or where it goes to")
        at = [tuple(self.length(v, f"outline[{i}][{k}]") for k, v in enumerate(end)) for i, end in enumerate(ends)]
        area = sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(at, [*at[1:], *at[:1]], strict=True))
        for i, one in enumerate(points):
            if isinstance(one, dict):
                _known(one, {"to", "bulge"}, f"outline[{i}]")
                bulge = one.get("bulge", 0)
                if not isinstance(bulge, int | float) or isinstance(bulge, bool) or abs(bulge) > 50:
                    raise Refusal(f"outline[{i}].bulge", "must be a number, the tangent of a quarter of its arc")
                if bulge:  # to the left of its way; outwards of an outline that runs counter-clockwise
                    rise = bulge * math.dist(at[i - 1], at[i]) / 2 * (1 if area > 0 else -1)
                    self._put("edges", {"edge": (i - 1) % len(at) + 1, "rise": f"{rise:.10g} mm"}, f"outline[{i}]")
            yield ends[i]

    def _relief(self, relief: object) -> None:
        if relief is None:
            return
        if not isinstance(relief, dict):
            self.made["relief"] = relief
            return
        _known(relief, {"kind", "width"}, "relief")
        kind = relief.get("kind", "rectangular")
        if not isinstance(kind, str) or kind not in RELIEFS:
            raise Refusal("relief.kind", f"must be one of {', '.join(RELIEFS)}")
        self.made["reliefs"] = RELIEFS[kind]
        if "width" in relief:
            self.made["relief"] = relief["width"]
            self.paths["relief"] = "relief.width"

    def _panel(self, i: int, panel: object) -> None:
        path = f"panels[{i}]"
        _known(panel, PANEL, path)
        for key in ("id", "edge", "direction", "length"):
            if key not in panel:
                raise Refusal(f"{path}.{key}", "is missing")
        on, name = panel.get("on", "base"), panel["id"]
        if not isinstance(name, str) or not isinstance(on, str) or on not in self.numbers:
            raise Refusal(f"{path}.{'id' if not isinstance(name, str) else 'on'}",
                          "must be a name" if not isinstance(name, str) else "must be base, or a panel before it")
        number, edge = self.numbers[on], panel["edge"]
        if number and (not isinstance(edge, str) or edge not in EDGES):
            raise Refusal(f"{path}.edge", "must be far, start or end")
        if not number and not isinstance(edge, int):
            raise Refusal(f"{path}.edge", "must be the number of an edge of the base")
        made = {key: panel[key] for key in sorted(PANEL - {"on", "edge", "ends", "openings", "far"}) if key in panel}
        made |= {"on": number, "edge": EDGES[edge] if number else edge}
        if "far" in panel:
            _known(panel["far"], {"hem"}, f"{path}.far")
            made |= panel["far"]
            self.paths[f"{path}.hem"] = f"{path}.far.hem"
        self.numbers.setdefault(name, i + 1)
        self._ends(made, panel.get("ends", {}), i + 1, f"{path}.ends")
        self._put("panels", made, path)
        self._openings(panel.get("openings", []), i + 1, f"{path}.openings")

    def _ends(self, made: dict, ends: object, number: int, path: str) -> None:
        _known(ends, {"start", "end"}, path)
        for which, end in ends.items():
            where = f"{path}.{which}"
            if isinstance(end, str):
                if end not in ("square", "mitre"):
                    raise Refusal(where, "must be square, mitre, in, slope or round")
                made[f"{which}_ends"] = SQUARE if end == "square" else MITRED
                continue
            _known(end, {"in", "slope", "round"}, where)
            if len(end) != 1:
                raise Refusal(where, "must be one of in, slope and round")
            if "in" in end:
                free = self.length(made.get(which, 0), f"{path}.{which}") + self.length(end["in"], f"{where}.in")
                made[which] = f"{free:.10g} mm"
            elif "slope" in end:
                made[f"{which}_taper"] = end["slope"]
            else:
                self._put("corners", {"on": number, "corner": 2 if which == "start" else 3, "radius": end["round"]},
                          where)

    def _corner(self, i: int, corner: object) -> None:
        path = f"corners[{i}]"
        _known(corner, {"of", "style", "gap", "covers"}, path)
        pair, style = corner.get("of"), corner.get("style", "open")
        if not isinstance(pair, list) or len(pair) != 2 or not all(
                isinstance(name, str) and self.numbers.get(name) for name in pair):
            raise Refusal(f"{path}.of", "must be two panels by their names")
        if not isinstance(style, str) or style not in STYLES:
            raise Refusal(f"{path}.style", f"must be one of {', '.join(STYLES)}")
        made = {"one": self.numbers[pair[0]], "other": self.numbers[pair[1]], "style": STYLES[style]}
        if "covers" in corner:
            if corner["covers"] not in pair:
                raise Refusal(f"{path}.covers", "must be one of the two")
            made["covers"] = "first" if corner["covers"] == pair[0] else "second"
        self._put("meets", made | ({"gap": corner["gap"]} if "gap" in corner else {}), path)

    def _openings(self, openings: object, on: int, path: str) -> None:
        for i, opening in enumerate(_listed(openings, path)):
            where = f"{path}[{i}]"
            kind = opening.get("kind") if isinstance(opening, dict) else None
            if not isinstance(kind, str) or kind not in KINDS:
                raise Refusal(f"{where}.kind", f"must be one of {', '.join(KINDS)}")
            places = set() if kind == "outline" else {"x", "y"}
            _known(opening, {"kind", "repeat"} | places | KINDS[kind], where)
            for key in sorted((places | KINDS[kind]) - OPTIONAL):
                if key not in opening:
                    raise Refusal(f"{where}.{key}", "is missing")
            for dx, dy in self._offsets(opening, where):
                if self.count >= MOST_OPENINGS:
                    raise Refusal(where, f"makes more than {MOST_OPENINGS} openings")
                self._opening(kind, opening, on, dx, dy, where)

    def _opening(self, kind: str, opening: Mapping[str, Any], on: int, dx: float, dy: float, path: str) -> None:
        """One of a kind, so far from where it is told."""
        block: dict[str, Any] = {"nth": self.count} | ({"on": on} if on else {})
        self.count += 1

        def at(value: object, off: float, where: str) -> object:
            return f"{self.length(value, where) + off:.10g} mm" if off else value

        if kind == "outline":
            points = [[at(x, dx, f"{path}.points[{n}][0]"), at(y, dy, f"{path}.points[{n}][1]")]
                      for n, (x, y) in enumerate(_pairs(opening["points"], f"{path}.points"))]
            self._put("openings", block | {"outline": points}, path)
            return
        block |= {"x": at(opening["x"], dx, f"{path}.x"), "y": at(opening["y"], dy, f"{path}.y")}
        if kind == "round":
            self._put("holes", block | {"diameter": opening["diameter"]}, path)
            return
        block |= {key: opening[key] for key in ("length", "width", "angle") if key in opening}
        if kind == "slot":
            wide, long = (self.length(opening[key], f"{path}.{key}") for key in ("width", "length"))
            if long <= wide:
                raise Refusal(f"{path}.length", "must be more than its width, end to end")
            block["radius"] = f"{wide / 2:.12g} mm"
        elif "corner" in opening:
            block["radius"] = opening["corner"]
        self._put("windows", block, path)

    def _offsets(self, opening: Mapping[str, Any], path: str) -> Iterator[tuple[float, float]]:
        """By how much each of a row is moved, mm."""
        repeat = opening.get("repeat")
        if repeat is None:
            yield 0.0, 0.0
            return
        where = f"{path}.repeat"
        _known(repeat, {"count", "dx", "dy", "between", "axis"}, where)
        count = repeat.get("count")
        if not isinstance(count, int) or isinstance(count, bool) or not 1 <= count <= MOST:
            raise Refusal(f"{where}.count", f"must be a whole number from 1 to {MOST}")
        if "between" not in repeat:
            dx, dy = (self.length(repeat.get(key, 0), f"{where}.{key}") for key in ("dx", "dy"))
            yield from ((n * dx, n * dy) for n in range(count))
            return
        axis, ends = repeat.get("axis", "x"), repeat["between"]
        if axis not in ("x", "y") or axis not in opening:
            raise Refusal(f"{where}.axis", "must be x or y, of an opening that is told by them")
        if not isinstance(ends, list) or len(ends) != 2:
            raise Refusal(f"{where}.between", "must be the first and the last place")
        low, high = (self.length(value, f"{where}.between[{n}]") for n, value in enumerate(ends))
        own = self.length(opening[axis], f"{path}.{axis}")
        for n in range(count):
            off = low + (high - low) * (n / (count - 1) if count > 1 else 0.0) - own
            yield (off, 0.0) if axis == "x" else (0.0, off)


def _listed(value: object, path: str) -> list:
    if not isinstance(value, list):
        raise Refusal(path, "must be a list")
    return value


def _pairs(value: object, path: str) -> list:
    for n, one in enumerate(_listed(value, path)):
        if not isinstance(one, list) or len(one) != 2:
            raise Refusal(f"{path}[{n}]", "must be two lengths")
    return value


def _known(block: object, keys: set[str], path: str) -> None:
    """Refuse what is no object, or has a key that is not known."""
    if not isinstance(block, dict):
        raise Refusal(path, "must be an object")
    for key in sorted(block, key=str):
        if key not in keys:
            raise Refusal(f"{path}.{str(key)[:40]}".lstrip("."), "is not a known key")

"""Changes to a flanged plate that are not one field: corners, flanges, returns, holes and slots come and go.

Corners come and go on a guard's outline too."""

import copy
import math

from bendcore.errors import Refusal
from bendcore.units import read_length

from .derived import figures

ACTIONS = ("add-corner", "remove-corner", "add-flange", "remove-flange", "return", "add-plate-hole", "add-slot",
           "remove-plate-hole", "remove-slot", "add-flange-hole", "remove-flange-hole")


def change_plate(part: dict, action: str, index: str) -> dict:
    """The part with one thing more or less; ``index`` counts from 0."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    if shape["kind"] != "plate" and not (shape["kind"] == "guard" and action.endswith("-corner")):
        raise Refusal("shape.kind", "is not a flanged plate")
    middle, size = _middle(shape["outline"], part["units"])
    if action == "add-corner":
        _add_corner(shape, _whole(index, shape["outline"], "outline"), part["units"])
    elif action == "remove-corner":
        if len(shape["outline"]) <= 3:
            raise Refusal("shape.outline", "needs at least three corners")
        at = _whole(index, shape["outline"], "outline")
        if any(f["edge"] - 1 in (at, (at - 1) % len(shape["outline"])) for f in shape.get("flanges", [])):
            raise Refusal("shape.outline", "has a flange at this corner: take the flange off first")
        del shape["outline"][at]
        _renumber(shape, lambda edge: max(1, edge - (edge - 1 >= max(at, 1))))
    elif action == "add-flange":
        taken = {f["edge"] for f in shape.get("flanges", [])}
        free = [n for n in range(1, len(shape["outline"]) + 1) if n not in taken]
        if not free:
            raise Refusal("shape.flanges", "stand on every edge already")
        shape.setdefault("flanges", []).append({"edge": free[0], "length": "25 mm", "direction": "up"})
    elif action == "return":
        at = _whole(index, shape.get("flanges", []), "flanges")
        flange = shape["flanges"][at]
        if flange.pop("return", None) is None:
            flange["return"] = {"length": "12 mm", "direction": flange["direction"]}
    elif action == "add-flange-hole":
        at = _whole(index, shape.get("flanges", []), "flanges")
        shape["flanges"][at].setdefault("holes", []).append(_hole_in(figures(part).part.shape.flanges[at]))
    elif action == "remove-flange-hole":
        at, _, hole = index.partition(".")
        holes = shape["flanges"][_whole(at, shape.get("flanges", []), "flanges")].get("holes", [])
        del holes[_whole(hole, holes, "flanges")]
    elif action == "add-plate-hole":
        shape.setdefault("holes", []).append(middle | {"diameter": f"{size / 12:.3g} mm"})
    elif action == "add-slot":
        shape.setdefault("slots", []).append(middle | {"length": f"{size / 5:.3g} mm", "width": f"{size / 15:.3g} mm"})
    else:
        key = {"remove-flange": "flanges", "remove-plate-hole": "holes", "remove-slot": "slots"}[action]
        at = _whole(index, shape.get(key, []), key)
        del shape[key][at]
    return part


def _hole_in(flange) -> dict:
    """A hole in the middle of a flange's flat."""
    flat, span, (first, way) = flange.leg.flat, flange.span[1] - flange.span[0], flange.first
    return {"along": f"{way * (sum(flange.span) / 2 - first):.6g} mm", "up": f"{flange.leg.setbacks[0] + flat / 2:.4g} mm",
            "diameter": f"{min(5.0, flat / 3, span / 3):.3g} mm"}


def _whole(index: str, items: list, key: str) -> int:
    if not index.isdigit() or int(index) >= len(items):
        raise Refusal(f"shape.{key}", "has no such place")
    return int(index)


def _middle(outline, units):
    points = [[read_length(v, units) for v in p] for p in outline]
    spans = [(min(axis), max(axis)) for axis in zip(*points, strict=True)]
    middle = {key: f"{sum(span) / 2:g} mm" for key, span in zip("xy", spans, strict=True)}
    return middle, min(high - low for low, high in spans)


def _add_corner(shape, at, units):
    """A corner in the middle of an edge, pushed out a little so that it can be seen."""
    a, b = ([read_length(v, units) for v in shape["outline"][i % len(shape["outline"])]] for i in (at, at + 1))
    if any(f["edge"] == at + 1 for f in shape.get("flanges", [])):
        raise Refusal("shape.outline", "has a flange on this edge: take the flange off first")
    long = math.dist(a, b)
    out = ((b[1] - a[1]) / long * 10, -(b[0] - a[0]) / long * 10)
    shape["outline"].insert(at + 1, [f"{(a[i] + b[i]) / 2 + out[i]:g} mm" for i in (0, 1)])
    last = shape.get("wrapped", (0, 0))[1]
    _renumber(shape, lambda edge: edge + (edge - 1 > at))
    if shape.get("wrapped") and last - 1 == at:  # the new corner lies within what was wrapped
        shape["wrapped"][1] += 1


def _renumber(shape, new) -> None:
    """Edges by their new numbers, after a corner came or went."""
    for flange in shape.get("flanges", []):
        flange["edge"] = new(flange["edge"])
    if "wrapped" in shape:
        shape["wrapped"] = [new(edge) for edge in shape["wrapped"]]


def set_edge(part: dict, index: int, size: float) -> dict:
    """An edge of a guard's outline as long as ``size`` mm: the corners after it move along, up to
    the end of what is wrapped."""
    part = copy.deepcopy(part)
    shape, units = part["shape"], part["units"]
    outline = [[read_length(v, units) for v in p] for p in shape["outline"]]
    n = len(outline)
    if not 0 <= index < n:
        raise Refusal("shape.outline", "has no such edge")
    first, last = shape.get("wrapped", (1, n))
    last = last if last >= first else last + n
    edge = index if index + 1 >= first else index + n
    (x0, y0), (x1, y1) = outline[index], outline[(index + 1) % n]
    long = math.dist((x0, y0), (x1, y1))
    by = ((x1 - x0) * (size / long - 1), (y1 - y0) * (size / long - 1))
    for corner in {c % n for c in range(edge + 1, max(last, edge + 1) + 1)} - {index}:
        shape["outline"][corner] = [f"{round(v + d, 6):g} mm" for v, d in zip(outline[corner], by, strict=True)]
    return part

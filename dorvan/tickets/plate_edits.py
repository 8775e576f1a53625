"""Changes to a flanged plate that are not one field: corners, flanges, returns, holes and slots come and go."""

import copy
import math

from bendcore.errors import Refusal
from bendcore.units import read_length

ACTIONS = ("add-corner", "remove-corner", "add-flange", "remove-flange", "return", "add-plate-hole", "add-slot",
           "remove-plate-hole", "remove-slot")


def change_plate(part: dict, action: str, index: str) -> dict:
    """The part with one thing more or less; ``index`` counts from 0."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    if shape["kind"] != "plate":
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
        for flange in shape.get("flanges", []):
            flange["edge"] -= flange["edge"] - 1 > at
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
    elif action == "add-plate-hole":
        shape.setdefault("holes", []).append(middle | {"diameter": f"{size / 12:.3g} mm"})
    elif action == "add-slot":
        shape.setdefault("slots", []).append(middle | {"length": f"{size / 5:.3g} mm", "width": f"{size / 15:.3g} mm"})
    else:
        key = {"remove-flange": "flanges", "remove-plate-hole": "holes", "remove-slot": "slots"}[action]
        at = _whole(index, shape.get(key, []), key)
        del shape[key][at]
    return part


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
    for flange in shape.get("flanges", []):
        flange["edge"] += flange["edge"] - 1 > at

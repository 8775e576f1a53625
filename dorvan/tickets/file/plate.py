"""Changes to a flanged plate that are not one field: corners, flanges, returns, holes and slots come and go.

Corners come and go on a guard's outline too."""

import copy
import math

from bendcore.errors import Refusal
from bendcore.families.room import clear_spot
from bendcore.units import read_length
from dorvan.fields import number

from ..results.derived import figures
from .beginnings import begun

ACTIONS = ("add-corner", "remove-corner", "add-flange", "remove-flange", "return", "add-plate-hole", "add-slot",
           "remove-plate-hole", "remove-slot", "add-flange-hole", "remove-flange-hole")


def change_plate(part: dict, action: str, index: str) -> dict:
    """The part with one thing more or less; ``index`` counts from 0."""
    part = copy.deepcopy(part)
    shape = part["shape"]
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
        shape.setdefault("flanges", []).append({"edge": free[0], "length": begun(25, part["units"]), "direction": "up"})
    elif action == "return":
        flange = _listed(shape, "flanges", index)
        if flange.pop("return", None) is None:
            flange["return"] = {"length": begun(12, part["units"]), "direction": flange["direction"]}
    elif action == "add-flange-hole":
        at = _whole(index, shape.get("flanges", []), "flanges")
        shape["flanges"][at].setdefault("holes", []).append(_hole_in(figures(part).part, at))
    elif action == "remove-flange-hole":
        at, _, hole = index.partition(".")
        holes = _listed(shape, "flanges", at).get("holes", [])
        del holes[_whole(hole, holes, "flanges")]
    elif action == "add-plate-hole":
        place, size = _room(part, 12, "holes")
        shape.setdefault("holes", []).append(place | {"diameter": f"{size:.3g} mm"})
    elif action == "add-slot":
        place, size = _room(part, 5, "slots")
        shape.setdefault("slots", []).append(place | {"length": f"{size:.3g} mm", "width": f"{size / 3:.3g} mm"})
    else:
        key = {"remove-flange": "flanges", "remove-plate-hole": "holes", "remove-slot": "slots"}[action]
        at = _whole(index, shape.get(key, []), key)
        del shape[key][at]
    return part


def _room(part, share, key) -> tuple[dict, float]:
    """Where on the plate one more of so many parts of its smaller side has room, and how large it may be, mm."""
    read = figures(part).part
    face = read.sheet.face["plate"]
    spans = [max(axis) - min(axis) for axis in zip(*face.outline, strict=True)]
    (x, y), size = clear_spot(face, min(spans) / share, read.stock.thickness, f"shape.{key}")
    return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm"}, size


def _hole_in(read, at) -> dict:
    """A hole where there is room in a flange's flat."""
    flange = read.shape.flanges[at]
    flat, span, (first, way) = flange.leg.flat, flange.span[1] - flange.span[0], flange.first
    (up, along), size = clear_spot(read.sheet.face[flange.id], min(5.0, flat / 3, span / 3), read.stock.thickness,
                                   f"shape.flanges[{at}].holes")
    return {"along": f"{way * (flange.span[0] + along - first):.6g} mm", "up": f"{flange.leg.setbacks[0] + up:.6g} mm",
            "diameter": f"{size:.3g} mm"}


def _listed(shape, key, index) -> dict:
    """The one of a list of the shape that a form names."""
    found = shape.get(key, [])
    return found[_whole(index, found, key)]


def _whole(index: str, items: list, key: str) -> int:
    found = number(index)
    if found is None or found >= len(items):
        raise Refusal(f"shape.{key}", "has no such place")
    return found


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

"""The other hand of a part: its mirror image, as a part file's ``shape``.

The mirror turns left and right about; up stays up. Lengths stay as they were written,
but where a place is measured from the left it has to be worked out anew, in mm.
"""

import copy
from collections.abc import Callable

from ..units import in_mm
from .common import OUTSIDE, read_size

SWAPPED = {"left": "right", "right": "left"}


def mirrored(shape: dict, length: Callable) -> dict:
    """The shape of the other hand; ``length(value)`` reads a length in mm. Holes in a plate's flanges count from
    their edge's first corner as listed, which stays the first."""
    maker = {"profile": _profile, "tray": _tray, "plate": _plate, "sleeve": _sleeve, "flat": _flat, "guard": _plate,
             "transition": _transition, "square-to-round": _square_to_round, "cone": _rolled, "tube": _rolled,
             "elbow": _rolled, "chain": _chain, "rib": _plate}[shape["kind"]]
    return maker(copy.deepcopy(shape), length)


def _profile(shape, _):
    """Read from its other end."""
    for one in (one for key in ("holes", "slots", "openings") for one in shape.get(key, ())):
        one["leg"] = len(shape["legs"]) + 1 - one["leg"]
        one["from"] = "start" if one.get("from") == "end" else "end"
        if one.get("angle"):
            one["angle"] = -one["angle"]
    shape["legs"].reverse()
    shape["bends"].reverse()
    for side, block in shape.get("taper", {}).items():
        shape["taper"][side] = {{"start": "end", "end": "start"}[end]: size for end, size in block.items()}
    if "snips" in shape:
        other = {"start": "end", "end": "start"}
        shape["snips"] = {f"{other[end]}_{side}": block for name, block in shape["snips"].items()
                          for end, _, side in (name.partition("_"),)}
    return _swapped(shape, "start_hem", "end_hem")


def _tray(shape, length):
    shape["walls"] = {SWAPPED.get(side, side): wall for side, wall in shape["walls"].items()}
    whole, _ = read_size(shape["length"], "length", lambda value, _: length(value), OUTSIDE)
    for hole in shape.get("holes", ()):
        hole["x"] = in_mm(whole - length(hole["x"]))
    return shape


def _plate(shape, length):
    """The corners run the other way round, and so do the edges' own starts and ends."""
    shape["outline"] = [[in_mm(-length(x)), y] for x, y in shape["outline"]]
    for item in (*shape.get("holes", ()), *shape.get("slots", ()), *shape.get("pins", ())):
        if "outline" in item:
            item["outline"] = [[in_mm(-length(x)), y] for x, y in item["outline"]]
            continue
        item["x"] = in_mm(-length(item["x"]))
        if "angle" in item:
            item["angle"] = -item["angle"]
    return shape


def _transition(shape, length):
    """The top moved and turned to the other side, the seam at the corner across; of two pieces either may be drawn
    first."""
    if "seam" in shape:
        shape["seam"] = {1: 2, 2: 1, 3: 4, 4: 3}[shape["seam"]]
    top = shape["top"]
    _moved(top, length)
    if top.get("turn"):
        top["turn"] = -top["turn"]
    return shape


def _moved(end, length):
    """An end that stands off the middle, to the other side of it."""
    if "offset" in end:
        end["offset"][0] = in_mm(-length(end["offset"][0]))


def _square_to_round(shape, length):
    """The round moved to the other side; of several pieces the one that lies there."""
    _moved(shape["round"], length)
    if shape.get("pieces", 1) > 1:
        shape["piece"] = shape["pieces"] + 1 - shape.get("piece", 1)
    return shape


def _chain(shape, length):
    """Every turn in the plane on the other side of the zero line."""
    for station in shape["stations"]:
        if "plane" in station:
            station["plane"] = -station["plane"]
    return _rolled(shape, length)


def _rolled(shape, _):
    """Its ends tilt about the diameter from 90° to 270°: only the seam goes to the other side."""
    if "seam" in shape and "at" in shape["seam"]:
        shape["seam"]["at"] = -shape["seam"]["at"]
    return shape


def _sleeve(shape, _):
    """A sleeve's other hand is the sleeve read from its other end."""
    return _swapped(shape, "start_flange", "end_flange")


def _swapped(shape, one, other):
    """What stands at either end changes places."""
    ends = {one: shape.pop(other, None), other: shape.pop(one, None)}
    return shape | {key: block for key, block in ends.items() if block}


def _flat(shape, length):
    """As the plate; lines are mirrored with the outline."""
    for bend in shape.get("bends", ()):
        bend["line"] = [[in_mm(-length(x)), y] for x, y in bend["line"]]
    return _plate(shape, length)

"""Changes to a tray that are not one field: walls, rims, holes and cross-breaks come and go."""

import copy

from bendcore.errors import Refusal
from bendcore.families.common import OUTSIDE, read_size
from bendcore.families.corners import SIDES
from bendcore.units import read_length

ACTIONS = ("wall", "rim", "add-hole", "collar", "remove-hole", "cross-breaks")


def change_tray(part: dict, action: str, side: str, rim: str, index: str) -> dict:
    """Walls, lips, hems, holes and cross-breaks of a tray come and go."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    if shape["kind"] != "tray":
        raise Refusal("shape.kind", "is not a tray")
    small = {"mm": "12 mm", "in": "1/2 in"}[part["units"]]
    if action == "wall":
        _toggle(shape["walls"], side, SIDES,
                {"height": next(iter(shape["walls"].values()), {"height": small})["height"]})
    elif action == "rim":
        if side not in shape["walls"]:
            raise Refusal("shape.walls", "has no such wall")
        fresh = {"lip": {"width": small, "direction": "in"}, "hem": {"length": "8 mm", "gap": 0, "direction": "in"}}
        _toggle(shape["walls"][side], rim, ("lip", "hem"), fresh.get(rim))
    elif action == "add-hole":
        half = [read_size(shape[key], key, lambda value, _: read_length(value, part["units"]), OUTSIDE)[0] / 2
                for key in ("length", "width")]
        shape.setdefault("holes", []).append({"x": f"{half[0]:g} mm", "y": f"{half[1]:g} mm", "diameter": "10 mm"})
    elif action in ("remove-hole", "collar"):
        holes = shape.get("holes", [])
        if not index.isdigit() or int(index) >= len(holes):
            raise Refusal("shape.holes", "there is no such hole")
        if action == "remove-hole":
            del holes[int(index)]
        elif holes[int(index)].pop("collar", None) is None:
            holes[int(index)]["collar"] = {"height": "5 mm", "direction": "up"}
    elif shape.pop("cross_breaks", None) is None:
        shape["cross_breaks"] = {"rise": "3 mm"}
    return part


def _toggle(holder: dict, key: str, allowed: tuple, fresh: dict) -> None:
    if key not in allowed:
        raise Refusal("shape", "must be one of " + ", ".join(allowed))
    if holder.pop(key, None) is None:
        holder[key] = fresh

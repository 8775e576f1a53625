"""Changes to a tray that are not one field: walls, rims, holes and cross-breaks come and go."""

import copy

from bendcore.errors import Refusal
from bendcore.families.corners import SIDES
from bendcore.families.room import clear_spot
from dorvan.fields import number

from ..results.derived import figures
from .beginnings import begun

ACTIONS = ("wall", "rim", "add-hole", "collar", "remove-hole", "cross-breaks")


def change_tray(part: dict, action: str, side: str, rim: str, index: str) -> dict:
    """Walls, lips, hems, holes and cross-breaks of a tray come and go."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    small = begun(12, part["units"])
    if action == "wall":
        _toggle(shape["walls"], side, SIDES,
                {"height": next(iter(shape["walls"].values()), {"height": small})["height"]})
    elif action == "rim":
        if side not in shape["walls"]:
            raise Refusal("shape.walls", "has no such wall")
        fresh = {"lip": {"width": small, "direction": "in"},
                 "hem": {"length": begun(8, part["units"]), "gap": 0, "direction": "in"}}
        _toggle(shape["walls"][side], rim, ("lip", "hem"), fresh.get(rim))
    elif action == "add-hole":
        read = figures(part).part
        place, size = clear_spot(read.sheet.face["base"], 10.0, read.stock.thickness, "shape.holes")
        x, y = (at + leg.setbacks[0] for at, leg in zip(place, (read.shape.length, read.shape.width), strict=True))
        shape.setdefault("holes", []).append({"x": f"{x:.6g} mm", "y": f"{y:.6g} mm", "diameter": f"{size:.3g} mm"})
    elif action in ("remove-hole", "collar"):
        holes, at = shape.get("holes", []), number(index)
        if at is None or at >= len(holes):
            raise Refusal("shape.holes", "there is no such hole")
        if action == "remove-hole":
            del holes[at]
        elif holes[at].pop("collar", None) is None:
            holes[at]["collar"] = {"height": begun(5, part["units"]), "direction": "up"}
    elif shape.pop("cross_breaks", None) is None:
        shape["cross_breaks"] = {"rise": begun(3, part["units"])}
    return part


def _toggle(holder: dict, key: str, allowed: tuple, fresh: dict) -> None:
    if key not in allowed:
        raise Refusal("shape", "must be one of " + ", ".join(allowed))
    if holder.pop(key, None) is None:
        holder[key] = fresh

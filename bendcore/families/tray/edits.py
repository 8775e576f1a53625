"""What a tray begins as, and what comes to it."""

from ...sizes import begun
from ...units import in_mm
from ..common import read_size
from ..family import Now, ReadMm, Sized
from ..legs import OUTSIDE
from ..room import clear_spot
from .fields import SIDES


def start(s: Sized) -> dict:
    """A tray with four equal walls and open corners."""
    return {"kind": "tray", "dims": "outside", "direction": "up", "length": s(200), "width": s(120),
            "walls": {side: {"height": s(30)} for side in SIDES}, "corners": {"style": "open", "gap": s(0.5)}}


def begin_wall(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A wall as high as another."""
    return {"height": next((wall["height"] for wall in shape["walls"].values()), begun(12, own))}


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room on the base, placed as the tray is dimensioned."""
    tray = now()
    place, size = clear_spot(tray.sheet().face["base"], 10.0, tray.thickness, "shape.holes")
    x, y = (at + leg.setbacks[0] for at, leg in zip(place, (tray.length, tray.width), strict=True))
    return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm", "diameter": f"{size:.3g} mm"}


OTHER_SIDE = {"left": "right", "right": "left"}


def mirror(shape: dict, length: ReadMm) -> dict:
    """Its left and right walls change places."""
    shape["walls"] = {OTHER_SIDE.get(side, side): wall for side, wall in shape["walls"].items()}
    whole, _ = read_size(shape["length"], "length", lambda value, _: length(value), OUTSIDE)
    for hole in shape.get("holes", ()):
        hole["x"] = in_mm(whole - length(hole["x"]))
    return shape


def lip_directions(shape: dict) -> dict[str, list[str]]:
    """Its lips may all be turned the other way."""
    return {"lips": [f"walls.{side}.lip.direction" for side, wall in shape["walls"].items() if "lip" in wall]}

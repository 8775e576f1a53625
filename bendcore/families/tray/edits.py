"""What a tray begins as, and what comes to it."""

from ...sizes import begun
from ..family import Now, Sized
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

"""What a rib begins as, and what comes to it."""

from ...errors import Refusal
from ...sheet.model import Face
from ...sizes import begun
from ..family import Now, Sized
from ..outlines import free_place
from ..room import clear_spot


def start(s: Sized) -> dict:
    """A rib with a curved back and nose, a flange all round, three pins."""
    return {"kind": "rib", "dims": "outside", "outline": [[0, 0], [s(260), 0], [s(260), s(60)], [0, s(110)]],
            "edges": [{"edge": 3, "rise": s(22)}, {"edge": 4, "rise": s(12)}],
            "flange": {"width": s(18), "angle": 90, "direction": "up"}, "flutes": {"width": s(12)},
            "pin": s(5), "pins": [{"x": s(40), "y": s(40)}, {"x": s(220), "y": s(30)}, {"x": s(110), "y": s(90)}]}


def begin_curve(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A rise of the edge picked (its index in ``places``), or else of the first that has none."""
    taken = {curve["edge"] for curve in shape.get("edges", [])}
    edge = free_place(shape, taken, places)
    if edge is None or edge in taken:
        raise Refusal("shape.edges", "are told of every edge already")
    return {"edge": edge, "rise": begun(10, own)}


def begin_rounding(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A rounding of the corner picked, or else of the first that has none."""
    taken = {one["corner"] for one in shape.get("corners", [])}
    corner = free_place(shape, taken, places)
    if corner is None or corner in taken:
        raise Refusal("shape.corners", "are rounded already")
    return {"corner": corner, "radius": begun(15, own)}


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A lightening hole where there is room on the web."""
    (x, y), size = _room(now(), 8, "holes")
    return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm", "diameter": f"{size:.3g} mm"}


def begin_pin(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A pin where there is room on the web."""
    (x, y), _ = _room(now(), 20, "pins")
    return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm"}


def _room(rib, share: float, key: str):
    outer = max(getattr(rib.web, "geoms", [rib.web]), key=lambda piece: piece.area).exterior.coords[:-1]
    (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*outer, strict=True))
    face = Face("the web", tuple(outer), (*rib.holes, *rib.pins))
    return clear_spot(face, max(x1 - x0, y1 - y0) / share, 2 * rib.thickness, f"shape.{key}")

"""What a flanged plate begins as, and what comes to it."""

from ...errors import Refusal
from ...sizes import begun
from ..family import Now, Sized
from ..outlines import free_place
from ..room import clear_spot, share_of


def start(s: Sized) -> dict:
    """A rectangle with a flange along its front."""
    return {"kind": "plate", "outline": [[0, 0], [s(150), 0], [s(150), s(100)], [0, s(100)]],
            "flanges": [{"edge": 1, "length": s(30), "direction": "up"}]}


def begin_flange(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A flange on the edge picked (its index in ``places``), or else on the first that has none."""
    edge = free_place(shape, {flange["edge"] for flange in shape.get("flanges", [])}, places)
    if edge is None:
        raise Refusal("shape.flanges", "stand on every edge already")
    return {"edge": edge, "length": begun(25, own), "direction": "up"}


def begin_return(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A return bent as its flange is."""
    return {"length": begun(12, own), "direction": shape["flanges"][places[0]]["direction"]}


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room on the plate."""
    place, size = _room(now(), 12, "holes")
    return place | {"diameter": f"{size:.3g} mm"}


def begin_slot(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A slot where there is room on the plate."""
    place, size = _room(now(), 5, "slots")
    return place | {"length": f"{size:.3g} mm", "width": f"{size / 3:.3g} mm"}


def begin_flange_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room in a flange's flat."""
    plate, at = now(), places[0]
    flange = plate.flanges[at]
    flat, span, (first, way) = flange.leg.flat, flange.span[1] - flange.span[0], flange.first
    (up, along), size = clear_spot(plate.sheet().face[flange.id], min(5.0, flat / 3, span / 3), plate.thickness,
                                   f"shape.flanges[{at}].holes")
    return {"along": f"{way * (flange.span[0] + along - first):.6g} mm", "up": f"{flange.leg.setbacks[0] + up:.6g} mm",
            "diameter": f"{size:.3g} mm"}


def _room(plate, parts: float, key: str) -> tuple[dict, float]:
    """Where on the plate one more of so many parts of its smaller side has room, and how large it may be, mm."""
    face = plate.sheet().face["plate"]
    (x, y), size = clear_spot(face, share_of(face, parts), plate.thickness, f"shape.{key}")
    return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm"}, size

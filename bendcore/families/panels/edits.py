"""What panels begin as, and what comes to them and goes."""

from ...errors import Refusal
from ...sizes import begun
from ...units import in_mm
from ..family import Now, ReadMm, Sized
from ..outlines import free_place, mirror_points
from ..room import clear_spot, share_of
from .fields import REPEAT, SIDES
from .shape import BASE, Panels


def start(s: Sized) -> dict:
    """A base with a panel at its front, and one more on the end side of that."""
    return {"kind": "panels", "dims": "outside", "outline": [[0, 0], [s(160), 0], [s(160), s(100)], [0, s(100)]],
            "panels": [{"edge": 1, "length": s(40), "direction": "up"},
                       {"on": 1, "edge": 2, "length": s(15), "direction": "up", "start": s(20), "end": s(20)}]}


def edges(shape: dict) -> int:
    """Those of the base, then the three sides of every panel."""
    return len(shape["outline"]) + len(SIDES) * len(shape.get("panels", ()))


def begin_panel(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A panel on the edge picked (counted as :func:`edges` does), or else on the first of the base that has none; on
    the far edge of the last panel where none is free. It is bent as what it stands on."""
    panels, n = shape.get("panels", []), len(shape["outline"])
    if places and places[0] >= n:
        on, side = divmod(places[0] - n, len(SIDES))
        return {"on": on + 1, "edge": side + 1, "length": begun(15, own), "direction": panels[on]["direction"]}
    edge = free_place(shape, {panel["edge"] for panel in panels if not panel.get("on")}, places)
    block = {"length": begun(25, own), "direction": "up"}
    return {"edge": edge} | block if edge is not None else {"on": len(panels), "edge": 2} | block


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room on the face picked (0: the base, n: a panel)."""
    place, size = _room(now(), places, 12, "holes")
    return place | {"diameter": f"{size:.3g} mm"}


def begin_window(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A window where there is room on the face picked."""
    place, size = _room(now(), places, 4, "windows")
    return place | {"length": f"{0.8 * size:.3g} mm", "width": f"{0.5 * size:.3g} mm"}


def _room(part: Panels, places: tuple[int, ...], parts: float, key: str) -> tuple[dict, float]:
    """Where on a face one more of so many parts of its smaller side has room, and how large it may be, mm."""
    on = places[0] if places else 0
    if on > len(part.panels):
        raise Refusal(f"shape.{key}", "has no such place")
    face = part.sheet().face[part.panels[on - 1].id if on else BASE]
    (x, y), size = clear_spot(face, share_of(face, parts), part.thickness, f"shape.{key}")
    if not on:
        return {"x": f"{x:.6g} mm", "y": f"{y:.6g} mm"}, size
    panel = part.panels[on - 1]
    along = panel.long - panel.free[1] - y if part.turned else y - panel.free[0]
    return {"on": on, "x": f"{along:.6g} mm", "y": f"{x + panel.setback:.6g} mm"}, size


def remove_panel(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A panel has gone: what counts panels counts anew; refuses one on which something stands."""
    gone = places[0] + 1
    for key in ("panels", "holes", "windows"):
        if any(block.get("on", 0) == gone for block in shape.get(key, ())):
            raise Refusal("shape.panels", f"cannot lose panel P{gone}: {key} stand on it; take them off first")
        for block in shape.get(key, ()):
            if block.get("on", 0) > gone:
                block["on"] -= 1


def mirror(shape: dict, length: ReadMm) -> dict:
    """The base's outline turned about; its corners run the other way round, and with them edges and sides."""
    shape["outline"] = mirror_points(shape["outline"], length)
    for block in (*shape.get("holes", ()), *shape.get("windows", ())):
        if not block.get("on"):
            repeat = block.get("repeat", {})
            reach = (repeat.get("count", 1) - 1) * length(repeat.get("pitch", REPEAT.fields["pitch"].begin("mm")))
            block["x"] = in_mm(-length(block["x"]) - reach)  # its row begins at the other end
        if block.get("angle"):
            block["angle"] = -block["angle"]
    return shape

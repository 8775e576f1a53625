"""What panels begin as, and what comes to them and goes."""

import math
from collections.abc import Callable
from itertools import combinations

from ...errors import Refusal
from ...sheet.fold import fold
from ...sizes import begun
from ...units import in_mm, read_length
from ..declared import COLLAR
from ..family import Now, ReadMm, Sized
from ..legs import INSIDE, OUTSIDE
from ..outlines import free_place, mirror_points
from ..room import clear_spot, share_of
from .fields import REPEAT, sides
from .held import LEVEL, apart
from .shape import BASE, Panels

PUSHED = 5.0
"""A new corner stands so far off its edge, mm, so that it can be seen."""


def start(s: Sized) -> dict:
    """A base with a panel at its front, and one more on the end side of that."""
    return {"kind": "panels", "dims": "outside", "outline": [[0, 0], [s(160), 0], [s(160), s(100)], [0, s(100)]],
            "panels": [{"edge": 1, "length": s(40), "direction": "up"},
                       {"on": 1, "edge": 2, "length": s(15), "direction": "up", "start": s(20), "end": s(20)}]}


def edges(shape: dict) -> int:
    """Those of the base, then the sides of every panel."""
    return len(shape["outline"]) + sum(map(sides, shape.get("panels", ())))


def _picked(shape: dict, place: int) -> tuple[int, int]:
    """(face, 0 the base; its edge from 1) by a place counted as :func:`edges` does."""
    counts = [len(shape["outline"]), *map(sides, shape.get("panels", ()))]
    on = 0
    while place >= counts[on]:
        place -= counts[on]
        on += 1
    return on, place + 1


def begin_panel(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A panel on the edge picked (counted as :func:`edges` does), or else on the first of the base that has none; on
    the far edge of the last panel where none is free. It is bent as what it stands on."""
    panels = shape.get("panels", [])
    if places and places[0] >= len(shape["outline"]):
        on, edge = _picked(shape, places[0])
        return {"on": on, "edge": edge, "length": begun(15, own), "direction": panels[on - 1]["direction"]}
    edge = free_place(shape, {panel["edge"] for panel in panels if not panel.get("on")}, places)
    block = {"length": begun(25, own), "direction": "up"}
    return {"edge": edge} | block if edge is not None else {"on": len(panels), "edge": 2} | block


def begin_outline(shape: dict, places: tuple[int, ...], own: str, now: Now) -> list:
    """A panel's outline as it is, where it gets one of its own; nothing where it has one."""
    block = shape["panels"][places[0]]
    if len(places) > 1 or block.get("outline"):
        return []
    if "hem" in block:
        raise Refusal(f"shape.panels[{places[0]}].outline", "does not go with a hem: take the hem off first")
    part = now()
    panel = part.panels[places[0]]
    start = panel.free[1] if part.turned else panel.free[0]
    points = [((panel.long - y if part.turned else y) - start, x) for x, y in panel.mould]
    return [[f"{along:.7g} mm", f"{up:.7g} mm"] for along, up in points[:: -1 if part.turned else 1]]


def add_panel_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A panel that has its own outline now has no length; where an edge was picked a corner comes in its middle, pushed
    out a little, and what counts its edges counts anew."""
    i, block = places[0], shape["panels"][places[0]]
    for key in ("length", "start_taper", "end_taper", "ends"):
        block.pop(key, None)
    if len(places) == 1:
        return
    at, path = places[1], f"shape.panels[{i}].outline"
    if at >= sides(block):
        raise Refusal(path, "has no such edge")
    for key, what in (("panels", "panel"), ("notches", "notch")):
        if any(one.get("on") == i + 1 and one["edge"] == at + 1 for one in shape.get(key, ())):
            raise Refusal(path, f"has a {what} on this edge: take the {what} off first")
    a, b = ([read_length(v, own) for v in block["outline"][k]] for k in (at, at + 1))
    long = math.hypot(b[0] - a[0], b[1] - a[1])
    out = (-(b[1] - a[1]) / long * PUSHED, (b[0] - a[0]) / long * PUSHED)
    block["outline"].insert(at + 1, [f"{(a[k] + b[k]) / 2 + out[k]:g} mm" for k in (0, 1)])
    _renumber(shape, i + 1, lambda n: n + (n - 1 > at), lambda n: n + (n - 1 > at))


def remove_panel_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A corner of a panel's own outline has gone; refuses one at which something stood."""
    i, at = places
    for key, what in (("panels", "edge"), ("edges", "edge"), ("notches", "edge"), ("corners", "corner")):
        for one in shape.get(key, ()):
            if one.get("on") == i + 1 and one[what] - 1 in ((at,) if what == "corner" else (at - 1, at)):
                raise Refusal(f"shape.panels[{i}].outline", f"has {key} at this corner: take them off first")
    _renumber(shape, i + 1, lambda n: n - (n - 1 > at), lambda n: n - (n - 1 > at))


def _renumber(shape: dict, on: int, edge: Callable[[int], int], corner: Callable[[int], int]) -> None:
    """What counts the edges and corners of a face by their new numbers."""
    for key, what, new in (("panels", "edge", edge), ("edges", "edge", edge), ("notches", "edge", edge),
                           ("corners", "corner", corner)):
        for block in shape.get(key, ()):
            if block.get("on", 0) == on:
                block[what] = new(block[what])


def begin_curve(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A rise of the edge picked (counted as :func:`edges` does), or else of the first of the base that has none."""
    on, edge = _picked(shape, places[0]) if places else (0, free_place(shape, _told(shape, 0, "edge"), ()))
    if edge is None or edge in _told(shape, on, "edge"):
        raise Refusal("shape.edges", "are told already")
    return ({"on": on} if on else {}) | {"edge": edge, "rise": begun(10, own)}


def begin_rounding(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A rounding of the corner at which the edge picked begins, or else of the first of the base that has none, and no
    panel beside it."""
    bent = {panel["edge"] for panel in shape.get("panels", ()) if not panel.get("on")}
    beside = bent | {edge % len(shape["outline"]) + 1 for edge in bent}
    on, corner = _picked(shape, places[0]) if places else (
        0, free_place(shape, _told(shape, 0, "corner") | beside, ()))
    if corner is None or corner in _told(shape, on, "corner"):
        raise Refusal("shape.corners", "are rounded already, or have a panel beside them")
    return ({"on": on} if on else {}) | {"corner": corner, "radius": begun(5, own)}


def _told(shape: dict, on: int, what: str) -> set[int]:
    """The edges, or corners, of a face of which something is told."""
    key = "edges" if what == "edge" else "corners"
    taken = {block[what] for block in shape.get(key, ()) if block.get("on", 0) == on}
    if what == "edge":
        taken |= {panel["edge"] for panel in shape.get("panels", ()) if panel.get("on", 0) == on}
    return taken


def begin_meet(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A corner of two panels: the first two that meet and are not told of, or the first two."""
    panels = [one for one in now().panels if not one.is_tab]
    told = {frozenset((one["one"], one["other"])) for one in shape.get("meets", ())}
    pairs = [(i, k) for i in range(1, len(panels) + 1) for k in range(i + 1, len(panels) + 1)
             if frozenset((i, k)) not in told]
    if not pairs:
        raise Refusal("shape.meets", "has no two panels whose corner is not told of")
    one, other = next((pair for pair in pairs if now().meet(panels[pair[0] - 1], panels[pair[1] - 1])), pairs[0])
    return {"one": one, "other": other, "style": "butt"}


def begin_held(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """The first two faces that lie along each other, held as they are by the first size that changes it; of panels none
    of which do, how far the first reaches from the base."""
    part, told = now(), {frozenset((one["one"], one["other"])) for one in shape.get("held", ())}
    names = [BASE, *(panel.id for panel in part.panels if not panel.is_tab)]
    faces = {face.id: face for face in fold(part.sheet()).faces}
    for (i, one), (k, other) in combinations(enumerate(names), 2):
        along = abs(abs(float(faces[one].normal @ faces[other].normal)) - 1) < LEVEL
        size = apart(faces[one], faces[other], part.thickness, INSIDE)
        if not along or size < part.thickness or frozenset((i, k)) in told:
            continue
        level = abs(float(faces[one].normal[2])) > 1 - LEVEL  # of faces that lie as the base a wall between gives way
        gives = next((n for n, panel in enumerate(part.panels, 1) if panel.on == one and names[n] != other), k)
        return {"one": i, "other": k, "dims": "inside", "size": f"{size:.6g} mm", "gives": gives if level else 0}
    if len(names) == 1 or frozenset((0, 1)) in told:
        raise Refusal("shape.held", "has no two faces more that can be held apart")
    size = apart(faces[BASE], faces[names[1]], part.thickness, OUTSIDE)
    return {"one": 0, "other": 1, "dims": "outside", "size": f"{size:.6g} mm", "gives": 1}


def begin_notch(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A notch in the middle of the edge picked (counted as :func:`edges` does), or of the base's first that is free."""
    on, edge = _picked(shape, places[0]) if places else (0, free_place(shape, _told(shape, 0, "edge"), ()))
    if edge is None:
        raise Refusal("shape.notches", "have no free edge of the base: pick one")
    part, counts = now(), [len(shape["outline"]), *map(sides, shape.get("panels", ()))]
    ring = part.panels[on - 1].mould if on else part.outline
    if on:
        at = counts[on] - edge if part.turned else edge - 1
    else:
        at = (counts[0] - 1 - edge) % counts[0] if part.turned else edge - 1
    long = math.dist(ring[at], ring[(at + 1) % len(ring)])
    return ({"on": on} if on else {}) | {"edge": edge, "along": f"{long / 2:.6g} mm",
                                         "width": f"{min(12.0, long / 4):.4g} mm", "depth": begun(8, own)}


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room on the face picked (0: the base, n: a panel)."""
    place, size = _room(now(), places, 12, "holes")
    return place | {"diameter": f"{size:.3g} mm"}


def begin_collar(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A collar about a hole of the base."""
    if shape["holes"][places[0]].get("on"):
        raise Refusal(f"shape.holes[{places[0]}].collar", "belongs to a hole of the base")
    return COLLAR.begin(own)


def begin_window(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A window where there is room on the face picked."""
    place, size = _room(now(), places, 4, "windows")
    return place | {"length": f"{0.8 * size:.3g} mm", "width": f"{0.5 * size:.3g} mm"}


def _room(part: Panels, places: tuple[int, ...], parts: float, key: str) -> tuple[dict, float]:
    """Where on a face one more of so many parts of its smaller side has room, and how large it may be, mm."""
    on = places[0] if places else 0
    if on > len(part.panels) or on and part.panels[on - 1].is_tab:
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
    for key in ("panels", "edges", "corners", "notches", "holes", "windows", "openings"):
        if any(block.get("on", 0) == gone for block in shape.get(key, ())):
            what = {"edges": "curves", "corners": "roundings"}.get(key, key)
            raise Refusal("shape.panels", f"cannot lose panel P{gone}: {what} stand on it; take them off first")
        for block in shape.get(key, ()):
            if block.get("on", 0) > gone:
                block["on"] -= 1
    for key, called in (("meets", "joint"), ("held", "overall size")):
        for block in shape.get(key, ()):
            for name in ("one", "other", "gives"):
                if block.get(name, 0) == gone:
                    raise Refusal("shape.panels", f"cannot lose panel P{gone}: a {called} is told of it; take that off "
                                                  "first")
                if block.get(name, 0) > gone:
                    block[name] -= 1


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
    for block in shape.get("openings", ()):
        if not block.get("on"):
            block["outline"] = mirror_points(block["outline"], length)
    return shape

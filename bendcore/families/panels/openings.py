"""What is cut in the faces of panels: round holes, windows, slots, openings of any outline; in rows and grids."""

import math
from collections.abc import Callable, Iterator
from functools import partial

from ...errors import Refusal
from ...sheet.model import Hole, Point
from ..collar import Collar, read_opening
from ..common import Given, check_ring, read_points, read_slot
from .fields import HOLE, MOST_OPENINGS, REPEAT, WINDOW
from .shape import BASE, Panels

Place = Callable[[Point], Point]
"""(along, up) on a face → in the coordinates of its mould."""
ARC_STEPS = 8
"""Chords of a window's round corner."""


def read_openings(shape: dict, part: Panels, given: Given) -> tuple[dict[str, tuple[Hole, ...]], tuple[Collar, ...]]:
    """By face what is cut in it, in its mould's coordinates, and the collars about holes of the base. As they are
    listed; those that say so (``nth``) in their order among all."""
    blocks = [(block.get("nth", 0), f"{key}[{i}]", key, block) for key in READERS
              for i, block in enumerate(shape.get(key, ()))]
    found: dict[str, list[Hole]] = {}
    collars: list[Collar] = []
    listed = sum(not panel.is_tab for panel in part.panels)
    for _, path, key, block in sorted(blocks, key=lambda one: one[0]):
        on = block.get("on", 0)
        if on > listed:
            raise Refusal(f"{path}.on", f"must be from 0 to {listed}")
        own = found.setdefault(part.panels[on - 1].id if on else BASE, [])
        place = partial(part.panels[on - 1].at, turned=part.turned) if on else _on_base
        for at in _repeated(block, path, given) if key != "openings" else [(0.0, 0.0)]:
            if on and "collar" in block:
                raise Refusal(f"{path}.collar", "belongs to a hole of the base")
            pierced, collar = read_opening(READERS[key](block, path, at, place, given), block, path, given)
            own.append(pierced)
            collars += [collar] if collar else []
        if sum(map(len, found.values())) > MOST_OPENINGS:
            raise Refusal(path, f"makes more than {MOST_OPENINGS} openings")
    return {face: tuple(holes) for face, holes in found.items()}, tuple(collars)


def _repeated(block: dict, path: str, given: Given) -> Iterator[Point]:
    """(along, up) of an opening, or of all in its row or grid."""
    along, up = (given.length(block[axis], f"{path}.{axis}") for axis in "xy")
    if "repeat" not in block:
        yield along, up
        return
    repeat = block["repeat"]
    pitch, rise = (REPEAT.mm(repeat, key, f"{path}.repeat", given.length) for key in ("pitch", "row_pitch"))
    for row in range(repeat.get("rows", 1)):
        for n in range(repeat.get("count", 1)):
            yield along + n * pitch, up + row * rise


def _on_base(at: Point) -> Point:
    return at


def _opening(block: dict, path: str, at: Point, place: Place, given: Given) -> Hole:
    """Any outline."""
    points = read_points(block["outline"], f"{path}.outline", given.length)
    check_ring(points, f"{path}.outline")
    return Hole.opening([place(p) for p in points], path)


def _hole(block: dict, path: str, at: Point, place: Place, given: Given) -> Hole:
    return Hole(place(at), HOLE.mm(block, "diameter", path, given.length), path=path)


def _window(block: dict, path: str, at: Point, place: Place, given: Given) -> Hole:
    """A rectangle with round corners, a slot where they are as large as they can be."""
    long, wide, radius = (WINDOW.mm(block, key, path, given.length) for key in ("length", "width", "radius"))
    if radius > min(long, wide) / 2 + 1e-9:
        raise Refusal(f"{path}.radius", "is more than half its smaller side")
    angle = math.radians(float(block.get("angle", 0.0)))
    (x, y), (ax, ay) = place(at), place((at[0] + math.cos(angle), at[1] + math.sin(angle)))
    turn = math.degrees(math.atan2(ay - y, ax - x))
    if radius > min(long, wide) / 2 - 1e-9 and long > wide:
        return read_slot((x, y), wide, long, turn, path)
    points = [(x * (long / 2 - radius) + radius * math.cos(a), y * (wide / 2 - radius) + radius * math.sin(a))
              for x, y, quarter in ((1, 1, 0), (-1, 1, 1), (-1, -1, 2), (1, -1, 3))
              for a in (_arc(quarter) if radius else (0.0,))]
    return Hole((x, y), max(long, wide), 0.0, turn, tuple(points), path=path)


def _arc(quarter: int) -> list[float]:
    return [math.pi / 2 * (quarter + n / ARC_STEPS) for n in range(ARC_STEPS + 1)]


READERS = {"holes": _hole, "windows": _window, "openings": _opening}

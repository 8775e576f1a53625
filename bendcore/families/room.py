"""Where on a face there is room for one hole more."""

import shapely
from shapely import Point, Polygon

from ..errors import Refusal
from ..sheet.model import Face

ROUGH = 0.1
"""How near the largest free circle is looked for, mm."""


def share_of(face: Face, parts: float) -> float:
    """One of so many parts of a face's smaller side, mm."""
    return min(max(axis) - min(axis) for axis in zip(*face.outline, strict=True)) / parts


def clear_spot(face: Face, wanted: float, web: float, path: str) -> tuple[tuple[float, float], float]:
    """(centre in the face's coordinates, mm across) of the room for something ``wanted`` mm across that leaves a
    ``web`` to everything else: the middle of the face if it is free, else where there is most room, and smaller
    where that is not enough. Refuses at ``path`` a face that is full."""
    room = Polygon(face.outline)
    taken = [Point(h.centre).buffer(h.room / 2) if h.room else Polygon(h.outline()) for h in face.holes]
    free = room - shapely.union_all(taken) if taken else room
    (x0, y0, x1, y1) = room.bounds
    middle = Point((x0 + x1) / 2, (y0 + y1) / 2)
    if free.contains(middle) and free.boundary.distance(middle) >= wanted / 2 + web:
        return (middle.x, middle.y), wanted
    largest = shapely.maximum_inscribed_circle(free, tolerance=ROUGH)
    size = min(wanted, 2 * (largest.length - web))
    if size < web:
        raise Refusal(path, f"has no room left on {face.id} for one more")
    return largest.coords[0], size

"""Holes, slots and openings in the legs of a strip.

Each lies on one leg, ``along`` the strip from the outside of the bend at the leg's start, or its free edge, ``across``
from the front edge, both to its middle. Counted ``from`` the end it is the other way about. It must lie in the leg's
flat: what bends is no place for a hole.
"""

import math
from collections.abc import Iterator, Sequence

from shapely import Polygon

from ...errors import Refusal
from ...fields import ReadLength
from ...said import Mm, Said
from ...sheet.model import Hole, Point
from ..common import read_slot
from ..legs import Leg
from .fields import HOLE, OPENING, SLOT

END = "end"


def read_openings(shape: dict, legs: Sequence[Leg], outlines: dict[str, Sequence[Point]], length: ReadLength
                  ) -> dict[str, tuple[Hole, ...]]:
    """By leg what is cut out of it, in the coordinates of its face; refuses what leaves its flat."""
    found: dict[str, list[Hole]] = {}
    for path, leg, hole in _each(shape, legs, length):
        face = Polygon(outlines[leg.id])
        if not face.contains(Polygon(hole.outline())):
            raise Refusal(path, Said("leaves the flat of leg {leg}, which reaches from {low} to {high} along it",
                                     leg=leg.id, low=Mm(leg.setbacks[0]), high=Mm(leg.setbacks[0] + leg.flat)))
        found.setdefault(leg.id, []).append(hole)
    return {leg: tuple(holes) for leg, holes in found.items()}


def _each(shape, legs, length) -> Iterator[tuple[str, Leg, Hole]]:
    for key, group, made in (("holes", HOLE, _round), ("slots", SLOT, _slot), ("openings", OPENING, _opening)):
        for i, block in enumerate(shape.get(key, ())):
            path = f"{key}[{i}]"
            if block["leg"] > len(legs):
                raise Refusal(f"{path}.leg", f"there are {len(legs)} legs")
            leg = legs[block["leg"] - 1]
            along, across = (group.mm(block, name, path, length) for name in ("along", "across"))
            x = along - leg.setbacks[0]
            if block.get("from") == END:
                x = leg.flat - (along - leg.setbacks[1])
            sizes = {name: group.mm(block, name, path, length) for name in ("diameter", "length", "width")
                     if name in group.fields}
            yield path, leg, made((x, across), sizes, float(block.get("angle", 0.0)), path)


def _round(middle: Point, sizes: dict[str, float], angle: float, path: str) -> Hole:
    return Hole(middle, sizes["diameter"], path=path)


def _slot(middle: Point, sizes: dict[str, float], angle: float, path: str) -> Hole:
    return read_slot(middle, sizes["width"], sizes["length"], angle, path)


def _opening(middle: Point, sizes: dict[str, float], angle: float, path: str) -> Hole:
    a, b, turn = sizes["length"] / 2, sizes["width"] / 2, math.radians(angle)
    c, s = math.cos(turn), math.sin(turn)
    corners = [(middle[0] + x * c - y * s, middle[1] + x * s + y * c)
               for x, y in ((-a, -b), (a, -b), (a, b), (-a, b))]
    return Hole.opening(corners, path)

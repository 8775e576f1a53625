"""Corners come to the outline of a plate or a guard and go; what counts its edges keeps its edge."""

import math
from collections.abc import Callable, Collection

from ..errors import Refusal
from ..units import read_length


def add_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A corner in the middle of the edge after the one picked, pushed out a little so that it can be seen."""
    if not places:
        raise Refusal("shape.outline", "takes a corner on one of its edges: pick the edge")
    at, outline = places[0], shape["outline"]
    a, b = ([read_length(v, own) for v in outline[i % len(outline)]] for i in (at, at + 1))
    if any(f["edge"] == at + 1 for f in shape.get("flanges", [])):
        raise Refusal("shape.outline", "has a flange on this edge: take the flange off first")
    long = math.dist(a, b)
    out = ((b[1] - a[1]) / long * 10, -(b[0] - a[0]) / long * 10)
    outline.insert(at + 1, [f"{(a[i] + b[i]) / 2 + out[i]:g} mm" for i in (0, 1)])
    last = shape.get("wrapped", (0, 0))[1]
    _renumber(shape, lambda edge: edge + (edge - 1 > at))
    _renumber_corners(shape, lambda corner: corner + (corner - 1 > at))
    if shape.get("wrapped") and last - 1 == at:  # the new corner lies within what was wrapped
        shape["wrapped"][1] += 1


def remove_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A corner has gone; refuses one at which a flange stood."""
    at, before = places[0], len(shape["outline"]) + 1
    if any(f["edge"] - 1 in (at, (at - 1) % before) for f in shape.get("flanges", [])):
        raise Refusal("shape.outline", "has a flange at this corner: take the flange off first")
    for key, counted in (("edges", "edge"), ("corners", "corner")):  # of a rib: what was told of a place that is gone
        if isinstance(shape.get(key), list):
            shape[key] = [block for block in shape[key] if block[counted] - 1 != at]
    _renumber(shape, lambda edge: max(1, edge - (edge - 1 >= max(at, 1))))
    _renumber_corners(shape, lambda corner: corner - (corner - 1 > at))


def free_place(shape: dict, taken: Collection[int], places: tuple[int, ...]) -> int | None:
    """The number of the edge or corner picked (its index in ``places``), whether taken or not; or else of the first
    that is not ``taken``, None where there is none."""
    return places[0] + 1 if places else next((n for n in range(1, len(shape["outline"]) + 1) if n not in taken), None)


def _renumber(shape: dict, new: Callable[[int], int]) -> None:
    """Edges by their new numbers, after a corner came or went."""
    for block in (*shape.get("flanges", ()), *shape.get("edges", ())):
        block["edge"] = new(block["edge"])
    if "wrapped" in shape:
        shape["wrapped"] = [new(edge) for edge in shape["wrapped"]]


def _renumber_corners(shape: dict, new: Callable[[int], int]) -> None:
    """Corners that are rounded by their new numbers."""
    for block in shape.get("corners", ()) if isinstance(shape.get("corners"), list) else ():
        block["corner"] = new(block["corner"])

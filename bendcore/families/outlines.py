"""Outlines: corners come to them and go, and what counts their edges keeps its edge; how large they are, what they are
widened or mirrored."""

import math
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from typing import Any

from ..errors import Refusal
from ..sheet.model import Point
from ..units import in_mm, read_length


def add_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A corner in the middle of the edge after the one picked, pushed out a little so that it can be seen."""
    if not places:
        raise Refusal("shape.outline", "takes a corner on one of its edges: pick the edge")
    at, outline = places[0], shape["outline"]
    a, b = ([read_length(v, own) for v in outline[i % len(outline)]] for i in (at, at + 1))
    for what, block in _standing(shape):
        if block["edge"] == at + 1:
            raise Refusal("shape.outline", f"has a {what} on this edge: take the {what} off first")
    long = math.dist(a, b)
    out = ((b[1] - a[1]) / long * 10, -(b[0] - a[0]) / long * 10)
    outline.insert(at + 1, [f"{(a[i] + b[i]) / 2 + out[i]:g} mm" for i in (0, 1)])
    last = shape.get("wrapped", (0, 0))[1]
    _renumber(shape, lambda edge: edge + (edge - 1 > at))
    _renumber_corners(shape, lambda corner: corner + (corner - 1 > at))
    if shape.get("wrapped") and last - 1 == at:  # the new corner lies within what was wrapped
        shape["wrapped"][1] += 1


def remove_corner(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A corner has gone; refuses one at which something stood."""
    at, before = places[0], len(shape["outline"]) + 1
    for what, block in _standing(shape):
        if block["edge"] - 1 in (at, (at - 1) % before):
            raise Refusal("shape.outline", f"has a {what} at this corner: take the {what} off first")
    for key, counted in (("edges", "edge"), ("corners", "corner")):  # of a rib: what was told of a place that is gone
        if isinstance(shape.get(key), list):
            shape[key] = [block for block in shape[key] if block.get("on") or block[counted] - 1 != at]
    _renumber(shape, lambda edge: max(1, edge - (edge - 1 >= max(at, 1))))
    _renumber_corners(shape, lambda corner: corner - (corner - 1 > at))


def extent(outline: Sequence[Point]) -> dict[str, float]:
    """Its sizes over all, mm."""
    return {key: max(p[axis] for p in outline) - min(p[axis] for p in outline)
            for key, axis in (("across", 0), ("up", 1))}


def free_place(shape: dict, taken: Collection[int], places: tuple[int, ...]) -> int | None:
    """The number of the edge or corner picked (its index in ``places``), whether taken or not; or else of the first
    that is not ``taken``, None where there is none."""
    return places[0] + 1 if places else next((n for n in range(1, len(shape["outline"]) + 1) if n not in taken), None)


def mirror_outline(shape: dict, length: Callable[[Any], float]) -> dict:
    """The other hand of a shape told by its outline: left and right change places, and with the corners, which run the
    other way round, so do the edges' own starts and ends. Holes in a plate's flanges count from their edge's first
    corner as listed, which stays the first."""
    shape["outline"] = mirror_points(shape["outline"], length)
    for item in (*shape.get("holes", ()), *shape.get("slots", ()), *shape.get("pins", ())):
        if "outline" in item:
            item["outline"] = mirror_points(item["outline"], length)
            continue
        item["x"] = in_mm(-length(item["x"]))
        if "angle" in item:
            item["angle"] = -item["angle"]
    return shape


def mirror_points(points: list, length: Callable[[Any], float]) -> list:
    """Points as a file has them, on the other side of the zero line."""
    return [[in_mm(-length(x)), y] for x, y in points]


def _standing(shape: dict) -> Iterator[tuple[str, dict]]:
    """(what it is called, its block) of everything that stands on an edge of the outline."""
    yield from (("flange", block) for block in shape.get("flanges", ()))
    yield from (("panel", block) for block in shape.get("panels", ()) if not block.get("on"))
    yield from (("notch", block) for block in shape.get("notches", ()) if not block.get("on"))


def _renumber(shape: dict, new: Callable[[int], int]) -> None:
    """Edges by their new numbers, after a corner came or went."""
    for block in (*(block for _, block in _standing(shape)), *_of_base(shape.get("edges", ()))):
        block["edge"] = new(block["edge"])
    if "wrapped" in shape:
        shape["wrapped"] = [new(edge) for edge in shape["wrapped"]]


def _of_base(blocks: Iterable[dict]) -> list[dict]:
    """Those that are told of no other face."""
    return [block for block in blocks if not block.get("on")]


def _renumber_corners(shape: dict, new: Callable[[int], int]) -> None:
    """Corners that are rounded by their new numbers."""
    for block in _of_base(shape["corners"]) if isinstance(shape.get("corners"), list) else ():
        block["corner"] = new(block["corner"])


def widened(outline: Sequence[Point], by: Sequence[float]) -> tuple[Point, ...]:
    """The outline with edge i moved out by ``by[i]`` (in, where negative), edges meeting anew, mm."""
    n, found = len(outline), []
    for i in range(n):
        (px, py), (ux, uy), da = _moved(outline, i - 1, by)
        (qx, qy), (vx, vy), db = _moved(outline, i, by)
        cross = ux * vy - uy * vx
        if abs(cross) < 1e-9:
            if abs(da - db) > 1e-9:
                raise Refusal("outline", "has edges in one line of which only one is wrapped: "
                                         "set a corner between them")
            found.append((qx, qy))
            continue
        s = ((qx - px) * vy - (qy - py) * vx) / cross
        found.append((px + s * ux, py + s * uy))
    return tuple(found)


def _moved(outline, i, by):
    """(a point, the direction, how far) of edge i moved out."""
    (x0, y0), (x1, y1) = outline[i % len(outline)], outline[(i + 1) % len(outline)]
    long = math.hypot(x1 - x0, y1 - y0)
    ux, uy, out = (x1 - x0) / long, (y1 - y0) / long, by[i % len(outline)]
    return (x0 + uy * out, y0 - ux * out), (ux, uy), out

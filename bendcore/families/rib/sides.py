"""The outline of a rib: its edges straight or curved, corners rounded, and the stretches that one flange runs along."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from ...develop.curves import SHORT, SMOOTH, Edge, meeting, rounded, turn
from ...errors import Refusal
from ...said import Deg, Mm, Said
from ...sheet.model import Point
from ..common import Given
from .fields import CORNER, EDGE, HAMMERED

SLIGHT = math.radians(5)
"""A corner that turns less between two flanges is dressed to a curve."""
DRESSED = 4.0
"""So many flange widths is the radius of that curve."""
FULLEST = math.radians(340)


@dataclass(frozen=True)
class Side:
    """One edge over the outside of the flange; ``number`` is the edge's as given, 0 of a rounding. ``flutes`` is how
    many are asked for along it, None where that is left to Dorvan."""

    edge: Edge
    number: int
    flanged: bool
    flutes: int | None = None
    path: str = ""

    @property
    def title(self) -> str:
        """How it is called."""
        return f"edge {self.number}" if self.number else "rounding"


@dataclass(frozen=True)
class Stretch:
    """Sides that one flange runs along without a break; ``before`` and ``after`` are the sides beside it, None where it
    runs all round."""

    sides: tuple[Side, ...]
    before: Side | None = None
    after: Side | None = None


def read_sides(shape: dict, given: Given, width: float, points: Sequence[Point],
               numbers: dict[int, tuple[int, bool]]) -> tuple[Side, ...]:
    """The sides counter-clockwise; refuses an edge or a corner that is not there, is told twice or too round."""
    n, blocks = len(points), _by_place(shape.get("edges", ()), "edge", numbers)
    sides = []
    for number, (at, _) in sorted(numbers.items(), key=lambda one: one[1][0]):
        place, block = blocks.get(at, (None, {}))
        path = f"edges[{place}]" if place is not None else ""
        rise = EDGE.mm(block, "rise", path, given.length)
        edge = Edge.rising(points[at], points[(at + 1) % n], rise)
        if abs(edge.sweep) > FULLEST:
            raise Refusal(f"{path}.rise", Said("is more than a rise of {most} leaves of a circle", most=Deg(340)))
        sides.append(Side(edge, number, block.get("flange", HAMMERED) == HAMMERED, block.get("flutes"), path))
    corners = {at: (f"corners[{place}].radius", CORNER.mm(block, "radius", f"corners[{place}]", given.length))
               for at, (place, block) in _corners(shape.get("corners", ()), numbers, n).items()}
    return _with_corners(sides, corners, width)


def stretches(sides: Sequence[Side]) -> list[Stretch]:
    """The flanged sides in runs that are not broken by a corner or a plain edge, counter-clockwise."""
    n = len(sides)
    breaks = [i for i in range(n) if not _goes_on(sides[i - 1], sides[i])]
    if not breaks:
        return [Stretch(tuple(sides))]
    found = []
    for start, end in pairwise([*breaks, breaks[0] + n]):
        run = tuple(sides[i % n] for i in range(start, end))
        if run[0].flanged:
            found.append(Stretch(run, sides[start - 1], sides[end % n]))
    return found


def moved_in(sides: Sequence[Side], by: float) -> tuple[Side, ...]:
    """Flanged sides moved inwards, plain ones left, meeting anew at their corners, mm; ValueError where they do not."""
    moved = [replace(side, edge=side.edge.offset(-by) if side.flanged else side.edge) for side in sides]
    found = []
    for i, side in enumerate(moved):
        before, after = moved[i - 1].edge, moved[(i + 1) % len(moved)].edge
        a = meeting(before, side.edge, side.edge.a) if math.dist(before.b, side.edge.a) > SHORT else side.edge.a
        b = meeting(side.edge, after, side.edge.b) if math.dist(after.a, side.edge.b) > SHORT else side.edge.b
        if a is None or b is None:
            raise ValueError("two sides do not meet")
        found.append(replace(side, edge=side.edge.part(side.edge.where(a), side.edge.where(b))))
    if any(math.dist(found[i - 1].edge.b, side.edge.a) > 1e-4 for i, side in enumerate(found)):
        raise ValueError("two sides do not meet")
    return tuple(found)


def _goes_on(before: Side, after: Side) -> bool:
    return before.flanged == after.flanged and (not before.flanged or abs(turn(before.edge, after.edge)) < SMOOTH)


def _by_place(blocks, key, numbers) -> dict[int, tuple[int, dict]]:
    """Blocks by the place of the edge that they name."""
    found = {}
    for i, block in enumerate(blocks):
        path = f"edges[{i}].{key}"
        if block[key] not in numbers:
            raise Refusal(path, f"must be an edge from 1 to {len(numbers)}")
        at = numbers[block[key]][0]
        if at in found:
            raise Refusal(path, f"is told by curve {found[at][0] + 1} already")
        found[at] = (i, block)
    return found


def _corners(blocks, numbers, n) -> dict[int, tuple[int, dict]]:
    """Blocks by the place of the corner that they name."""
    flipped, found = numbers[1][1], {}
    for i, block in enumerate(blocks):
        number = block["corner"]
        if number > n:
            raise Refusal(f"corners[{i}].corner", f"must be a corner from 1 to {n}")
        at = n - number if flipped else number - 1
        if at in found:
            raise Refusal(f"corners[{i}].corner", f"is rounded by rounding {found[at][0] + 1} already")
        found[at] = (i, block)
    return found


def _with_corners(sides: list[Side], corners: dict[int, tuple[str, float]], width: float) -> tuple[Side, ...]:
    """The sides with their corners rounded: those told to be, and slight ones between two flanges."""
    n, arcs = len(sides), {}
    for at in range(n):
        one, other = sides[at - 1], sides[at]
        bend = turn(one.edge, other.edge)
        if at in corners:
            path, radius = corners[at]
            if abs(bend) < SMOOTH:
                raise Refusal(path, "stands where the edges run on into each other: there is no corner to round")
        elif one.flanged and other.flanged and SMOOTH <= abs(bend) < SLIGHT:
            path, radius = "", DRESSED * width
        else:
            continue
        cut = rounded(one.edge, other.edge, radius)
        if cut is None and path:
            raise Refusal(path, Said("is more than the edges beside it have room for ({one} and {other} long)",
                                     one=Mm(one.edge.length), other=Mm(other.edge.length)))
        if cut:
            sides[at - 1], sides[at] = replace(one, edge=cut[0]), replace(other, edge=cut[2])
            arcs[at] = Side(cut[1], 0, one.flanged and other.flanged, path=path.rpartition(".")[0])
    found = []
    for at, side in enumerate(sides):
        found += [arcs[at], side] if at in arcs else [side]
    return tuple(found)

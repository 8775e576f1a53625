"""Tabs to be cut off: an edge parallel to a bend for the supplier's stops, where the blank has none.

A tab stands on the blank where that reaches furthest from the bend line, at the hand where it is nearer; its far edge
is parallel to the line and long enough to bear. It is cut off along the blank's own outline after bending.
"""

import math
from dataclasses import dataclass, fields, replace
from functools import cached_property
from itertools import pairwise

from shapely import LineString, Polygon

from ..errors import Refusal
from ..part import Part
from ..sheet.edges import BEARING, bearing
from ..sheet.model import Edge, Point
from ..sheet.rings import TINY
from ..sheet.unfold import FlatBend, FlatPattern, unfold

REACH = 10.0
"""So far a tab stands out beyond the blank, mm (*start*)."""
LEAST = 15.0
STEPS = 40
"""So many places are tried for one."""


@dataclass(frozen=True)
class Tabbed(Part):
    """A part whose blank has tabs: its ``outline`` in the root face's coordinates, and where they are ``cut_off``."""

    outline: tuple[Point, ...] = ()
    cut_off: tuple[Edge, ...] = ()
    """In the root face's coordinates too."""

    @cached_property
    def flat(self) -> FlatPattern:
        """The blank with its tabs."""
        return unfold(self.sheet, self.outline)


def tabbed(part: Part) -> Part:
    """The part with a tab at every bend that has no parallel edge; itself where none is needed. Refuses a blank that
    has no room for one, at the bend."""
    blank, cuts = part.flat.blank, []
    for flat in part.flat.bends:
        now = _with(part, blank)
        if bearing(now, flat).edges:
            continue
        tab = _tab(part.flat, flat, blank)
        cuts += [line for line in _lines(tab.intersection(part.flat.blank.exterior))]
        blank = blank.union(tab)
        if blank.geom_type != "Polygon" or blank.interiors:
            raise Refusal(f"shape.{flat.bend.id}", "has no room for a tab beside it: gauge it from a scribed line")
    if not cuts:
        return part
    dx, dy = part.flat.shift

    def root(points):
        return tuple((x - dx, y - dy) for x, y in points)

    own = {one.name: getattr(part, one.name) for one in fields(Part)}
    return Tabbed(**own, outline=root(blank.exterior.coords[:-1]), cut_off=tuple(map(root, cuts)))


def _with(part: Part, blank: Polygon) -> FlatPattern:
    """The flat, its outline as it is by now, not moved."""
    return replace(part.flat, outline=tuple(blank.exterior.coords[:-1]))


def _tab(flat: FlatPattern, bend: FlatBend, blank: Polygon) -> Polygon:
    (x0, y0), (x1, y1) = bend.line
    long = math.dist(*bend.line)
    ux, uy = (x1 - x0) / long, (y1 - y0) / long
    reach = bearing(flat, bend).reach
    hands = sorted(((far, side) for far, side in zip(reach, (-1, 1), strict=True) if far > 0))
    half = bend.bend.figures.allowance / 2
    for far, side in hands:
        wx, wy = -uy * side, ux * side

        def at(along, away, wx=wx, wy=wy):
            return (x0 + ux * along + wx * away, y0 + uy * along + wy * away)

        wide = max(min(BEARING, long / 2), LEAST) + 1.0
        places = [(away, middle) for middle in _middles(flat, (x0, y0), (ux, uy), wide)
                  if (away := _inner(blank, at, middle, wide, half, far)) is not None]
        if not places:
            continue
        tabs = (Polygon([at(middle - wide / 2, inner), at(middle + wide / 2, inner), at(middle + wide / 2, far + REACH),
                         at(middle - wide / 2, far + REACH)]) for inner, middle in sorted(places, reverse=True))
        tab = next((tab for tab in tabs if not _leaves_tiny(blank.union(tab))), None)
        if tab is None:
            continue
        near = [ring for name, ring in flat.faces.items() if name not in _beyond(flat, bend, at, half)]
        if not any(tab.intersection(Polygon(face)).area > 1e-3 for face in near):
            return tab
    raise Refusal(f"shape.{bend.bend.id}", "has no room for a tab beside it: gauge it from a scribed line")


def _leaves_tiny(blank: Polygon) -> bool:
    """Whether a blank has an edge that would be taken out as too short, and a corner of the part with it."""
    ring = getattr(blank, "exterior", None)
    return bool(ring) and any(math.dist(a, b) < TINY for a, b in pairwise(ring.coords))


def _middles(flat, start, along, wide) -> list[float]:
    """Places along the line for a tab's middle, across the whole blank."""
    reach = [(x - start[0]) * along[0] + (y - start[1]) * along[1] for x, y in flat.outline]
    low, high = min(reach) + wide / 2, max(reach) - wide / 2
    return [low + (high - low) * n / STEPS for n in range(STEPS + 1)] if high > low else []


def _inner(blank, at, middle, wide, half, far) -> float | None:
    """The furthest from the line that a cross-cut of the tab's width lies in the blank as a whole."""
    def within(away):
        return blank.covers(LineString([at(middle - wide / 2, away), at(middle + wide / 2, away)]))

    steps = [half + 0.5 + (far - half - 0.5) * n / STEPS for n in range(STEPS, -1, -1)]
    return next((away for away in steps if within(away)), None)


def _beyond(flat, bend, at, half) -> set[str]:
    """Faces on the tab's hand of the bend line."""
    x0, y0 = at(0, 0)
    wx, wy = (a - b for a, b in zip(at(0, 1), (x0, y0), strict=True))
    return {name for name, ring in flat.faces.items()
            if min((x - x0) * wx + (y - y0) * wy for x, y in ring) > half - 1e-6}


def _lines(found) -> list[Edge]:
    """The straight pieces of what was cut out of an outline."""
    parts = getattr(found, "geoms", [found])
    return [(a, b) for part in parts if part.geom_type == "LineString"
            for a, b in zip(part.coords, part.coords[1:], strict=False)]

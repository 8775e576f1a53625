"""A guard's side outline: its edges, those under the wrapper drawn strong, and where the size of each stands."""

import math
from dataclasses import dataclass

import shapely

from .fit import Fit
from .net import EDGE
from .places import LABEL_H, LABEL_W, NAME_H

BOX = (150, 122, 440, 220)
"""Where the outline stands on the stage, over the flat: left, top, width and height, pixels."""
UNDER_SIDE = (60, 430, 60, 52)
"""The room for the flat under it: left free at the left, top, right and bottom of the stage, pixels."""
OFF = 10
"""So far off its edge an input stands, pixels."""


@dataclass(frozen=True)
class SideEdge:
    """An edge by its number as given: its ``middle``, where its input best stands, ``at``, and the heading ``away``
    from the outline; pixels and radians, down the page."""

    number: int
    middle: tuple[float, float]
    at: tuple[float, float]
    away: float


@dataclass(frozen=True)
class Side:
    """The outline on the page: paths of all of it and of the edges under the wrapper, what inputs keep off."""

    fit: Fit
    outline: str
    wrapped: str
    edges: tuple[SideEdge, ...]
    taken: shapely.Geometry


def side_view(guard) -> Side:
    """The outline of a guard as it stands, seen along its width."""
    fit, ring = Fit.into(guard.outline, *BOX), guard.outline
    ends = [(a, ring[(i + 1) % len(ring)]) for i, a in enumerate(ring)]
    drawn = shapely.LinearRing(fit.all(ring)).buffer(EDGE, cap_style="flat", join_style="mitre")
    return Side(fit, fit.path(ring), fit.lines(ends[i] for i in guard.wrapped),
                tuple(_edge(guard.numbers[i], fit(a), fit(b)) for i, (a, b) in enumerate(ends)), drawn)


def _edge(number: int, a, b) -> SideEdge:
    """The outline goes round against the clock, so that on the page its outside lies to the left of an edge."""
    long = math.dist(a, b) or 1.0
    out = (-(b[1] - a[1]) / long, (b[0] - a[0]) / long)
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    off = OFF + abs(out[0]) * LABEL_W / 2 + abs(out[1]) * (LABEL_H + NAME_H) / 2
    return SideEdge(number, middle, (middle[0] + off * out[0], middle[1] + off * out[1]), math.atan2(out[1], out[0]))

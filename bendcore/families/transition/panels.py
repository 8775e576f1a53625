"""The panels between two rectangles, as facets in the order they stand round the axis.

Corners and panels are counted counter-clockwise from above, the first corner of the bottom at front left: panel ``P1``
stands in front, between the corners ``C1`` and ``C2``. A top turned by more than an eighth is joined to the corners it
then lies nearest to. Where bottom and top edge of a panel are not parallel it is two triangles, split on the diagonal
that bends the same way as the corners (nothing is turned over for it), unless the other bends less than half as far.
"""

import math
from collections.abc import Iterator, Sequence

import numpy as np

from ...develop.facets import Facet, meeting
from ...sheet.model import UP
from ..facetted import BOTTOM, DIAGONAL, SIDE, TOP, Panel

PLANE = 1e-3
"""Four corners so near to one plane are one panel, mm."""


def corners(length: float, width: float, at: tuple[float, float] = (0.0, 0.0), turn: float = 0.0,
            z: float = 0.0) -> np.ndarray:
    """(4, 3): of a rectangle's corners the one nearest to front left first."""
    x, y = length / 2, width / 2
    quarter = round(turn / 90)
    a = math.radians(turn)
    turned = np.array([[-x, -y], [x, -y], [x, y], [-x, y]]) @ np.array([[math.cos(a), math.sin(a)],
                                                                       [-math.sin(a), math.cos(a)]])
    return np.column_stack([np.roll(turned, quarter, axis=0) + at, np.full(4, z)])


def panels(bottom: np.ndarray, top: np.ndarray, thickness: float) -> list[Panel]:
    """All facets, from corner ``C1`` round."""
    return [panel for i in range(4) for panel in _panel(i, bottom, top, thickness)]


def _panel(i, bottom, top, thickness) -> Iterator[Panel]:
    j, n = (i + 1) % 4, i + 1
    a, b, c, d = bottom[i], bottom[j], top[j], top[i]
    side, other = (SIDE, n), (SIDE, j + 1)
    normal = np.cross(b - a, d - a)
    if abs(normal @ (c - a)) / np.linalg.norm(normal) < PLANE:
        yield Panel(Facet(f"P{n}", np.array([a, b, c, d]), thickness), n, ((BOTTOM, n), other, (TOP, n), side))
        return
    split = (DIAGONAL, n)
    ways = [((a, b, d), ((BOTTOM, n), split, side), (b, c, d), (other, (TOP, n), split)),
            ((a, c, d), (split, (TOP, n), side), (a, b, c), ((BOTTOM, n), other, split))]
    bends = []
    for first, edges, second, _ in ways:
        pair = [Facet("", np.array(points), thickness) for points in (first, second)]
        at = edges.index(split)
        bends.append(meeting(*pair, (first[at], first[(at + 1) % 3])))
    with_corners = 0 if bends[0][1] == UP else 1
    angle, others = bends[with_corners][0], bends[1 - with_corners][0]
    first, one, second, two = ways[with_corners if angle <= 2 * others else 1 - with_corners]
    yield Panel(Facet(f"P{n}a", np.array(first), thickness), n, one)
    yield Panel(Facet(f"P{n}b", np.array(second), thickness), n, two)


def corner_of(whole: Sequence[Panel], number: int) -> tuple[float, str]:
    """(θ, up or down) at a corner, whether it is bent or cut."""
    after = next(panel for panel in whole if panel.number == number)
    before = [panel for panel in whole if panel.number == (number - 2) % 4 + 1][-1]
    return meeting(before.facet, after.facet, before.ends(before.edge(SIDE, number)))

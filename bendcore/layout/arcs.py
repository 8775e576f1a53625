"""True arcs of an outline about a known centre, for formats that have them."""

import math
from collections.abc import Sequence

from ..sheet.model import Point

SAME = 1e-6
"""Corners on one circle differ no more in their radius, as a share of it."""
FEWEST = 4
WIDEST = math.radians(120)
"""An arc that sweeps more is written as several."""


def with_bulges(outline: Sequence[Point], centres: Sequence[Point]) -> list[tuple[float, float, float]]:
    """The closed outline as (x, y, bulge) of polyline corners: runs of chords about one of the ``centres`` as arcs, the
    bulge the tangent of a quarter of the sweep, to the left positive; all else straight."""
    n = len(outline)
    about = _about(outline, centres)
    start = next((i for i in range(n) if about[i] != about[i - 1]), 0)
    found, i = [], 0
    while i < n:
        at = (start + i) % n
        run, centre = 0, about[at]
        while centre is not None and i + run < n and about[(at + run) % n] == centre and abs(
                _sweep(outline[at], outline[(at + run + 1) % n], centres[centre])) < WIDEST:
            run += 1
        if run < FEWEST:
            found.append((*outline[at], 0.0))
            i += 1
            continue
        found.append((*outline[at], math.tan(_sweep(outline[at], outline[(at + run) % n], centres[centre]) / 4)))
        i += run
    return found


def _about(outline: Sequence[Point], centres: Sequence[Point]) -> list[int | None]:
    """Of every chord the centre, by its place, that both its ends are as far from and that the chord beside it shares;
    None for a straight one."""
    n = len(outline)
    found: list[int | None] = [None] * n
    for place, centre in enumerate(centres):
        radii = [math.dist(point, centre) for point in outline]
        on = [abs(radii[i] - radii[(i + 1) % n]) <= SAME * max(radii[i], 1e-9) for i in range(n)]
        for i in range(n):
            if found[i] is None and on[i] and (on[i - 1] or on[(i + 1) % n]):
                found[i] = place
    return found


def _sweep(one: Point, other: Point, centre: Point) -> float:
    a, b = (math.atan2(y - centre[1], x - centre[0]) for x, y in (one, other))
    return (b - a + math.pi) % (2 * math.pi) - math.pi

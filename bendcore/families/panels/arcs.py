"""Arcs found again in an outline of chords: runs of equal chords that turn by equal angles."""

import math
from collections.abc import Sequence

from ...sheet.model import Point

FEWEST = 3
"""Chords of an arc."""
TURN = math.radians(31)
"""Chords of an arc turn by less."""
ALIKE = 0.02
"""Chords and turns of one arc differ by no more than this share."""
FULLEST = math.radians(330)
ROUND = math.radians(121)
"""A circle is told as several arcs, none wider."""


def with_arcs(ring: Sequence[Point]) -> tuple[list[Point], dict[int, float]]:
    """(the corners that are left, by edge how far it rises from its chord, outwards positive, mm) of a closed outline,
    counter-clockwise; a closed curve keeps some corners.

    >>> ring = [(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), *((5 + 5 * math.cos(a), 10 + 5 * math.sin(a))
    ...         for a in (math.pi * n / 8 for n in range(1, 8))), (0.0, 10.0)]
    >>> corners, rises = with_arcs(ring)
    >>> corners, {edge: round(rise, 6) for edge, rise in rises.items()}
    ([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)], {2: 5.0})
    """
    n = len(ring)
    long = [math.dist(ring[i], ring[(i + 1) % n]) for i in range(n)]
    turns = [_turn(ring[i - 1], ring[i], ring[(i + 1) % n]) for i in range(n)]
    start = next((i for i in range(n) if not _goes_on(long, turns, i)), None)
    widest = FULLEST if start is not None else ROUND
    start = start or 0
    corners: list[Point] = []
    rises: dict[int, float] = {}
    i = 0
    while i < n:
        at, run = (start + i) % n, 1
        sweep = 0.0
        while i + run < n and _goes_on(long, turns, (at + run) % n) and _same(
                turns[(at + run) % n], turns[(at + 1) % n]) and abs(sweep + 2 * turns[(at + run) % n]) < widest:
            sweep += turns[(at + run) % n]
            run += 1
        if run < FEWEST:
            corners.append(ring[at])
            i += 1
            continue
        whole = sweep + turns[(at + 1) % n]
        radius = long[at] / 2 / math.sin(abs(whole) / run / 2)
        rises[len(corners)] = math.copysign(radius * (1 - math.cos(whole / 2)), whole)
        corners.append(ring[at])
        i += run
    return corners, rises


def _turn(before: Point, here: Point, after: Point) -> float:
    """Radians, to the left positive."""
    one = math.atan2(here[1] - before[1], here[0] - before[0])
    other = math.atan2(after[1] - here[1], after[0] - here[0])
    return (other - one + math.pi) % (2 * math.pi) - math.pi


def _goes_on(long: Sequence[float], turns: Sequence[float], corner: int) -> bool:
    """Whether two chords of one arc may meet at a corner."""
    return 1e-5 < abs(turns[corner]) < TURN and _same(long[corner - 1], long[corner])


def _same(one: float, other: float) -> bool:
    return abs(one - other) <= ALIKE * max(abs(one), abs(other)) and one * other > 0

"""What one degree is worth in depth, learnt from depths set and angles found.

Within one set-up (a ticket's run, one bend) depth and angle differ from stroke to
stroke; every pair of strokes gives a slope. The learnt figure is the median of the
pairs' slopes, each weighing as much as its depths lie apart (P. K. Sen 1968,
"Estimates of the regression coefficient based on Kendall's tau", weighted after
L. A. Jaeckel 1972): one misread angle does not move it.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

from ..bending.bend import BendFigures, travel_per_degree

LEAST_APART = 0.02
"""Depths nearer together than this say nothing about the slope, mm."""


@dataclass(frozen=True)
class Stroke:
    """``setup`` tells strokes that may be compared; ``depth`` mm, ``angle`` degrees."""

    setup: str
    depth: float
    angle: float


@dataclass(frozen=True)
class DegreeWorth:
    """``per_degree`` mm of depth for one degree; ``pairs`` of strokes it came from;
    half of them lie between ``low`` and ``high``."""

    per_degree: float
    low: float
    high: float
    pairs: int


def computed(figures: BendFigures, bend_to: float, v: float, shoulder: float) -> float:
    """What a degree is worth by the geometry of the stroke, mm: at the angle ``bend_to`` under load, where
    the stroke ends and a correction is made, over a die of opening ``v`` and this shoulder radius, mm."""
    return travel_per_degree(bend_to, figures.inside_radius, figures.thickness, v, shoulder)


def learn(strokes: Iterable[Stroke]) -> DegreeWorth | None:
    """The learnt worth of a degree, or None before two strokes differ in depth."""
    by_setup: dict[str, list[Stroke]] = {}
    for stroke in strokes:
        by_setup.setdefault(stroke.setup, []).append(stroke)
    slopes = []
    for group in by_setup.values():
        for one, other in combinations(group, 2):
            deeper, wider = other.depth - one.depth, other.angle - one.angle
            if abs(deeper) >= LEAST_APART:
                slopes.append((wider / deeper, abs(deeper)))
    middle = _weighted(slopes, 0.5)
    if middle is None or middle <= 0:
        return None
    flat, steep = max(_weighted(slopes, 0.25), middle / 10), _weighted(slopes, 0.75)
    return DegreeWorth(1 / middle, 1 / steep, 1 / flat, len(slopes))


def _weighted(slopes, part):
    """The slope below which ``part`` of the weight lies."""
    total, seen = sum(w for _, w in slopes), 0.0
    for slope, weight in sorted(slopes):
        seen += weight
        if seen >= part * total:
            return slope
    return None

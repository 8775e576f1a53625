"""A large radius from small tools: n hits of θ/n each, a pitch of BA/n apart.

The facets stand off the true arc by e = R_out·(1 − cos(θ/2n)); n is chosen from the e
that will do. The first line lies half a pitch in from the tangent line (shop practice).
"""

import math
from dataclasses import dataclass

from .bend import BendFigures

FACET = 0.2
"""The facet error that will do unless said otherwise, mm."""
LARGE = 8.0
"""Without a tool named, a radius of so many thicknesses is bumped."""
MOST_HITS = 200
BUMPED, ROLLED, FORMER = "bumped", "rolled", "over a former"
WAYS = (BUMPED, ROLLED, FORMER)
"""How a large radius is made."""


@dataclass(frozen=True)
class Bumps:
    """``lines`` from the first tangent line, mm; ``each`` degrees a hit; ``error`` mm."""

    hits: int
    each: float
    pitch: float
    error: float

    @property
    def lines(self) -> tuple[float, ...]:
        """Where each hit is made, from the first tangent line, mm."""
        return tuple(self.pitch * (n + 0.5) for n in range(self.hits))


def facet_error(figures: BendFigures, hits: int) -> float:
    """e = R_out·(1 − cos(θ/2n)), mm."""
    return (figures.inside_radius + figures.thickness) * (1 - math.cos(math.radians(figures.angle) / 2 / hits))


def bumps(figures: BendFigures) -> Bumps:
    """The fewest hits whose facets stand off by no more than the bend says, or FACET."""
    hits, error = 2, figures.facet or FACET
    while facet_error(figures, hits) > error and hits < MOST_HITS:
        hits += 1
    return Bumps(hits, figures.angle / hits, figures.allowance / hits, facet_error(figures, hits))


def is_bumped(figures: BendFigures, tool_radius: float | None) -> bool:
    """Whether a bend is bumped: as it says itself, else where its radius is out of reach of its tool, more than twice
    what the tool makes or :data:`LARGE` thicknesses where none is named."""
    if figures.made:
        return figures.made == BUMPED
    if figures.angle >= 180:
        return False
    return figures.inside_radius > (2 * tool_radius if tool_radius else LARGE * figures.thickness)

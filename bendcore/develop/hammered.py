"""A flange hammered over a block along a curve: what its section takes, and what becomes of its length.

Square to the outline the flange is a bend like any other, so the blank reaches as far beyond the mould line as width
less deduction. Along a curve its free edge is then longer (outwards) or shorter (inwards) than the edge is to be:

    excess  = θ·(R_blank − R_formed)          of an arc of θ radians, both radii at the free edge, neutral fibre
    stretch = (R_formed − R_blank) / R_blank

The handbook's θ·w and w/(R − w) are these with the bend's own radius left out. Flutes take the excess up: ripples
pointed at the bend and widest at the free edge, there d(x) = a/2·(1 + cos(2πx/b)) deep over a width b. Between the
bend and the edge, width and depth grow alike, and so does what they take up, as the excess does. The handbook's
(πa)²/4b is the first term of a series (11 % off at a = b/4), and a flute laid inwards on a curve lies on a smaller
radius; :func:`flute_depth` finds the depth whose true length is wanted.
"""

import math
from dataclasses import dataclass
from functools import cache

import numpy as np

from ..bending.bend import BendFigures
from .curves import Edge

DEEPEST = 1 / 3
"""Depth over width of a flute beyond which more of them are laid (*start*)."""
LITTLE = 0.05
"""An excess of less is left to the hammer, mm."""
MID = 0.5
"""Along the flange the middle of the sheet keeps its length."""


@dataclass(frozen=True)
class Section:
    """A flange square to its outline. ``flat`` is what stands beyond its bend zone, mm."""

    figures: BendFigures
    flat: float

    @property
    def setback(self) -> float:
        """From the tangent line out to the mould line, mm."""
        return self.figures.outside_setback

    @property
    def width(self) -> float:
        """From the mould line to the free edge, mm."""
        return self.setback + self.flat

    @property
    def reach(self) -> float:
        """How far the blank reaches beyond the mould line, mm."""
        return self.figures.allowance + self.flat - self.setback

    def at(self, far: np.ndarray, depth: float = MID) -> tuple[np.ndarray, np.ndarray]:
        """(beyond the mould line, over the web's inner face) of what lies ``far`` beyond the tangent line in the blank,
        ``depth`` thicknesses from the inner face, bent towards it, mm."""
        angle, f = math.radians(self.figures.angle), self.figures
        swept = np.clip(far / f.allowance, 0, 1) * angle
        on, before = np.maximum(far - f.allowance, 0), np.minimum(far, 0)
        r = f.inside_radius + depth * f.thickness
        return (before - self.setback + r * np.sin(swept) + on * math.cos(angle),
                f.inside_radius - r * np.cos(swept) + on * math.sin(angle))

    @property
    def edge(self) -> float:
        """How far the free edge stands beyond the mould line, in the middle of the sheet, mm."""
        return float(self.at(np.array(self.figures.allowance + self.flat))[0])

    def excess(self, edge: Edge) -> float:
        """How much longer its free edge is in the blank than it is to be, mm; less than nothing where it must
        stretch."""
        return edge.sweep * (self.reach - self.edge)

    def strain(self, edge: Edge) -> float:
        """The stretch of the free edge; less than nothing where it must shrink."""
        blank = edge.length + edge.sweep * self.reach
        return -self.excess(edge) / blank


def flutes_needed(excess: float, width: float, radius: float) -> int:
    """The fewest flutes of this ``width`` that take up an ``excess`` and are no deeper than DEEPEST of it."""
    return max(1, math.ceil(excess / _gained(DEEPEST * width, width, radius) - 1e-9))


def flute_depth(excess: float, width: float, radius: float) -> float:
    """How deep one flute of this ``width`` is at a free edge of this ``radius`` to take up ``excess``, mm."""
    low, high = 0.0, width
    while _gained(high, width, radius) < excess:
        high *= 2
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if _gained(middle, width, radius) < excess else (low, middle)
    return (low + high) / 2


@cache
def _wave(points: int = 361) -> tuple[np.ndarray, np.ndarray]:
    x = np.linspace(-0.5, 0.5, points)
    return (1 + np.cos(2 * math.pi * x)) / 2, np.pi * np.sin(2 * math.pi * x)


def _gained(depth: float, width: float, radius: float) -> float:
    """By how much a flute is longer than the arc it is laid in, mm."""
    height, slope = _wave()
    along = np.sqrt((1 - depth * height / radius) ** 2 + (depth / width * slope) ** 2)
    return float((along[1:] + along[:-1]).sum() / 2 / (len(along) - 1) - 1) * width

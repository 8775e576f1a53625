"""Straight edges of the blank that lie parallel to a bend, for the stop to bear on."""

from dataclasses import dataclass

import numpy as np

from .unfold import FlatBend, FlatPattern

PARALLEL = 0.2
"""Degrees by which an edge may be off and still bear on two stops."""
BEARING = 60.0
"""An edge this long bears on two stops, mm; of shorter bends half their length will do."""


@dataclass(frozen=True)
class Bearing:
    """On either hand of a bend line: ``edges`` mm away that are straight and parallel, and ``reach``,
    how far the blank goes there."""

    edges: tuple[float, ...]
    reach: tuple[float, float]

    @property
    def tab(self) -> float:
        """Where a tab's edge would lie: just past the blank, on the hand where it is nearer, mm."""
        return min(self.reach)


def bearing(flat: FlatPattern, bend: FlatBend) -> Bearing:
    """What the stop finds at a bend."""
    a, b = (np.array(p) for p in bend.line)
    long = np.linalg.norm(b - a)
    along = (b - a) / long
    across = np.array([-along[1], along[0]])
    points = np.array(flat.outline)
    steps = np.roll(points, -1, axis=0) - points
    length = np.linalg.norm(steps, axis=1)
    off = np.degrees(np.arcsin(np.clip(np.abs(steps @ across) / np.where(length > 0, length, 1), 0, 1)))
    away = (points - a) @ across
    half = bend.bend.figures.allowance / 2
    fit = (off <= PARALLEL) & (length >= min(BEARING, long / 2)) & (np.abs(away) > half + 1e-6)
    return Bearing(tuple(sorted(np.abs(away[fit]).tolist())),
                   (float(max(0.0, -away.min())), float(max(0.0, away.max()))))

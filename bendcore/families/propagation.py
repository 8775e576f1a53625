"""What a family may ask of the errors of a bent part, to say how a size across it moves with its bends.

An error is a sum over sources: a vector with a slope for each, whose scale is the source's standard deviation. It is
worked out for one order by :mod:`bendcore.order.accuracy.finished`; a family adds such vectors up and knows nothing of
orders.
"""

import math
from collections.abc import Mapping, Sequence
from typing import Protocol

import numpy as np

from ..sheet.model import Bend, Point
from .legs import Leg
from .outlines import widened


class Propagation(Protocol):
    """The errors of one part bent in one order, mm and degrees."""

    @property
    def nothing(self) -> np.ndarray:
        """No error at all."""
        ...

    def is_made(self, *bends: str) -> bool:
        """Whether these bends are located by a stroke of the order."""
        ...

    def leg(self, leg: Leg, dims: str = "") -> np.ndarray | None:
        """A leg's size under its own ``dims`` or others; None for one that no bend bounds."""
        ...

    def apex(self, bend: Bend) -> np.ndarray:
        """How far the outer apex of a bend moves off its parent face."""
        ...

    def diagonal(self, one: Leg, other: Leg) -> np.ndarray | None:
        """Across an opening whose inner sizes are those of two legs."""
        ...

    def overall(self, legs: list[Leg], turns: list[tuple[str, float]], heading: float, axis: int,
                nominal: float) -> np.ndarray | None:
        """Over all along an ``axis`` (0 or 1) of a chain of legs, measured outside: the first runs at ``heading``
        radians, each next turned by its bend of ``turns`` (+1 to the left, −1); None where that is not ``nominal``."""
        ...


STEP = 1e-4
"""By which an edge is moved to see what moves with it, mm."""


def edge_error(outline: Sequence[Point], at: int, bends: Mapping[int, Bend],
               errors: Propagation) -> np.ndarray | None:
    """How the edge ``at`` of an outline over the outside of the ``bends`` at its edges moves with these: it is as much
    longer as those beside it stand further out. None where one of them is not made, or nothing moves it."""
    found = errors.nothing
    for edge, bend in bends.items():
        if not errors.is_made(bend.id):
            return None
        ends = []
        for way in (STEP, -STEP):
            corners = widened(outline, [way * (i == edge) for i in range(len(outline))])
            ends.append(math.dist(corners[at], corners[(at + 1) % len(corners)]))
        found = found + (ends[0] - ends[1]) / (2 * STEP) * errors.apex(bend)
    return found if found.any() else None

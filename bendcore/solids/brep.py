"""A solid by its boundary: surfaces, the loops that bound them, the edges they share.

This is what is kept of a solid once a kernel has read it; no kernel is needed to work on it. Lengths in mm, angles in
degrees, points and directions as arrays of three.
"""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..errors import Refusal
from ..said import Said

PLANE, CYLINDER, OTHER = "plane", "cylinder", "other"
LINE, CIRCLE, CURVE = "line", "circle", "curve"


@dataclass(frozen=True, eq=False)
class Side:
    """An edge as it runs round a surface, counter-clockwise seen from outside: which ``edge`` of the solid it is, and
    ``points`` along it, (n, 3). Of a circle its ``centre`` and ``radius``."""

    edge: int
    kind: str
    points: np.ndarray
    centre: np.ndarray = field(default_factory=lambda: np.zeros(3))
    radius: float = 0.0

    @property
    def is_closed(self) -> bool:
        """Whether it ends where it begins."""
        return bool(np.linalg.norm(self.points[0] - self.points[-1]) < 1e-7)


@dataclass(frozen=True, eq=False)
class Surface:
    """A surface of a solid. ``axis`` is a plane's normal, outwards, or a cylinder's axis through ``origin``; of a
    cylinder ``radius``, and whether its outside is away from the axis (``is_convex``). ``loops`` begin with the outer
    one."""

    number: int
    kind: str
    origin: np.ndarray
    axis: np.ndarray
    loops: tuple[tuple[Side, ...], ...]
    area: float
    radius: float = 0.0
    is_convex: bool = False

    def sides(self) -> Iterator[Side]:
        """All round all loops."""
        for loop in self.loops:
            yield from loop

    @cached_property
    def middle(self) -> np.ndarray:
        """Of the corners of its outer loop: about where it is."""
        return np.mean([side.points[0] for side in self.loops[0]], axis=0)

    def off(self, point: np.ndarray) -> float:
        """How far a point lies outside a plane, mm."""
        return float((point - self.origin) @ self.axis)


@dataclass(frozen=True, eq=False)
class Solid:
    """A body with its ``surfaces``; ``volume`` in mm³. ``same_as`` is the number of an earlier body of the file that it
    repeats, and itself else."""

    name: str
    surfaces: tuple[Surface, ...]
    volume: float
    same_as: int = 0

    @cached_property
    def beside(self) -> dict[int, list[Surface]]:
        """By edge the surfaces that share it."""
        found: dict[int, list[Surface]] = {}
        for surface in self.surfaces:
            for side in surface.sides():
                found.setdefault(side.edge, []).append(surface)
        return found

    def over(self, surface: Surface, side: Side) -> Surface | None:
        """The surface beyond one of its sides."""
        return next((one for one in self.beside[side.edge] if one is not surface), None)


class Unrecognised(Refusal):
    """A body that is no bent sheet: ``place`` in mm is where, None where it is the whole."""

    def __init__(self, name: str, message: str | Said, place: np.ndarray | None = None):
        super().__init__(name, message)
        self.place = place

"""Loops of a plane as they run: edges end to end, counter-clockwise seen from outside."""

from collections.abc import Sequence

import numpy as np

from ..sheet.model import Point
from .brep import Side, Surface

JOINED = 0.05
"""Edges of a loop that end so near each other go on into one another, mm."""


def end_to_end(loop: Sequence[Side]) -> list[tuple[Side, np.ndarray]]:
    """Every edge of a loop with its points, turned so that each begins where the one before ended."""
    if len(loop) == 1:
        return [(loop[0], loop[0].points)]
    first, second = loop[0].points, loop[1].points
    if _off(first[0], second) < _off(first[-1], second) - 1e-9:
        first = first[::-1]
    found = [(loop[0], first)]
    for side in loop[1:]:
        at, points = found[-1][1][-1], side.points
        back = np.linalg.norm(at - points[-1]) < np.linalg.norm(at - points[0])
        found.append((side, points[::-1] if back else points))
    return found


def _off(point: np.ndarray, run: np.ndarray) -> float:
    """To the nearer end of a run."""
    return float(min(np.linalg.norm(point - run[0]), np.linalg.norm(point - run[-1])))


def outer(plane: Surface) -> list[tuple[Side, np.ndarray]]:
    """The outer loop of a plane with its points, counter-clockwise seen from outside."""
    found = end_to_end(plane.loops[0])
    corners = np.concatenate([points[:-1] for _, points in found])
    about = np.cross(corners - corners[0], np.roll(corners, -1, axis=0) - corners[0]).sum(axis=0)
    return found if float(about @ plane.axis) > 0 else [(side, points[::-1]) for side, points in found[::-1]]


def ring_in(run: Sequence[tuple[Side, np.ndarray]], origin: np.ndarray, x: np.ndarray, y: np.ndarray) -> list[Point]:
    """A loop in the coordinates of a plane, as it runs."""
    points: list[np.ndarray] = []
    for _, own in run:
        points += list(own if not points or np.linalg.norm(points[-1] - own[0]) > JOINED else own[1:])
    if np.linalg.norm(points[0] - points[-1]) < JOINED:
        points.pop()
    return [(float((p - origin) @ x), float((p - origin) @ y)) for p in points]

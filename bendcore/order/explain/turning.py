"""How the sheet is turned between two strokes, as one movement: about an axis through its middle, and along.

The movement is read off the bodies as they lie after one stroke and before the next (least squares; Kabsch 1976, the
rotation by singular values, proper by the sign of its determinant), so that it is what the drawings show.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from .scene import TOOL, Solid

STILL = math.radians(2.0)
"""A sheet turned by less than this is not turned: a bend opens by its springback."""
LIKE = 1e-3
"""Faces differ by no more than this share of their area where they are whole in both."""
ACROSS = np.array([0.0, 1.0, 1.0])
"""What lies along the brake is reckoned from the end of each bend, so that no movement that way can be read off."""


@dataclass(frozen=True)
class Turning:
    """A movement of (n, 3) points: turned about an ``axis`` (a unit vector) through ``centre`` by ``angle`` radians,
    and moved by ``shift``, mm."""

    centre: np.ndarray
    axis: np.ndarray
    angle: float
    shift: np.ndarray

    def at(self, points: np.ndarray, share: float = 1.0) -> np.ndarray:
        """Points a share of the way along, 0 as they lay to 1 as they come to lie (Rodrigues' formula)."""
        turn, away = share * self.angle, points - self.centre
        turned = (away * math.cos(turn) + np.cross(self.axis, away) * math.sin(turn)
                  + np.outer(away @ self.axis, self.axis) * (1 - math.cos(turn)))
        return turned + self.centre + share * self.shift

    def of(self, solids: Sequence[Solid], share: float) -> list[Solid]:
        """Bodies a share of the way along."""
        return [replace(one, faces=tuple(self.at(face, share) for face in one.faces)) for one in solids]


def part_of(solids: Sequence[Solid]) -> list[Solid]:
    """The part without the tools."""
    return [one for one in solids if one.kind != TOOL]


def turning(before: Sequence[Solid], after: Sequence[Solid]) -> Turning | None:
    """How a part goes from where it lies to where it lies then; None where it is not turned.

    Faces are known by their names, each by its largest body; of those that are as large in both at least one is left,
    and its two sides are enough.
    """
    own, then = _largest(before), _largest(after)
    both = [(one, then[name]) for name, one in own.items() if name in then and _alike(one, then[name])]
    if not both:
        return None
    _, rotation, start, end = min((_rigid(*_points(both, way)) for way in (1, -1)), key=lambda row: row[0])
    angle = math.acos(max(-1.0, min(1.0, (np.trace(rotation) - 1) / 2)))
    return None if angle < STILL else Turning(start, _axis(rotation), angle, (end - start) * ACROSS)


def _largest(solids: Sequence[Solid]) -> dict[str, Solid]:
    found: dict[str, Solid] = {}
    for one in part_of(solids):
        if one.name not in found or _size(one) > _size(found[one.name]):
            found[one.name] = one
    return found


def _size(solid: Solid) -> float:
    """The area of its upper side, mm²."""
    ring = solid.faces[0] - solid.faces[0][0]
    return float(np.linalg.norm(np.cross(ring[:-1], ring[1:]).sum(axis=0)) / 2)


def _alike(one: Solid, other: Solid) -> bool:
    return len(one.faces[0]) == len(other.faces[0]) and math.isclose(_size(one), _size(other), rel_tol=LIKE)


def _points(both: Sequence[tuple[Solid, Solid]], way: int) -> tuple[np.ndarray, np.ndarray]:
    """(points, points) of upper and lower sides as they correspond; a scene that is mirrored runs round them the other
    ``way`` (-1)."""
    pairs = [(one.faces[k], other.faces[k][::way]) for one, other in both for k in (0, 1)]
    return np.concatenate([a for a, _ in pairs]), np.concatenate([b for _, b in pairs])


def _rigid(one: np.ndarray, other: np.ndarray) -> tuple[float, np.ndarray, np.ndarray, np.ndarray]:
    """(what is left, mm; rotation (3, 3); middle before; middle after)."""
    start, end = one.mean(axis=0), other.mean(axis=0)
    u, _, vt = np.linalg.svd((one - start).T @ (other - end))
    proper = np.diag([1.0, 1.0, np.sign(np.linalg.det(vt.T @ u.T))])
    rotation = vt.T @ proper @ u.T
    left = (one - start) @ rotation.T - (other - end)
    return float(np.abs(left).max()), rotation, start, end


def _axis(rotation: np.ndarray) -> np.ndarray:
    """Of a rotation (a unit vector): what it leaves where it is, the way it turns counted from it."""
    skew = np.array([rotation[2, 1] - rotation[1, 2], rotation[0, 2] - rotation[2, 0], rotation[1, 0] - rotation[0, 1]])
    if np.linalg.norm(skew) > 1e-6:
        return skew / np.linalg.norm(skew)
    values, vectors = np.linalg.eigh((rotation + rotation.T) / 2)  # half a turn
    return vectors[:, np.argmax(values)]

"""Where the part and the tools stand through a stroke.

Machine coordinates: y = 0 the bend line, z = 0 the die's top. While bent to φ both
legs rise by h = φ/2 and stay tangent to the die's shoulders; their outside apex
lies at −d(φ) (:func:`bendcore.bending.bend.leg_depth`). The punch follows the inside of the
arc; a nose larger than the radius stands on the legs instead, higher by
(nose − r)(1/cos h − 1).
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..bending.bend import BendFigures
from ..brakes.press import Die, PressBrake, Punch


@dataclass(frozen=True)
class Pose:
    """A half's plane in the machine: origin (``y``, ``z``) for the rear half, risen by ``h``."""

    y: float
    z: float
    h: float

    def place(self, outline: np.ndarray, side: int) -> np.ndarray:
        """Points (s, n) of a half → machine (y, z); ``side`` +1 rear, −1 front."""
        s, n = outline[:, 0], outline[:, 1]
        c, d = math.cos(self.h), math.sin(self.h)
        return np.column_stack([side * (self.y + s * c - n * d), self.z + s * d + n * c])

    def matrix_into_half(self, side: int) -> list[float]:
        """Affine matrix [a, b, d, e, dx, dy] bringing machine points into the half's plane."""
        c, d = math.cos(self.h), math.sin(self.h)
        return [side * c, d, -side * d, c, -self.y * c - self.z * d, self.y * d - self.z * c]


@dataclass(frozen=True)
class Stroke:
    """One bend under one die (or none: heights then count from the legs' apex, which
    is all that what hangs from the ram depends on)."""

    figures: BendFigures
    nose: float = 0.0
    die: Die | None = None

    def path(self, angles: ArrayLike) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """(y, z, h) of the rear half and height of the punch tip, for an array of angles."""
        f, t = self.figures, self.figures.thickness
        angle = np.maximum(np.asarray(angles, float), 1e-7)
        h = np.radians(angle) / 2
        radius = np.maximum(f.allowance / (2 * h) - f.k * t, 0.0)
        c, s = np.cos(h), np.sin(h)
        sink = 0.0
        if self.die:
            sink = np.tan(h) * self.die.v / 2 + self.die.shoulder_radius * (1 - 1 / c)
        setback, spread = (radius + t) * np.tan(h), 1 / c - 1
        tip = t + (radius + t) * spread - sink + np.maximum(0.0, self.nose - radius) * spread
        return setback * c - t * s, setback * s + t * c - sink, h, tip

    def pose(self, angle: float) -> Pose:
        """Where the halves stand with the bend at this angle, degrees."""
        y, z, h, _ = self.path(angle)
        return Pose(float(y), float(z), float(h))

    def punch_tip(self, angle: float) -> float:
        """Height of the punch tip over the die's top."""
        return float(self.path(angle)[3])


def shifted(section: ArrayLike, dy: float = 0.0, dz: float = 0.0) -> np.ndarray:
    """A section moved, mm."""
    return np.asarray(section, float) + (dy, dz)


def ram_over(punch: Punch, ram_section: ArrayLike) -> np.ndarray:
    """The ram's section where it sits on a punch whose tip is at (0, 0)."""
    return shifted(ram_section, dz=max(z for _, z in punch.section))


def table_under(die: Die, table_section: ArrayLike) -> np.ndarray:
    """The table's section where it carries a die whose top is at (0, 0)."""
    return shifted(table_section, dz=min(z for _, z in die.section))


def daylight(brake: PressBrake, punch: Punch | None, die: Die) -> float:
    """Punch tip to die top with the ram up (0 when the tools fill the opening).

    Without a punch: between flattening bars, the upper one as tall as the lower.
    """
    top = max(z for _, z in punch.section) if punch else -min(z for _, z in die.section)
    return max(0.0, brake.open_height - top + min(z for _, z in die.section))

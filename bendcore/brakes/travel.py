"""Where part and punch stand through a stroke over a V.

Machine coordinates: y = 0 the bend line, z = 0 the die's top. While bent to φ both halves rise by h = φ/2 and stay
tangent to the die's shoulders; their outside apex lies at −d(φ) (:func:`bendcore.bending.bend.leg_depth`). The punch
follows the inside of the arc; a nose larger than the radius stands on the legs instead, higher by
(nose − r)(1/cos h − 1).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ..bending.bend import BendFigures
from .press import Die, PressBrake, Punch


@dataclass(frozen=True)
class Tools:
    """What is mounted. A flattener needs no punch of its own."""

    punch: Punch | None
    die: Die

    @property
    def key(self) -> tuple[str | None, str]:
        """The pair by name."""
        return (self.punch.name if self.punch else None, self.die.name)


@dataclass(frozen=True)
class Travel:
    """How part and punch go through a stroke of one bend, over a die or none: heights then count from the legs'
    apex, which is all that what hangs from the ram depends on."""

    figures: BendFigures
    nose: float = 0.0
    die: Die | None = None

    def path(self, angles: ArrayLike) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """(y, z, h) of a half and the height of the punch tip, for an array of angles."""
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

    def at(self, angle: float) -> tuple[float, float, float, float]:
        """:meth:`path` at one angle."""
        y, z, h, tip = self.path(angle)
        return float(y), float(z), float(h), float(tip)


def daylight(brake: PressBrake, punch: Punch | None, die: Die) -> float:
    """Punch tip to die top with the ram up (0 when the tools fill the opening).

    Without a punch: between flattening bars, the upper one as tall as the lower.
    """
    top = max(z for _, z in punch.section) if punch else -min(z for _, z in die.section)
    return max(0.0, brake.open_height - top + min(z for _, z in die.section))

"""A caliper and a protractor with errors of their own.

Behind :class:`Instrument` a real one would stand: it reads a true size as it would show it. The one real way in is a
device that types its reading and presses Enter; pages take that as typed by hand.
"""

from dataclasses import dataclass
from typing import Protocol

import numpy as np


class Instrument(Protocol):
    """What measures: mm or degrees."""

    def read(self, true: float) -> float:
        """What it shows for a size that is ``true``."""


@dataclass
class Off:
    """An instrument off by ``offset`` all its life, and by ``spread`` each time; it shows whole ``steps``."""

    rng: np.random.Generator
    spread: float
    step: float
    offset: float = 0.0

    def read(self, true: float) -> float:
        """What it shows."""
        return round((true + self.offset + self.rng.normal(0, self.spread)) / self.step) * self.step


def caliper(rng: np.random.Generator) -> Off:
    """Reads to 0.01 mm, spreads by 0.03."""
    return Off(rng, 0.03, 0.01)


def protractor(rng: np.random.Generator) -> Off:
    """Reads to 0.1°, spreads by 0.1."""
    return Off(rng, 0.1, 0.1)

"""What a supplier's piece says of its bending: the K it was made by, from its legs.

The blank's length stands, so what all legs together are longer than drawn is what the bends took less: with deductions
2·OSSB − θ(r + K·t), ΔK = −Σ(measured − drawn) / (t·Σθ) over legs measured outside (*derived* from the handbook's one
bend; the angles taken as bent).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..part import Part


@dataclass(frozen=True)
class Learnt:
    """Of several pieces: how many, the mean K with its standard deviation (None of one), and the mean error of what was
    measured, mm."""

    pieces: int
    k: float | None
    spread: float | None
    off: float


def k_made(part: Part, measured: Mapping[str, float]) -> float | None:
    """The K that a strip was bent by, from its legs as ``measured`` (mm, by their names); None where not every leg was,
    or the part is no strip without hems."""
    legs, bends = part.shape.legs, part.shape.bends
    if not part.shape.is_strip or part.shape.hems or not bends or any(leg.id not in measured for leg in legs):
        return None
    longer = sum(measured[leg.id] - leg.size for leg in legs)
    turned = sum(math.radians(bend.figures.angle) for bend in bends)
    ks = [bend.figures.k for bend in bends]
    return float(np.mean(ks)) - longer / (part.stock.thickness * turned)


def learnt(ks: list[float | None], errors: list[float]) -> Learnt:
    """What the pieces of one stock say together."""
    known = [k for k in ks if k is not None]
    return Learnt(len(ks), float(np.mean(known)) if known else None,
                  float(np.std(known, ddof=1)) if len(known) > 1 else None, float(np.mean(errors)) if errors else 0.0)

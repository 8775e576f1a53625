"""What a hand brake gives with a part's stock, and what of the part it will not do: as the dies of a press are told."""

import math
from dataclasses import dataclass

from ..bending.radius import BAR, NOSE, Prediction, predict_nose
from ..part import Part
from ..said import Said
from .bench import BenchBrake
from .leaf import LeafBrake
from .on_leaf import OnLeaf
from .setting import Stroke


@dataclass(frozen=True)
class HandFit:
    """``radius`` it bends to; how thick this metal may be at the ``longest`` bend of the part (``bears``, None where no
    plate says), mm; the part's ``sharpest`` bend with its springback, degrees; ``against`` says why it will not do."""

    radius: Prediction
    longest: float
    bears: float | None
    sharpest: float
    against: tuple[str | Said, ...]


def hand_fit(part: Part, brake: LeafBrake | BenchBrake) -> HandFit:
    """A hand brake for a part, bend by bend; each reason once. The radius is that of the nose with what lies over it,
    where the part names one."""
    on, stock = OnLeaf(brake), part.stock
    tensile, longest, sharpest, against = stock.material.tensile_mpa, 0.0, 0.0, {}
    for flat in part.flat.bends:
        bend, long = flat.bend, math.dist(*flat.line)
        angle = min(bend.angle, on.crease(stock.springback)) if bend.is_hem else bend.angle
        stroke = Stroke(bend.figures, angle, angle + stock.overbend(angle), long, is_hem=bend.is_hem, tensile=tensile)
        longest, sharpest = max(longest, long), max(sharpest, stroke.bend_to)
        against |= {str(reason.message): reason.message for reason in on.reasons(stroke, 0)}
    bears = brake.rated.bears(longest, tensile) if isinstance(brake, LeafBrake) else None
    radius = part.predicted or predict_nose(brake.nose_radius, way=BAR if on.bench else NOSE)
    return HandFit(radius, longest, bears, sharpest, tuple(against.values()))

"""The finished dimensions of a part, their tolerances, and verdicts.

Where the drawing is silent the tolerances are those of :mod:`bendcore.tolerance`.
"""

from dataclasses import dataclass
from itertools import zip_longest

import numpy as np

from ..part import Part
from ..tolerance import ANGLE_TOLERANCE

GOOD, OUT = "good", "out"
TRIED = "tried"
"""The unit of what is tried and not measured: 1 as it should be, 0 not."""


@dataclass(frozen=True)
class Dimension:
    """``unit`` is ``mm``, ``°`` or :data:`TRIED`; ``tolerance`` holds either way. ``name`` is unique."""

    name: str
    title: str
    nominal: float
    tolerance: float
    unit: str = "mm"

    def verdict(self, measured: float) -> str:
        """Whether a measured value is within the tolerance."""
        return GOOD if abs(measured - self.nominal) <= self.tolerance + 1e-9 else OUT


@dataclass(frozen=True)
class CheckRow:
    """A dimension of a finished piece, and what was measured of it: mm or degrees. ``others`` were measured elsewhere
    along the bend: a leg at its other end, an angle at either end, ``measured`` in the middle."""

    dimension: Dimension
    measured: float
    others: tuple[float, ...] = ()

    @property
    def verdict(self) -> str:
        """Whether it is within the tolerance wherever it was measured."""
        found = {self.dimension.verdict(size) for size in (self.measured, *self.others)}
        return OUT if OUT in found else GOOD

    def written(self) -> dict:
        """The row as a check sheet keeps it, its verdict with it."""
        others = {"others": list(self.others)} if self.others else {}
        return vars(self.dimension) | {"measured": self.measured, "verdict": self.verdict} | others

    @classmethod
    def read(cls, data: dict) -> "CheckRow":
        """The row that was kept so."""
        return cls(Dimension(data["name"], data["title"], data["nominal"], data["tolerance"], data["unit"]),
                   data["measured"], tuple(data.get("others", ())))


def dimensions(part: Part) -> list[Dimension]:
    """Legs, hems and angles in strip order, then width and overall sizes of the section."""
    def length(name, title, nominal):
        return Dimension(name, title, nominal, part.tolerance(nominal))

    shape = part.shape
    words = {"outside": "outside", "inside": "inside", "flat": "flat, tangent to tangent"}
    legs = [length(leg.id, f"{shape.called(leg.id)}, {words[leg.dims]}", leg.size) for leg in shape.legs]
    angles = [Dimension(shape.angle_row(b.id), f"{shape.called(b.id)}, angle", b.figures.angle, ANGLE_TOLERANCE, "°")
              for b in shape.bends]
    hems = [length(hem.id, f"{shape.called(hem.id)}, over the fold", hem.length) for hem in shape.hems]
    if not shape.is_strip:
        return [*legs, *angles, *hems, *(length(name, title, size) for name, title, size in shape.openings())]
    rows = [row for pair in zip_longest(legs, angles) for row in pair if row]
    rows += [*hems, length("width", "Width along the bends", shape.width)]
    if shape.all_bends:
        across, up = overall(part)
        lies = shape.called(part.strip.lies_on)
        rows += [length("across", f"Overall across, along {lies}", across),
                 length("high", f"Overall height, square to {lies}", up)]
    return rows


def overall(part: Part) -> tuple[float, float]:
    """Size of the folded section along and square to the leg it lies on, in mm."""
    strip = part.strip
    pieces = strip.whole([b.figures.angle for b in strip.bends])
    points = np.concatenate([p.outline for p in pieces])
    first = next(p for p in pieces if p.id == strip.lies_on).outline
    along = (first[1] - first[0]) / np.linalg.norm(first[1] - first[0])
    square = np.array([-along[1], along[0]])
    spans = [np.ptp(points @ axis) for axis in (along, square)]
    return float(spans[0]), float(spans[1])

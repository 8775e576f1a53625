"""Bench bars or folding tongs, from a ``dorvan-brake`` file of kind bench.

The sheet is clamped between a bar above and a backing below and beaten over the bar's edge, whose foremost point lies
at (0, 0) on the sheet's top face. The backing is drawn for a sheet of no thickness and stands the thickness lower.
"""

from dataclasses import dataclass, field

from .accuracy import Accuracy, read_accuracy
from .costs import Costs
from .section import TINY, Reader, Section


@dataclass(frozen=True)
class BenchBrake:
    """Two bars and a hammer; lengths mm. ``clamp_depth`` is how deep the clamped side may reach behind the bar's
    front; ``opening`` None is without limit."""

    name: str
    units: str
    length: float
    edge_radius: float
    clamp_depth: float
    bar_section: Section
    backing_section: Section
    min_hold: float = 0.0
    min_flange: float = 0.0
    opening: float | None = None
    costs: Costs = field(default_factory=Costs)
    accuracy: Accuracy = Accuracy()

    kind = "bench"

    @property
    def nose_radius(self) -> float:
        """What the sheet is bent round, mm."""
        return self.edge_radius


def read_bench(data: dict) -> BenchBrake:
    """Bench bars from the file's data; refusals name the field."""
    reader = Reader(data, "bench")
    return BenchBrake(
        data["name"], data["units"], reader.named("length"), reader.named("edge_radius", strict=False),
        reader.named("clamp_depth"),
        reader.placed("bar_section", lambda y, z: z >= -TINY and y >= -TINY,
                      "must lie at y ≥ 0 and z ≥ 0: its foremost point is (0, 0), on the sheet"),
        reader.placed("backing_section", lambda y, z: z <= TINY, "must lie at z ≤ 0, below the sheet"),
        reader.optional("min_hold") or 0.0, reader.optional("min_flange") or 0.0, reader.optional("opening"),
        Costs(**data.get("costs", {})), read_accuracy(data, reader.length))

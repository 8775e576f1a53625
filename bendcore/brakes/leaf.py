"""A leaf or finger brake, from a ``dorvan-brake`` file of kind leaf.

The clamp beam carries fingers, or is solid; the nose's foremost point lies at (0, 0) on the sheet's top face. Bed and
leaf are drawn for a sheet of no thickness and stand the thickness lower; the leaf swings about the pivot.
"""

from dataclasses import dataclass, field
from functools import cached_property

from shapely import Point, Polygon

from ..bending.rating import Rating
from ..errors import Refusal
from ..stock import material
from .accuracy import Accuracy, read_accuracy
from .costs import Costs
from .section import TINY, Reader, Section

MOST_FINGERS = 200


@dataclass(frozen=True)
class LeafBrake:
    """A brake that clamps one side under fingers or a solid nose and swings the other up; lengths mm. ``fingers`` are
    the widths owned, one entry each; none for a solid beam. ``opening`` None is without limit."""

    name: str
    units: str
    length: float
    rated: Rating
    max_angle: float
    nose_radius: float
    fingers: tuple[float, ...]
    finger_section: Section
    beam_section: Section
    bed_section: Section
    leaf_section: Section
    pivot: tuple[float, float] = (0.0, 0.0)
    min_hold: float = 0.0
    min_flange: float = 0.0
    opening: float | None = None
    costs: Costs = field(default_factory=Costs)
    accuracy: Accuracy = Accuracy()

    kind = "leaf"

    @cached_property
    def finger_height(self) -> float:
        """How high a wall may stand beside the fingers, under the beam, mm."""
        beam = min(z for _, z in self.beam_section)
        return max(beam, 0.0)


def read_leaf(data: dict) -> LeafBrake:
    """A leaf brake from the file's data; refusals name the field."""
    reader = Reader(data, "leaf")
    rated = data["rated"]
    fingers: list[float] = []
    for i, row in enumerate(data["fingers"]):
        width = reader.length(row["width"], f"fingers[{i}].width")
        fingers += [width] * row["count"]
        if len(fingers) > MOST_FINGERS:
            raise Refusal(f"fingers[{i}].count", f"makes more than {MOST_FINGERS} fingers")
    bed = reader.placed("bed_section", lambda y, z: z <= TINY, "must lie at z ≤ 0, below the sheet")
    pivot = tuple(reader.length(v, f"pivot[{i}]", -1e9) for i, v in enumerate(data.get("pivot", (0, 0))))
    if Polygon(bed).buffer(-0.05).contains(Point(pivot)):
        raise Refusal("pivot", "lies inside the bed: the leaf could not swing about it")
    return LeafBrake(
        data["name"], data["units"], reader.named("length"),
        Rating(reader.length(rated["thickness"], "rated.thickness"), _tensile(rated["material"]),
               _shorter(reader, rated.get("shorter"))),
        float(data["max_angle"]), reader.named("nose_radius", strict=False), tuple(sorted(fingers, reverse=True)),
        reader.placed("finger_section", lambda y, z: z >= -TINY and y >= -TINY,
                      "must lie at y ≥ 0 and z ≥ 0: its foremost point is (0, 0), on the sheet"),
        reader.placed("beam_section", lambda y, z: z >= -TINY, "must lie at z ≥ 0, above the sheet"), bed,
        reader.placed("leaf_section", lambda y, z: z <= TINY and y <= TINY,
                      "must lie at y ≤ 0 and z ≤ 0, in front of the nose and below the sheet"),
        pivot, reader.optional("min_hold") or 0.0, reader.optional("min_flange") or 0.0, reader.optional("opening"),
        Costs(**data.get("costs", {})), read_accuracy(data, reader.length))


def _shorter(reader: Reader, block: dict | None) -> tuple[float, float] | None:
    return block and (reader.length(block["length"], "rated.shorter.length"),
                      reader.length(block["thickness"], "rated.shorter.thickness"))


def _tensile(name: str) -> float:
    try:
        return material(name).tensile_mpa
    except Refusal as refusal:
        raise Refusal("rated.material", refusal.message) from None

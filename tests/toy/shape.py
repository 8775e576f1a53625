"""A corner bracket: a base with a flange on its right and one at its back, open at the corner between them."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from bendcore.bending.bend import APEX
from bendcore.families.common import Given, make_leg, read_bend, rectangle
from bendcore.families.declared import angle, kind
from bendcore.families.joint import WELD, Joint
from bendcore.families.legs import OUTSIDE, Leg, Run, ShapeBend
from bendcore.families.propagation import Propagation
from bendcore.families.shape import Resize, Shape
from bendcore.fields import Choice, Length
from bendcore.sheet.model import Bend, Face, Sheet

FIELDS = kind("toy-bracket", {
    "length": Length("length", needed=True, over=0, grows=True),
    "width": Length("width", needed=True, over=0, grows=True),
    "height": Length("height", label="Height of the flanges", needed=True, over=0, grows=True), "angle": angle(),
    "hand": Choice("hand", ("right", "left"), default="right")})
SIDES = ("side", "back")


@dataclass(frozen=True)
class Bracket(Shape):
    """A bracket, read."""

    thickness: float
    base: tuple[Leg, Leg]
    walls: tuple[Leg, Leg]
    bends: tuple[ShapeBend, ShapeBend]
    is_left: bool

    kind = "toy-bracket"
    fields = FIELDS
    convention = APEX
    dims = OUTSIDE

    @property
    def legs(self) -> tuple[Leg, ...]:
        return (*self.base, *self.walls)

    @property
    def longest_bend(self) -> float:
        return max(leg.flat for leg in self.base)

    @property
    def runs(self) -> tuple[Run, ...]:
        return tuple(Run(leg.id, (leg.id, wall.id), (bend.id,))
                     for leg, wall, bend in zip(self.base, self.walls, self.bends, strict=True))

    def _sheet(self) -> Sheet:
        (long, wide), high = (leg.flat for leg in self.base), self.walls[0].flat
        near = ((0.0, wide), (0.0, 0.0)) if self.is_left else ((long, 0.0), (long, wide))
        edges = {"side": (near, wide), "back": (((long, wide), (0.0, wide)), long)}
        faces = [Face("base", rectangle(long, wide))] + [Face(side, rectangle(high, edges[side][1])) for side in SIDES]
        bends = [Bend(side, "base", side, edges[side][0], ((0.0, 0.0), (0.0, edges[side][1])), bend.direction,
                      bend.figures) for side, bend in zip(SIDES, self.bends, strict=True)]
        return Sheet(self.thickness, "base", tuple(faces), tuple(bends))

    def place(self, name: str) -> str:
        return "height" if name in SIDES else "length"

    def _called(self, name: str) -> str:
        return {"side": "Flange at the side", "back": "Flange at the back"}.get(name, name.capitalize())

    def openings(self) -> list[tuple[str, str, float]]:
        return [("over", "Length, once more", self.base[0].size)]

    def size_error(self, name: str, errors: Propagation):
        return errors.leg(self.base[0])

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        yield Joint("corner:1", "corner of the flanges", self.walls[0].outside, WELD)

    def resized(self) -> Iterator[Resize]:
        yield Resize(self.walls[:1], (("height",),), "Make the flanges {size} high")


def read_bracket(shape: dict, given: Given) -> Bracket:
    """From the part file's ``shape``."""
    bends = tuple(read_bend(side, {"angle": shape.get("angle", 90)}, "up", "angle", given) for side in SIDES)
    base = tuple(make_leg(key, FIELDS.mm(shape, key, "", given.length), OUTSIDE, (None, bend), key)
                 for key, bend in zip(("length", "width"), bends, strict=True))
    height = FIELDS.mm(shape, "height", "", given.length)
    walls = tuple(make_leg(side, height, OUTSIDE, (bend, None), "height")
                  for side, bend in zip(SIDES, bends, strict=True))
    return Bracket(given.thickness, base, walls, bends, shape.get("hand") == "left")

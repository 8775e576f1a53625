"""A size as it is taken at a machine, and a kind of machine or tool made of a handful of them.

Sections are outlines (y, z) in mm, y to the back, z up, about the origin that the brake file gives them. What a kind
makes is a piece of a brake file in mm; :class:`~bendcore.said.Mm` marks its lengths, so that they can be written in the
file's own units.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

Point = tuple[float, float]
Outline = list[Point]
Sizes = Mapping[str, float]
"""A value for every size of a kind: mm, degrees or kN."""


class Unit(StrEnum):
    """What a size is read in: a length, an angle between two faces, how far something is bent or swings, a force."""

    LENGTH = "length"
    ANGLE = "angle"
    BEND = "bend"
    FORCE = "force"


@dataclass(frozen=True)
class Measure:
    """One size: what it is called, its value on a common machine, its limits, and where to ``hold`` the tape, caliper
    or protractor."""

    name: str
    title: str
    start: float
    least: float
    most: float
    hold: str
    unit: Unit = Unit.LENGTH


@dataclass(frozen=True)
class Span:
    """Where a size is drawn: from one point of the picture to the other; a radius or an angle points at one."""

    start: Point
    end: Point

    @property
    def middle(self) -> Point:
        """Half way between, mm."""
        return (self.start[0] + self.end[0]) / 2, (self.start[1] + self.end[1]) / 2


@dataclass(frozen=True)
class Rule:
    """What must hold between a size and ``others`` for the section to be one; said at ``field``."""

    field: str
    others: tuple[str, ...]
    holds: Callable[[Sizes], bool]
    words: str

    @property
    def about(self) -> tuple[str, ...]:
        """All the sizes that it is about."""
        return (self.field, *self.others)


def beyond(field: str, other: str, words: str) -> Rule:
    """A size that is more than another."""
    return Rule(field, (other,), lambda s: s[field] > s[other], words)


@dataclass(frozen=True)
class Kind:
    """A kind of brake, or of tool: ``rack`` is the list of the brake file that a tool belongs to, empty for a brake.

    ``made`` gives the piece of the brake file, ``picture`` the outlines as they stand together, ``spans`` where in
    that picture the sizes lie; those it leaves out have no place in a section.
    """

    name: str
    title: str
    said: str
    measures: tuple[Measure, ...]
    rules: tuple[Rule, ...]
    made: Callable[[Sizes], dict]
    picture: Callable[[Sizes], dict[str, Outline]]
    spans: Callable[[Sizes], dict[str, Span]]
    rack: str = ""

    def broken(self, sizes: Sizes) -> list[Rule]:
        """The rules that these sizes break."""
        return [rule for rule in self.rules if not rule.holds(sizes)]

    def measure(self, name: str) -> Measure | None:
        """The size called so; None where this kind has none."""
        return next((one for one in self.measures if one.name == name), None)


def picture_of(made: Callable[[Sizes], dict]) -> Callable[[Sizes], dict[str, Outline]]:
    """The sections that a kind makes, each about its own origin."""
    def picture(sizes: Sizes) -> dict[str, Outline]:
        return {key: value for key, value in made(sizes).items() if key == "section" or key.endswith("_section")}
    return picture

"""States and moves.

A state is how far each bend of the strip has come: 0 flat, 1 creased (a hem on its
way), 2 made. A move takes one bend one stage further, with one end of the strip
held towards the stop, under one pair of tools. Levels are tuples in strip order.
"""

from dataclasses import dataclass
from functools import cached_property

from ..brakes.choice import usual_opening
from ..brakes.press import Die, PressBrake, Punch
from ..part import Part
from ..sheet.section import END, START, Strip, StripBend

FLAT, CREASED, MADE = 0, 1, 2
Levels = tuple[int, ...]

HEM_CREASE = 135.0
"""A hem is first bent this far where the tools are sharp enough …"""
LEAST_CREASE = 120.0
"""… and never less than this, or it cannot be flattened."""


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
class Move:
    """Bend ``bend`` (by index) brought to level ``to``, the end ``held`` towards the stop, under these tools."""

    bend: int
    to: int
    held: str
    tools: Tools


@dataclass(frozen=True)
class Job:
    """One strip on one brake: everything the search looks at."""

    strip: Strip
    brake: PressBrake
    part: Part
    crease: float

    @classmethod
    def of(cls, part: Part, brake: PressBrake) -> "Job":
        """The part's strip on this brake; refuses a part that is none."""
        return cls(part.strip, brake, part, _crease(part, brake))

    @property
    def flat(self) -> Levels:
        """Nothing bent yet."""
        return (FLAT,) * len(self.strip.bends)

    @property
    def made(self) -> Levels:
        """All bent."""
        return (MADE,) * len(self.strip.bends)

    def stages(self, bend: StripBend) -> tuple[int, ...]:
        """The levels a bend passes through: a hem is creased, then closed."""
        return (CREASED, MADE) if bend.is_hem else (MADE,)

    def next_stage(self, levels: Levels, i: int) -> int | None:
        """The level a bend comes to next; None when it is made."""
        return next((s for s in self.stages(self.strip.bends[i]) if s > levels[i]), None)

    def progress(self, levels: Levels) -> int:
        """Strokes made so far."""
        return sum(sum(1 for s in self.stages(b) if s <= level)
                   for b, level in zip(self.strip.bends, levels, strict=True))

    def angle(self, i: int, level: int) -> float:
        """The angle of bend ``i`` at this level, degrees."""
        return (0.0, self.crease, self.strip.bends[i].figures.angle)[level]

    def angles(self, levels: Levels) -> list[float]:
        """The angle of every bend, degrees."""
        return [self.angle(i, level) for i, level in enumerate(levels)]

    def overbent(self, angle: float) -> float:
        """The angle with the springback, degrees."""
        return angle + self.part.stock.overbend(angle)

    @cached_property
    def mounts(self) -> tuple[Tools, ...]:
        """Everything that can be mounted; masks of tools count bits in this order."""
        return self.pairs + self.flatteners

    @cached_property
    def mass_kg(self) -> float:
        """The part's mass."""
        return self.part.mass_kg

    @cached_property
    def pairs(self) -> tuple[Tools, ...]:
        """Every pair for bending, narrow dies nearest the usual opening first."""
        usual = usual_opening(self.strip.thickness)
        dies = sorted((d for d in self.brake.dies if d.kind == "v"), key=lambda d: abs(d.v - usual))
        return tuple(Tools(p, d) for d in dies for p in self.brake.punches)

    @cached_property
    def flatteners(self) -> tuple[Tools, ...]:
        """Every die that closes hems."""
        return tuple(Tools(None, d) for d in self.brake.dies if d.kind == "flatten")

    def tools_for(self, i: int, to: int) -> tuple[Tools, ...]:
        """Everything that could make this stroke."""
        closing = self.strip.bends[i].is_hem and to == MADE
        return self.flatteners if closing else self.pairs


def other(end: str) -> str:
    """The other end."""
    return END if end == START else START


def advanced(levels: Levels, i: int, to: int) -> Levels:
    """The levels with bend ``i`` brought to ``to``."""
    return (*levels[:i], to, *levels[i + 1:])


def _crease(part: Part, brake: PressBrake) -> float:
    """How far a hem is creased: as far as the sharpest pair goes, at most 135°."""
    pairs = [max(p.angle, d.angle) for p in brake.punches for d in brake.dies if d.kind == "v"]
    if not pairs:
        return LEAST_CREASE
    reach = (180 - min(pairs)) / (1 + part.stock.springback / 90)
    return max(LEAST_CREASE, min(HEM_CREASE, reach))

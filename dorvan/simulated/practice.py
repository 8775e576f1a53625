"""Practice: set a simulated brake, bend, measure, correct, and see what was hidden.

A practice is a few numbers in the session: which part, a seed, and what was set for each piece. All else follows from
them, so that nothing is stored of it.
"""

from dataclasses import dataclass, field, replace

import numpy as np

from bendcore.floor.corrections import next_settings
from bendcore.floor.ties import Settings
from bendcore.quality.checksheet import Dimension

from .brakes import Hidden, Made, Simulated, drawn
from .lessons import LESSONS, Lesson, Work
from .setter import Setter

MOST_PIECES = 30
ANGLE_GOAL = 0.5
LEG_GOAL = {"press": 0.2, "leaf": 0.4, "bench": 0.4}
"""A leg is close enough within so many mm, by kind of brake."""


@dataclass
class Practice:
    """``lesson`` by its slug, empty for a ticket's part; ``seed`` of its secrets; by piece what was ``set``, and
    whether it was jogged."""

    work: Work
    lesson: str
    seed: int
    set: list[dict] = field(default_factory=list)

    def __post_init__(self):
        self.ties = self.work.ties

    @property
    def about(self) -> Lesson | None:
        """The lesson, where it is one."""
        return LESSONS.get(self.lesson)

    @property
    def hidden(self) -> Hidden:
        """What is hidden in it."""
        known = dict(self.about.hidden) if self.about else {}
        return drawn(np.random.default_rng(self.seed), **known)

    def setter(self) -> Setter:
        """Somebody at this brake, anew."""
        rng = np.random.default_rng(self.seed + 1)
        return Setter(Simulated(self.work.part, self.work.steps, self.work.brake, self.hidden, rng), self.ties)

    def settings(self, n: int) -> Settings:
        """What was set for a piece, by number from 0."""
        row = self.set[n]
        return Settings(dict(row["further"]), {int(step): mm for step, mm in row["back"].items()})

    def played(self) -> tuple[Setter, list[tuple[Made, dict[str, float]]]]:
        """(who knows what was read, the pieces made with how far each dimension was read off its nominal)."""
        setter, found = self.setter(), []
        for n, row in enumerate(self.set):
            self._drift(setter, n)
            settings = self.settings(n)
            told = {step: replace(one, jogged=row.get("jogged", False)) for step, one in setter.told(settings).items()}
            made = setter.brake.piece(told)
            found.append((made, dict(setter.measure(made, settings).measured)))
        return setter, found

    def _drift(self, setter, n) -> None:
        drifts = self.about.drifts if self.about else 0.0
        setter.brake.hidden = replace(self.hidden, springback=self.hidden.springback + drifts * n)

    def goal(self, one: Dimension) -> float:
        """How close is close enough."""
        return LEG_GOAL[self.work.brake.kind] if one.unit == "mm" else ANGLE_GOAL

    @property
    def asked(self) -> list[str]:
        """What is to come right: every angle and every leg that is set."""
        legs = set(self.ties.gauged.values())
        return [name for name, one in self.ties.dimensions.items() if name in legs or one.unit != "mm"]

    @property
    def true_k(self) -> float:
        """The K that the metal really has."""
        return self.work.part.sheet.bends[0].figures.k + self.hidden.k

    def is_right(self, true: dict[str, float]) -> bool:
        """Whether a piece really is as it should be."""
        return all(abs(true[name]) <= self.goal(self.ties.dimensions[name]) for name in self.asked if name in true)

    def by_a_setter(self) -> tuple[int, list[Settings]]:
        """How many pieces somebody takes who corrects by all readings, at the same brake; what was set for each."""
        setter, sets = self.setter(), []
        for n in range(MOST_PIECES):
            self._drift(setter, n)
            made, settings = setter.make()
            sets.append(settings)
            if self.is_right(setter.dimensions(made)):
                return n + 1, sets
            setter.measure(made, settings)
        return MOST_PIECES, sets

    def suggested(self, setter: Setter) -> Settings:
        """What would be set next, by the readings so far."""
        return next_settings(self.ties, setter.known)

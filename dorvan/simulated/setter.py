"""What a setter does: sets the brake as told, measures the piece, corrects, makes the next.

The batches of ``make bench`` and the lessons of practice run through it. The setter knows what the shop knows, and
never what is hidden.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from bendcore.bending.bend import punch_travel, travel_per_degree
from bendcore.brakes.press import die_named
from bendcore.floor.corrections import Estimate, Instruments, next_settings
from bendcore.floor.ties import Bent, Settings, Ties

from .brakes import Made, Simulated, Told
from .instruments import caliper, protractor


@dataclass
class Setter:
    """At a simulated brake, with instruments; what is ``known`` grows with every piece measured."""

    brake: Simulated
    ties: Ties
    known: Estimate = field(default_factory=Estimate)
    instruments: Instruments = field(default_factory=Instruments)

    def __post_init__(self):
        self.known = self.known.over(self.ties.lasting)
        self.caliper, self.protractor = caliper(self.brake.rng), protractor(self.brake.rng)

    def make(self, settings: Settings | None = None) -> tuple[Made, Settings]:
        """A piece under these settings, or under what is known to be best."""
        settings = settings or next_settings(self.ties, self.known)
        return self.brake.piece(self.told(settings)), settings

    def told(self, settings: Settings) -> Mapping[int, Told]:
        """What the machine is told for these settings, by step."""
        found = {}
        for n, step in enumerate(self.brake.steps):
            further, back = settings.further.get(step.bends[0], 0.0), settings.back.get(n, 0.0)
            die = die_named(self.brake.brake, step.tools.die)
            if die is None or die.kind != "v":
                found[n] = Told(swing=step.bend_to + further, back=back)
                continue
            f = self.brake.part.sheet.bend[step.bends[0]].figures
            over = (f.inside_radius, f.thickness, die.v, die.shoulder_radius)
            found[n] = Told(deep=punch_travel(step.bend_to, *over) + further * travel_per_degree(step.bend_to, *over),
                            back=back)
        return found

    def measure(self, piece: Made, settings: Settings, only: tuple[str, ...] = ()) -> Bent:
        """Reads every dimension, or ``only`` some, at one place of each; and learns from it."""
        found = {}
        for name, true in self.dimensions(piece).items():
            if not only or name in only:
                one = self.ties.dimensions[name]
                instrument = self.caliper if one.unit == "mm" else self.protractor
                found[name] = instrument.read(true + one.nominal) - one.nominal
        bent = Bent(settings, found)
        self.known = self.known.after(self.ties, bent, self.instruments)
        return bent

    def dimensions(self, piece: Made) -> dict[str, float]:
        """How far each finished dimension really is off its nominal: the middle of a leg, the mean of an angle."""
        found = {}
        for leg in self.ties.part.shape.legs:
            if leg.id in piece.legs and leg.id in self.ties.dimensions:
                found[leg.id] = float(np.mean(piece.legs[leg.id])) - leg.outside
        for bend, angle in piece.angles.items():
            name = self.ties.angle_of(bend)
            if name:
                found[name] = float(np.mean(angle)) - self.ties.dimensions[name].nominal
        return found

    def on(self, brake: Simulated, ties: Ties) -> "Setter":
        """The same person at the next part, knowing what was learnt."""
        return replace(self, brake=brake, ties=ties)

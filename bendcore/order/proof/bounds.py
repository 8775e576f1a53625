"""How often the stop must still move at least: what the horizon leaves aside."""

from functools import cached_property

from ..states.moves import MADE, SIDES, Job, Levels
from .gauge import bearing_ever


class StopMoves:
    """A lower bound on moving the stop, for one press; nothing for anything else."""

    def __init__(self, job: Job):
        self.job = job
        self.counts = len(job.brakes) == 1 and job.brakes[0].stops

    def to_come(self, levels: Levels, stop: float | None) -> float:
        """Bends that could never share a place of the stop with what is done cost a move of it each, or a line."""
        if not self.counts:
            return 0.0
        left = {self._zones[i] for i, level in enumerate(levels) if level < MADE}
        costs = self.job.brakes[0].costs
        moves = len(left - {None if stop is None else self._zone_of.get(stop)}) - (stop is None)
        return min(costs.stop_move, costs.scribed_line) * max(0, moves)

    @cached_property
    def _zones(self) -> list[int]:
        """Bends that could ever share a place of the stop share a zone."""
        zones = list(range(self.job.count))
        reachable = [self._places(i) for i in range(self.job.count)]
        for i, found in enumerate(reachable):
            for j in range(i):
                if found & reachable[j]:
                    zones = [zones[i] if z == zones[j] else z for z in zones]
        self._zone_of = {stop: zone for zone, found in zip(zones, reachable, strict=True) for stop in found}
        return zones

    def _places(self, i) -> set[float]:
        """Every place at which the stop could stand for a bend, with whatever else is made: what bears on it depends
        on nothing but the bend it hangs on."""
        job = self.job
        height = job.brakes[0].brake.stops.contact_height
        groups = {(i,)} | {group for group in job.in_line if i in group and len(group) > 1}
        return {round(gauge.stop, 2) for bends in groups for side in SIDES
                for gauge in bearing_ever(job, job.body.half(bends, side), height)}

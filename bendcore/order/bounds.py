"""What the rest of an order costs at least, so that the search looks at little else.

Strokes, lines to scribe, and stops to move are counted. Turning and flipping between the ways the sheet must lie are
bounded by the cheapest path through what is left, in any order (Held and Karp's recursion, 1962): bends fall into
classes that may be made lying alike, and every class must be visited.
"""

from functools import cached_property

from .gauge import bearing
from .moves import FLAT, MADE, SIDES, Levels, Move
from .proof import Prover

MOST_CLASSES = 9
MOST_HEMS = 5


class Bounds:
    """Lower bounds for one :class:`~.moves.Job`."""

    def __init__(self, prover: Prover):
        self.prover, self.job = prover, prover.job
        self._tours: dict[tuple, float] = {}
        self._counts: dict[Levels, int] = {}
        self._rest: dict[tuple, float] = {}
        costs = [on.costs for on in self.job.brakes]
        self.stroke, self.flip, self.turn = (min(getattr(c, key) for c in costs) for key in ("stroke", "flip", "turn"))
        self.scribe = min(c.scribed_line for c in costs) if not any(on.stops for on in self.job.brakes) else 0.0
        self.handling = min(map(self.job.handling, self.job.brakes))
        self.single = len(self.job.brakes) == 1

    def to_come(self, levels: Levels, lie: tuple, left: int, whole: bool) -> float:
        """A cost the rest cannot fall below, with ``left`` strokes to make; ``whole`` when all bends will be."""
        if not whole or left <= 0:
            return self._strokes(levels, left, whole) * (self.stroke + self.scribe)
        key = (levels, lie.face, lie.heading, self._zone(lie.stop), self._pressing(lie.mounting))
        if key not in self._rest:
            self._rest[key] = self._least(levels, left, lie)
        return self._rest[key]

    def _least(self, levels, left, lie) -> float:
        seconds = self._strokes(levels, left, True) * (self.stroke + self.scribe)
        classes = frozenset(self.classes[i, to] for i, level in enumerate(levels)
                            for to in self.job.stages(i) if to > level)
        if len(classes) <= self.most_classes:
            seconds += self._tour(classes, lie.face, lie.heading)
        if self.single and self.job.brakes[0].stops:
            seconds += self._stops(levels, lie)
            if self._pressing(lie.mounting) and any(self.job.body.bends[i].is_hem for i, level in enumerate(levels)
                                                    if level < MADE):
                seconds += self.job.brakes[0].costs.tool_change
        return seconds

    def _strokes(self, levels, left, whole) -> int:
        """Strokes still to make at least: bends in one line may be made together."""
        if not self._in_line:
            return left
        if not whole:
            return -(-left // max(map(len, self.job.in_line)))
        if levels not in self._counts:
            seen: set[tuple] = set()
            for i, level in enumerate(levels):
                seen |= {(self.job.in_line[i], to) for to in self.job.stages(i) if to > level}
            self._counts[levels] = len(seen)
        return self._counts[levels]

    @cached_property
    def _in_line(self) -> bool:
        return any(len(group) > 1 for group in self.job.in_line)

    # --- turns and flips ------------------------------------------------------------------

    @cached_property
    def classes(self) -> dict[tuple[int, int], tuple[int, tuple[int, ...], int, int]]:
        """By bend and stage: (face up, the ways it may lie in some state, and of a hem which, and whether it is
        closed)."""
        hems = [i for i, bend in enumerate(self.job.body.bends) if bend.is_hem]
        apart = hems if len(hems) <= MOST_HEMS else []
        found = {}
        for i, bend in enumerate(self.job.body.bends):
            for to in self.job.stages(i):
                headings = tuple(sorted({self.job.body.heading(i, side) for side in SIDES if self._ever(i, to, side)}))
                found[i, to] = (bend.sign, headings or tuple(self.job.body.heading(i, side) for side in SIDES),
                                i if i in apart else -1, int(i in apart and to == MADE))
        return found

    def _ever(self, i, to, side) -> bool:
        """Whether a stroke could be made with this half held: whatever its limits say with all else flat. More bends
        made never leave more lying flat."""
        job, prover = self.job, self.prover
        for on in range(len(job.brakes)):
            move = Move(on, (i,), to, side)
            stroke = job.stroke(move.bends, to)
            if stroke.closing and not job.brakes[on].stops and not prover.holds_flap(move):
                continue
            if any(prover.lies(job.brakes[on], stroke, mount, prover.sides(job.flat, move))
                   for mount in prover.fits(on, move.bends, to)):
                return True
        return False

    @cached_property
    def most_classes(self) -> int:
        """Tours through more are not looked for."""
        return MOST_CLASSES + sum(closed for *_, closed in self.classes.values())

    def _tour(self, classes, face, heading) -> float:
        """The least turns and flips through all of these classes, a hem closed after it is creased."""
        if not classes:
            return 0.0
        key = (classes, face, heading)
        if key not in self._tours:
            hems = {hem for *_, hem, closed in classes if not closed}
            free = [one for one in classes if not (one[3] and one[2] in hems)]
            here = [one for one in free if one[0] == face and heading in one[1]]
            self._tours[key] = self._tour(classes - {here[0]}, face, heading) if here else min(
                self._between(face, heading, one[0], way) + self._tour(classes - {one}, one[0], way)
                for one in free for way in one[1])
        return self._tours[key]

    def _between(self, face, heading, sign, way) -> float:
        if not face:
            return 0.0
        cost = self.handling * (self.flip * (face != sign) + self.turn * (heading != way))
        return cost if self.single else min(cost, min(on.costs.move for on in self.job.brakes))

    # --- stops -------------------------------------------------------------------------------

    def _pressing(self, mounting) -> bool:
        """Whether what is mounted bends, and no flattener is."""
        if not mounting or not self.single or not self.job.brakes[0].stops:
            return False
        mounts = self.job.brakes[0].mounts
        return any(mounts[need.mount].punch for need in self.prover.mountings.all[mounting])

    def _stops(self, levels, lie) -> float:
        """Bends that could never share a place of the stop with what is done cost a move of it each."""
        costs = self.job.brakes[0].costs
        left = {self._zones[i] for i, level in enumerate(levels) if level < MADE}
        moves = len(left - {self._zone(lie.stop)}) - (lie.stop is None)
        return min(costs.stop_move, costs.scribed_line) * max(0, moves)

    def _zone(self, stop):
        if stop is None or not self.single:
            return None
        return self._zones and self._zone_of.get(stop)

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
        job, found = self.job, set()
        height = job.brakes[0].brake.stops.contact_height
        groups = {(i,)} | {group for group in job.in_line if i in group and len(group) > 1}
        for bends in groups:
            for side in SIDES:
                half = job.body.half(bends, side)
                states = [(FLAT,) * len(half.bends)]
                for k, j in enumerate(half.bends):
                    states += [(*states[0][:k], level, *states[0][k + 1:]) for level in job.stages(j)]
                found |= {round(gauge.stop, 2) for levels in states for gauge in bearing(job, half, levels, height)}
        return found

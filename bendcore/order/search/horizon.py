"""What is left to pay from every state, as far as is known yet.

All states of a job are counted, and what the rest costs from each of them is worked out from the last stroke backwards
(Bellman 1957): strokes, lines to scribe, turns and flips between the ways the sheet must lie, flatteners and moves from
brake to brake. At first every move is taken to be possible. Each one that proves not to be is struck out wherever the
levels it failed for recur (:func:`cause`), and the rest is worked out again: what is told is never more than the true
cost, and soon hardly less.
"""

import math
from itertools import pairwise, product
from typing import NamedTuple

import numpy as np

from ..proof.prover import Prover
from ..states.moves import FLAT, MADE, OPEN, SIDES, Job, Levels, Lie, Move

MOST_STATES = 400_000
MOST_PRICED = 16_000_000
"""States times ways to lie: where the stop stands is told apart only up to so many."""
MANY = 30_000
"""With every so many states more one failure more is waited for before the rest is worked out again."""
NEVER = np.inf
NEAR = (1, 2, 4)
"""So many bends away it is looked first for what a failure hangs on."""


class Way(NamedTuple):
    """How the sheet lies for a stroke: the brake, whether a hem is closed between flat tools, the face up, heading."""

    on: int
    flattened: bool
    face: int
    heading: int


class Family:
    """Moves that differ only in the state they start from: ``start`` and ``end`` are states by number, ``bends`` the
    set each takes (one bit per bend), ``possible`` says by state whether it is not known to be impossible, ``edges``
    where each stands among those of all families."""

    def __init__(self, way: Way, start: np.ndarray, end: np.ndarray, bends: np.ndarray | int, states: int):
        self.way, self.start, self.end, self.bends = way, start, end, bends
        self.effort = 0.0
        """What its swing costs and weighs, seconds."""
        self.stops: np.ndarray | None = None
        """Where the stop stands from each start, mm; NaN for a line."""
        self.possible = np.ones(states, bool)
        self.edges = np.zeros(0, int)


class Blind:
    """What is left for a job with too many states to count, or of which but one way is asked: the strokes."""

    def __init__(self, job: Job):
        self.job, self.strokes, self.learnt = job, job.progress(job.made), 0
        self.struck: dict[Move, list[tuple[tuple[int, int], ...]]] = {}
        self.most = max(map(len, job.in_line), default=1)
        self.lag = 0
        self.knows_stops = False
        """Whether what it costs to move the stop is counted."""
        self.least = min(on.costs.stroke + (0.0 if on.stops else on.costs.scribed_line) for on in job.brakes)

    @property
    def is_stale(self) -> bool:
        """Whether so much was learnt that it is worth while to look again."""
        return self.learnt > self.lag

    def aim(self, strokes: int) -> None:
        """Look towards the states with so many strokes, and at what was learnt since."""
        self.strokes, self.learnt = strokes, 0

    def to_come(self, levels: Levels, lie: Lie, flattened: bool | None) -> float:
        """The least that is left to pay from a state, the sheet lying so, between flat tools
        or not, None where nothing is mounted; seconds, infinite where it leads nowhere."""
        return -(-(self.strokes - self.job.progress(levels)) // self.most) * self.least

    def least_from(self, levels: Levels) -> float:
        """The same however the sheet lies."""
        return self.to_come(levels, Lie(), None)

    def leads(self, levels: Levels) -> bool:
        """Whether as many strokes as are aimed at may be reached from here."""
        return True

    def may(self, levels: Levels, move: Move) -> bool:
        """Whether a move is not known to be impossible."""
        return not any(all(levels[j] == level for j, level in known) for known in self.struck.get(move, ()))

    def strike(self, move: Move, levels: Levels) -> None:
        """A move is impossible at these levels, whatever those are that they leave open."""
        self.learnt += 1
        self.struck.setdefault(move, []).append(tuple((j, level) for j, level in enumerate(levels)
                                                      if level != OPEN and j not in move.bends))


def is_counted(job: Job) -> bool:
    """Whether the states of a job are few enough to be counted."""
    return 1 < math.prod(len(job.stages(i)) + 1 for i in range(job.count)) <= MOST_STATES


class Horizon(Blind):
    """The states of a job and what is left from them, towards those of ``strokes`` strokes."""

    def __init__(self, prover: Prover):
        super().__init__(prover.job)
        self.prover, job = prover, prover.job
        self.sizes = [len(job.stages(i)) + 1 for i in range(job.count)]
        self.strides = [int(np.prod(self.sizes[i + 1:], dtype=np.int64)) for i in range(job.count)]
        self.step = [1 if job.body.bends[i].is_hem else MADE for i in range(job.count)]
        self.layers = job.progress(job.made) + 1
        self._lines_up()

    @staticmethod
    def of(prover: Prover) -> Blind:
        """The horizon of a job, as far as it can be had; what is known beforehand to be impossible is struck out."""
        job = prover.job
        if not is_counted(job):
            return Blind(job)
        found = Horizon(prover)
        for on, i in product(range(len(job.brakes)), range(job.count)):
            for move in (Move(on, (i,), to, side) for to in job.stages(i) for side in SIDES):
                stand = prover.stand(move)
                if stand is not None:
                    found._bar(move, ~stand.possible(found.stage))
        return found

    def number(self, levels: Levels) -> int:
        """A state's number."""
        return sum(level // step * stride for level, step, stride in zip(levels, self.step, self.strides, strict=True))

    def _lines_up(self) -> None:
        states = np.arange(int(np.prod(self.sizes)))
        self.stage = np.stack([states // stride % size for stride, size in zip(self.strides, self.sizes, strict=True)])
        self.layer = self.stage.sum(axis=0)
        self.lag = len(self.layer) // MANY
        self.by_layer = np.argsort(self.layer, kind="stable")
        self.cuts = np.searchsorted(self.layer[self.by_layer], np.arange(self.layers + 1))
        self._lies: dict[tuple, tuple[int, int] | np.ndarray] = {}
        self.families: dict[tuple, Family] = {}
        for i in range(self.job.count):
            for to in self.job.stages(i):
                self._of_bend(i, to)
        self.ways = list(dict.fromkeys(family.way for family in self.families.values()))
        self.on = np.array([way.on for way in self.ways])
        self.between = np.array([[self._change(one, other) for other in self.ways] for one in self.ways])
        self.places = np.zeros(0)
        self.knows_stops = self._find_stops()
        self._sort()

    def _of_bend(self, i: int, to: int) -> None:
        """The families of one bend and stage: by itself, and with those it can be made together with."""
        job, here = self.job, to // self.step[i] - 1
        start = np.flatnonzero(self.stage[i] == here)
        sets = [(False, start, start + self.strides[i], 1 << i)]
        others = [j for j in job.in_line[i] if j != i]
        if others:
            end, bends, first = start + self.strides[i], np.full(len(start), 1 << i), np.ones(len(start), bool)
            for j in others:
                joins = self.stage[j][start] == here
                for k in job.body.between(i, j):
                    joins &= self.stage[k][start] == FLAT
                end, bends = end + joins * self.strides[j], bends | joins << j
                first &= ~joins | (j > i)
            some = first & (bends != 1 << i)
            sets.append((True, start[some], end[some], bends[some]))
        for together, *rows in sets:
            for on, brake in enumerate(job.brakes):
                for side in SIDES:
                    way = Way(on, brake.stops and job.is_closing(i, to), job.body.bends[i].sign,
                              job.body.heading(i, side))
                    family = self.families[on, i, to, side, together] = Family(way, *rows, len(self.layer))
                    effort = job.effort(on, i, side)
                    family.effort = effort.swing + effort.sense

    def _find_stops(self) -> bool:
        """Where the stop stands for every move, if that can be told apart in the ways the sheet lies; not where they
        would be too many."""
        presses = [on.costs for on in self.job.brakes if on.stops]
        if not presses or any(costs.scribed_line < 2 * costs.stop_move for costs in presses):
            return False  # a line may then be scribed so that the stop can stay where it is
        kept: dict[tuple, float] = {}
        places: set[float] = set()
        for (on, i, to, side, together), family in self.families.items():
            if self.job.brakes[on].stops:
                stand = None if together else self.prover.stand(Move(on, (i,), to, side))
                family.stops = (self._stops(family, on, side, kept) if stand is None else
                                stand.stops(self.stage[:, family.start]))
                places.update(np.unique(family.stops[~np.isnan(family.stops)]).tolist())
            if len(self.layer) * len(self.ways) * (1 + len(places)) > MOST_PRICED:
                for other in self.families.values():
                    other.stops = None
                return False
        self.places = np.array(sorted(places))
        return True

    def _stops(self, family, on, side, kept) -> np.ndarray:
        found = np.empty(len(family.start))
        for code in np.unique(family.bends).tolist():
            bends = tuple(i for i in range(self.job.count) if code >> i & 1)
            rows = np.flatnonzero(np.broadcast_to(family.bends == code, found.shape))
            half = self.job.body.half(bends, side)
            behind = {node.via: node.path[:-1] for node in half.nodes if node.via is not None}
            seen = np.zeros(len(rows), np.int64)
            for j in half.bends:  # as .gauge.seen has it
                level = self.stage[j][family.start[rows]]
                hidden = np.any([self.stage[k][family.start[rows]] > 0 for k in behind[j]] or [False], axis=0)
                seen = seen * 4 + np.where(hidden, 3, level)
            first, again = np.unique(seen, return_index=True, return_inverse=True)[1:]
            places = [self._place(half, on, int(family.start[rows[n]]), (bends, side, on, int(seen[n])), kept)
                      for n in first]
            found[rows] = np.array(places)[again]
        return found

    def _place(self, half, on, state, key, kept) -> float:
        if key not in kept:
            levels = tuple(int(stage[state]) * step for stage, step in zip(self.stage, self.step, strict=True))
            gauge = self.prover.located(levels, Move(on, half.made, MADE, half.side))
            kept[key] = math.nan if gauge.stop is None else round(float(gauge.stop), 2)
        return kept[key]

    def _sort(self) -> None:
        """All moves in one row, by layer, state, way and stop: ``leads`` where each leads, ``alive`` whether it may."""
        families = list(self.families.values())
        start, (at, cost) = np.concatenate([f.start for f in families]), self._laid(families)
        count = len(self.ways) * (1 + len(self.places))
        target = start * count + at
        order = np.argsort(self.layer[start] * (len(self.layer) * count) + target)
        place = np.empty(len(order), np.int32)
        place[order] = np.arange(len(order))
        for family, own in zip(families, np.split(place, np.cumsum([len(f.start) for f in families])[:-1]),
                               strict=True):
            family.edges = own
        self.lead = (np.concatenate([f.end for f in families]) * count + at)[order]
        self.alive, self.cost = np.ones(len(order), bool), cost[order]
        target, layer = target[order], self.layer[start[order]]
        first = np.flatnonzero(np.append(True, target[1:] != target[:-1]))
        self.targets, cuts = target[first], np.searchsorted(layer[first], np.arange(self.layers + 1))
        ends = np.append(first, len(order))
        self.runs = [(slice(ends[a], ends[b]), first[a:b] - ends[a], slice(a, b)) for a, b in pairwise(cuts)]

    def _laid(self, families) -> tuple[np.ndarray, np.ndarray]:
        """(which way the sheet lies and where the stop stands, what it costs) for every move: ways times places, the
        first of which is a line."""
        at, costs = [], []
        for family in families:
            brake, way = self.job.brakes[family.way.on], self.ways.index(family.way) * (1 + len(self.places))
            if family.stops is None:
                lines, place = not brake.stops, np.zeros(len(family.start), int)
            else:
                lines = np.isnan(family.stops)
                place = np.where(lines, 0, 1 + np.searchsorted(self.places, family.stops))
            costs.append(brake.costs.stroke + family.effort + brake.costs.scribed_line * lines + np.zeros(len(place)))
            at.append(way + place)
        return np.concatenate(at), np.concatenate(costs)

    def _change(self, one: Way, other: Way) -> float:
        """What it costs to come from one way to lie to another, but for moving the stop, seconds."""
        costs = self.job.brakes[other.on].costs
        if one.on != other.on:
            return costs.move
        turning = self.job.turning(other.on, (one.face, one.heading), (other.face, other.heading))
        return sum(turning) + costs.tool_change * (one.flattened != other.flattened)

    # --- the rest ---------------------------------------------------------------------------

    def aim(self, strokes: int) -> None:
        """See :meth:`Blind.aim`."""
        super().aim(strokes)
        shape = len(self.layer), len(self.ways), 1 + len(self.places)
        self.next = np.full(shape, NEVER)  # by state and by how the sheet lies and the stop stands for the next stroke
        self.rest = np.full(shape, NEVER)  # and by how they do now
        self.rest[self.layer == strokes] = 0.0
        for layer in range(strokes - 1, -1, -1):
            edges, first, some = self.runs[layer]
            left = np.where(self.alive[edges], self.rest.ravel()[self.lead[edges]] + self.cost[edges], NEVER)
            self.next.ravel()[self.targets[some]] = np.minimum.reduceat(left, first)
            here = self.by_layer[slice(*self.cuts[layer:layer + 2])]
            after, least = self.next[here], self.rest[here]
            for way in range(len(self.ways)):
                self._from_all(after[:, way], way, least)
            self.rest[here] = least

    def _from_all(self, after: np.ndarray, way: int, least: np.ndarray) -> None:
        """What is ``least`` (states, ways, places) where the sheet lies this ``way`` for the next stroke; ``after``
        (states, places) is what is left from there. A stop that stands right need not be moved, nor for a line."""
        then, anywhere = self.ways[way], after.min(axis=1, keepdims=True)
        moved = np.minimum(anywhere + self.job.brakes[then.on].costs.stop_move, after[:, :1])
        same = np.minimum(after, moved)
        same[:, :1] = anywhere  # where it stood is open
        here = self.on == then.on
        found = same[:, None] if here.all() else np.where(here[:, None], same[:, None], anywhere[:, None])
        np.minimum(least, found + self.between[:, way, None], out=least)

    def to_come(self, levels: Levels, lie: Lie, flattened: bool | None) -> float:
        """See :meth:`Blind.to_come`."""
        at = self.number(levels)
        if self.layer[at] == self.strokes:
            return 0.0
        way = self._way(lie.on, lie.face, lie.heading, flattened, lie.stop if self.knows_stops else None)
        if isinstance(way, tuple):
            return float(self.rest[at][way])
        return float((self.next[at] + way).min())

    def _way(self, *key):
        """Which way it lies and where the stop stands, or what it costs to come to each where that is open."""
        if key not in self._lies:
            self._lies[key] = self._lying(*key)
        return self._lies[key]

    def _lying(self, on, face, heading, flattened, stop):
        stands = np.flatnonzero(self.places == stop) if stop is not None else ()
        if face and flattened is not None and (way := Way(on, flattened, face, heading)) in self.ways and (
                stop is None or len(stands)):
            return self.ways.index(way), 1 + int(stands[0]) if stop is not None else 0
        found = np.zeros((len(self.ways), 1 + len(self.places)))
        for row, way in zip(found, self.ways, strict=True):
            if on in (-1, way.on):
                row += self._change(Way(way.on, way.flattened if flattened is None else flattened, face or way.face,
                                        heading if face else way.heading), way)
                if stop is not None:
                    row[1:] += self.job.brakes[way.on].costs.stop_move * (self.places != stop)
            else:
                row += self._change(Way(on, way.flattened, face, heading), way)
        return found

    # --- what is learnt ---------------------------------------------------------------------

    def _family(self, move: Move) -> Family:
        return self.families[move.on, move.bends[0], move.to, move.side, len(move.bends) > 1]

    def may(self, levels: Levels, move: Move) -> bool:
        """See :meth:`Blind.may`."""
        return bool(self._family(move).possible[self.number(levels)])

    def least_from(self, levels: Levels) -> float:
        """See :meth:`Blind.least_from`."""
        at = self.number(levels)
        return 0.0 if self.layer[at] == self.strokes else float(self.next[at].min())

    def leads(self, levels: Levels) -> bool:
        """See :meth:`Blind.leads`."""
        at = self.number(levels)
        return self.layer[at] == self.strokes or bool(np.isfinite(self.next[at]).any())

    def _bar(self, move, out) -> None:
        """A move is impossible from the states ``out`` (one bool by state)."""
        family = self._family(move)
        family.possible &= ~out
        self.alive[family.edges[out[family.start]]] = False

    def strike(self, move: Move, levels: Levels) -> None:
        """See :meth:`Blind.strike`."""
        family = self._family(move)
        out = family.possible[family.start] & (family.bends == sum(1 << i for i in move.bends))
        for j, level in enumerate(levels):
            if level != OPEN and j not in move.bends:
                out &= self.stage[j][family.start] == level // self.step[j]
        family.possible[family.start[out]] = False
        self.alive[family.edges[out]] = False
        self.learnt += 1


def cause(prover: Prover, levels: Levels, move: Move) -> Levels:
    """Levels on which it hangs that a move cannot be made, all others left open: none can be left out of them. What is
    near the bend is most often enough, and is tried first."""
    far = {bend: len(node.path) for half, _ in prover.sides(levels, move) for node in half.nodes
           for bend in node.path[-1:]}
    kept, known = levels, [j for j in range(len(levels)) if j in far]
    for most in NEAR:
        near = tuple(level if far.get(j, 0) <= most else OPEN for j, level in enumerate(levels))
        if near != levels and not prover.can(near, move):
            kept, known = near, [j for j in known if far[j] <= most]
            break
    size = max(1, len(known) // 2)
    while known:
        rest = []
        for at in range(0, len(known), size):
            some = known[at:at + size]
            trial = tuple(OPEN if j in some else level for j, level in enumerate(kept))
            if prover.can(trial, move):
                rest += some
            else:
                kept = trial
        if size == 1:
            break
        known, size = rest, max(1, size // 2)
    return kept

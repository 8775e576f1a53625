"""The cheapest order, exactly.

First :func:`furthest` walks every state that can be reached, by whatever tools and
holding; then :func:`cheapest` runs A* (Hart, Nilsson and Raphael 1968) over states
that also remember how the sheet lies, where the stop stands and what is mounted.
Successors are queued at their cost and proved only when they come up, so moves
that could never be part of the best order are never simulated. The remaining
strokes, a flip where both faces are still to come, and the flattener a hem still
needs bound the cost from below.
"""

import heapq
from dataclasses import dataclass
from itertools import count
from typing import NamedTuple

from ..errors import Refusal
from ..sheet.section import END, START
from .gauge import LINE, Gauge, contact_run, flat_to, natural_gauge, within_reach
from .moves import MADE, Job, Levels, Move, advanced, other
from .proof import Prover, bits

MOST_BENDS = 12
HEAVY_KG, LONG_MM = 20.0, 1200.0
ENDS = (END, START)
CHANGE = "change"


Stages = list[tuple[int, int]]
"""(bend by index, the level it is brought to), in order."""


class Lie(NamedTuple):
    """How things lie after a move: what the next move's cost depends on. ``mask``
    holds the mounts that could have made every move since the last tool change."""

    face: int = 0
    held: str = ""
    stop: float | None = None
    mask: int = 0


class Here(NamedTuple):
    """A state moves are queued from: its levels, how it was come by, and how many strokes that took."""

    levels: Levels
    trail: tuple
    done: int


@dataclass(frozen=True)
class Taken:
    """A move as the order takes it: where the stop stands, what was made ``before``, and its ``cost`` in seconds."""

    move: Move
    gauge: Gauge
    before: Levels
    cost: float


@dataclass(frozen=True)
class Found:
    """The moves of an order, its ``cost`` in seconds; ``complete`` when every bend is made."""

    steps: tuple[Taken, ...]
    cost: float
    complete: bool
    levels: Levels


def candidates(job: Job, levels: Levels, sequence: Stages | None = None) -> list[tuple[int, int]]:
    """(bend, stage) pairs that may come next; one when the order is given."""
    if sequence is not None:
        done = job.progress(levels)
        return sequence[done:done + 1]
    return [(i, to) for i in range(len(levels)) if (to := job.next_stage(levels, i)) is not None]


def furthest(prover: Prover, sequence: Stages | None = None) -> int:
    """How many strokes can be made at most; stops at the first way to make all."""
    job = prover.job
    goal, best = job.progress(job.made), 0
    stack, seen = [job.flat], {job.flat}
    while stack and best < goal:
        levels = stack.pop()
        best = max(best, job.progress(levels))
        for i, to in candidates(job, levels, sequence):
            new = advanced(levels, i, to)
            if new not in seen and any(prover.mask(levels, i, to, held) for held in ENDS):
                seen.add(new)
                stack.append(new)
    return best


def handling_factor(job: Job) -> float:
    """Turning and flipping take longer when the sheet is heavy or long."""
    heavy = job.mass_kg > HEAVY_KG or max(job.strip.length, job.strip.width) > LONG_MM
    return job.brake.costs.two_person_factor if heavy else 1.0


class _Search:
    """A* over (levels, lie). Queue entries are moves still to be proved."""

    def __init__(self, prover: Prover, strokes: int, sequence):
        self.prover, self.job, self.sequence = prover, prover.job, sequence
        self.strokes, self.whole = strokes, strokes == self.job.progress(self.job.made)
        self.handling = handling_factor(self.job)
        self.signs = [b.sign for b in self.job.strip.bends]
        self.hems = [i for i, b in enumerate(self.job.strip.bends) if b.is_hem]
        self.presses = sum(1 << m for m, t in enumerate(self.job.mounts) if t.punch)
        self.everything = (1 << len(self.job.mounts)) - 1
        self.heap, self.tie, self.settled = [], count(), {}
        self.bounds: dict[tuple, float] = {}
        self.zones = self._stop_zones()
        self.ways: dict[tuple, Gauge] = {}

    def run(self) -> Found | None:
        if not self.strokes:
            return Found((), 0.0, self.whole, self.job.flat)
        self.expand(0.0, self.job.flat, Lie(), ())
        while self.heap:
            cost, levels, lie, trail, move = heapq.heappop(self.heap)[-1]
            if move is CHANGE:
                self.expand(cost, levels, lie, trail)
                continue
            cost, levels, lie, trail = self.prove(cost, levels, lie, trail, move)
            if not lie or self.dominated(levels, lie):
                continue
            if self.job.progress(levels) == self.strokes:
                return Found(tuple(self.unroll(trail)), cost, self.whole, levels)
            self.expand(cost, levels, lie, trail)
            self.offer_change(cost, levels, lie, trail)
        return None

    def dominated(self, levels, lie) -> bool:
        """Whether a state as cheap, lying the same, with all of these mounts, was settled."""
        masks = self.settled.setdefault((levels, lie.face, lie.held, lie.stop), [])
        if any(mask | lie.mask == mask for mask in masks):
            return True
        masks.append(lie.mask)
        return False

    def way(self, levels, i, held) -> Gauge:
        key = (levels, i, held)
        if key not in self.ways:
            gauge = natural_gauge(self.job, levels, i, held)
            self.ways[key] = gauge if within_reach(self.job, gauge) else self.line(i)
        return self.ways[key]

    def expand(self, cost, levels, lie, trail):
        """Queue every move from here under the tools mounted (any, at the start)."""
        costs, here = self.job.brake.costs, Here(levels, trail, self.job.progress(levels))
        scribe_too = costs.scribed_line < 2 * costs.stop_move
        for i, to in candidates(self.job, levels, self.sequence):
            mounts = self.prover.fits(i, to) & lie.mask if lie.held else self.prover.fits(i, to)
            if not mounts:
                continue
            new = advanced(levels, i, to)
            flip = self.handling * costs.flip * (lie.face == -self.signs[i])
            for held in ENDS:
                gauge = self.way(levels, i, held)
                seconds = cost + costs.stroke + flip + self.handling * costs.turn * (lie.held == other(held))
                then = Lie(self.signs[i], held, lie.stop, mounts)
                self.push(here, (i, to), new, then, gauge, seconds)
                if scribe_too and gauge.kind != LINE:
                    self.push(here, (i, to), new, then, self.line(i), seconds)

    def offer_change(self, cost, levels, lie, trail):
        """Queue the same state with other tools mounted."""
        changed = cost + self.job.brake.costs.tool_change
        done = self.job.progress(levels)
        bound = changed + (self.strokes - done) * self.job.brake.costs.stroke
        heapq.heappush(self.heap, (round(bound, 6), -done, next(self.tie),
                                   (changed, levels, lie._replace(mask=self.everything), trail, CHANGE)))

    def line(self, i) -> Gauge:
        return Gauge(LINE, self.job.strip.bends[i].id)

    def push(self, here, stage, new, lie, gauge, bare):
        """Queue a move from ``here`` to the levels ``new``; ``bare`` is its cost but for locating the sheet,
        ``lie.stop`` where the stop stood."""
        costs, stop = self.job.brake.costs, lie.stop
        cost = bare
        if gauge.kind == LINE:
            cost += costs.scribed_line
        else:
            at = round(gauge.stop, 2)
            cost += costs.stop_move * (stop is not None and stop != at)
            stop = at
        bound = cost + self.to_come(new, lie, stop, here.done + 1)
        heapq.heappush(self.heap, (round(bound, 6), -here.done, next(self.tie),
                                   (cost, here.levels, lie._replace(stop=stop), here.trail,
                                    (stage, gauge, bare, lie.stop, new))))

    def to_come(self, levels, lie, stop, done) -> float:
        """A cost the rest cannot fall below."""
        left = self.strokes - done
        if not self.whole or not left:
            return left * self.job.brake.costs.stroke
        pressing = bool(lie.mask & self.presses)
        key = (levels, lie.face, pressing, self.zone_of.get(stop))
        if key not in self.bounds:
            self.bounds[key] = self._least(levels, left, *key[1:])
        return self.bounds[key]

    def _least(self, levels, left, face, pressing, zone) -> float:
        costs, seconds = self.job.brake.costs, left * self.job.brake.costs.stroke
        open_bends = [i for i, level in enumerate(levels) if level < MADE]
        if any(self.signs[i] != face for i in open_bends):
            seconds += self.handling * costs.flip
        if pressing and any(i in self.hems for i in open_bends):
            seconds += costs.tool_change
        zones = {self.zones[i] for i in open_bends}
        return seconds + min(costs.stop_move, costs.scribed_line) * max(0, len(zones - {zone}) - (zone is None))

    def _stop_zones(self) -> list[int]:
        """Bends that could ever share a stop position share a zone; every other zone
        still to be bent costs a stop move at least."""
        reachable = []
        for i in range(len(self.signs)):
            found = set()
            for held in ENDS:
                order = self.job.strip.outward(i, held)
                found.add(round(flat_to(self.job, i, held, len(order)), 2))
                for n, j in enumerate(order):
                    found |= {round(contact_run(self.job, i, held, (0,) * n + (level,)), 2)
                              for level in self.job.stages(self.job.strip.bends[j])}
            reachable.append(found)
        zones = list(range(len(reachable)))
        for i, found in enumerate(reachable):
            for j in range(i):
                if found & reachable[j]:
                    zones = [zones[i] if z == zones[j] else z for z in zones]
        self.zone_of = {stop: zone for zone, found in zip(zones, reachable, strict=True) for stop in found}
        return zones

    def prove(self, cost, levels, lie, trail, move):
        """The state after a queued move, its mounts narrowed to those that can make it."""
        (i, to), gauge, bare, stood, new = move
        free = mask = self.prover.mask(levels, i, to, lie.held) & lie.mask
        if free and gauge.kind != LINE:
            mask = self.prover.stop_mask(levels, i, to, lie.held, gauge, free)
            if free & ~mask:
                here = Here(levels, trail, self.job.progress(levels))
                self.push(here, (i, to), new, Lie(lie.face, lie.held, stood, free & ~mask), self.line(i), bare)
        if not mask:
            return cost, levels, None, trail
        proved = lie._replace(mask=mask)
        return cost, new, proved, (trail, (levels, proved, (i, to), gauge, cost))

    def unroll(self, trail):
        """Steps from the trail; the mounts of a run are those left at its end."""
        rows = []
        while trail:
            trail, row = trail
            rows.append(row)
        mask = None
        chosen = []
        for levels, lie, stage, gauge, cost in rows:  # last first
            mask = lie.mask if mask is None or mask & lie.mask != mask else mask
            chosen.append((levels, lie, stage, gauge, cost, mask))
        previous = 0.0
        for levels, lie, (i, to), gauge, cost, mounts in reversed(chosen):
            tools = self.job.mounts[next(bits(mounts))]
            yield Taken(Move(i, to, lie.held, tools), gauge, levels, cost - previous)
            previous = cost


def cheapest(prover: Prover, strokes: int, sequence: Stages | None = None) -> Found | None:
    """The cheapest way to make ``strokes`` strokes."""
    return _Search(prover, strokes, sequence).run()


def read_sequence(job: Job, names: list[str]) -> list[tuple[int, int]]:
    """``--try`` as stages: a hem named once is creased and closed in one go, named
    twice it is creased first and closed where it stands the second time."""
    index = {b.id: i for i, b in enumerate(job.strip.bends)}
    sequence, levels = [], job.flat
    for n, name in enumerate(names):
        if name not in index:
            raise Refusal(f"try[{n}]", f"there is no bend {name[:20]}; there are {', '.join(index)}")
        i = index[name]
        stages = [s for s in job.stages(job.strip.bends[i]) if s > levels[i]]
        if not stages:
            raise Refusal(f"try[{n}]", f"{name} is named too often")
        for stage in stages[:1] if names.count(name) > 1 else stages:
            sequence.append((i, stage))
            levels = advanced(levels, i, stage)
    missing = [b.id for b, level in zip(job.strip.bends, levels, strict=True) if level < MADE]
    if missing:
        raise Refusal("try", f"leaves out {', '.join(missing)}")
    return sequence


def find(prover: Prover, names: list[str] | None = None) -> Found:
    """The best order, or the furthest one when none is complete."""
    job = prover.job
    if len(job.strip.bends) > MOST_BENDS and names is None:
        raise Refusal("shape.bends", f"the search is exact up to {MOST_BENDS} bends; "
                                     f"this strip has {len(job.strip.bends)}: try an order of your own")
    sequence = read_sequence(job, names) if names is not None else None
    return cheapest(prover, furthest(prover, sequence), sequence)

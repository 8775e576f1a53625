"""The cheapest order, exactly.

A* (Hart, Nilsson and Raphael 1968) runs over states that also remember on which brake the sheet is, how it lies, where
the stop stands and what is mounted. Successors are queued at their cost and proved only when they come up, so moves
that could never be part of the best order are never simulated. What is left bounds the cost from below
(:mod:`.horizon`, :mod:`..proof.bounds`); as every move that fails is struck out there wherever its cause recurs, what
was queued is looked at again with what was learnt since, and put off or dropped.
"""

import heapq
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import count
from typing import NamedTuple, Protocol

from ...patience import ENDLESS, Patience
from ..proof.gauge import LINE, Gauge
from ..proof.prover import NONE, Prover
from ..states.handling import HANDIER
from ..states.moves import Levels, Lie, Move, advanced
from .horizon import NEVER, Blind, cause
from .walk import Sequence, horizon_of, moves

ALIKE = 1e-3
"""Costs that differ by less are looked at as equal, seconds."""


class Here(NamedTuple):
    """A state as it was come by: what it cost with what the handling weighs, its levels, how things lie, and the way
    there."""

    cost: float
    levels: Levels
    lie: Lie
    trail: tuple | None


class Bare(NamedTuple):
    """What a way here and a move cost but for locating the sheet, with what the handling weighs; and how much of that
    the move's own ``sense`` is, seconds."""

    cost: float
    sense: float


@dataclass(frozen=True)
class Taken:
    """A move as the order takes it: where the stop stands, what was made ``before``, its ``cost`` in seconds, which of
    ``mounting`` serves it and all others until something else is mounted (``change``), and how the sheet lies."""

    move: Move
    gauge: Gauge
    before: Levels
    cost: float
    mounting: int
    change: str
    lie: Lie


@dataclass(frozen=True)
class Found:
    """The moves of an order, its ``cost`` in seconds; ``complete`` when every bend is made, ``proven`` when none is
    cheaper, ``bound`` the least it could cost; ``none_last`` where every
    bend can be made on the flat sheet, and none with all the others made. ``weighed`` is the cost with what decides
    between orders that cost the same (:mod:`..states.handling`)."""

    steps: tuple[Taken, ...]
    cost: float
    complete: bool
    levels: Levels
    proven: bool = True
    bound: float = 0.0
    none_last: bool = False
    weighed: float = 0.0


class Wanted(Protocol):
    """What is asked of the moves of an order."""

    def allows(self, move: Move, gauge: Gauge) -> bool:
        """Whether a move may be made, the sheet located so."""


@dataclass(frozen=True)
class Rules:
    """Which orders are looked for: all that is ``wanted`` must allow each move, ``avoid`` is a move that is not taken
    from its levels, only moves ``among`` some are looked at, where that is said, and without ``changes`` what is
    mounted first serves to the end."""

    wanted: tuple[Wanted, ...] = ()
    avoid: tuple[Levels, Move] | None = None
    among: Callable[[Move], bool] | None = None
    changes: bool = True


FREE = Rules()
"""Any order will do."""


class Search:
    """A* over (levels, lie), among the orders that keep to the ``rules``. Queue entries are moves still to be
    proved."""

    def __init__(self, prover: Prover, goal: Levels, sequence: Sequence | None, horizon: Blind | None = None,
                 rules: Rules = FREE):
        self.prover, self.job, self.sequence, self.goal = prover, prover.job, sequence, goal
        self.rules = rules
        self.horizon = horizon or horizon_of(prover, sequence)
        self.strokes, self.whole = self.job.progress(goal), goal == self.job.made
        self.heap: list = []
        self.tie, self.settled = count(), {}
        self.changed: set[tuple] = set()
        self.signs = [bend.sign for bend in self.job.body.bends]
        self.slack = HANDIER * self.strokes * (1 + math.hypot(*self.job.part.flat.size) / 1000)
        """More than what the handling of an order can weigh, seconds."""
        self.bound, self.looked, self.failed = 0.0, 0, 0

    @property
    def least(self) -> float:
        """What any order costs at least with what its handling weighs, as far as is known before one is looked for,
        seconds; without that, by no more than the ``slack`` less."""
        self.horizon.aim(self.strokes)
        return self._to_come(self.job.flat, Lie())

    def run(self, patience: Patience = ENDLESS, known: Found | None = None,
            start: Here | None = None, failures: float = math.inf) -> Found | None:
        """The cheapest order to as many strokes, from the ``start`` where one is given, the one ``known`` where none
        is cheaper; None where there is none, or the ``patience`` was over or more than so many moves had failed before
        it was found: run it on then."""
        if not self.strokes:
            return Found((), 0.0, self.whole, self.job.flat)
        self.horizon.aim(self.strokes)
        if not self.looked:
            self._expand(*(start or Here(0.0, self.job.flat, Lie(), None)))
            if start and start.lie.face:
                self._offer_changes(*start)
        while self.heap and self.failed <= failures:
            if self.looked % 16 == 15:
                patience.note(bound=float(self.bound), looked=self.looked)
                if patience():
                    return None
            elif patience.is_late():  # a look may take long
                return None
            *_, bound, _, (cost, levels, lie, trail, what) = heapq.heappop(self.heap)
            self.bound, self.looked = max(0.0, bound - self.slack - ALIKE), self.looked + 1
            if known and bound >= known.weighed - 1e-6:
                return replace(known, proven=True, bound=known.cost)
            if self._put_off(bound, cost, levels, lie, trail, what):
                continue
            if isinstance(what, str):
                if (levels, lie) not in self.changed:
                    self.changed.add((levels, lie))
                    self._expand(cost, levels, lie, trail)
                continue
            cost, levels, lie, trail = self._prove(Here(cost, levels, lie, trail), *what)
            if not lie or self._dominated(levels, lie):
                continue
            if self.job.progress(levels) == self.strokes:
                steps = tuple(self._unroll(trail, start.cost if start else 0.0))
                paid = (start.cost if start else 0.0) + sum(step.cost for step in steps)
                return Found(steps, paid, self.whole, levels, bound=paid, weighed=cost)
            self._expand(cost, levels, lie, trail)
            self._offer_changes(cost, levels, lie, trail)
        return None

    def _queue(self, bound: float, done: int, entry: tuple) -> None:
        """Among equals what is nearest to its end comes first, and of that what is handier; nothing of what leads
        nowhere."""
        if bound < NEVER:
            heapq.heappush(self.heap, (round(bound / ALIKE), -done, bound, next(self.tie), entry))

    def _put_off(self, bound, cost, levels, lie, trail, what) -> bool:
        """Whether by what was learnt since it was queued something has no place at the head any more."""
        new = levels
        if not isinstance(what, str):
            move = what[0]
            if not self.horizon.may(levels, move):
                return True
            new = advanced(levels, move.bends, move.to)
        if self.horizon.is_stale:
            self.horizon.aim(self.strokes)
        now = cost + self._to_come(new, lie)
        if now > bound + 1e-9:
            self._queue(now, self.job.progress(new), (cost, levels, lie, trail, what))
            return True
        return False

    def _to_come(self, levels, lie) -> float:
        apart = self.whole and levels != self.goal and not self.horizon.knows_stops
        stops = self.prover.stop_moves.to_come(levels, lie.stop) if apart else 0.0
        return self.horizon.to_come(levels, lie, self._flattened(lie)) + stops

    def _flattened(self, lie) -> bool | None:
        """Whether flat tools are mounted; None where nothing is."""
        on = self.job.brakes[lie.on]
        if lie.on >= 0 and not on.stops:
            return False
        mounts = [on.mounts[need.mount] for need in self.prover.mountings.all[lie.mounting]]
        return not any(mount.punch for mount in mounts) if mounts else None

    def _dominated(self, levels, lie) -> bool:
        """Whether a state as cheap, lying the same, for which all of these mountings serve, was settled."""
        known = self.settled.setdefault((levels, *lie[:4]), [])
        if any(self.prover.mountings.wider(other, lie.mounting) for other in known):
            return True
        known.append(lie.mounting)
        return False

    def _expand(self, cost, levels, lie, trail) -> None:
        """Queue every move from here with what is mounted (anything, at the start)."""
        for move in moves(self.job, levels, self.sequence):
            if lie.on not in (-1, move.on) or (self.rules.among and not self.rules.among(move)):
                continue
            on = self.job.brakes[move.on]
            if not self.prover.fits(move.on, move.bends, move.to) or not self.horizon.may(levels, move):
                continue
            face, heading = self.signs[move.bends[0]], self.job.body.heading(move.bends[0], move.side)
            effort = self.job.effort(move.on, move.bends[0], move.side)
            seconds, sense = cost + on.costs.stroke + effort.swing, effort.sense
            if lie.face:
                turning = self.job.turning(move.on, lie.lying, (face, heading))
                seconds, sense = seconds + turning.flip + turning.turn, sense + turning.sense
            then = Lie(move.on, face, heading, lie.stop, lie.mounting)
            gauge = self.prover.located(levels, move)
            bare = Bare(seconds + sense, sense)
            self._push(levels, move, then, gauge, bare, trail)
            if gauge.kind != LINE and on.costs.scribed_line < 2 * on.costs.stop_move:
                self._push(levels, move, then, self.prover.line(move), bare, trail)

    def _offer_changes(self, cost, levels, lie, trail) -> None:
        """Queue the same state with other tools or fingers mounted, or on another brake."""
        if not self.rules.changes:
            return
        on, done = self.job.brakes[lie.on], self.job.progress(levels)
        ways = [("move", Lie(other), brake) for other, brake in enumerate(self.job.brakes) if brake is not on]
        if len(on.mounts) > 1 or on.pieces(0):
            ways = [("tools" if on.stops else "fingers", lie._replace(mounting=NONE), on), *ways]
        for name, then, brake in ways:
            changed = cost + brake.costs.changing(name)
            bound = changed + self._to_come(levels, then)
            self._queue(bound, done, (changed, levels, then, (trail, name), name))

    def _push(self, levels, move, lie, gauge, bare, trail) -> None:
        """Queue a move, priced but for locating the sheet; ``lie.stop`` is where the stop stood."""
        if (levels, move) == self.rules.avoid or not all(one.allows(move, gauge) for one in self.rules.wanted):
            return
        costs, cost, stop = self.job.brakes[move.on].costs, bare.cost, lie.stop
        if gauge.kind == LINE:
            cost += costs.scribed_line
        else:
            at = round(gauge.stop, 2)
            cost += costs.stop_move * (stop is not None and stop != at)
            stop = at
        new = advanced(levels, move.bends, move.to)
        done = self.job.progress(new)
        bound = cost + self._to_come(new, lie._replace(stop=stop))
        self._queue(bound, done, (cost, levels, lie._replace(stop=stop), trail, (move, gauge, bare, lie.stop)))

    def _prove(self, here, move, gauge, bare, stood):
        """The state after a queued move, its mountings narrowed to those that can make it."""
        cost, levels, lie, trail = here
        mountings, able = self.prover.mountings, self.prover.mounting(levels, move)
        if not able:
            self.horizon.strike(move, cause(self.prover, levels, move))
            self.failed += 1
            return cost, levels, None, trail
        serves = mountings.both(move.on, able, lie.mounting) if lie.mounting else able
        if serves and gauge.kind != LINE:
            _, free = self.prover.gauge(levels, move)
            kept = mountings.number(need for need in mountings.all[serves] if free >> need.mount & 1)
            if kept != serves:
                rest = mountings.number(need for need in mountings.all[serves] if not free >> need.mount & 1)
                self._push(levels, move, lie._replace(stop=stood, mounting=rest), self.prover.line(move), bare, trail)
            serves = kept
        if not serves:
            return cost, levels, None, trail
        proved = lie._replace(mounting=serves)
        row = levels, proved, move, gauge, cost, bare.sense
        return cost, advanced(levels, move.bends, move.to), proved, (trail, row)

    def _unroll(self, trail, previous: float) -> Iterator[Taken]:
        """Steps from the trail, each at its own cost; what serves a run between two changes is what is left at its
        end."""
        rows = []
        while trail:
            trail, row = trail
            rows.append(row)
        serving, chosen = NONE, []
        for row in rows:  # last first
            if isinstance(row, str):
                serving = NONE
                chosen.append(row)
            else:
                serving = serving or row[1].mounting
                chosen.append((*row, serving))
        change = ""
        for row in reversed(chosen):
            if isinstance(row, str):
                change = row
                continue
            levels, lie, move, gauge, cost, sense, mounting = row
            yield Taken(move, gauge, levels, round(cost - previous - sense, 9), mounting, change, lie)
            previous, change = cost, ""


def cheapest(prover: Prover, goal: Levels, sequence: Sequence | None = None,
             patience: Patience = ENDLESS) -> Found | None:
    """The cheapest way to a state, or to one with as many strokes."""
    return Search(prover, goal, sequence).run(patience)

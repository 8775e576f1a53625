"""Moves that may come next, and any way to make all bends.

States are walked by whatever tools and holding, deepest first, towards as many strokes as still seem possible; what
fails on the way is learnt from (:mod:`.horizon`).
"""

from collections.abc import Iterable, Iterator

from ...errors import Refusal
from ...patience import ENDLESS, Patience
from ..proof.prover import Prover
from ..states.moves import MADE, SIDES, Job, Levels, Move, advanced
from .horizon import Blind, Horizon, cause

Sequence = list[tuple[int, int]]
"""(bend by index, the level it is brought to), in order."""


def moves(job: Job, levels: Levels, sequence: Sequence | None = None) -> Iterator[Move]:
    """Moves that may come next, hems and inner flanges first; those of one bend when the order is given."""
    ahead = _ahead(job, levels, sequence)
    for i, to in candidates(job, levels, sequence):
        groups = dict.fromkeys((job.together(levels, i), (i,)))
        for bends in groups:
            if len(bends) > 1 and bends[0] != i and not ahead:
                continue  # asked for once, by its first bend
            if len(bends) > 1 and ahead and {j for j, _ in ahead[:len(bends)]} != set(bends):
                continue
            for on in range(len(job.brakes)):
                for side in SIDES:
                    yield Move(on, bends, to, side)


def candidates(job: Job, levels: Levels, sequence: Sequence | None = None) -> list[tuple[int, int]]:
    """(bend, stage) pairs that may come next; one as far as the order is given."""
    ahead = _ahead(job, levels, sequence)
    if ahead:
        return ahead[:1]
    return [(i, job.next_stage(levels, i)) for i in preferred(job) if levels[i] != MADE]


def _ahead(job: Job, levels: Levels, sequence: Sequence | None) -> Sequence:
    """What of a sequence is not made yet."""
    sequence = sequence or []
    return sequence[next((n for n, (i, to) in enumerate(sequence) if levels[i] < to), len(sequence)):]


def preferred(job: Job) -> list[int]:
    """The bends, those first that are made first among equals: hems, then what is farther out in the tree."""
    depth = job.body.depth
    return sorted(range(job.count), key=lambda i: (not job.body.bends[i].is_hem, -depth[job.body.bends[i].child], i))


def furthest(prover: Prover, sequence: Sequence | None = None, patience: Patience = ENDLESS,
             horizon: Blind | None = None, short: int = 0) -> tuple[Levels, Sequence]:
    """The state with the most strokes that can be reached, and a way there; the first way to make all ends the search,
    or all but so many, where it is known that it falls ``short``. Only what leads to as many strokes as still seem
    possible is walked, deepest first."""
    walk = Walk(prover, sequence, horizon or horizon_of(prover, sequence))
    walk.run(patience, short)
    made, levels = [], walk.best
    while levels in walk.came:
        levels, move = walk.came[levels]
        made.append(move)
    return walk.best, in_sequence(reversed(made))


def in_sequence(made: Iterable[Move]) -> Sequence:
    """Moves as the bends they make, one after the other."""
    return [(i, move.to) for move in made for i in move.bends]


def horizon_of(prover: Prover, sequence: Sequence | None) -> Blind:
    """What is left, counted out where any order may be the one."""
    job = prover.job
    return Blind(job) if sequence is not None and len(sequence) == job.progress(job.made) else Horizon.of(prover)


class Walk:
    """States reached so far, and by which move: ``came``; the ``best`` is that of the most strokes."""

    def __init__(self, prover: Prover, sequence: Sequence | None, horizon: Blind):
        self.prover, self.job, self.sequence, self.horizon = prover, prover.job, sequence, horizon
        self.best = self.job.flat
        self.came: dict[Levels, tuple[Levels, Move]] = {}

    def run(self, patience: Patience, short: int = 0) -> None:
        """Towards all strokes but so many, then one fewer, until some are reached."""
        most = self.job.progress(self.job.made) - short
        while self.job.progress(self.best) < most and not patience():
            self.horizon.aim(most)
            if self.horizon.leads(self.job.flat):
                self._deepen(most, patience)
            most -= 1

    def _deepen(self, most, patience) -> None:
        stack = [(levels, self._moves(levels)) for levels in (self.job.flat, *self.came)]
        while stack and self.job.progress(self.best) < most and not patience():
            levels, left = stack[-1]
            if self.horizon.is_stale:
                self.horizon.aim(most)
            leads = self.horizon.leads(levels)
            new = next((new for move in left if (new := self._reached(levels, move))), None) if leads else None
            if new is None:
                stack.pop()
            else:
                stack.append((new, self._moves(new)))

    def _moves(self, levels) -> Iterator[Move]:
        """What may come next, what leaves least to pay first."""
        found = [(move, advanced(levels, move.bends, move.to)) for move in moves(self.job, levels, self.sequence)]
        return iter([move for move, _ in sorted(found, key=lambda row: self.horizon.least_from(row[1]))])

    def _reached(self, levels, move) -> Levels | None:
        """The state after a move, if it is new and can be reached."""
        new = advanced(levels, move.bends, move.to)
        if new in self.came or not (self.horizon.may(levels, move) and self.horizon.leads(new)):
            return None
        if not self.prover.can(levels, move):
            self.horizon.strike(move, cause(self.prover, levels, move))
            return None
        self.came[new] = (levels, move)
        if self.job.progress(new) > self.job.progress(self.best):
            self.best = new
        return new


def read_sequence(job: Job, names: list[str], whole: bool = True) -> Sequence:
    """Bends by name as stages: a hem named once is creased and closed in one go, named twice it is creased first and
    closed where it stands the second time. Of a ``whole`` order none may be left out."""
    index = job.body.index
    sequence, levels = [], job.flat
    for n, name in enumerate(names):
        if name not in index:
            raise Refusal(f"try[{n}]", f"there is no bend {name[:20]}; there are {', '.join(index)}")
        i = index[name]
        stages = [s for s in job.stages(i) if s > levels[i]]
        if not stages:
            raise Refusal(f"try[{n}]", f"{name} is named too often")
        for stage in stages[:1] if names.count(name) > 1 else stages:
            sequence.append((i, stage))
            levels = advanced(levels, (i,), stage)
    missing = [b.id for b, level in zip(job.body.bends, levels, strict=True) if level < MADE]
    if missing and whole:
        raise Refusal("try", f"leaves out {', '.join(missing)}")
    return sequence

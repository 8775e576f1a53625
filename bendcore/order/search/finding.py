"""The best order of a part, by the search that suits it.

Where many moves fail, :class:`.walk.Walk` first looks for any way to make all bends, by whatever tools and holding,
deepest first; the search for the cheapest (:mod:`.astar`) goes on with what that has learnt. On a full rack the usual
tools are tried alone first. A part with more bends than can be looked through is left to :mod:`.many`.
"""

from collections.abc import Iterator
from dataclasses import replace

from ...patience import ENDLESS, Patience, Turn
from ..proof.prover import Prover
from .astar import Found, Search, cheapest
from .backwards import can_be_last, can_each_be_first
from .horizon import is_counted
from .many import find_many
from .walk import Sequence, furthest, horizon_of

MOST_BENDS, AT_MOST = 24, 60.0
"""Parts with more bends are not looked through to the end; where no patience is given, for so many seconds."""
FEW_STROKES, AT_ONCE = 12, 1.0
"""The best order to no more strokes is looked for at once, for so many seconds."""
SOME = 3.0
"""How far a part goes that cannot be made is looked for so long, s."""
SOON = 0.5
"""A search that takes longer, s, once any order is known, says what it costs at its best."""
FEW_MOUNTS, PUNCHES_TRIED = 6, 2
"""Of more mounts the usual are tried alone first, with so many punches at most."""


def find(prover: Prover, sequence: Sequence | None = None, patience: Patience = ENDLESS) -> Found:
    """The best order, as far as it is not given by the ``sequence``, or the furthest one when none is complete; when
    the ``patience`` is over what was found."""
    job = prover.job
    if job.count > MOST_BENDS and sequence is None:
        return find_many(prover, Patience(AT_MOST) if patience is ENDLESS else patience)
    if sequence is None and not is_counted(job) and not can_be_last(prover):
        return _as_far_as_it_goes(prover, patience)
    first = _with_usual(prover, patience) if sequence is None else None
    if first and first.proven:
        return first
    horizon = horizon_of(prover, sequence)
    search = Search(prover, job.made, sequence, horizon)
    best = None
    if not first and search.strokes <= FEW_STROKES:  # while no more moves fail than are to be made
        best = search.run(Turn(AT_ONCE, whole=patience), failures=search.strokes)
    if best:
        return best
    goal, way = (job.made, []) if first else furthest(prover, sequence, patience, horizon)
    patience.note(strokes=job.progress(goal), of=job.progress(job.made))
    ended = goal != job.made and patience()
    if goal != job.made:
        search = Search(prover, goal, sequence, horizon)
    best = search.run(Turn(SOON, whole=patience), first)
    if best is None:  # it will take a while: what there is already, held and located at its best, may be told meanwhile
        first = first or cheapest(prover, goal, sequence or way)
        patience.note(best=float(first.cost))
        best = search.run(patience, first)
    if best is None:  # ended before it was proven
        best = replace(first, proven=False, bound=search.bound)
    return replace(best, proven=False) if ended else best


def _as_far_as_it_goes(prover: Prover, patience: Patience) -> Found:
    """Of a part of many bends of which none can be made last: the most strokes that are found soon."""
    goal, way = furthest(prover, None, Turn(SOME, whole=patience), short=1)
    return replace(cheapest(prover, goal, way), proven=False, none_last=can_each_be_first(prover))


def _with_usual(prover: Prover, patience: Patience) -> Found | None:
    """The best order with the tools that are usual for the sheet, where there are many to choose from; proven where no
    tools could make it cheaper. None where it cannot be made with them."""
    job = prover.job
    for mounts in _usual(prover):
        narrow = prover.narrowed(mounts)
        goal, _ = furthest(narrow, None, patience)
        found = Search(narrow, goal, None).run(patience) if goal == job.made else None
        if found:
            return replace(found, proven=bool(found.weighed <= Search(prover, goal, None).least + 1e-6))
    return None


def _usual(prover: Prover) -> Iterator[set[int]]:
    """Mounts to try alone on a press with a full rack: the pair nearest to what is usual that fits every stroke, then
    one with another punch, either with all that is flat."""
    job = prover.job
    if len(job.brakes) > 1 or len(job.brakes[0].mounts) < FEW_MOUNTS:
        return
    on, strokes = job.brakes[0], [((i,), to) for i in range(job.count) for to in job.stages(i)]
    flat = {m for m, tools in enumerate(on.mounts) if not tools.punch}
    pairs = [list(prover.fits(0, bends, to)) for bends, to in strokes if not job.is_closing(bends[0], to)]
    able = [m for m in (pairs[0] if pairs else ()) if all(m in fit for fit in pairs)]
    able.sort(key=lambda m: sum(fit.index(m) for fit in pairs))
    seen: set[str] = set()
    for m in able:
        punch = on.mounts[m].punch.name
        if punch not in seen and len(seen) < PUNCHES_TRIED:
            seen.add(punch)
            yield {m} | flat

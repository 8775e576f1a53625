"""Ways out that leave a brake's limits behind: an angle left open, a crease closed by hand, a part in two pieces.

*Left open*: a bend is made half of the way at first, and struck to its angle when the others are made. *Crease and
return*: it is made part of the way, the others are made, and it is closed by hand on its crease. *Split*: the part is
cut in two at a seam that can be welded, and each piece bent by itself. All are simulated as sheets of their own: faces
and bends, whatever family they came from.
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import combinations

from ...brakes.brake import Brake
from ...part import Part
from ...patience import Patience
from ...sheet.model import Bend, Sheet
from ...sheet.unfold import unfold
from ..proof.prover import Prover
from ..search.backwards import can_be_bent
from ..states.body import Body
from ..states.moves import FLAT, MADE, SIDES, Job, Move
from .trying import best_cost

BY_HAND, WELD = 60.0, 300.0
"""Seconds reckoned for closing a bend on its crease, and for tacking and welding a seam."""
PAIRS_TRIED = 24
SHORTEST = 20.0
"""No piece of a split part is smaller across than this, mm."""


def job_of(part: Part, sheet: Sheet, brakes: Sequence[Brake]) -> Job:
    """A sheet of a part on brakes, to be bent like the part itself."""
    job = Job.of(part, *brakes)
    return replace(job, body=Body(sheet, unfold(sheet)), _strokes={}, _lines={})


def half_made(bend: Bend) -> Bend:
    """The bend half of the way, its zone as wide as it was reckoned."""
    figures = bend.figures
    angle = figures.angle / 2
    return replace(bend, figures=replace(figures, angle=angle, inside_radius=figures.radius_at(angle)))


def creased(part: Part, brakes: Sequence[Brake], likely: Sequence[str], patience: Patience) -> Iterator[tuple]:
    """((bends), cost in seconds) of what can be made when those are only creased: one bend, those that are ``likely``
    first, and where none alone will do, two."""
    sheet = part.sheet
    able = [bend.id for bend in sheet.bends if not bend.is_hem]
    able.sort(key=lambda name: (name not in likely, name))
    for several in (1, 2):
        found = False
        for names in list(combinations(able, several))[:PAIRS_TRIED]:
            if patience():
                return
            eased = replace(sheet, bends=tuple(half_made(b) if b.id in names else b for b in sheet.bends))
            cost = _cost(job_of(part, eased, brakes), patience)
            if cost is not None:
                found = True
                yield names, cost + several * BY_HAND
        if found:
            return


def left_open(part: Part, brakes: Sequence[Brake], patience: Patience) -> Iterator[tuple[str, float]]:
    """(bend, cost in seconds) of what can be made when that bend is made half of the way at first, and struck to its
    full angle on the brake at last, where it could be made at once then."""
    sheet = part.sheet
    whole = Job.of(part, *brakes)
    last = Prover(whole)
    for bend in sheet.bends:
        if bend.is_hem or patience():
            continue
        i = whole.body.index[bend.id]
        levels = tuple(FLAT if j == i else MADE for j in range(whole.count))
        if not any(last.can(levels, Move(on, (i,), MADE, side)) for on in range(len(brakes)) for side in SIDES):
            continue
        eased = replace(sheet, bends=tuple(half_made(b) if b is bend else b for b in sheet.bends))
        cost = _cost(job_of(part, eased, brakes), patience)
        if cost is not None:
            yield bend.id, cost + whole.brakes[0].costs.stroke + whole.brakes[0].costs.turn


def split(part: Part, brakes: Sequence[Brake], patience: Patience) -> Iterator[tuple[str, tuple[str, ...], float]]:
    """(bend, faces cut off, cost in seconds): the part cut along a bend's line, its two flats welded edge to edge where
    the bend was; each seam that leaves two pieces of which both can be bent."""
    for bend in part.sheet.bends:
        if bend.is_hem or patience():
            continue
        pieces = cut_at(part.sheet, bend)
        if any(_across(piece) < SHORTEST for piece in pieces):
            continue
        costs = []
        for piece in pieces:
            cost = 0.0 if not piece.bends else _cost(job_of(part, piece, brakes), patience)
            if cost is None:
                break
            costs.append(cost)
        if len(costs) == len(pieces):
            yield bend.id, tuple(face.id for face in pieces[1].faces), sum(costs) + WELD


def cut_at(sheet: Sheet, bend: Bend) -> tuple[Sheet, Sheet]:
    """What stays with a bend's parent, and what hangs on its child."""
    off = {bend.child}
    for other in sheet.bends:  # parents come before their children
        if other.parent in off:
            off.add(other.child)
    return tuple(Sheet(sheet.thickness, root, tuple(f for f in sheet.faces if (f.id in off) == far),
                       tuple(b for b in sheet.bends if b is not bend and (b.child in off) == far))
                 for far, root in ((False, sheet.root), (True, bend.child)))


def _across(sheet: Sheet) -> float:
    return min(unfold(sheet).size)


def _cost(job: Job, patience: Patience) -> float | None:
    """Of the best order; None where there is none, or none was found while there was patience."""
    prover = Prover(job)
    return best_cost(prover, patience) if can_be_bent(prover, patience) else None

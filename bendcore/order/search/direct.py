"""Dimensions that are to be gauged directly.

A leg is gauged directly when the bend at one of its ends is struck with the leg held and the leg's other end, a cut
edge or a bend already made, at the stop: then nothing but that stroke's error lies between the two.
"""

from dataclasses import dataclass

from ...errors import Refusal
from ..proof.gauge import EDGE, FACE, Gauge
from ..states.body import CHILD, PARENT
from ..states.moves import Job, Move


@dataclass(frozen=True)
class Direct:
    """A bend struck with this side held and the far end of the leg at the stop: a cut edge of the face ``of``, or where
    it hangs ``over`` a made bend."""

    bend: int
    side: int
    of: str
    over: int | None = None

    def allows(self, move: Move, gauge: Gauge) -> bool:
        """Whether a move may be made so; every move of other bends may."""
        if self.bend not in move.bends:
            return True
        if move.bends[0] != self.bend or move.side != self.side:
            return False
        return (gauge.kind == FACE and gauge.over == self.over) if self.over is not None else (
            gauge.kind == EDGE and gauge.of == self.of)


def ways(job: Job, name: str) -> list[Direct]:
    """How a leg can be gauged directly; refuses what is no leg with a bend."""
    body = job.body
    leg = next((leg for leg in job.part.shape.legs if leg.id == name), None)
    ends = [body.index[end] for end in leg.ends if end in body.index] if leg else []
    if not ends:
        known = [leg.id for leg in job.part.shape.legs if any(leg.ends)]
        raise Refusal("important", f"there is no leg {name[:20]} between bends; there are {', '.join(known)}")
    faces = [{body.bends[i].parent, body.bends[i].child} for i in ends]
    face = name if name in body.sheet.face else next(iter(set.intersection(*faces)) if len(ends) > 1 else iter(
        [body.bends[ends[0]].parent]))
    found = []
    for n, i in enumerate(ends):
        side = CHILD if body.bends[i].child == face else PARENT
        found.append(Direct(i, side, face, ends[1 - n] if len(ends) > 1 else None))
    return found

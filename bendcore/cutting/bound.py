"""What no plan could do better: proven, so that a plan that reaches it is the best there is.

Never an estimate: where nothing can be proven the bound is low, not likely.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from .pieces import Piece, Stock, fits
from .wish import CUTS, LEFTOVERS, SHEETS


@dataclass(frozen=True)
class Bounds:
    """Any plan that leaves nothing out opens so many sheets and leftovers in all, and so many ``whole`` sheets."""

    stock: int
    whole: int

    def far(self, sheets: Sequence[Stock], left_out: Sequence[Piece]) -> dict[str, float]:
        """How far a search is that has this by now: ``whole`` sheets and leftovers ``opened``, pieces ``left`` out, and
        the ``least`` stock that any plan opens."""
        opened = sum(sheet.leftover for sheet in sheets)
        return {"whole": len(sheets) - opened, "opened": opened, "left": len(left_out), "least": self.stock}

    def reached(self, sheets: Sequence[Stock], left_out: Sequence[Piece], wish: str) -> bool:
        """Whether no plan is better in what the wish counts first."""
        opened = sum(sheet.leftover for sheet in sheets)
        if left_out or wish == CUTS:  # fewer cuts are never proven
            return False
        return len(sheets) - opened <= self.whole and (wish == SHEETS and (not opened or len(sheets) <= self.stock)
                                                       or wish == LEFTOVERS and not opened)


def bounds(pieces: Sequence[Piece], stock: Sequence[Stock], margin: float, kerf: float) -> Bounds:
    """For rectangles. *Area*: pieces with the kerf beside them against the largest sheets, each larger by one kerf,
    since the last cut may fall beyond its edge. *Pairs*: pieces of which no two go on any one sheet need one each; such
    are found greedily, the largest first."""
    area = by_area([(piece.length + kerf) * (piece.width + kerf) for piece in pieces], stock, kerf - 2 * margin)
    alone: list[Piece] = []
    for piece in sorted(pieces, key=lambda p: -p.area):
        if not any(_together(piece, other, stock, margin, kerf) for other in alone):
            alone.append(piece)
    left = [s for s in stock if s.leftover]
    only_whole = [piece for piece in alone
                  if not any(fits(piece, s, margin, way) for s in left for way in piece.ways(s))]
    return Bounds(max(area.stock, len(alone)),
                  max(area.whole, len(alone) - sum(s.count for s in left), len(only_whole)))


def least_left_out(pieces: Sequence[Piece], stock: Sequence[Stock], margin: float, kerf: float) -> tuple[int, float]:
    """How many pieces any plan leaves out, and how large they are at the least, mm²: what :func:`.wish.cost` begins
    with. By area, the smallest placed.

    >>> half = [Piece(str(n), "half", 1500, 900) for n in range(3)]
    >>> least_left_out(half, [Stock("A", 2000, 1000, 2)], 0, 0)
    (1, 1350000.0)
    """
    room = math.fsum(_rooms(stock, len(pieces), kerf - 2 * margin))
    taken, out = 0.0, len(pieces)
    for area in sorted((piece.length + kerf) * (piece.width + kerf) for piece in pieces):
        taken += area
        if taken > room + 1e-6:
            break
        out -= 1
    return out, round(math.fsum(sorted(piece.area for piece in pieces)[:out]), 3)


def by_metal(pieces: Sequence[Piece], stock: Sequence[Stock]) -> Bounds:
    """For true shapes that may lie in each other's openings: by their metal alone."""
    return by_area([piece.shape.area for piece in pieces], stock)


def by_area(areas: Sequence[float], stock: Sequence[Stock], larger: float = 0.0) -> Bounds:
    """By the pieces' ``areas``; a sheet counts as ``larger`` by so much both ways."""
    need = math.fsum(areas)
    left, whole = (_rooms([s for s in stock if s.leftover == leftover], len(areas), larger)
                   for leftover in (True, False))
    return Bounds(max(_covering(need, left + whole), 1 if areas else 0), _covering(need - math.fsum(left), whole))


def _rooms(stock: Sequence[Stock], most: int, larger: float) -> list[float]:
    """The areas of the sheets there are, ``most`` of a kind at the most."""
    return [(s.length + larger) * (s.width + larger) for s in stock for _ in range(min(s.count, most))]


def _covering(need: float, rooms: Iterable[float]) -> int:
    """How many of the largest rooms it takes to come to what is needed."""
    count = 0
    for room in sorted(rooms, reverse=True):
        if need <= 1e-6:
            break
        need, count = need - room, count + 1
    return count


def _together(one: Piece, other: Piece, stock: Sequence[Stock], margin: float, kerf: float) -> bool:
    """Whether two rectangles go on one sheet: side by side or one above the other, which is all that two can do."""
    for sheet in stock:
        room = sheet.length - 2 * margin, sheet.width - 2 * margin
        for first in one.ways(sheet):
            for second in other.ways(sheet):
                if fits(one, sheet, margin, first) and fits(other, sheet, margin, second):
                    a, b = one.sides(first), other.sides(second)
                    if any(a[axis] + b[axis] + kerf <= room[axis] + 1e-6 for axis in (0, 1)):
                        return True
    return False

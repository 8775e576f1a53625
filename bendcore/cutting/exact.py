"""Few pieces on one sheet, cut right through: every way there is, so that "they do not go" is proven.

P. Y. Wang (1983), "Two algorithms for constrained two-dimensional cutting stock problems": rectangles are put together,
side by side and one above the other, into larger ones, and those are kept that waste no more than the sheet has to
spare. Here by what they hold (how many of each kind of piece), of each the rectangles that no other is smaller than in
both directions; a kind is pieces of equal sides and grain. All lengths are reckoned one kerf larger.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import product

from .pieces import Piece, Stock

SAME = 1e-6
MOST_SETS, MOST_KEPT = 60, 40
"""So many sets of pieces are tried where nothing may be wasted at all, fewer the more there is to spare (that share of
them in all); of a set so many rectangles are kept at most."""
LEAST_SPARE = 0.05
Held = tuple[int, ...]


@dataclass(slots=True)
class Rectangle:
    """``long`` × ``wide``: a piece of ``kind``, ``turned`` or not, or ``low`` and ``high`` put together across
    ``axis``."""

    long: float
    wide: float
    kind: int = -1
    turned: bool = False
    axis: str = ""
    low: Rectangle | None = None
    high: Rectangle | None = None


def together(pieces: Sequence[Piece], sheet: Stock, kerf: float, margin: float) -> tuple[Rectangle, list[list[Piece]]
                                                                                          ] | None:
    """(the rectangle that holds them all on the sheet, by kind the pieces); None where they do not go on it cut right
    through, or are too many to tell."""
    kinds = _kinds(pieces, sheet)
    room = sheet.length - 2 * margin + kerf, sheet.width - 2 * margin + kerf
    own = [(p[0].length + kerf) * (p[0].width + kerf) for p in kinds]
    spare = room[0] * room[1] - sum(len(kind) * area for kind, area in zip(kinds, own, strict=True))
    sets = math.prod(len(kind) + 1 for kind in kinds)
    if spare < -SAME or sets * max(spare / (room[0] * room[1]), LEAST_SPARE) > MOST_SETS:
        return None
    best: dict[Held, list[Rectangle]] = {}
    for held in sorted(product(*(range(len(kind) + 1) for kind in kinds)), key=sum):
        if not any(held):
            continue
        limits = *room, sum(n * area for n, area in zip(held, own, strict=True)) + spare
        found = _single(held, kinds, sheet, kerf) if sum(held) == 1 else _joined(held, best, limits)
        best[held] = _least(r for r in found if _within(r.long, r.wide, limits))
    whole = best[tuple(len(kind) for kind in kinds)]
    return (whole[0], kinds) if whole else None


def _within(long: float, wide: float, limits: tuple[float, float, float]) -> bool:
    """Whether a rectangle goes on the sheet and wastes no more than the sheet has to spare."""
    return long <= limits[0] + SAME and wide <= limits[1] + SAME and long * wide <= limits[2] + SAME


def _kinds(pieces, sheet) -> list[list[Piece]]:
    found: dict[tuple, list[Piece]] = {}
    for piece in pieces:
        sides = piece.sides(piece.ways(sheet)[0]) if piece.tied else tuple(sorted((piece.length, piece.width)))
        found.setdefault((bool(piece.tied), *(round(side, 4) for side in sides)), []).append(piece)
    return list(found.values())


def _single(held: Held, kinds, sheet: Stock, kerf: float) -> Iterator[Rectangle]:
    kind = held.index(1)
    for turned in kinds[kind][0].ways(sheet):
        long, wide = kinds[kind][0].sides(turned)
        yield Rectangle(long + kerf, wide + kerf, kind, turned)


def _joined(held: Held, best: dict[Held, list[Rectangle]], limits) -> Iterator[Rectangle]:
    for part in product(*(range(n + 1) for n in held)):
        rest = tuple(a - b for a, b in zip(held, part, strict=True))
        if part > rest or not any(part):  # each parting once
            continue
        for one in best[part]:
            for other in best[rest]:
                long, wide = one.long + other.long, max(one.wide, other.wide)
                if _within(long, wide, limits):
                    yield Rectangle(long, wide, axis="x", low=one, high=other)
                long, wide = max(one.long, other.long), one.wide + other.wide
                if _within(long, wide, limits):
                    yield Rectangle(long, wide, axis="y", low=one, high=other)


def _least(found: Iterable[Rectangle]) -> list[Rectangle]:
    """Those that no other is smaller than both ways, the shortest first."""
    kept: list[Rectangle] = []
    for one in sorted(found, key=lambda r: (round(r.long, 6), r.wide)):
        if not kept or one.wide < kept[-1].wide - SAME:
            kept.append(one)
    return kept[:MOST_KEPT]

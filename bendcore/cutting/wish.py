"""What a shop wants a plan to save, and plans held against each other by it.

Most blanks first, always. Then by the shop's wish: whole *sheets* (a leftover is opened where that saves one), the
*leftovers* on their rack, or *cuts*, opening as little stock as can be.
"""

from collections.abc import Callable, Sequence

from .pieces import Piece, Stock

SHEETS, LEFTOVERS, CUTS = "sheets", "leftovers", "cuts"
_ORDERS: dict[str, Callable[[int, int, int, float], tuple]] = {
    SHEETS: lambda whole, opened, cuts, area: (whole, opened, area, cuts),
    LEFTOVERS: lambda whole, opened, cuts, area: (opened, whole, area, cuts),
    CUTS: lambda whole, opened, cuts, area: (whole + opened, cuts, area, whole)}
WISHES = tuple(_ORDERS)


def cost(wish: str, sheets: Sequence[Stock], left_out: Sequence[Piece], cuts: int = 0) -> tuple[float, ...]:
    """Plans compare by this, the least the best: how many blanks are left out, their area, then what the wish
    counts.

    >>> a, b = Stock("A", 2000, 1000), Stock("B", 700, 400, leftover=True)
    >>> cost("sheets", [b], []) < cost("sheets", [a], []), cost("leftovers", [b], []) < cost("leftovers", [a], [])
    (True, False)
    """
    opened = sum(sheet.leftover for sheet in sheets)
    area = sum(sheet.length * sheet.width for sheet in sheets)
    return (len(left_out), round(sum(piece.area for piece in left_out), 3),
            *_ORDERS[wish](len(sheets) - opened, opened, cuts, area))


def shelves(stock: Sequence[Stock], wish: str) -> list[list[Stock]]:
    """Orders in which stock is worth taking from the rack, the likeliest for the wish first."""
    whole = sorted((s for s in stock if not s.leftover), key=lambda s: s.length * s.width)
    left = sorted((s for s in stock if s.leftover), key=lambda s: s.length * s.width)
    found = []
    for sheets in ([whole, whole[::-1]] if len({s.length * s.width for s in whole}) > 1 else [whole]):
        first, last = left + sheets, sheets + left
        found += [first, last, left[::-1] + sheets] if wish == SHEETS else [last, first]
    return [shelf for n, shelf in enumerate(found) if shelf and shelf not in found[:n]]

"""How few sheets any plan could need: proven, so that a plan that reaches it is the best there is."""

from collections.abc import Sequence

from .pieces import Piece, Stock, fits


def least_sheets(pieces: Sequence[Piece], stock: Sequence[Stock], margin: float, kerf: float) -> int:
    """The larger of two bounds. *Area*: pieces with the kerf beside them against the largest sheets, each larger by one
    kerf, since the last cut may fall beyond its edge. *Pairs*: pieces of which no two go on any one sheet need one
    each; such are found greedily, the largest first."""
    need = sum((piece.length + kerf) * (piece.width + kerf) for piece in pieces)
    rooms = sorted(((s.length - 2 * margin + kerf) * (s.width - 2 * margin + kerf) for s in stock
                    for _ in range(min(s.count, len(pieces)))), reverse=True)
    by_area = 0
    for room in rooms:
        if need <= 1e-6:
            break
        need, by_area = need - room, by_area + 1
    alone: list[Piece] = []
    for piece in sorted(pieces, key=lambda p: -p.area):
        if not any(_together(piece, other, stock, margin, kerf) for other in alone):
            alone.append(piece)
    return max(by_area, len(alone), 1 if pieces else 0)


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

"""Plans for snips and saws: rectangles anywhere on the sheet, cut out one by one.

Places are found by *rectpack* (maximal rectangles and skylines, several rules each), which turns all pieces or none: so
where grain ties some, each is laid the way it must and the free ones both ways, at random, on sheets turned until their
grain runs along. Whatever a shear can cut can be sawn, so the shear's plan stands in where it is better. What is still
left out, or above the bound, goes to a solver (:mod:`.solver`).
"""

import random
from collections.abc import Sequence
from dataclasses import replace

import rectpack

from ..patience import Turn
from .guillotine import LONGER, anew, shear_plan
from .pieces import WIDTH, Piece, Placed, Stock
from .plan import Plan
from .solver import solved
from .wish import SHEETS, shelves

RULES = (rectpack.MaxRectsBssf, rectpack.MaxRectsBaf, rectpack.MaxRectsBlsf, rectpack.SkylineMwfl)
SORTS = (rectpack.SORT_AREA, rectpack.SORT_LSIDE, rectpack.SORT_SSIDE, rectpack.SORT_PERI)
SCALE = 1000
"""Places are whole micrometres: rectpack's own advice is against floating numbers."""


def saw_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
             turn: Turn | None = None, seed: int = 1, wish: str = SHEETS) -> Plan:
    """The best plan found in the seconds of its ``turn``, several times of them while a piece is left out, or until the
    whole of that is over; refuses a piece that no sheet holds."""
    spell, third, rng = anew(turn), anew(turn, 1 / 3), random.Random(seed)
    seconds, whole = spell.seconds, spell.whole
    best = replace(shear_plan(pieces, stock, kerf, margin, third, seed, wish), cuts=())
    racks = shelves(stock, wish)
    while not best.is_best(wish):
        spell.seconds = seconds * (LONGER / 2 if best.unplaced else 2 / 3)
        if spell():
            break
        for rule in RULES:
            found = _packed(pieces, rng.choice(racks), kerf, margin, rule, rng, best)
            if found.cost(wish) < best.cost(wish):
                best = found
                whole.note(**best.least.far(best.sheets, best.unplaced))
    if not best.is_best(wish) and not whole():
        spell.seconds = seconds * (LONGER if best.unplaced else 1)
        rest = Turn(max(spell.left(), third.seconds), whole=whole)
        best = solved(best, pieces, stock, kerf, margin, rest, wish) or best
    if best.unplaced and not whole():
        again = replace(shear_plan(pieces, stock, kerf, margin, anew(turn), seed + 1, wish), cuts=())
        best = min(best, again, key=lambda plan: plan.cost(wish))
    return replace(best, cuts=((),) * len(best.sheets))


def _packed(pieces, shelf, kerf, margin, rule, rng, best: Plan) -> Plan:
    """One run; stock is taken in the order of the shelf."""
    by_number = dict(enumerate(pieces))
    free = all(not piece.tied for piece in pieces)
    packer = rectpack.newPacker(rotation=free, pack_algo=rule, sort_algo=rng.choice(SORTS))
    across: dict[int, bool] = {}
    for n, piece in by_number.items():
        across[n] = not free and rng.choice(piece.ways(Stock("", 1, 1)))  # on a sheet whose grain runs along
        packer.add_rect(*(round((side + kerf) * SCALE + 0.5) for side in piece.sides(across[n])), rid=n)
    for sheet in shelf:
        swapped = sheet.grain == WIDTH
        for _ in range(min(sheet.count, len(pieces))):
            sides = (sheet.width, sheet.length) if swapped else (sheet.length, sheet.width)
            packer.add_bin(*(int((side - 2 * margin + kerf) * SCALE) for side in sides), bid=(sheet, swapped))
    packer.pack()
    sheets, placed, left = [], [], by_number
    for bin in packer:
        sheet, swapped = bin.bid
        for one in bin:
            piece = left.pop(one.rid)
            lies = (abs(one.width / SCALE - piece.length - kerf) > 0.01 if free else across[one.rid]) != swapped
            if free and abs(piece.length - piece.width) < 0.01:
                lies = False
            x, y = (one.y, one.x) if swapped else (one.x, one.y)
            placed.append(Placed(piece, len(sheets), x / SCALE + margin, y / SCALE + margin, 90.0 if lies else 0.0))
        sheets.append(sheet)
    return Plan.uncut(tuple(sheets), tuple(placed), best.least, tuple(left.values()))

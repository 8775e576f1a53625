"""Plans for snips and saws: rectangles anywhere on the sheet, cut out one by one.

Places are found by *rectpack* (maximal rectangles and skylines, several rules each); it turns all pieces or none, so
where grain ties some, each is laid the way it must and the free ones both ways, at random. Whatever a shear can cut can
be sawn, so the shear's plan stands in where it needs fewer sheets.
"""

import random
import time
from collections.abc import Sequence

import rectpack

from .guillotine import shear_plan
from .pieces import Piece, Placed, Stock
from .plan import Plan

RULES = (rectpack.MaxRectsBssf, rectpack.MaxRectsBaf, rectpack.MaxRectsBlsf, rectpack.SkylineMwfl)
SCALE = 1000
"""Places are whole micrometres: rectpack's own advice is against floating numbers."""


def saw_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
             seconds: float = 4.0, seed: int = 1) -> Plan:
    """The plan with the fewest sheets found in the time; refuses a piece that no sheet holds."""
    until, rng = time.monotonic() + seconds, random.Random(seed)
    best = shear_plan(pieces, stock, kerf, margin, seconds / 2, seed)
    best = Plan.uncut(best.sheets, best.placed, best.bound, best.unplaced, best.leftovers)
    while len(best.sheets) > best.bound and time.monotonic() < until:
        for rule in RULES:
            found = _packed(pieces, stock, kerf, margin, rule, rng)
            if found and len(found[0]) < len(best.sheets):
                best = Plan.uncut(*found, best.bound)
    return best


def _packed(pieces, stock, kerf, margin, rule, rng) -> tuple[tuple[Stock, ...], tuple[Placed, ...]] | None:
    """(sheets, places) of one run; None where not every piece found one."""
    by_number = dict(enumerate(pieces))
    free = all(not piece.tied for piece in pieces)
    packer = rectpack.newPacker(rotation=free, pack_algo=rule, sort_algo=rng.choice(
        (rectpack.SORT_AREA, rectpack.SORT_LSIDE, rectpack.SORT_SSIDE, rectpack.SORT_PERI)))
    turned = {}
    for n, piece in by_number.items():
        turned[n] = rng.choice(piece.ways(stock[0])) if not free else False
        packer.add_rect(*(round((side + kerf) * SCALE + 0.5) for side in piece.sides(turned[n])), rid=n)
    order = sorted(stock, key=lambda s: (not s.leftover, -s.length * s.width))
    for sheet in order:
        if sheet.grain == stock[0].grain or free:
            for _ in range(min(sheet.count, len(pieces))):
                packer.add_bin(*(int((side - 2 * margin + kerf) * SCALE) for side in (sheet.length, sheet.width)),
                               bid=sheet)
    packer.pack()
    placed = []
    for n, bin in enumerate(packer):
        for one in bin:
            piece = by_number[one.rid]
            lies = abs(one.width / SCALE - piece.length - kerf) > 0.01 if free else turned[one.rid]
            if free and abs(piece.length - piece.width) < 0.01:
                lies = False
            placed.append(Placed(piece, n, one.x / SCALE + margin, one.y / SCALE + margin, 90.0 if lies else 0.0))
    if len(placed) < len(pieces):
        return None
    return tuple(bin.bid for bin in packer), tuple(placed)

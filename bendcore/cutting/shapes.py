"""Plans for a cutter: true outlines nested into each other.

*spyrrow* nests a set of outlines into a strip as wide as the sheet and as short as it finds; holes are not used for
other pieces. Sheet by sheet the largest pieces still to be placed are tried together, fewer where the strip comes out
longer than the sheet. Pieces tied by grain are turned by half a turn at most.
"""

import math
import time
from collections import Counter
from collections.abc import Sequence

import spyrrow
from shapely import Polygon
from shapely.affinity import rotate

from .anyplace import saw_plan
from .pieces import Piece, Placed, Stock, fits, refuse_too_large
from .plan import Plan, faults

FINE = 0.2
"""Outlines are simplified outwards by no more than this before they are nested, mm."""
FULLEST = 0.92
"""No more outline than this share of a sheet is tried on it at once."""


def cutter_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
                seconds: float = 8.0, seed: int = 1) -> Plan:
    """The nested plan, or one of rectangles where that needs fewer sheets; refuses a piece that no sheet holds."""
    refuse_too_large(pieces, stock, margin)
    until = time.monotonic() + seconds
    boxed = saw_plan(pieces, stock, kerf, margin, min(2.0, seconds / 4), seed)
    left = sorted(pieces, key=lambda p: -Polygon(p.ring).area)
    counts, sheets, placed = Counter({s.id: s.count for s in stock}), [], []
    shelf = sorted(stock, key=lambda s: (not s.leftover, -s.length * s.width))
    while left and time.monotonic() < until and len(sheets) < len(boxed.sheets):
        sheet = next((s for s in shelf if counts[s.id] > 0), None)
        if sheet is None:
            break
        counts[sheet.id] -= 1
        found = _filled(left, sheet, kerf, margin, max(1.0, (until - time.monotonic()) / 4), seed)
        if not found:
            continue
        placed += [Placed(p, len(sheets), x, y, turned) for p, x, y, turned in found]
        done = {p.id for p, *_ in found}
        left = [piece for piece in left if piece.id not in done]
        sheets.append(sheet)
    if left or len(sheets) > len(boxed.sheets) or faults(tuple(sheets), tuple(placed), kerf, margin):
        return boxed
    metal = sum(Polygon(piece.ring).area for piece in pieces)
    bound = math.ceil(metal / max(s.length * s.width for s in stock) - 1e-9)
    return Plan.uncut(tuple(sheets), tuple(placed), bound)


def _filled(left: list[Piece], sheet: Stock, kerf, margin, seconds, seed) -> list[tuple[Piece, float, float, float]]:
    """(piece, x, y, turned) of as many of the pieces as go on the sheet."""
    room = (sheet.length - 2 * margin) * (sheet.width - 2 * margin) * FULLEST
    tried, area = [], 0.0
    for piece in left:
        own = Polygon(piece.ring).area
        goes = any(fits(piece, sheet, margin, way) for way in piece.ways(sheet))
        if goes and area + own <= room:
            tried.append(piece)
            area += own
    while tried:
        found = _nested(tried, sheet, kerf, margin, seconds, seed)
        if found:
            return found
        tried = tried[:-max(1, len(tried) // 8)]
    return []


def _nested(pieces, sheet, kerf, margin, seconds, seed):
    """Places of all of them, None where the strip comes out too long."""
    items, shapes = [], {}
    for piece in pieces:
        quarter = 90 if piece.tied and (piece.ways(sheet)[0]) else 0
        turns = [quarter, quarter + 180] if piece.tied else [0, 90, 180, 270]
        outer = Polygon(piece.ring).buffer(FINE / 2, join_style="mitre").simplify(FINE / 2)
        shapes[piece.id] = piece
        items.append(spyrrow.Item(piece.id, list(outer.exterior.coords), demand=1, allowed_orientations=turns))
    strip = spyrrow.StripPackingInstance("sheet", strip_height=sheet.width - 2 * margin, items=items)
    config = spyrrow.StripPackingConfig(early_termination=True, total_computation_time=max(1, round(seconds)),
                                        seed=seed, num_workers=1, min_items_separation=kerf or None)
    try:
        solved = strip.solve(config)
    except BaseException as error:  # the package's own panics are no Exception
        if isinstance(error, KeyboardInterrupt | SystemExit):
            raise
        return None
    if solved.width > sheet.length - 2 * margin:
        return None
    found = []
    for one in solved.placed_items:
        piece = shapes[one.id]
        lies = Placed(piece, 0, 0, 0, one.rotation % 360)
        turned = _turned(piece, one.rotation)
        found.append((piece, turned[0] + one.translation[0] + margin, turned[1] + one.translation[1] + margin,
                      lies.turned))
    return found


def _turned(piece: Piece, degrees: float) -> tuple[float, float]:
    """The lower-left corner of the box about an outline turned about its origin."""
    left, low, *_ = rotate(Polygon(piece.ring), degrees, origin=(0, 0)).bounds
    return left, low

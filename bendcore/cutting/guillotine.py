"""Plans for a shear: every cut goes through from edge to edge of what it cuts.

A sheet is a tree: a region is a piece, is left, or is cut in two along x or y. A piece goes into the corner of a free
region, and what is beside and above it is parted by the first of the two cuts: so every plan can be cut as it stands.
Which region, which way round and which cut first are rules of thumb (best short side, best area, lowest; shorter or
longer leftover first …); all of them are tried, then random orders near the best, until the plan needs no more sheets
than any could (:mod:`.bound`) or the time is up. Heuristics after J. Jylänki (2010), "A thousand ways to pack the bin";
his split rules are those here. Packages for it turn all pieces or none, and tell no tree of cuts; grain ties some.

A cut's kerf is laid to the right of and above what it cuts off: pieces and sheet are reckoned larger by it.
"""

import random
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

from .bound import least_sheets
from .pieces import KEPT, Piece, Placed, Stock, fits, refuse_too_large
from .plan import Cut, Plan

SAME = 1e-6
SPLITS: dict[str, Callable[[float, float, float, float], bool]] = {
    "shorter": lambda right, top, long, wide: right < top, "longer": lambda right, top, long, wide: right >= top,
    "along": lambda right, top, long, wide: True, "across": lambda right, top, long, wide: False,
    "larger": lambda right, top, long, wide: right * wide > top * long,
    "smaller": lambda right, top, long, wide: right * wide <= top * long}
"""Whether the first cut runs up beside the piece: by what is left at its right and its top, and its sides."""
FITS: dict[str, Callable] = {
    "side": lambda region, long, wide: min(region.long - long, region.wide - wide),
    "area": lambda region, long, wide: region.long * region.wide - long * wide,
    "low": lambda region, long, wide: (region.y, region.x)}
ORDERS: dict[str, Callable[[Piece], float]] = {
    "area": lambda p: -p.area, "long": lambda p: -max(p.length, p.width), "short": lambda p: -min(p.length, p.width),
    "round": lambda p: -(p.length + p.width), "width": lambda p: -p.width}


@dataclass(eq=False)
class Region:
    """``long`` along x and ``wide`` along y from (x, y), one kerf larger than it is; ``axis`` it is cut across, into
    ``low`` and ``high``."""

    x: float
    y: float
    long: float
    wide: float
    piece: Piece | None = None
    turned: bool = False
    axis: str = ""
    low: "Region | None" = None
    high: "Region | None" = None

    @property
    def free(self) -> bool:
        """Whether nothing stands in it yet."""
        return self.piece is None and not self.axis

    def cut(self, axis: str, at: float) -> "Region":
        """Cut off ``at`` of it; the part cut off, or itself where nothing is left beside it."""
        long = self.long if axis == "x" else self.wide
        if long - at <= SAME:
            return self
        self.axis = axis
        if axis == "x":
            self.low = Region(self.x, self.y, at, self.wide)
            self.high = Region(self.x + at, self.y, self.long - at, self.wide)
        else:
            self.low = Region(self.x, self.y, self.long, at)
            self.high = Region(self.x, self.y + at, self.long, self.wide - at)
        return self.low

    def walk(self) -> Iterator["Region"]:
        """It and everything in it, cuts before what they cut off."""
        yield self
        for part in (self.low, self.high):
            if part:
                yield from part.walk()


@dataclass
class Used:
    """A sheet of ``stock`` in use."""

    stock: Stock
    root: Region
    free: list[Region] = field(default_factory=list)


def shear_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
               seconds: float = 4.0, seed: int = 1) -> Plan:
    """The best plan found in the time; refuses a piece that no sheet holds. Leftovers come before whole sheets."""
    refuse_too_large(pieces, stock, margin)
    bound, until, rng = least_sheets(pieces, stock, margin, kerf), time.monotonic() + seconds, random.Random(seed)
    sizes = (True, False) if len({s.length * s.width for s in stock if not s.leftover}) > 1 else (False,)
    best = min((_packed(sorted(pieces, key=order), stock, kerf, margin, fit, split, large) for order in ORDERS.values()
                for fit in FITS.values() for split in SPLITS.values() for large in sizes), key=_cost)
    order = sorted(pieces, key=ORDERS["area"])
    while _sheets(best) > bound and time.monotonic() < until:
        tried = order[:]
        for _ in range(rng.randint(1, max(2, len(tried) // 8))):
            i = rng.randrange(len(tried))
            tried.insert(rng.randrange(len(tried)), tried.pop(i))
        found = _packed(tried, stock, kerf, margin, rng.choice(list(FITS.values())), rng.choice(list(SPLITS.values())),
                        rng.choice(sizes))
        if _cost(found) <= _cost(best):
            best, order = found, tried
    return _plan(best, pieces, kerf, margin, bound)


def _packed(pieces, stock, kerf, margin, fit, split, large) -> tuple[list[Used], list[Piece]]:
    """(sheets in use, what found no place) of one run; whole sheets are taken from the ``large`` or the small ones."""
    left = {sheet.id: sheet.count for sheet in stock}
    shelf = sorted(stock, key=lambda s: (not s.leftover, s.length * s.width * (-1 if large and not s.leftover else 1)))
    used: list[Used] = []
    unplaced = []
    for piece in pieces:
        spot = _best(piece, used, fit, kerf)
        if spot is None:
            fresh = _opened(piece, shelf, left, margin, kerf)
            if fresh is None:
                unplaced.append(piece)
                continue
            used.append(fresh)
            spot = _best(piece, [fresh], fit, kerf)
        sheet, region, turned = spot
        _place(sheet, region, piece, turned, split, kerf)
    return used, unplaced


def _best(piece, used, fit, kerf):
    found, least = None, None
    for sheet in used:
        for turned in piece.ways(sheet.stock):
            long, wide = (side + kerf for side in piece.sides(turned))
            for region in sheet.free:
                if long <= region.long + SAME and wide <= region.wide + SAME:
                    cost = fit(region, long, wide)
                    if least is None or cost < least:
                        found, least = (sheet, region, turned), cost
        if found and fit is FITS["low"]:
            break  # the first sheet that takes it
    return found


def _opened(piece, shelf, left, margin, kerf) -> Used | None:
    """A sheet not in use yet that holds it, the first on the shelf."""
    for sheet in shelf:
        if left[sheet.id] and any(fits(piece, sheet, margin, way) for way in piece.ways(sheet)):
            left[sheet.id] -= 1
            root = Region(margin, margin, sheet.length - 2 * margin + kerf, sheet.width - 2 * margin + kerf)
            return Used(sheet, root, [root])
    return None


def _place(sheet: Used, region: Region, piece, turned, split, kerf) -> None:
    long, wide = (side + kerf for side in piece.sides(turned))
    first = "x" if split(region.long - long, region.wide - wide, long, wide) else "y"
    sheet.free.remove(region)
    part = region.cut(first, long if first == "x" else wide)
    own = part.cut("y" if first == "x" else "x", wide if first == "x" else long)
    own.piece, own.turned = piece, turned
    sheet.free += [one.high for one in ((region,) if part is region else (region, part)) if one.high is not None]


def _sheets(run) -> int:
    return len(run[0]) + (1000 if run[1] else 0)


def _cost(run) -> tuple:
    """Unplaced, whole sheets, sheets, area opened; then the one leftover as large as can be."""
    used, unplaced = run
    whole = sum(not sheet.stock.leftover for sheet in used)
    left = max((r.long * r.wide for sheet in used for r in sheet.free), default=0.0)
    return len(unplaced), whole, len(used), sum(s.stock.length * s.stock.width for s in used), -left


def _plan(run, pieces, kerf, margin, bound) -> Plan:
    used, unplaced = run
    placed, cuts, leftovers = [], [], []
    for n, sheet in enumerate(used):
        cuts.append(tuple(_cuts(sheet, kerf, margin)))
        for region in sheet.root.walk():
            if region.piece:
                placed.append(Placed(region.piece, n, region.x, region.y, 90.0 if region.turned else 0.0))
            elif region.free:
                long, wide = region.long - kerf, region.wide - kerf
                if max(long, wide) >= KEPT[0] and min(long, wide) >= KEPT[1]:
                    leftovers.append((n, region.x, region.y, long, wide))
    return Plan(tuple(sheet.stock for sheet in used), tuple(placed), tuple(cuts), tuple(leftovers), bound,
                tuple(unplaced))


def _cuts(sheet: Used, kerf: float, margin: float) -> Iterator[Cut]:
    """In the order they are made: the sheet squared, then down the tree."""
    stock = sheet.stock
    if margin > SAME:
        x, y, long, wide = 0.0, 0.0, stock.length, stock.width
        yield Cut("x", (x, y, long, wide), margin, wide, True)
        x, long = margin, long - margin
        yield Cut("y", (x, y, long, wide), margin, long, True)
        y, wide = margin, wide - margin
        yield Cut("x", (x, y, long, wide), long - margin, wide, True)
        long -= margin
        yield Cut("y", (x, y, long, wide), wide - margin, long, True)
    for region in sheet.root.walk():
        if region.axis:
            long, wide = region.long - kerf, region.wide - kerf
            size = (region.low.long if region.axis == "x" else region.low.wide) - kerf
            yield Cut(region.axis, (region.x, region.y, long, wide), size, wide if region.axis == "x" else long)

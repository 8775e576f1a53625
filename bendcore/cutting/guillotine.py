"""Plans for a shear: every cut goes through from edge to edge of what it cuts.

A sheet is a tree: a region is a piece, is left, or is cut in two along x or y. A piece goes into the corner of a free
region, and what is beside and above it is parted by the first of the two cuts: so every plan can be cut as it stands.
Which region, which way round and which cut first are rules of thumb (best short side, best area, lowest; shorter or
longer leftover first …); all of them are tried, then random orders near the best, some of them mended by trying every
way on a sheet (:mod:`.exact`), until no plan could do better (:mod:`.bound`) or the time is up. Heuristics after J.
Jylänki (2010), "A thousand ways to pack the bin"; his split rules are those here. Packages for it turn all pieces or
none, and tell no tree of cuts; grain ties some.

A cut's kerf is laid to the right of and above what it cuts off: pieces and sheet are reckoned larger by it.
"""

import math
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

from ..patience import Patience, Turn
from .bound import Bounds, bounds, by_area, least_left_out
from .exact import Rectangle, together
from .pieces import KEPT, Piece, Placed, Stock, fits, refuse_too_large
from .plan import Cut, Plan
from .wish import SHEETS, cost, shelves

SAME = 1e-6
LONGER, REFIT = 4, 25
SECONDS = 4.0
"""So long a plan is looked for unless said otherwise."""
NOISES, FLIPPED, ODD, LUCK = (0.05, 0.3, 1.0), 0.3, 0.05, 0.8
"""Of tries by luck: how far the order strays from the large first, shares of cuts made the other way round and of
regions taken though they fit worse, share of the time."""
"""So many times longer is looked while a piece is left out; of so many tries one is mended by trying every way."""
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
    """A sheet of ``stock`` in use, with the ``cuts`` made of it and the ``pieces`` on it."""

    stock: Stock
    root: Region
    free: list[Region] = field(default_factory=list)
    cuts: int = 0
    pieces: list[Piece] = field(default_factory=list)


@dataclass(frozen=True)
class Job:
    """What is asked: the ``stock`` at hand, ``kerf`` and ``margin``, and what the shop wants saved. ``known`` keeps
    which pieces go together on a sheet, and how."""

    stock: Sequence[Stock]
    kerf: float
    margin: float
    wish: str
    known: dict[tuple, tuple[Rectangle, list[list[Piece]]] | None] = field(default_factory=dict)


@dataclass
class Run:
    """One way to cut it: sheets ``used``, pieces ``left_out``."""

    used: list[Used]
    left_out: list[Piece]

    @property
    def so_far(self) -> tuple[list[Stock], list[Piece]]:
        """(the stock opened, what is left out)."""
        return [used.stock for used in self.used], self.left_out

    def cost(self, wish: str) -> tuple[float, ...]:
        """By the wish; then the one leftover as large as can be."""
        left = max((r.long * r.wide for sheet in self.used for r in sheet.free), default=0.0)
        return *cost(wish, [u.stock for u in self.used], self.left_out, sum(u.cuts for u in self.used)), -left


def shear_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
               turn: Turn | None = None, seed: int = 1, wish: str = SHEETS) -> Plan:
    """The best plan found in the seconds of its ``turn`` (:data:`SECONDS`), :data:`LONGER` of them while a piece is
    left out, or until the whole of that is over; refuses a piece that no sheet holds."""
    refuse_too_large(pieces, stock, margin)
    job, spell, rng = Job(stock, kerf, margin, wish), anew(turn), random.Random(seed)
    least, racks = bounds(pieces, stock, margin, kerf), shelves(stock, wish)
    most_placed = least_left_out(pieces, stock, margin, kerf)
    best = min((_packed(sorted(pieces, key=order), job, fit, split, shelf) for order in ORDERS.values()
                for fit in FITS.values() for split in SPLITS.values() for shelf in racks),
               key=lambda run: run.cost(wish))
    spell.whole.note(**least.far(*best.so_far))
    order, tries = sorted(pieces, key=ORDERS["area"]), 0
    while not _is_best(best, job, least, most_placed):
        if spell():
            break
        tried = order[:]
        for _ in range(rng.randint(1, max(2, len(tried) // 8))):
            i = rng.randrange(len(tried))
            tried.insert(rng.randrange(len(tried)), tried.pop(i))
        found = _packed(tried, job, rng.choice(list(FITS.values())), rng.choice(list(SPLITS.values())),
                        rng.choice(racks))
        tries += 1
        if tries % REFIT == 0 or found.cost(wish)[:2] < best.cost(wish)[:2]:
            refit(found, job)
        if found.cost(wish) <= best.cost(wish):
            best, order = found, tried
            spell.whole.note(**least.far(*best.so_far))
    if best.left_out and best.cost(wish)[:2] <= most_placed:  # there is no room for more: none is looked for
        return _plan(best, kerf, margin, least)
    spell.seconds *= LONGER * LUCK
    while best.left_out and not spell():
        best = min(best, _by_luck(pieces, job, rng, rng.choice(racks), len(best.left_out)),
                   key=lambda run: run.cost(wish))
    spell.seconds /= LUCK
    exchange(best, job, spell, rng)
    return _plan(best, kerf, margin, least)


def anew(turn: Turn | None, share: float = 1.0) -> Turn:
    """A share of somebody's turn, from now on; :data:`SECONDS` where none is given."""
    return Turn(turn.seconds * share, whole=turn.whole) if turn else Turn(SECONDS * share)


def _is_best(run: Run, job: Job, least: Bounds, most_placed: tuple[int, float]) -> bool:
    """Whether it is proven that no run is better in what the wish counts first."""
    if run.left_out and run.cost(job.wish)[:2] <= most_placed:  # another choice to place would need as much stock
        least = by_area([piece.area for used in run.used for piece in used.pieces], job.stock,
                        job.kerf - 2 * job.margin)
        return least.reached([used.stock for used in run.used], [], job.wish)
    return least.reached([used.stock for used in run.used], run.left_out, job.wish)


def refit(run: Run, job: Job) -> None:
    """Bring pieces that are left out, and those of the emptiest sheet, onto other sheets by trying every way; where a
    piece stays out, a smaller one in its place."""
    _brought_in(run, job)
    for piece in sorted(run.left_out, key=lambda p: -p.area):
        if piece not in run.left_out:  # brought in by an exchange before its turn
            continue
        for sheet, other in [(used, p) for used in run.used for p in used.pieces if p.area < piece.area]:
            if _with(sheet, [*(p for p in sheet.pieces if p is not other), piece], job):
                run.left_out.remove(piece)
                run.left_out.append(other)
                _brought_in(run, job)
                break
    if run.left_out or len(run.used) < 2:
        return
    emptiest = min(run.used, key=lambda u: (u.stock.leftover, sum(p.area for p in u.pieces)))
    for piece in sorted(emptiest.pieces, key=lambda p: -p.area):
        if any(_with(sheet, [*sheet.pieces, piece], job) for sheet in run.used if sheet is not emptiest):
            emptiest.pieces.remove(piece)
    if emptiest.pieces:
        _with(emptiest, emptiest.pieces, job)
    else:
        run.used.remove(emptiest)


def exchange(run: Run, job: Job, patience: Patience, rng: random.Random) -> None:
    """While a piece is left out and there is patience: pieces change places between sheets, or with one that is left
    out, each sheet tried every way; now and then for a larger one, so that it does not stay where it is."""
    while run.left_out and not patience():
        one = rng.choice(run.used)
        piece = rng.choice(one.pieces)
        rest = [p for p in one.pieces if p is not piece]
        if len(run.used) > 1 and rng.random() < 0.5:
            other = rng.choice([sheet for sheet in run.used if sheet is not one])
            back = rng.choice(other.pieces)
            before = list(one.pieces)
            if _with(one, [*rest, back], job) and not _with(other, [*(p for p in other.pieces if p is not back), piece],
                                                            job):
                _with(one, before, job)
        else:
            out = rng.choice(run.left_out)
            if (piece.area <= out.area or rng.random() < 0.2) and _with(one, [*rest, out], job):
                run.left_out.remove(out)
                run.left_out.append(piece)
        _brought_in(run, job)


def _brought_in(run: Run, job: Job) -> None:
    for piece in sorted(run.left_out, key=lambda p: p.area):
        if any(_with(sheet, [*sheet.pieces, piece], job) for sheet in run.used):
            run.left_out.remove(piece)


def _with(sheet: Used, pieces: list[Piece], job: Job) -> bool:
    """Lay all of these on a sheet in place of what lies there, where they go."""
    key = (sheet.stock.length, sheet.stock.width, sheet.stock.grain, frozenset(piece.id for piece in pieces))
    if key not in job.known:
        job.known[key] = together(pieces, sheet.stock, job.kerf, job.margin)
    found = job.known[key]
    if found is None:
        return False
    rectangle, kinds = found
    sheet.root, sheet.free, sheet.cuts, sheet.pieces = _whole(sheet.stock, job), [], 0, list(pieces)
    waiting = [list(kind) for kind in kinds]

    def fill(region: Region, one: Rectangle) -> None:
        for axis, size in (("x", one.long), ("y", one.wide)):
            part = region.cut(axis, size)
            if part is not region:
                sheet.free.append(region.high)
                sheet.cuts += 1
            region = part
        if one.axis:
            low = region.cut(one.axis, one.low.long if one.axis == "x" else one.low.wide)
            sheet.cuts += 1
            high = region.high
            fill(low, one.low)
            fill(high, one.high)
        else:
            region.piece, region.turned = waiting[one.kind].pop(), one.turned

    fill(sheet.root, rectangle)
    return True


def _whole(sheet: Stock, job: Job) -> Region:
    return Region(job.margin, job.margin, sheet.length - 2 * job.margin + job.kerf,
                  sheet.width - 2 * job.margin + job.kerf)


def _packed(pieces: Sequence[Piece], job: Job, fit, split, shelf: Sequence[Stock],
            opened: Sequence[Stock] = (), most: float = math.inf) -> Run:
    """One run; stock is taken from the ``shelf`` in its order, or all of it is ``opened`` from the beginning. Given up
    with all the rest left out when ``most`` are."""
    left = {sheet.id: 0 if opened else sheet.count for sheet in job.stock}
    run = Run([Used(sheet, root := _whole(sheet, job), [root]) for sheet in opened], [])
    for piece in pieces:
        spot = _best(piece, run.used, fit, job.kerf)
        if spot is None:
            fresh = _opened(piece, shelf, left, job)
            if fresh is None:
                run.left_out.append(piece)
                if len(run.left_out) >= most:
                    return Run(run.used, list(pieces))
                continue
            run.used.append(fresh)
            spot = _best(piece, [fresh], fit, job.kerf)
        sheet, region, turned = spot
        _place(sheet, region, piece, turned, split, job.kerf)
    run.used = [sheet for sheet in run.used if sheet.pieces]
    return run


def _by_luck(pieces: Sequence[Piece], job: Job, rng: random.Random, shelf: Sequence[Stock], most: int) -> Run:
    """One run from an order drawn anew, the large first more or less, every sheet there from the beginning, which cut
    comes first now and then the other way: what rules of thumb leave out often goes so."""
    noise = rng.choice(NOISES)
    drawn = sorted(pieces, key=lambda p: -p.area * (1 + noise * rng.random()))

    def fit(region: Region, long: float, wide: float) -> float:
        return FITS["side"](region, long, wide) if rng.random() > ODD else 0.0

    return _packed(drawn, job, fit, lambda right, top, *_: (right >= top) ^ (rng.random() < FLIPPED), shelf,
                   [sheet for sheet in shelf for _ in range(min(sheet.count, len(pieces)))], most)


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


def _opened(piece, shelf, left, job: Job) -> Used | None:
    """A sheet not in use yet that holds it, the first on the shelf."""
    for sheet in shelf:
        if left[sheet.id] and any(fits(piece, sheet, job.margin, way) for way in piece.ways(sheet)):
            left[sheet.id] -= 1
            root = _whole(sheet, job)
            return Used(sheet, root, [root])
    return None


def _place(sheet: Used, region: Region, piece, turned, split, kerf) -> None:
    long, wide = (side + kerf for side in piece.sides(turned))
    first = "x" if split(region.long - long, region.wide - wide, long, wide) else "y"
    sheet.free.remove(region)
    part = region.cut(first, long if first == "x" else wide)
    own = part.cut("y" if first == "x" else "x", wide if first == "x" else long)
    own.piece, own.turned = piece, turned
    opened = [one.high for one in ((region,) if part is region else (region, part)) if one.high is not None]
    sheet.free += opened
    sheet.cuts += len(opened)
    sheet.pieces.append(piece)


def _plan(run: Run, kerf: float, margin: float, least: Bounds) -> Plan:
    placed, cuts, leftovers = [], [], []
    for n, sheet in enumerate(run.used):
        cuts.append(tuple(_cuts(sheet, kerf, margin)))
        for region in sheet.root.walk():
            if region.piece:
                placed.append(Placed(region.piece, n, region.x, region.y, 90.0 if region.turned else 0.0))
            elif region.free:
                long, wide = region.long - kerf, region.wide - kerf
                if max(long, wide) >= KEPT[0] and min(long, wide) >= KEPT[1]:
                    leftovers.append((n, region.x, region.y, long, wide))
    return Plan(tuple(sheet.stock for sheet in run.used), tuple(placed), tuple(cuts), tuple(leftovers), least,
                tuple(run.left_out))


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

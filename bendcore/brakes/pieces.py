"""Which pieces of a tool to put together along a bend: the fewest of those owned, exactly.

What a bend asks for is one *block* or more, between walls that stand in the gaps: each a run of pieces no more than
:data:`MOST_GAP` apart that reaches over at least ``need`` and lies within ``room``. Sums are counted in tenths of a
millimetre; which can be made with how many pieces is the subset-sum problem, answered for all sums at once with one bit
each (Bellman's recursion, 1957).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

MOST_GAP = 10.0
"""Pieces that stand together leave no wider gap, mm."""
ENDS = 3.0
"""They reach to within so much of each end of the bend, mm."""
BESIDE = 10.0
"""A gap in which a wall stands is at most so much wider on each side of it, mm."""
SPARE = 30.0
"""Pieces may run on past the ends of the bend by so much together where that takes fewer, mm."""
TENTH = 10
MOST_PIECES = 60


@dataclass(frozen=True)
class Block:
    """A run of pieces: it starts between ``start`` and ``latest``, ends between ``earliest`` and ``end``, along the
    bend, mm; ``start`` and ``end`` are where something stands in the way."""

    start: float
    latest: float
    earliest: float
    end: float

    @property
    def need(self) -> float:
        """The least it must span, mm."""
        return max(0.0, self.earliest - self.latest)

    @property
    def room(self) -> float:
        """The most it may span, mm."""
        return self.end - self.start


@dataclass(frozen=True)
class Stands:
    """A piece of a tool and where it stands along the bend, mm from the first point of its line in the flat."""

    length: float
    start: float

    @property
    def end(self) -> float:
        """Its other end."""
        return self.start + self.length


def _tenths(width: float) -> int:
    return round(width * TENTH)


@lru_cache(maxsize=256)
def _sums(owned: tuple[float, ...], most: int) -> tuple[tuple[int, ...], ...]:
    """By piece taken into account, by number of pieces: the sums that can be made up to ``most`` tenths, one bit
    each."""
    mask, count = (1 << (most + 1)) - 1, min(len(owned), MOST_PIECES)
    layer = [1] + [0] * count
    layers = [tuple(layer)]
    for width in owned:
        shift = _tenths(width)
        layer = [layer[0], *(layer[k] | layer[k - 1] << shift & mask for k in range(1, count + 1))]
        layers.append(tuple(layer))
    return tuple(layers)


@lru_cache(maxsize=8192)
def best_set(owned: tuple[float, ...], need: float, room: float) -> tuple[float, ...] | None:
    """The fewest pieces that reach over ``need`` mm with gaps of at most :data:`MOST_GAP` and fit into ``room``, if
    there are such without running on past the bend by more than :data:`SPARE`; of those the widest sum. None where
    there are none.

    >>> best_set((100.0, 50.0, 40.0), 130.0, 155.0)
    (100.0, 50.0)
    """
    near = need + 2 * ENDS + SPARE
    return (_fewest(owned, need, near) if near < room else None) or _fewest(owned, need, room)


@lru_cache(maxsize=2048)
def least_stack(owned: tuple[float, ...], need: float) -> float:
    """The shortest run of pieces that reaches over ``need`` without gaps, mm; all of them where they are too short."""
    layers, least = _sums(owned, sum(map(_tenths, owned))), max(0, math.ceil(need * TENTH - 1e-6))
    sums = 0
    for layer in layers[-1]:
        sums |= layer
    above = sums >> least
    return (least + (above & -above).bit_length() - 1) / TENTH if above else sum(owned)


def _fewest(owned, need, room) -> tuple[float, ...] | None:
    whole = sum(map(_tenths, owned))
    most = min(whole, int(min(room, 1e6) * TENTH + 1e-6))
    if most < 0:
        return None
    layers = _sums(owned, whole)
    for count in range(1, len(layers[-1])):
        least = max(1, math.ceil((need - MOST_GAP * (count - 1)) * TENTH - 1e-6))
        fit = layers[-1][count] & ((1 << (most + 1)) - 1)
        fit = fit >> least << least
        if fit:
            return _taken(owned, layers, count, fit.bit_length() - 1)
    return None


def _taken(owned, layers, count, total) -> tuple[float, ...]:
    """The pieces that make a sum, widest first."""
    found = []
    for n in range(len(owned), 0, -1):
        if not count:
            break
        if layers[n - 1][count] >> total & 1:
            continue
        found.append(owned[n - 1])
        count, total = count - 1, total - _tenths(owned[n - 1])
    return tuple(sorted(found, reverse=True))


def sets_for(owned: tuple[float, ...], blocks: Sequence[tuple[float, float]]) -> tuple[tuple[float, ...], ...] | None:
    """Pieces for several blocks, (need, room) each, from one stock: the fewest for each, those with the least choice
    first, and others where that leaves too few. None where the stock does not do."""
    if len(blocks) == 1:
        one = best_set(owned, *blocks[0])
        return (one,) if one else None
    order = sorted(range(len(blocks)), key=lambda n: blocks[n][1])
    found: dict[int, tuple[float, ...]] = {}

    def fill(left, n) -> bool:
        if n == len(order):
            return True
        barred: set[tuple[float, ...]] = set()
        for taken in _choices(left, *blocks[order[n]]):
            if taken in barred:
                continue
            barred.add(taken)
            rest = list(left)
            for width in taken:
                rest.remove(width)
            if fill(tuple(rest), n + 1):
                found[order[n]] = taken
                return True
        return False

    return tuple(found[n] for n in range(len(blocks))) if fill(owned, 0) else None


def _choices(owned, need, room):
    """Sets for one block: the best, then the best without each of its pieces, and so on."""
    queue, seen = [owned], set()
    while queue and len(seen) < 64:
        stock = queue.pop(0)
        if stock in seen:
            continue
        seen.add(stock)
        taken = best_set(stock, need, room)
        if not taken:
            continue
        yield taken
        for width in dict.fromkeys(taken):
            rest = list(stock)
            rest.remove(width)
            queue.append(tuple(rest))


def place(block: Block, taken: Sequence[float]) -> list[Stands]:
    """Where pieces stand: close together about the middle of the bend, apart only as far as they must reach."""
    widths = sum(taken)
    span = max(widths, block.need)
    gap = (span - widths) / (len(taken) - 1) if len(taken) > 1 else 0.0
    middle = (block.latest + block.earliest) / 2
    low, high = max(block.start, block.earliest - span), min(block.latest, block.end - span)
    at = min(max(middle - span / 2, low), high)
    found = []
    for width in taken:
        found.append(Stands(width, at))
        at += width + gap
    return found

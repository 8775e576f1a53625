"""What tools must be mounted for a move, and whether one mounting serves several.

A *need* says for one mount how far its pieces must reach, group by group: blocks as (need, room) along the bend. A run
of moves with one block each is served by one set of pieces whose span lies between the largest need and the smallest
room; moves that ask for several blocks, with walls in the gaps, share a set only where they ask for the same. A
*mounting* is the tuple of needs, mount by mount, that would all do; it is known by a number, 0 for none.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from ...brakes.pieces import Block, sets_for
from ...brakes.setting import OnBrake

Blocks = tuple[tuple[float, float], ...]
FREE_ROOM = 1e6


@dataclass(frozen=True)
class Need:
    """What one mount must offer: by group of pieces the blocks asked for."""

    mount: int
    groups: tuple[tuple[str, Blocks], ...]


def asked(blocks: Iterable[Block]) -> Blocks:
    """Blocks as (need, room), to the hundredth."""
    return tuple((round(block.need, 2), round(min(block.room, FREE_ROOM), 2)) for block in blocks)


def both(one: Need, other: Need, on: OnBrake) -> Need | None:
    """What serves both; None where nothing owned does."""
    if one == other:
        return one
    owned, groups = on.pieces(one.mount), []
    for (group, a), (_, b) in zip(one.groups, other.groups, strict=True):
        if a != b:
            if len(a) > 1 or len(b) > 1:
                return None
            a = ((max(a[0][0], b[0][0]), min(a[0][1], b[0][1])),)
            if sets_for(owned[group], a) is None:
                return None
        groups.append((group, a))
    return Need(one.mount, tuple(groups))


def wider(one: Need, other: Need) -> bool:
    """Whether whatever serves ``other`` serves ``one`` as well."""
    return one.mount == other.mount and all(
        a == b or (len(a) == len(b) == 1 and a[0][0] <= b[0][0] and a[0][1] >= b[0][1])
        for (_, a), (_, b) in zip(one.groups, other.groups, strict=True))


class Mountings:
    """Mountings of one search, each known by a number."""

    def __init__(self, brakes: tuple[OnBrake, ...]):
        self.brakes = brakes
        self.all: list[tuple[Need, ...]] = [()]
        self._number: dict[tuple, int] = {(): 0}
        self._both: dict[tuple, int] = {}
        self._wider: dict[tuple, bool] = {}

    def number(self, needs: Iterable[Need]) -> int:
        """Of these needs, those that another makes superfluous left out."""
        kept: list[Need] = []
        for need in dict.fromkeys(needs):
            if not any(wider(other, need) for other in kept):
                kept = [other for other in kept if not wider(need, other)] + [need]
        key = tuple(sorted(kept, key=lambda need: (need.mount, need.groups)))
        if key not in self._number:
            self._number[key] = len(self.all)
            self.all.append(key)
        return self._number[key]

    def both(self, on: int, one: int, other: int) -> int:
        """What serves two moves on one brake."""
        if one == other:
            return one
        key = (on, min(one, other), max(one, other))
        if key not in self._both:
            found = (both(a, b, self.brakes[on]) for a in self.all[one] for b in self.all[other] if a.mount == b.mount)
            self._both[key] = self.number(need for need in found if need)
        return self._both[key]

    def wider(self, one: int, other: int) -> bool:
        """Whether every need of ``other`` is served by one of ``one``."""
        if one == other:
            return True
        key = (one, other)
        if key not in self._wider:
            self._wider[key] = all(any(wider(a, b) for a in self.all[one]) for b in self.all[other])
        return self._wider[key]

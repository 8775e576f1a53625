"""Corners of two panels that are told by themselves: open, butt or by a tab, which covers, their gap."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ...errors import Refusal
from ..common import Given
from .fields import MEET, TABBED


@dataclass(frozen=True)
class Meet:
    """Two panels by their names; the one that ``covering`` names runs to the other's outer face; ``gap`` in mm. Of a
    corner with a tab that is bent from the other, ``tab`` mm wide, and lies the gap within the one that covers."""

    panels: frozenset[str]
    covering: str
    gap: float
    tab: float = 0.0
    path: str = ""

    def carries_tab(self, own: str) -> bool:
        """Whether the tab is bent from this one."""
        return self.tab > 0 and own in self.panels and own != self.covering

    def covers(self, own: str) -> int:
        """1 where this one covers, −1 where the other does."""
        return 0 if not self.covering else 1 if self.covering == own else -1


@dataclass(frozen=True)
class Meets:
    """All of a part; what is not told by itself has its ``gap``."""

    told: tuple[Meet, ...]
    gap: float

    def of(self, one: str, other: str) -> Meet | None:
        """That of two panels, where it is told."""
        return next((meet for meet in self.told if meet.panels == {one, other}), None)


def read_meets(shape: Mapping, names: Sequence[str], gap: float, given: Given) -> Meets:
    """Those of a file's ``shape``; refuses a panel that is not there and a corner that is told twice."""
    found: list[Meet] = []
    for i, block in enumerate(shape.get("meets", ())):
        path = f"meets[{i}]"
        pair = []
        for key in ("one", "other"):
            if not 1 <= block[key] <= len(names):
                raise Refusal(f"{path}.{key}", f"must be a panel from 1 to {len(names)}")
            pair.append(names[block[key] - 1])
        if pair[0] == pair[1]:
            raise Refusal(f"{path}.other", "must be another panel")
        if any(meet.panels == set(pair) for meet in found):
            raise Refusal(f"{path}.other", "meets it already, as told before")
        style = block.get("style", "open")
        covering = pair[block.get("covers", "first") == "second"] if style != "open" else ""
        own = MEET.mm(block, "gap", path, given.length) if "gap" in block else gap
        tab = MEET.mm(block, "width", path, given.length) if style == TABBED else 0.0
        found.append(Meet(frozenset(pair), covering, own, tab, path))
    return Meets(tuple(found), gap)

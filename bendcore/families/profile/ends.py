"""A strip's ends along its bends: tapered from start to end, and snipped at the blank's corners.

Both are given on the blank: ``taper`` is how far each edge (``front`` at y = 0, ``back`` at
y = the width) stands in at the start and at the end; a snip cuts a corner off straight, so
far along the length and so far along the width.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

from ...errors import Refusal
from ...said import Mm, Said
from .fields import FIELDS

SIDES, CORNERS = ("front", "back"), ("start_front", "start_back", "end_front", "end_back")


@dataclass(frozen=True)
class Ends:
    """``inset`` of either side is a line of (x along the blank, mm in), from start to end."""

    inset: dict[str, tuple[tuple[float, float], ...]]

    def at(self, side: str, x: float) -> float:
        """How far in the edge of this side stands at x."""
        line = self.inset[side]
        for (x0, y0), (x1, y1) in pairwise(line):
            if x <= x1 + 1e-12:
                return y0 if x1 - x0 < 1e-12 else y0 + (y1 - y0) * (x - x0) / (x1 - x0)
        return line[-1][1]

    def between(self, side: str, low: float, high: float) -> list[tuple[float, float]]:
        """The corners of this side strictly between two places."""
        return [(x, y) for x, y in self.inset[side] if low + 1e-9 < x < high - 1e-9]

    def outline(self, low: float, high: float, width: float) -> tuple[tuple[float, float], ...]:
        """The blank between two places along it, x from ``low``."""
        front = [(low, self.at("front", low)), *self.between("front", low, high), (high, self.at("front", high))]
        back = [(low, self.at("back", low)), *self.between("back", low, high), (high, self.at("back", high))]
        return (*((x - low, y) for x, y in front), *((x - low, width - y) for x, y in reversed(back)))

    def edge(self, x: float, width: float) -> tuple[float, float]:
        """From where to where the blank reaches across at x."""
        return self.at("front", x), width - self.at("back", x)


def read_ends(shape: dict, developed: float, width: float, zones: dict[str, tuple[float, float]],
              length: Callable) -> Ends:
    """Taper and snips of a blank ``developed`` long; ``zones`` are where its bends lie, by name.

    Refuses a snip that ends within a bend's zone, or leaves nothing of the blank.
    """
    taper, snips, inset = shape.get("taper", {}), shape.get("snips", {}), {}
    for side in SIDES:
        side_fields = FIELDS.fields["taper"].fields[side]
        ends = [side_fields.mm(taper.get(side, {}), end, f"taper.{side}", length) for end in ("start", "end")]
        line = [(0.0, ends[0]), (developed, ends[1])]
        for end, place in (("start", 0), ("end", -1)):
            block = snips.get(f"{end}_{side}")
            if block:
                path = f"snips.{end}_{side}"
                corner = FIELDS.fields["snips"].fields[f"{end}_{side}"]
                along, across = (corner.mm(block, key, path, length) for key in ("along", "across"))
                x = along if end == "start" else developed - along
                reached = ends[0] + (ends[1] - ends[0]) * x / developed
                line[place] = (line[place][0], line[place][1] + across)
                line.insert(1 if end == "start" else len(line) - 1, (x, reached))
                within = next((name for name, (low, high) in zones.items() if low + 1e-6 < x < high - 1e-6), None)
                if within:
                    low, high = zones[within]
                    one, other = (low, high) if end == "start" else (developed - high, developed - low)
                    raise Refusal(f"{path}.along", Said("ends within the zone of {bend}: make it {one} or {other} "
                                                        "along the blank", bend=within, one=Mm(one), other=Mm(other)))
        if any(a > b + 1e-9 for (a, _), (b, _) in pairwise(line)):
            raise Refusal("snips", Said("meet along the {side}: make them shorter than the blank ({blank})", side=side,
                                        blank=Mm(developed)))
        inset[side] = tuple(line)
    found = Ends(inset)
    for x in sorted({x for line in inset.values() for x, _ in line}):
        low, high = found.edge(x, width)
        if high - low <= 1e-6:
            raise Refusal("taper" if taper else "snips", Said(
                "leaves nothing of the width at {at} along the blank", at=Mm(x)))
    return found


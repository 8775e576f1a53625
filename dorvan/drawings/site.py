"""A site sheet's sketch on the page: edges as scribed lines, dimensions with their names and what was read."""

import itertools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import shapely
from shapely import MultiLineString, Polygon, box

WIDTH, HEIGHT, SCALE = 800, 560, 8
"""Of the drawing in pixels, and of a step of the sketch's grid."""
ARROW = 9
CHARACTER, ROW, FOOT = 10.6, 21, 5
"""Wide as a letter, high as a row of words and so far their foot over its lower edge, pixels."""
GAPS, SHARES = (7, 15, 26, 40, 58, 80, 110, 150), (0.0, -0.25, 0.25, -0.42, 0.42)
"""Words stand so far off their dimension, pixels, and so far along it from its middle, the best first."""
CLEAR, LED = 3, 30
"""Words keep so far off lines; those that stand farther off than ``LED`` have a line that leads to their dimension."""


Row = tuple[str, str]
"""A row of words: what it is called, what was read."""


class Place(NamedTuple):
    """Where words may stand: what they cover, how far off their dimension, and their rows."""

    room: Polygon
    gap: int
    rows: tuple[Row, ...]


@dataclass(frozen=True)
class Words:
    """What is written of a dimension from ``one`` to ``other``: its ``name`` and what was ``read``."""

    one: tuple[float, float]
    other: tuple[float, float]
    name: str
    read: str

    @property
    def middle(self) -> tuple[float, float]:
        """Of its dimension."""
        return (self.one[0] + self.other[0]) / 2, (self.one[1] + self.other[1]) / 2

    @property
    def layouts(self) -> list[tuple[Row, ...]]:
        """How it may be written: in two rows, in one, each of several readings in its own."""
        each = self.read.split("; ")
        two: list[tuple[Row, ...]] = [((self.name, ""), ("", self.read)), ((self.name, self.read),)]
        return two + ([((self.name, ""), *(("", one) for one in each))] if len(each) > 1 else [])

    def places(self) -> Iterator[Place]:
        """The best first: beside the dimension, on either side of it."""
        dx, dy = self.other[0] - self.one[0], self.other[1] - self.one[1]
        long = math.hypot(dx, dy)
        first = 1 if dx >= 0 else -1  # above what lies along, right of what stands
        sizes = [(CHARACTER * max(len(" ".join(filter(None, row))) for row in rows) / 2, ROW * len(rows) / 2)
                 for rows in self.layouts]
        for gap, share, side in itertools.product(GAPS, SHARES, (first, -first)):
            nx, ny = dy / long * side, -dx / long * side
            for rows, (wide, high) in zip(self.layouts, sizes, strict=True):
                off = abs(nx) * wide + abs(ny) * high + gap
                x, y = self.middle[0] + share * dx + nx * off, self.middle[1] + share * dy + ny * off
                if gap == GAPS[-1] or wide <= x <= WIDTH - wide and high <= y <= HEIGHT - high:
                    yield Place(box(x - wide, y - high, x + wide, y + high), gap, rows)


def sketch_view(strokes: list[Mapping], told: Callable[[str], str]) -> dict:
    """What is drawn of a sketch: ``edges`` and ``dimensions`` as paths, each with its place in the list; ``told(name)``
    writes what a dimension says. y counts downwards, as it is tapped. Words stand beside their dimension, clear of all
    lines and of each other where there is room."""
    edges, dimensions, lines, words = [], [], [], []
    for n, row in enumerate(strokes):
        x0, y0, x1, y1 = (row[key] * SCALE for key in ("x0", "y0", "x1", "y1"))
        lines.append(((x0, y0), (x1, y1)))
        if row["kind"] == "edge":
            edges.append({"n": n, "d": f"M{x0:g},{y0:g}L{x1:g},{y1:g}"})
            continue
        long = math.hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / long, (y1 - y0) / long
        heads = "".join(_head(x, y, s * ux, s * uy) for x, y, s in ((x0, y0, 1), (x1, y1, -1)))
        words.append(Words(*lines[-1], row["name"], told(row["name"])))
        dimensions.append({"n": n, "d": f"M{x0:g},{y0:g}L{x1:g},{y1:g}", "heads": heads})
    for row, own, place in zip(dimensions, words, put(words, lines), strict=True):
        left, top, right, _ = place.room.bounds
        (x, y), middle = own.middle, place.room.centroid
        row |= {"x": round((left + right) / 2, 1), "rows": [
            {"name": name, "read": read, "y": round(top + ROW * (n + 1) - FOOT, 1)}
            for n, (name, read) in enumerate(place.rows)],
            "lead": f"M{x:.0f},{y:.0f}L{middle.x:.0f},{middle.y:.0f}" if place.gap > LED else ""}
    return {"width": WIDTH, "height": HEIGHT, "scale": SCALE, "middle": WIDTH // 2, "edges": edges,
            "dimensions": dimensions}


def put(words: Sequence[Words], lines: Sequence[tuple]) -> list[Place]:
    """Where the words of each dimension stand, first come first served: the first place that is clear of all lines and
    of other words, else the one on the least of them."""
    drawn = MultiLineString(lines)
    shapely.prepare(drawn)
    found: list[Place] = []
    for own in words:
        places = list(own.places())
        rooms = np.array([place.room for place in places])
        met = shapely.intersects(drawn, shapely.buffer(rooms, CLEAR, join_style="mitre"))
        on = np.zeros(len(rooms))
        for other in found:
            on += shapely.area(shapely.intersection(rooms, other.room))
        free = np.flatnonzero(~met & (on == 0))
        n = free[0] if len(free) else int(np.argmin(on + ROW * shapely.length(shapely.intersection(drawn, rooms))))
        found.append(places[n])
    return found


def _head(x, y, ux, uy) -> str:
    left, right = ((x + ARROW * (ux - s * uy * .35), y + ARROW * (uy + s * ux * .35)) for s in (1, -1))
    return f"M{left[0]:.1f},{left[1]:.1f}L{x:g},{y:g}L{right[0]:.1f},{right[1]:.1f}"

"""Fitting a drawing into a box of the page, z (or y) up on the drawing, down on the page."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from bendcore.units import MM_PER

ROUND = {"mm": (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000),
         "in": (1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 3, 6, 12, 24, 48, 96, 192)}
"""Lengths of a scale bar, in its units."""


def ring_path(points: np.ndarray) -> str:
    """Points (n, 2) of the page as a closed path."""
    return "M" + "L".join(f"{x:g},{y:g}" for x, y in points.tolist()) + "Z"


@dataclass(frozen=True)
class Fit:
    scale: float
    dx: float
    dy: float

    @classmethod
    def into(cls, points, left, top, width, height, largest=12.0) -> "Fit":
        """The largest scale at which ``points`` fit the box, centred in it."""
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        span_x, span_y = max(max(xs) - min(xs), 1e-6), max(max(ys) - min(ys), 1e-6)
        scale = min(width / span_x, height / span_y, largest)
        return cls(scale, left + width / 2 - scale * (max(xs) + min(xs)) / 2,
                   top + height / 2 + scale * (max(ys) + min(ys)) / 2)

    def __call__(self, point) -> tuple[float, float]:
        return (round(self.dx + self.scale * point[0], 1), round(self.dy - self.scale * point[1], 1))

    def all(self, points) -> np.ndarray:
        """Many points (…, 2) at once, far quicker than one by one: rounding a number of numpy's is slow."""
        return np.round(np.array([self.dx, self.dy]) + np.array([self.scale, -self.scale]) * np.asarray(points), 1)

    def path(self, points) -> str:
        return ring_path(self.all(points))

    def paths(self, rings) -> list[str]:
        """The path of every ring, all of them fitted in one go."""
        if not len(rings):
            return []
        points = [f"{x:g},{y:g}" for x, y in self.all(np.concatenate([np.asarray(ring) for ring in rings])).tolist()]
        ends = np.cumsum([0, *map(len, rings)]).tolist()
        return ["M" + "L".join(points[a:b]) + "Z" for a, b in zip(ends, ends[1:], strict=False)]

    def lines(self, edges: Iterable) -> str:
        """Every edge from its first end to its second, as one path."""
        ends = np.array([*edges], dtype=float).reshape(-1, 2, 2)
        return "".join(f"M{a:g},{b:g}L{c:g},{d:g}" for (a, b), (c, d) in self.all(ends).tolist())

    def bar(self, units: str, target=130.0) -> dict:
        """A scale bar of a length that is round in ``units``, near ``target`` pixels."""
        steps = [step * MM_PER[units] for step in ROUND[units]]
        size = max((step for step in steps if step <= target / self.scale), default=steps[0])
        return {"mm": size, "px": round(size * self.scale, 1)}


def spread(labels: list[dict], gap: float) -> list[dict]:
    """Give each label (``x``, ``w``) the lowest ``row`` in which it meets no other."""
    rows: list[float] = []
    for label in sorted(labels, key=lambda item: item["x"]):
        left, right = label["x"] - label["w"] / 2, label["x"] + label["w"] / 2
        row = next((i for i, end in enumerate(rows) if end + gap <= left), len(rows))
        rows[row:row + 1] = [right]
        label["row"] = row
    return labels

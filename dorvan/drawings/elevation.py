"""What is developed, seen from the front and from above, with room for its sizes where they would be dimensioned.

Bodies are drawn between the outlines of their ends (:meth:`bendcore.families.shape.Shape.rings`), to one scale: the
elevation looks along y, the plan down. A dimension runs between two points of a view, off the drawing, with its input
in the middle of its line.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from shapely import MultiPoint

from .fit import Fit, ring_path
from .places import LABEL_H, LABEL_W, NAME_H

FRONT, ABOVE = (0, 2), (0, 1)
"""The axes across and up of the elevation and of the plan."""
LEFT, RIGHT, TOP, BOTTOM, MIDDLE = 122, 420, 134, 470, 380
"""Where views stand on the stage, pixels; above ``MIDDLE`` the plan where there is one."""
PLAN_BOTTOM, LOWEST = 282, 548
TALL = LABEL_H + NAME_H
"""An input with its name over it, pixels."""
OFF, TICK = 14, 4
"""How far a dimension's line stands off the drawing, and half of its end strokes; pixels."""
BESIDE_FLAT = (452, 238, 24, 64)
"""The room for the flat beside the views: left free at the left, top, right and bottom of the stage, pixels."""


class Span(NamedTuple):
    """A dimension from point to point of a view, on its ``side``: ``below`` and ``above`` run across, ``left`` and
    ``right`` up; ``row`` counts dimensions on one side outwards."""

    one: Sequence[float]
    other: Sequence[float]
    side: str
    row: int = 0


@dataclass(frozen=True)
class View:
    """One view on the page: its ``fit``, ``axes`` and the ``box`` (left, top, right, bottom) of what is drawn."""

    fit: Fit
    axes: tuple[int, int]
    rings: tuple[np.ndarray, ...]
    box: tuple[float, float, float, float]
    title: str

    def at(self, point: Sequence[float]) -> tuple[float, float]:
        """A point in space on the page."""
        return self.fit([point[axis] for axis in self.axes])

    @cached_property
    def bodies(self) -> list[str]:
        """What lies between each two outlines, a path each."""
        return [ring_path(self.fit.all(np.array(MultiPoint(np.vstack(pair)).convex_hull.exterior.coords)))
                for pair in zip(self._flat, self._flat[1:], strict=False)]

    @property
    def edges(self) -> str:
        """The outlines themselves, and where both of two have corners the lines between these."""
        found = "".join(ring_path(self.fit.all(ring)) for ring in self._flat)
        for one, other in zip(self._flat, self._flat[1:], strict=False):
            if len(one) == len(other) == 4:
                found += self.fit.lines(zip(one, other, strict=True))
        return found

    @cached_property
    def _flat(self) -> list[np.ndarray]:
        return [ring[:, list(self.axes)] for ring in self.rings]

    def dimension(self, span: Span) -> tuple[str, tuple[float, float]]:
        """(path of the line with its ends and what leads to it, (left, top) of its input)."""
        (x0, y0), (x1, y1) = self.at(span.one), self.at(span.other)
        left, top, right, bottom = self.box
        if span.side in ("below", "above"):
            way = 1 if span.side == "below" else -1
            y = (bottom if way > 0 else top) + way * (OFF + span.row * (TALL + OFF))
            middle = min(max((x0 + x1) / 2, LABEL_W / 2 + 8), RIGHT + 8)
            if span.row:  # where it begins inputs of the rows before it may stand
                y0 = y - way * OFF
            lines = "".join(f"M{x:g},{from_ + way * TICK:g}V{y + way * TICK:g}" for x, from_ in ((x0, y0), (x1, y1)))
            return f"{lines}M{x0:g},{y:g}H{x1:g}", (round(middle - LABEL_W / 2, 1),
                                                    round(y + (TICK if way > 0 else -TICK - TALL), 1))
        way = -1 if span.side == "left" else 1
        x = (left if way < 0 else right) + way * OFF
        lines = "".join(f"M{from_ + way * TICK:g},{y:g}H{x + way * TICK:g}" for from_, y in ((x0, y0), (x1, y1)))
        return f"{lines}M{x:g},{y0:g}V{y1:g}", (round(x + way * TICK - (LABEL_W if way < 0 else 0), 1),
                                                round((y0 + y1 - TALL) / 2, 1))


def views(rings: Sequence[np.ndarray], with_plan: bool, also: Sequence[Sequence[float]] = (),
          plan: str = "from above") -> list[View]:
    """The elevation, and the plan over it where that is wanted, to one scale. Points that a dimension in a second row
    runs to have room ``also``; ``plan`` is what that is called."""
    if with_plan:
        right = RIGHT - LABEL_W  # one stands over the other
        boxes = {FRONT: (LEFT, MIDDLE, right, LOWEST), ABOVE: (LEFT, TOP, right, PLAN_BOTTOM)}
    else:
        boxes = {FRONT: (LEFT, TOP, RIGHT, BOTTOM - (TALL if also else 0))}
    every = np.vstack([*rings, *([np.array(also, float)] if also else [])])
    seen = {axes: (every[:, list(axes)], left, top, right - left, bottom - top)
            for axes, (left, top, right, bottom) in boxes.items()}
    scale = min(Fit.into(*room).scale for room in seen.values())
    found = []
    for axes, (flat, *room) in seen.items():
        fit = Fit.into(flat, *room, largest=scale)
        low, high = fit(flat.min(axis=0)), fit(flat.max(axis=0))
        found.append(View(fit, axes, tuple(rings), (low[0], high[1], high[0], low[1]),
                          "from the front" if axes == FRONT else plan))
    return found


def drawn(found: Sequence[View], lit: int | None = None) -> list[dict]:
    """What a page draws of the views; the body ``lit``, counted from 0, is the one in hand."""
    return [{"bodies": view.bodies, "lit": [view.bodies[lit]] if lit is not None else [], "edges": view.edges,
             "title": view.title, "y": min(view.box[1], (view.box[1] + view.box[3] - TALL) / 2) - OFF}
            for view in found]

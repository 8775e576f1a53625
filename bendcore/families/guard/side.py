"""A guard's side plate: its outline within the wrapper, corners snipped clear of the bends."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ...errors import Refusal
from ...sheet.model import Point
from ..legs import Leg, ShapeBend
from ..mates import written
from ..outlines import widened


@dataclass(frozen=True)
class Wrapper:
    """What a side plate is drawn from: the ``outline`` over the wrapper, the edges of it that are ``wrapped`` (by
    index), each with its leg, and the bends between them; lengths in mm."""

    outline: Sequence[Point]
    wrapped: Sequence[int]
    legs: Sequence[Leg]
    bends: Sequence[ShapeBend]
    thickness: float


def side_plate(wrapper: Wrapper, sizes: Mapping[str, float], clearance: float) -> dict:
    """The plate's ``shape`` for a part file; a leg measured longer or shorter than drawn moves the far end of its edge
    along, mm."""
    n, t = len(wrapper.outline), wrapper.thickness
    outline = _restretched(wrapper, sizes)
    inner = widened(outline, [-(t + clearance) if i in wrapper.wrapped else 0.0 for i in range(n)])
    snips = {i: bend for i, bend in zip(wrapper.wrapped[1:], wrapper.bends, strict=True) if bend.direction == "up"}
    points = []
    for i, (x, y) in enumerate(inner):
        if i not in snips:
            points.append((x, y))
            continue
        # the wrapper's inner arc, less the clearance, is cut off from tangent point to tangent point
        reach = (snips[i].figures.inside_radius - clearance) * math.tan(math.radians(snips[i].figures.angle) / 2)
        if reach <= 1e-3:
            points.append((x, y))
            continue
        for j in (i - 1, (i + 1) % n):
            dx, dy = inner[j][0] - x, inner[j][1] - y
            long = math.hypot(dx, dy)
            points.append((x + dx / long * reach, y + dy / long * reach))
    return {"kind": "plate", "outline": [[written(x), written(y)] for x, y in points]}


def _restretched(wrapper: Wrapper, sizes: Mapping[str, float]) -> Sequence[Point]:
    """The outer outline with its wrapped edges as long as ``sizes`` say."""
    n, points = len(wrapper.outline), [list(p) for p in wrapper.outline]
    longer = {i: sizes[leg.id] - leg.size for leg, i in zip(wrapper.legs, wrapper.wrapped, strict=True)}
    if not any(abs(by) > 1e-9 for by in longer.values()):
        return wrapper.outline
    if len(wrapper.wrapped) == n:
        raise Refusal("made", "cannot be taken for a wrapper that goes all the way round: draw its outline anew")
    at = list(points[wrapper.wrapped[0]])
    moved = {wrapper.wrapped[0]: tuple(at)}
    for i in wrapper.wrapped:
        (x0, y0), (x1, y1) = points[i], points[(i + 1) % n]
        long = math.hypot(x1 - x0, y1 - y0)
        at = [at[0] + (x1 - x0) * (1 + longer[i] / long), at[1] + (y1 - y0) * (1 + longer[i] / long)]
        moved[(i + 1) % n] = tuple(at)
    return tuple(moved.get(i, tuple(points[i])) for i in range(n))

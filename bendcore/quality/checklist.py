"""All that a check sheet asks of a finished piece: its dimensions, and what no sum of legs and angles says.

* Of each face the hole nearest to a bend, from its centre to the outside beyond that bend: flat distance to the
  tangent line and the outside setback (handbook, *One bend*).
* Sizes made to fit a mate, where the band in which it goes on without being loose is narrower than the tolerance.
* What is tried and not measured: that the mate goes on, and that every flange is turned to the side drawn, by which a
  left hand is told from a right one.
* Of a rib the flange's angle, and whether its web came off the block flat.
"""

import math
from collections.abc import Iterator, Sequence

from ..families.shape import BLOCK
from ..part import AROUND, Part
from ..sheet.model import Bend, Edge, Hole
from .checksheet import ANGLE_TOLERANCE, TRIED, Dimension, dimensions

STEEP = 60.0
"""Beside a bend of fewer degrees there is no outside to measure to."""
MOST_NAMED = 6
EVERY = 10
"""So many pieces on, one is checked again (*start*)."""
TIGHT = 0.05
"""A size to fit without clearance still has so much, mm."""


def to_check(pieces: Sequence[int]) -> list[int]:
    """Of the pieces that count those that are checked: the first, every nth, the last.

    >>> to_check(range(1, 25)), to_check([2])
    ([1, 10, 20, 24], [2])
    """
    return sorted({*pieces[:1], *pieces[EVERY - 1::EVERY], *pieces[-1:]})


def checklist(part: Part) -> list[Dimension]:
    """Every row of a part's check sheet."""
    return [*dimensions(part), *_holes(part), *_fits(part), *_turned(part), *_hammered(part)]


def _holes(part: Part) -> Iterator[Dimension]:
    shape = part.shape
    for face in part.sheet.faces:
        for bend, edge, other in bends_at(part, face.id):
            found = nearest_hole(face.holes, edge)
            if found is None:
                continue
            nominal = _off(found, edge) + bend.figures.outside_setback
            title = f"Hole in {shape.called(face.id)}, its centre to the outside of {shape.called(other)}"
            yield Dimension(f"hole-{face.id}-{bend.id}", title, nominal, part.tolerance(nominal))


def bends_at(part: Part, face: str) -> Iterator[tuple[Bend, Edge, str]]:
    """The bends at a face that have an outside to measure to, where their tangent lines lie in it, and what is
    beyond."""
    for bend in part.sheet.bends:
        if bend.angle >= STEEP and face in (bend.parent, bend.child):
            yield bend, bend.edge_in(face), bend.child if bend.parent == face else bend.parent


def nearest_hole(holes: Sequence[Hole], edge: Edge) -> Hole | None:
    """The round hole whose centre lies beside a line and nearest to it; None where there is none."""
    (x0, y0), (x1, y1) = edge
    long = math.hypot(x1 - x0, y1 - y0)

    def along(hole):
        return ((hole.centre[0] - x0) * (x1 - x0) + (hole.centre[1] - y0) * (y1 - y0)) / long
    beside = [hole for hole in holes if not hole.ring and 0 <= along(hole) <= long]
    return min(beside, key=lambda hole: _off(hole, edge), default=None)


def _off(hole: Hole, edge: Edge) -> float:
    """How far its centre lies off a line, mm."""
    (x0, y0), (x1, y1) = edge
    dx, dy = hole.centre[0] - x0, hole.centre[1] - y0
    return abs(dx * (y1 - y0) - dy * (x1 - x0)) / math.hypot(x1 - x0, y1 - y0)


def _fits(part: Part) -> Iterator[Dimension]:
    for fit in part.matings:
        play = max(2 * fit.clearance, TIGHT)
        if play < part.tolerance(fit.size):
            measured = "inside" if fit.way == AROUND else "outside"
            yield Dimension(f"fit-{fit.path}", f"{fit.name}, {measured}, to go {fit.way} its mate", fit.size, play)
        yield Dimension(f"goes-{fit.path}", f"{fit.name}: goes {fit.way} its mate, tried", 1, 0, TRIED)


def _hammered(part: Part) -> Iterator[Dimension]:
    """Of a rib its flange's angle, that its web came off the block flat, and which hand it is."""
    if part.shape.making == BLOCK:
        flange = part.shape.flange
        yield Dimension("flange-angle", "Flange, angle", flange.figures.angle, ANGLE_TOLERANCE, "°")
        yield Dimension("flat", "The web lies flat on the bench, tried", 1, 0, TRIED)
        yield Dimension("turned", f"Flange turned {flange.direction} as drawn, the top seen: which hand", 1, 0, TRIED)


def _turned(part: Part) -> Iterator[Dimension]:
    """Which way every flange is turned, the top of the blank seen; hems are folds and told apart by themselves."""
    ways: dict[str, list[str]] = {}
    for bend in part.sheet.bends:
        ways.setdefault(bend.direction, []).append(part.shape.called(bend.id))
    told = [", ".join(names[:MOST_NAMED]) + (" …" if len(names) > MOST_NAMED else "") + f" {way}"
            for way, names in ways.items()]
    if told:
        yield Dimension("turned", f"Turned as drawn, the top seen: {'; '.join(told)}", 1, 0, TRIED)

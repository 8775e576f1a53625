"""What is scribed or etched on the blank besides its bend lines, as short lines.

Ticks at both ends of every bend line find it again when the line is wiped; a cross at
every hole is its punch mark; a collar's finished size, cross-breaks and the hits of a
bumped radius are lines to work to.
"""

import math
from collections.abc import Iterator

from ..bending.bumping import bumps, is_bumped
from ..part import Part

TICK, CROSS = 5.0, 2.0
Line = tuple[str, tuple[float, float], tuple[float, float]]


def scribed(part: Part) -> Iterator[Line]:
    """(what, from, to) of every short line, in mm from the blank's corner."""
    flat = part.flat
    for bend in flat.bends:
        (x0, y0), (x1, y1) = bend.line
        long = math.dist((x0, y0), (x1, y1))
        share = min(TICK, long / 3) / long
        dx, dy = (x1 - x0) * share, (y1 - y0) * share
        yield "tick", (x0, y0), (x0 + dx, y0 + dy)
        yield "tick", (x1, y1), (x1 - dx, y1 - dy)
        if is_bumped(bend.bend.figures, part.predicted and part.predicted.radius):
            yield from _hits(bend)
    for hole in flat.holes:
        for x, y in dict.fromkeys(hole.ends):
            yield "punch", (x - CROSS, y), (x + CROSS, y)
            yield "punch", (x, y - CROSS), (x, y + CROSS)
    dx, dy = flat.shift
    for collar in part.shape.collars:
        (x, y), r = collar.centre, collar.inside / 2
        ring = [(x + dx + r * math.cos(math.radians(a)), y + dy + r * math.sin(math.radians(a)))
                for a in range(0, 361, 10)]
        for a, b in zip(ring, ring[1:], strict=False):
            yield "collar", a, b
    for _, (x0, y0), (x1, y1) in part.generators():
        share = min(TICK / math.dist((x0, y0), (x1, y1)), 0.4)
        yield "generator", (x0, y0), (x0 + (x1 - x0) * share, y0 + (y1 - y0) * share)
        yield "generator", (x1, y1), (x1 + (x0 - x1) * share, y1 + (y0 - y1) * share)
    for ends in part.cut_off:
        yield "cut-off", *((x + dx, y + dy) for x, y in ends)
    for what, *ends in part.shape.scribed():
        yield what, *((x + dx, y + dy) for x, y in ends)
    if part.shape.cross_breaks:
        a, b, c, d = flat.faces["base"]
        yield "cross-break", a, c
        yield "cross-break", b, d


def _hits(bend) -> Iterator[Line]:
    (p, q), (r, s) = bend.tangents
    wide = bend.bend.figures.allowance
    for at in bumps(bend.bend.figures).lines:
        share = at / wide
        yield "hit", *(tuple(a + (b - a) * share for a, b in zip(one, other, strict=True))
                       for one, other in ((p, r), (q, s)))

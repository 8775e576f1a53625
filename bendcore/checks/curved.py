"""Limits of a flange hammered along a curve: what stretches, what shrinks, and how the web is held."""

import math
from collections.abc import Iterator

from shapely import Polygon

from ..develop.hammered import DEEPEST, LITTLE
from ..notices import CAUTION, NOTE, STOP, Notice
from ..part import Part
from ..said import Deg, Mm, Said

NEARLY = 0.7
"""A stretch of more than this share of what cracks is worth a caution."""
STEEP = 1.0
"""A flute deeper than this share of its width folds over."""
NEAR = 2.0
"""A round hole stays so many thicknesses off the tangent line (*start*)."""
IN_LINE = 3.0
"""Pins that lie nearer to one line, in mm, lie in line."""


def curved(part: Part) -> Iterator[Notice]:
    """Every notice for a part whose flange is hammered along curves."""
    for curve in part.shape.curves:
        yield from _stretched(part, curve) if curve.strain > 0 else _shrunk(part, curve)
    yield from _pins(part.shape)
    yield from _holes(part)


def _stretched(part, curve) -> Iterator[Notice]:
    alloy = part.stock.material
    most = alloy.edge_stretch
    if curve.strain <= NEARLY * most:
        return
    section, radius = part.shape.section, curve.edge.radius
    cracks = curve.strain > most
    # strain (R_formed − R_blank)/R_blank of the width that is left: solved for the width at which it is the most
    narrower = section.width - max(0.0, curve.strain - most) * (radius - section.reach) / (1 + most)
    ways = ("take a softer temper, or anneal it", "open the curve", "leave the flange off it between two reliefs")
    if narrower > section.setback:
        ways = (Said("make the flange {width}", width=Mm(math.floor(narrower * 2) / 2)), *ways)
    yield Notice("edge-cracks", STOP if cracks else CAUTION, "flange",
                 Said("along {side} ({radius}) the free edge stretches by {strain}; {metal} stands about {most}"
                      + ("" if cracks else ": dress it well"), side=curve.side.title, radius=Mm(radius),
                      strain=f"{curve.strain:.1%}", metal=alloy.title, most=f"{most:.0%}"),
                 ways if cracks else ways[1:])


def _shrunk(part, curve) -> Iterator[Notice]:
    alloy, side, excess = part.stock.material, curve.side.title, curve.excess
    if excess < LITTLE:
        return
    if not curve.flutes:
        if -curve.strain > alloy.edge_shrink:
            yield Notice("edge-buckles", CAUTION, "flange",
                         Said("along {side} the free edge is {excess} too long ({strain}); {metal} is shrunk by about "
                              "{most} before it buckles", side=side, excess=Mm(excess), strain=f"{-curve.strain:.1%}",
                              metal=alloy.title, most=f"{alloy.edge_shrink:.1%}"),
                         ("lay flutes in it", "make the flange narrower", "open the curve",
                          "part the flange with a relief in the curve"))
        return
    flute = curve.flutes[0]
    if flute.depth > DEEPEST * flute.width * 1.001:
        folds = flute.depth > STEEP * flute.width
        yield Notice("flute-deep", STOP if folds else CAUTION, "flange",
                     Said("{n} flutes along {side} would be {depth} deep and {width} wide" + (
                         ", and fold over" if folds else ": deep to lay in one go"), n=str(len(curve.flutes)),
                          side=side, depth=Mm(flute.depth), width=Mm(flute.width)),
                     ("more flutes, with rivets closer or none between", "a narrower flange", "open the curve",
                      "part the flange with a relief in the curve"))


def _holes(part) -> Iterator[Notice]:
    """Holes so near to the bend that they stretch with it."""
    shape, least = part.shape, NEAR * part.stock.thickness
    for n, hole in enumerate(shape.holes, 1):
        room = shape.web.exterior.distance(Polygon(hole.outline()))
        if room < least - 1e-6:
            yield Notice("hole-bend", CAUTION, "flange",
                         Said("hole {n} lies {room} from the bend and stretches: keep {least}", n=str(n),
                              room=Mm(room), least=Mm(least)), ("move it", "cut it after the flange is made"))


def _pins(shape) -> Iterator[Notice]:
    pins = [pin.centre for pin in shape.pins]
    if len(pins) < 2:
        yield Notice("pins", CAUTION, "flange", "with fewer than two pins the web slips between the blocks",
                     ("add pins: three that do not stand in line",))
    elif len(pins) == 2 or _spread(pins) < IN_LINE:
        yield Notice("pins", NOTE, "flange", "its pins stand in line: the backing block goes on turned about as well, "
                     "and only the arrows tell", ("add one off their line",))
    if shape.flange.figures.angle > 90 + 1e-6:
        yield Notice("block-caught", NOTE, "flange",
                     Said("bent by {angle} the flange closes over the block: lift it out where the flange stays open, "
                          "or saw it in two", angle=Deg(shape.flange.figures.angle)))


def _spread(pins) -> float:
    """How far the pins lie off the line of the two furthest apart, mm."""
    a, b = max(((p, q) for i, p in enumerate(pins) for q in pins[i + 1:]), key=lambda pair: math.dist(*pair))
    long = math.dist(a, b)
    return max(abs((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / long for x, y in pins)

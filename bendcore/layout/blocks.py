"""The two blocks of wood that a rib is hammered over and held by, worked out from the part.

The *form block* lies on the side to which the flange goes: its edge on the web is where the inner faces would meet,
rounded to the inside radius, and its sides lean further in than the flange is to stand by what the metal springs back.
The *backing block* lies on the other face and ends at the tangent line, so that it holds the web down to the bend. Pins
go through both and the web; an arrow on each must point at the other's (handbook, *Ribs over a block*).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely import Polygon

from ..families.rib import Rib
from ..families.rib.sides import Side, moved_in
from ..part import Part
from ..sheet.model import Hole, Point

OVER = 6.0
"""A form block stands so far past the flange's free edge, mm (*start*)."""
CLEAR = 1.0
"""Room about what is cut for a lip, mm."""
BACK = 12.0
"""Thickness of a backing block, mm (*start*)."""


@dataclass(frozen=True)
class Block:
    """``outline`` of its face on the web and ``under`` of the far one, of which a form block's is smaller or larger;
    ``lean`` is how many degrees its sides stand off square, inwards positive. Lengths in mm, in the blank's axes."""

    title: str
    outline: tuple[Point, ...]
    under: tuple[Point, ...]
    edge_radius: float
    lean: float
    thickness: float
    openings: tuple[Hole, ...]
    pins: tuple[Hole, ...]
    arrow: tuple[Point, Point]


def blocks_of(part: Part) -> tuple[Block, Block]:
    """(form block, backing block) of a rib."""
    rib: Rib = part.shape
    figures, back = rib.section.figures, springback_of(part)
    over = (figures.angle + back) * math.pi / 180
    tall = float(rib.section.at(np.array(figures.allowance + rib.section.flat), 0.0)[1]) + OVER
    inner = figures.outside_setback - figures.inside_setback
    lips = {"form": [], "backing": []}
    for collar in rib.collars:
        lips["form" if collar.direction == rib.direction else "backing"].append(
            Hole(collar.centre, collar.rim + 2 * CLEAR))
    form = Block("Form block", _outline(rib.sides, inner), _outline(rib.sides, inner - tall / math.tan(over)),
                 figures.inside_radius, figures.angle + back - 90, tall, tuple(lips["form"]), rib.pins, _arrow(rib))
    backing = _outline(rib.sides, figures.outside_setback)
    return form, Block("Backing block", backing, backing, 0.0, 0.0, BACK, tuple(lips["backing"]), rib.pins, _arrow(rib))


def springback_of(part: Part) -> float:
    """Degrees by which the flange springs back: as the part says, else the metal's start value."""
    stock = part.stock
    at_90 = stock.springback if stock.springback_from else stock.material.springback_at_90_deg
    return at_90 * part.shape.section.figures.angle / 90


def _outline(sides: Sequence[Side], by: float) -> tuple[Point, ...]:
    """Flanged sides moved in so far, mm, plain ones left; nothing where they would vanish."""
    try:
        moved = moved_in(sides, by)
    except ValueError:
        return ()
    points = [point for side in moved for point in side.edge.points()[:-1]]
    return tuple(points) if Polygon(points).is_valid else ()


def _arrow(rib: Rib) -> tuple[Point, Point]:
    """Up the middle of the web, a third of its height long."""
    points = [point for side in rib.sides for point in side.edge.points()]
    (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*points, strict=True))
    middle = rib.web.representative_point()
    long = min(x1 - x0, y1 - y0) / 3
    return (middle.x, middle.y - long / 2), (middle.x, middle.y + long / 2)


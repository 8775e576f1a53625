"""A collar: a hole's rim drawn up or down into a short tube.

In section it is a bend of 90° whose flange ends at the hole pierced before drawing: the
apex lies on the tube's inner face, so that the hole's radius is D/2 − (h − BD), h the
collar's height from the sheet's other face and D its inside diameter. Round the rim the
metal stretches from the pierced hole to the tube's middle; more than about a third splits
mild steel (start value).
"""

from ..errors import Refusal
from ..said import Mm, Said
from ..sheet.model import Hole, Point
from .common import Given, read_radius
from .declared import COLLAR
from .shape import Collar

SPLITS = 1 / 3
"""Stretch of the rim above which it is likely to split, start value."""


def read_opening(hole: Hole, block: dict, path: str, given: Given) -> tuple[Hole, Collar | None]:
    """A hole of its finished size as it is pierced, and its collar where the ``block`` has one."""
    if "collar" not in block:
        return hole, None
    collar = read_collar(block["collar"], hole.centre, hole.diameter, f"{path}.collar", given)
    return Hole(hole.centre, collar.pierced, room=collar.rim, path=hole.path), collar


def read_collar(block: dict, centre: Point, inside: float, path: str, given: Given) -> Collar:
    """A collar about a hole of finished diameter ``inside``; refuses one that needs more metal than there is."""
    height = COLLAR.mm(block, "height", path, given.length)
    radius, thickness = read_radius(block, path, given), given.thickness
    figures = given.school.figures(90, radius, thickness, "apex")
    pierced = inside - 2 * (height - figures.deduction)
    least = figures.outside_setback
    if height < least:
        raise Refusal(f"{path}.height", Said("must be at least {least}, which its radius takes", least=Mm(least)))
    if pierced < thickness:
        most = (inside - thickness) / 2 + figures.deduction
        raise Refusal(f"{path}.height", Said("is more than the hole has metal for: at most {most}", most=Mm(most)))
    return Collar(centre, inside, height, block.get("direction", "up"), pierced,
                  inside + 2 * (thickness + radius), (inside + thickness) / pierced - 1, figures.deduction)

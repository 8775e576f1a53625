"""A cone frustum, its ends cut by planes: ``cone``."""

import math

from ...develop.rolled import Cone
from ...errors import Refusal
from ...fields import Field, Length
from ...said import Deg, Said
from ..common import Given
from ..declared import dims, kind
from ..family import Family, Sized
from ..legs import OUTSIDE
from ..rolled import HALF, SEAM, K, Rolled, held, mirror_seam, neutral, read_seam, refuse_meeting, tilt

_OWN: dict[str, Field] = {
    "dims": dims("the diameters are given", "outside", "inside", "neutral"),
    "large": Length("large diameter", needed=True, over=0, grows=True),
    "small": Length("small diameter", needed=True, over=0, grows=True),
    "height": Length("height", label="Height along the axis", needed=True, over=0, grows=True),
    "large_tilt": tilt("tilt of the large end"), "small_tilt": tilt("tilt of the small end"), "k": K, "seam": SEAM}
FIELDS = kind("cone", _OWN)


class RolledCone(Rolled):
    """A cone, read."""

    kind = "cone"
    fields = FIELDS


def read_cone(shape: dict, given: Given) -> RolledCone:
    """A cone from the part file's ``shape``; refusals name the field below ``shape``."""
    large, small, height = (FIELDS.mm(shape, key, "", given.length) for key in ("large", "small", "height"))
    how, k, t = shape.get("dims", OUTSIDE), float(shape.get("k", HALF)), given.thickness
    if small >= large:
        raise Refusal("small", "must be less than the large diameter: alike they are a tube")
    half = math.atan((large - small) / 2 / height)
    tilts = {key: float(shape.get(key, 0.0)) for key in ("large_tilt", "small_tilt")}
    steepest = 90 - math.degrees(half)
    for key, size in tilts.items():
        if abs(size) >= steepest:
            raise Refusal(key, Said("must be less than {most}: beyond it the plane runs along the cone and cuts no "
                                    "closed end", most=Deg(steepest)))
    surface = Cone(neutral(large, how, t, k, half), held(neutral(small, how, t, k, half), "small", t), height, **tilts)
    refuse_meeting(surface, t, tilts, "height", "make it higher")
    sizes = [(key, f"{key.capitalize()} diameter, {how}", size) for key, size in (("large", large), ("small", small))
             if not tilts[f"{key}_tilt"] and how != "neutral"]
    if not any(tilts.values()):
        sizes.append(("height", "Height along the axis", height))
    return RolledCone(surface, t, k, how, read_seam(shape, given), tuple(sizes))


def start(s: Sized) -> dict:
    """A funnel."""
    return {"kind": "cone", "dims": "outside", "large": s(180), "small": s(80), "height": s(120), "large_tilt": 0,
            "small_tilt": 0, "seam": {"kind": "lap", "width": s(10), "at": 180}}


FAMILY = Family(RolledCone, "Cone", read_cone, mirror_seam, start)

__all__ = ["FAMILY", "RolledCone", "read_cone"]

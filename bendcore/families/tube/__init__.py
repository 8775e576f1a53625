"""A rolled tube or collar, its ends cut by planes: ``tube``."""

from ...develop.rolled import Tube
from ...fields import Field, Length
from ..common import OUTSIDE, ROLLS, Given
from ..declared import dims, kind
from ..family import Family, Sized
from ..rolled import HALF, SEAM, K, Rolled, held, neutral, read_seam, refuse_meeting, tilt

_OWN: dict[str, Field] = {
    "dims": dims("the diameter is given", "outside", "inside", "neutral"),
    "diameter": Length("diameter", needed=True, over=0, grows=True),
    "length": Length("length", label="Length along the axis", needed=True, over=0, grows=True),
    "start_tilt": tilt("tilt of the start"), "end_tilt": tilt("tilt of the end"), "k": K, "seam": SEAM}
FIELDS = kind("tube", _OWN)


class RolledTube(Rolled):
    """A tube, read."""

    kind = "tube"
    fields = FIELDS


def read_tube(shape: dict, given: Given) -> RolledTube:
    """A tube from the part file's ``shape``; refusals name the field below ``shape``."""
    diameter, length = (FIELDS.mm(shape, key, "", given.length) for key in ("diameter", "length"))
    how, k, t = shape.get("dims", OUTSIDE), float(shape.get("k", HALF)), given.thickness
    tilts = {key: float(shape.get(key, 0.0)) for key in ("start_tilt", "end_tilt")}
    surface = Tube(held(neutral(diameter, how, t, k), "diameter", t), length, **tilts)
    refuse_meeting(surface, t, tilts, "length", "make it longer")
    sizes = [("diameter", f"Diameter, {how}", diameter)] if how != "neutral" else []
    if not any(tilts.values()):
        sizes.append(("length", "Length along the axis", length))
    return RolledTube(surface, t, k, how, read_seam(shape, given), tuple(sizes))


def start(s: Sized) -> dict:
    """A collar."""
    return {"kind": "tube", "dims": "outside", "diameter": s(120), "length": s(80), "start_tilt": 0, "end_tilt": 0,
            "seam": {"kind": "lap", "width": s(10), "at": 180}}


FAMILY = Family("tube", "Tube", read_tube, FIELDS, start, making=ROLLS)

__all__ = ["FAMILY", "RolledTube", "read_tube"]

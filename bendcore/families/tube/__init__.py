"""A rolled tube or collar, its ends cut by planes: ``tube``."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ...develop.rolled import Tube
from ...errors import Refusal
from ...fields import Choice, Field, Group, Length, Size
from ...said import Mm, Said
from ...sheet.model import Point
from ..common import Given, read_size
from ..declared import dims, kind
from ..family import Family, Now, Sized
from ..legs import OUTSIDE
from ..rolled import HALF, SEAM, K, Rolled, held, mirror_seam, neutral, read_seam, refuse_meeting, tilt

BEAD = Group("bead", {
    "end": Choice("at the", ("start", "end"), default="end"),
    "from": Length("from that end", label="Middle of the bead from that end", start=12, needed=True, over=0),
    "width": Length("width", label="Width of the bead", start=6, needed=True, over=0),
    "height": Length("height", label="Height of the bead", start=2, needed=True, over=0)}, extra=True, thing="bead")
_OWN: dict[str, Field] = {
    "dims": dims("the diameter is given", "outside", "inside", "neutral"),
    "diameter": Size("diameter", needed=True, over=0),
    "length": Length("length", label="Length along the axis", needed=True, over=0, grows=True),
    "start_tilt": tilt("tilt of the start"), "end_tilt": tilt("tilt of the end"), "bead": BEAD, "k": K, "seam": SEAM}
FIELDS = kind("tube", _OWN)


@dataclass(frozen=True)
class Bead:
    """A ripple swaged round one end: the arc of a circle, ``width`` wide and ``height`` high, its middle ``off`` from
    that end, mm."""

    at_end: bool
    off: float
    width: float
    height: float

    @property
    def draws_in(self) -> float:
        """By how much the tube is shorter for it, mm: the arc less its chord."""
        radius = (self.width ** 2 / 4 + self.height ** 2) / 2 / self.height
        swept = 4 * math.atan(2 * self.height / self.width)
        return radius * swept - self.width


@dataclass(frozen=True)
class RolledTube(Rolled):
    """A tube, read."""

    bead: Bead | None = None

    kind = "tube"
    fields = FIELDS

    @property
    def laid(self) -> Tube:
        """As much longer as its bead draws in."""
        if not self.bead:
            return self.surface
        return replace(self.surface, length=self.surface.length + self.bead.draws_in)

    def scribed(self) -> Iterator[tuple[str, Point, Point]]:
        """The middle of its bead, on the blank."""
        if self.bead:
            beyond = self.bead.off + self.bead.draws_in / 2
            y = self.laid.length - beyond if self.bead.at_end else beyond
            start = math.radians(self.seam.at) * self.surface.diameter / 2
            yield "bead", (start, y), (start + self.surface.girth, y)


def read_tube(shape: dict, given: Given) -> RolledTube:
    """A tube from the part file's ``shape``; refusals name the field below ``shape``."""
    length, k, t = FIELDS.mm(shape, "length", "", given.length), float(shape.get("k", HALF)), given.thickness
    diameter, how = read_size(shape["diameter"], "diameter", given.length, shape.get("dims", OUTSIDE))
    tilts = {key: float(shape.get(key, 0.0)) for key in ("start_tilt", "end_tilt")}
    surface = Tube(held(neutral(diameter, how, t, k), "diameter", t), length, **tilts)
    refuse_meeting(surface, t, tilts, "length", "make it longer")
    sizes = [("diameter", f"Diameter, {how}", diameter)] if how != "neutral" else []
    if not any(tilts.values()):
        sizes.append(("length", "Length along the axis", length))
    return RolledTube(surface, t, k, how, read_seam(shape, given), tuple(sizes),
                      bead=_bead(shape, surface, given))


def _bead(shape: dict, surface: Tube, given: Given) -> Bead | None:
    """The bead; refuses one that leaves the tube or that stands at an end cut aslant."""
    if "bead" not in shape:
        return None
    block = shape["bead"]
    at_end = block.get("end", "end") == "end"
    off, width, height = (BEAD.mm(block, key, "bead", given.length) for key in ("from", "width", "height"))
    if surface.end_tilt if at_end else surface.start_tilt:
        raise Refusal("bead.end", "is cut aslant: a bead runs round a square end")
    if height > width / 2:
        raise Refusal("bead.height", Said("must not be more than half the width ({most})", most=Mm(width / 2)))
    if not width / 2 <= off <= surface.length - width / 2:
        raise Refusal("bead.from", Said("must leave the bead on the tube: from {least} to {most}", least=Mm(width / 2),
                                        most=Mm(surface.length - width / 2)))
    return Bead(at_end, off, width, height)


def start(s: Sized) -> dict:
    """A collar."""
    return {"kind": "tube", "dims": "outside", "diameter": s(120), "length": s(80), "start_tilt": 0, "end_tilt": 0,
            "seam": {"kind": "lap", "width": s(10), "at": 180}}


def begin_bead(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A bead at an end that is square: the end, or else the start."""
    return BEAD.begin(own) | ({"end": "start"} if shape.get("end_tilt") else {})


FAMILY = Family(RolledTube, "Tube", read_tube, mirror_seam, start, begins={"bead": begin_bead})

__all__ = ["FAMILY", "RolledTube", "read_tube"]

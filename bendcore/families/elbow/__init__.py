"""A round elbow in pieces: ``elbow``.

n pieces turn the line by the whole angle at n − 1 joints, each by δ = angle/(n − 1). Joints lie on the centre line's
radius R where the pieces' axes, tangent to it, cross: whole pieces are 2·R·tan(δ/2) long, the two at the ends half.
"""

import math

from ...develop.chains import Station
from ...fields import Count, Field, Length, Number
from ...units import in_mm
from ..chained import GROUP, Chained, chain_of, piece_of
from ..common import Given
from ..declared import dims, kind
from ..family import Family, Sized
from ..rolled import NEUTRAL, SEAM, K, mirror_seam

_OWN: dict[str, Field] = {
    "dims": dims("the diameter is given", "outside", "inside", "neutral"),
    "diameter": Length("diameter", needed=True, over=0, grows=True),
    "radius": Length("radius", label="Radius of the centre line", needed=True, over=0, grows=True),
    "angle": Number("angle", label="It turns by, degrees", low=1, high=270, needed=True),
    "pieces": Count("pieces", label="In how many pieces", low=2, high=32, needed=True),
    "piece": Count("which piece", low=1, high=32, default=1, picked=True), "group": GROUP,
    "k": K, "seam": SEAM}
FIELDS = kind("elbow", _OWN)


class Elbow(Chained):
    """One piece of an elbow, read."""

    kind = "elbow"
    fields = FIELDS

    def place(self, name: str) -> str:
        """Its radius: the whole."""
        return "radius"


def read_elbow(shape: dict, given: Given) -> Elbow:
    """One piece of an elbow from the part file's ``shape``; refusals name the field below ``shape``."""
    diameter, radius = (FIELDS.mm(shape, key, "", given.length) for key in ("diameter", "radius"))
    n = shape["pieces"]
    turn = float(shape["angle"]) / (n - 1)
    half = radius * math.tan(math.radians(turn / 2))
    stations = [Station(diameter / 2)]
    for i in range(n):
        ends = (i == 0) + (i == n - 1)
        stations.append(Station(diameter / 2, half * (2 - ends), turn if i < n - 1 else 0.0))
    line = chain_of(stations, shape, given, lambda _, what: "diameter" if what == "diameter" else "radius")
    number = min(shape.get("piece", 1), n)
    at_end = number in (1, n) and line.dims != NEUTRAL
    sizes = [("diameter", f"Diameter of the end, {line.dims}", diameter)] if at_end else []
    described = {"diameter": in_mm(diameter), "radius": in_mm(radius), "angle": shape["angle"], "pieces": n}
    return piece_of(Elbow, line, number, shape, given, sizes, described)


def start(s: Sized) -> dict:
    """A right angle in four."""
    return {"kind": "elbow", "dims": "outside", "diameter": s(100), "radius": s(120), "angle": 90, "pieces": 4,
            "seam": {"kind": "lap", "width": s(8), "at": 90}}


FAMILY = Family(Elbow, "Elbow", read_elbow, mirror_seam, start)

__all__ = ["FAMILY", "Elbow", "read_elbow"]

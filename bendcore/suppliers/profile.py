"""A supplier's profile, read from its open file (``docs/supplier-file.md``); lengths in mm."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..errors import Refusal
from ..files import check
from ..stock import alike
from ..units import read_length


@dataclass(frozen=True)
class Carried:
    """A stock that the supplier carries, and what its tools make of it. ``hole_to_bend`` runs from a hole's edge to the
    tangent line, ``shortest_flange`` is measured outside."""

    material: str
    thickness: float
    inside_radius: float
    k: float
    shortest_flange: float
    hole_to_bend: float = 0.0
    smallest_opening: float = 0.0
    hems: bool = False


@dataclass(frozen=True)
class Profile:
    """What a supplier can do. Sizes are (length, width); a limit it does not name is None or 0."""

    name: str
    largest: tuple[float, float]
    stocks: tuple[Carried, ...]
    smallest: tuple[float, float] = (0.0, 0.0)
    longest_bend: float | None = None
    kerf: float = 0.0
    angles: tuple[float, float] = (0.0, 180.0)
    parallel: bool = False
    tolerances: Mapping[str, float] = field(default_factory=dict)
    file: tuple[str, str] = ("dxf", "mm")
    note: str = ""

    def carried(self, material: str, thickness: float) -> Carried | None:
        """The stock nearest to this one, if there is one."""
        near = [one for one in self.stocks if one.material == material and alike(one.thickness, thickness)]
        return min(near, key=lambda one: abs(one.thickness - thickness), default=None)


def read_profile(data: object) -> Profile:
    """The profile of a supplier file; raises :class:`Refusal` at the first fault."""
    check(data, "supplier")
    units = data["units"]

    def length(block, key, path, otherwise=None):
        if key not in block:
            return otherwise
        mm = read_length(block[key], units, f"{path}{key}")
        if mm < 0 or mm == 0 and otherwise is None:
            raise Refusal(f"{path}{key}", "must be greater than 0")
        return mm

    def size(key):
        block = data.get(key)
        return block and tuple(length(block, side, f"{key}.") for side in ("length", "width"))

    angles = data.get("angles", {"least": 0.0, "most": 180.0})
    if angles["least"] > angles["most"]:
        raise Refusal("angles.least", "must not be more than the most")
    limits = data.get("tolerances", {})
    tolerances = {key: length(limits, key, "tolerances.") if key == "length" else limits[key] for key in limits}
    wanted = data.get("file", {})
    stocks = tuple(_carried(row, length, i) for i, row in enumerate(data["stocks"]))
    return Profile(data["name"], size("largest"), stocks, size("smallest") or (0.0, 0.0),
                   length(data, "longest_bend", "", 0.0) or None, length(data, "kerf", "", 0.0),
                   (angles["least"], angles["most"]), data.get("parallel", False), tolerances,
                   (wanted.get("format", "dxf"), wanted.get("units", "mm")), data.get("note", ""))


def _carried(row, length, i) -> Carried:
    path = f"stocks[{i}]."
    return Carried(row["material"], *(length(row, key, path) for key in ("thickness", "inside_radius")), row["k"],
                   length(row, "shortest_flange", path), length(row, "hole_to_bend", path, 0.0),
                   length(row, "smallest_opening", path, 0.0), row.get("hems", False))

"""The part file: ``dorvan-part`` version 1 → :class:`Part`.

``docs/part-file.md`` describes it for people, ``schemas/part.schema.json`` for
programs; reading holds every file to the schema first.
"""

from dataclasses import dataclass
from functools import cached_property

from ..bend import natural_radius
from ..errors import Refusal
from ..families.profile import Profile, read_profile
from ..schools import School, read_school
from ..sheet import FlatPattern, Sheet, unfold
from ..stock import Material, material, read_thickness
from ..units import MM_PER, read_length
from .text import check


@dataclass(frozen=True)
class Stock:
    """``springback`` is how many degrees a 90° bend opens; ``given`` whether the
    part says so or it is the default."""

    material: Material
    thickness: float
    springback: float = 0.0

    def overbend(self, angle: float) -> float:
        """Degrees to bend beyond ``angle``: springback in proportion to the angle."""
        return self.springback * angle / 90


@dataclass(frozen=True)
class VDie:
    v: float
    shoulder_radius: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class Part:
    """A part as read. ``units`` are the file's; every length here is in mm."""

    name: str
    units: str
    stock: Stock
    inside_radius: float | None
    radius_reason: str
    school: School
    shape: Profile
    die: VDie | None = None

    @cached_property
    def sheet(self) -> Sheet:
        return self.shape.sheet()

    @cached_property
    def flat(self) -> FlatPattern:
        return unfold(self.sheet)

    @property
    def mass_kg(self) -> float:
        return self.flat.mass_kg(self.stock.material.density_kg_m3)

    @property
    def per_unit(self) -> float:
        """Divide a length in mm by this for the file's units."""
        return MM_PER[self.units]


def read_part(data: dict) -> Part:
    """A :class:`Part` from the file's data; raises :class:`Refusal` at the first fault."""
    check(data, "part")
    units = data["units"]

    def length(value, path):
        return read_length(value, units, path)

    alloy = material(data["stock"]["material"])
    thickness = read_thickness(data["stock"]["thickness"], units, alloy)
    stock = Stock(alloy, thickness, float(data["stock"].get("springback", 0.0)))
    die = read_die(data["die"], length) if "die" in data else None
    radius, reason = _radius(data, alloy, thickness, die, length)
    school = read_school(data["allowance"], units, read_length)
    try:
        shape = read_profile(
            data["shape"], thickness=thickness, inside_radius=radius, school=school,
            length=lambda value, path: read_length(value, units, path))
    except Refusal as refusal:
        if refusal.path.startswith("allowance"):
            raise
        raise refusal.under("shape") from None
    return Part(data.get("name", ""), units, stock, radius, reason, school, shape, die)


def read_die(block: dict, length, path: str = "die") -> VDie:
    v = length(block["v"], f"{path}.v")
    if v <= 0:
        raise Refusal(f"{path}.v", "must be greater than 0")
    shoulder = length(block.get("shoulder_radius", 0), f"{path}.shoulder_radius")
    if not 0 <= shoulder < v / 2:
        raise Refusal(f"{path}.shoulder_radius", "must be between 0 and half the opening")
    return VDie(v, shoulder, block.get("name", ""))


def _radius(data, alloy, thickness, die, length):
    if "inside_radius" in data:
        radius = length(data["inside_radius"], "inside_radius")
        if radius < 0:
            raise Refusal("inside_radius", "must not be negative")
        return radius, "given on the part"
    if die:
        return natural_radius(die.v, thickness, alloy.natural_radius_factor)
    if "nose" in data:
        radius = length(data["nose"]["radius"], "nose.radius")
        if radius < 0:
            raise Refusal("nose.radius", "must not be negative")
        return radius, "the nose it is bent round"
    return None, ""

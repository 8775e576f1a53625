"""The part file: ``dorvan-part`` version 1 → :class:`Part`.

``docs/part-file.md`` describes it for people, ``schemas/part.schema.json`` for
programs; reading holds every file to the schema first.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar

from .bending.radius import NOSE as ROUND_A_NOSE
from .bending.radius import Prediction, predict_air, predict_nose
from .bending.rating import Rating
from .bending.springback import start_springback
from .errors import Refusal
from .families import FAMILIES, Given, Shape, read_shape
from .fields import ReadLength
from .files import check
from .part_file import DIE, NOSE, ROOT, START, in_words
from .said import refused_in
from .schools.school import School, read_school
from .sheet import FlatPattern, Folded, Sheet, fold, unfold
from .sheet.clash import FACET, Clash, clashes, flat_overlaps
from .sheet.model import DOWN, UP, Point
from .sheet.section import Strip
from .sheet.solid import Mesh, mesh
from .sheet.sound import refuse_unsound
from .stock import Material, material, read_thickness
from .tolerance import MEDIUM, length_tolerance
from .units import MM_PER, read_length

ONE_SIDED = {"film": "film side", "painted": "colour side", "brushed": "brushed side"}
"""Finishes of one side, and what that side is called."""


@dataclass(frozen=True)
class Stock:
    """``springback`` is how many degrees a 90° bend opens, and ``springback_from`` where that is from."""

    material: Material
    thickness: float
    springback: float = 0.0
    springback_from: str = ""
    """``given`` on the part, ``start`` where it begins with the metal's, empty where nothing is said."""
    grain: str = ""
    """How the bend lines run to the grain: across, along, diagonal, or not known."""
    own_values: frozenset[str] = frozenset()
    """Which of the material's values are the shop's own, not start values."""
    finish: str = ""
    """``film``, ``galvanised``, ``painted`` or ``brushed``, where it is known."""
    good_side: str = ""
    """Which side is to be spared, as the blank lies flat: ``up``, ``down`` or ``neither``; empty where nothing is
    said."""

    @property
    def good(self) -> str:
        """Which side is to be spared, up or down in the flat: the one named, or the upper of a sheet with film, paint
        or a brushed grain on one side; empty where both are alike.

        >>> from .stock import material
        >>> Stock(material("stainless-304"), 1.0, finish="film").good, Stock(material("stainless-304"), 1.0).good
        ('up', '')
        """
        if self.good_side:
            return self.good_side if self.good_side in (UP, DOWN) else ""
        return UP if self.finish in ONE_SIDED else ""

    @property
    def good_called(self) -> str:
        """What people call it."""
        return ONE_SIDED.get(self.finish, "good side")

    @property
    def is_coated(self) -> bool:
        """Whether welding would burn a coat of zinc or paint, and bending twice crack it."""
        return self.finish in ("galvanised", "painted") or any(
            word in self.material.name for word in ("galvanised", "zinc"))

    def source(self, key: str) -> str:
        """Where a value of the material comes from, in words."""
        return f"the shop's own for {self.material.title}" if key in self.own_values else \
            f"start value for {self.material.title}"

    def overbend(self, angle: float) -> float:
        """Degrees to bend beyond ``angle``: springback in proportion to the angle."""
        return self.springback * angle / 90


@dataclass(frozen=True)
class VDie:
    """The V die as mounted; ``nose`` is the tip radius of the punch over it."""

    v: float
    shoulder_radius: float = 0.0
    name: str = ""
    nose: float = 0.0


@dataclass(frozen=True)
class Nose:
    """What the sheet is bent round without a V: a brake's nose, a bottoming punch, a
    bar's edge; with a radius ``shim`` or a ``slip`` sheet over it. ``rated`` is what the
    brake's plate stands for."""

    radius: float
    shim: float = 0.0
    slip: float = 0.0
    way: str = ROUND_A_NOSE
    name: str = ""
    rated: Rating | None = None


AROUND, INTO = "around", "into"


@dataclass(frozen=True)
class Mating:
    """A size made to go ``around`` (inside) or ``into`` (outside) a ``mate`` with a ``clearance`` at either side, mm;
    ``path`` of its field, and its ``name``."""

    path: str
    name: str
    way: str
    mate: float
    clearance: float

    @property
    def size(self) -> float:
        """What it is made, mm."""
        return self.mate + (2 if self.way == AROUND else -2) * self.clearance


@dataclass(frozen=True)
class Part:
    """A part as read. ``units`` are the file's; every length here is in mm."""

    name: str
    units: str
    stock: Stock
    inside_radius: float | None
    radius_reason: str
    school: School
    shape: Shape
    die: VDie | None = None
    nose: Nose | None = None
    matings: tuple[Mating, ...] = ()
    general_tolerance: str = MEDIUM

    def tolerance(self, nominal: float) -> float:
        """± mm that a length of it may be out where the drawing is silent."""
        return length_tolerance(nominal, self.general_tolerance)

    @property
    def predicted(self) -> Prediction | None:
        """The radius the tool named will make, if one is named."""
        return predict(self.die, self.nose, self.stock.thickness, self.stock.material)

    def has_good_outside(self, bend: str) -> bool:
        """Whether the side to be spared lies outside at a bend of a sheet that has one."""
        return self.sheet.bend[bend].direction != self.stock.good

    @cached_property
    def sheet(self) -> Sheet:
        """Its faces joined at bends."""
        return self.shape.sheet()

    @cached_property
    def flat(self) -> FlatPattern:
        """Its blank."""
        return unfold(self.sheet, self.shape.blank)

    cut_off: ClassVar[tuple] = ()
    """Where tabs of the blank are cut off after bending, in the root face's coordinates; none on a plain part."""

    @cached_property
    def strip(self) -> Strip:
        """The part as a strip in section; refuses one whose bends cross or end inside the sheet."""
        return Strip.of(self.sheet, self.flat)

    @cached_property
    def conflicts(self) -> tuple[tuple[Clash, ...], tuple[Clash, ...]]:
        """(what lies on each other in the blank, what runs into each other when folded)."""
        if len(self.sheet.faces) == 1:
            return (), ()
        folded = fold(self.sheet, facet=FACET, flat=self.flat)
        return tuple(flat_overlaps(self.sheet, self.flat)), tuple(clashes(self.sheet, folded))

    def formed(self, facet: float, folded: Folded | None = None) -> Mesh:
        """The finished part as a solid, ``facet`` degrees to a facet of what is round; ``folded`` spares folding it."""
        return self.shape.shell(facet) or mesh(folded or fold(self.sheet, facet=facet, flat=self.flat))

    def generators(self) -> Iterator[tuple[int, Point, Point]]:
        """(angle, from, to) of the straight lines of a rolled piece, in its blank."""
        dx, dy = self.flat.shift
        for angle, (x0, y0), (x1, y1) in self.shape.generators():
            yield angle, (x0 + dx, y0 + dy), (x1 + dx, y1 + dy)

    @property
    def mass_kg(self) -> float:
        """Mass of the blank."""
        return self.flat.mass_kg(self.stock.material.density_kg_m3)

    @property
    def per_unit(self) -> float:
        """Divide a length in mm by this for the file's units."""
        return MM_PER[self.units]


def settled(data: Any) -> tuple[Any, dict[str, str]]:
    """(a part file with its shape as Dorvan holds it, by path below the shape the path it had). Files may tell a shape
    another way, as its family knows; what is no part file is left as it is."""
    shape = data.get("shape") if isinstance(data, dict) else None
    kind = shape.get("kind") if isinstance(shape, dict) else None
    family = FAMILIES.get(kind) if isinstance(kind, str) else None
    units = data.get("units") if isinstance(data, dict) else None
    if family is None or family.settle is None or not isinstance(units, str) or units not in MM_PER:
        return data, {}
    try:
        found = family.settle(shape, lambda value, path: read_length(value, units, path))
    except Refusal as refusal:
        raise refused_in(refusal, units, "shape") from None
    return (data | {"shape": found[0]}, found[1]) if found else (data, {})


def read_part(data: dict) -> Part:
    """A :class:`Part` from the file's data; raises :class:`Refusal` at the first fault."""
    data, paths = settled(data)
    try:
        return _read(data)
    except Refusal as refusal:
        raise renamed(refusal, paths) from None


def renamed(refusal: Refusal, paths: Mapping[str, str]) -> Refusal:
    """The refusal at the path that the file had there."""
    below = refusal.path.removeprefix("shape.")
    known = [own for own in paths if below == own or below.startswith((f"{own}.", f"{own}["))]
    if not known or below == refusal.path:
        return refusal
    own = max(known, key=len)
    return Refusal(f"shape.{paths[own]}{below[len(own):]}", refusal.message)


def holding(data: dict) -> dict:
    """The part file with what gives way to sizes that are held as large as they need it; itself where none is."""
    holds = FAMILIES[data["shape"]["kind"]].holds
    if holds is None or not data["shape"].get("held"):
        return data
    check(data, "part")
    given, *_ = _given(data)
    try:
        return data | {"shape": holds(data["shape"], given)}
    except Refusal as refusal:
        raise refused_in(refusal, data["units"], "shape") from None


def _given(data: dict) -> tuple[Given, Material, VDie | None, Nose | None, str]:
    """(what a shape is read with, the metal, what it is bent with, and why its radius is what it is)."""
    units = data["units"]

    def length(value, path):
        return read_length(value, units, path)

    block = data["stock"]
    alloy = material(block["material"], values=block.get("values"))
    thickness = read_thickness(block["thickness"], units, alloy)
    die = read_die(data["die"], length) if "die" in data else None
    nose = read_nose(data["nose"], length) if "nose" in data else None
    radius, reason = _radius(data, predict(die, nose, thickness, alloy), length)
    school = read_school(data["allowance"], units, read_length)
    return Given(thickness, radius, school, length), alloy, die, nose, reason


def _read(data: dict) -> Part:
    check(data, "part")
    units, block = data["units"], data["stock"]
    given, alloy, die, nose, reason = _given(data)
    radius, thickness, school, length = given.inside_radius, given.thickness, given.school, given.length
    stock = Stock(alloy, thickness, *_springback(block, radius, thickness, alloy), block.get("grain", ""),
                  frozenset(block.get("values", ())), block.get("finish", ""), block.get("good_side", ""))
    try:
        shape = read_shape(data["shape"], given)
    except Refusal as refusal:
        raise refused_in(refusal, units, "" if refusal.path.startswith("allowance") else "shape") from None
    part = Part(data.get("name", ""), units, stock, radius, reason, school, shape, die, nose,
                tuple(_matings(data["shape"], "shape", length)), data.get("general_tolerance", MEDIUM))
    try:
        refuse_unsound(part.sheet, lambda: part.flat, bool(shape.blank), shape.place)
    except Refusal as refusal:
        raise refused_in(refusal, units, "shape") from None
    return part


def _matings(block, path: str, length) -> Iterator[Mating]:
    """Every size that is set by its mate, wherever it stands."""
    in_list = isinstance(block, list)
    if not in_list:
        way = next((way for way in (AROUND, INTO) if way in block), None)
        if way:
            yield Mating(path, in_words(path), way, length(block[way], f"{path}.{way}"),
                         length(block.get("clearance", 0), f"{path}.clearance"))
    for key, value in enumerate(block) if in_list else block.items():
        if isinstance(value, dict | list):
            yield from _matings(value, f"{path}[{key}]" if in_list else f"{path}.{key}", length)


def read_die(block: dict, length: ReadLength, path: str = "die") -> VDie:
    """A V die from its block; refuses a shoulder that leaves nothing of the opening."""
    v, nose = (DIE.mm(block, key, path, length) for key in ("v", "nose"))
    shoulder = length(block.get("shoulder_radius", 0), f"{path}.shoulder_radius")
    if not 0 <= shoulder < v / 2:
        raise Refusal(f"{path}.shoulder_radius", "must be between 0 and half the opening")
    return VDie(v, shoulder, block.get("name", ""), nose)


def read_nose(block: dict, length: ReadLength, path: str = "nose") -> Nose:
    """What the sheet is bent round, from its block."""
    sizes = {key: NOSE.mm(block, key, path, length) for key in ("radius", "shim", "slip")}
    return Nose(**sizes, way=block.get("way", ROUND_A_NOSE), name=block.get("name", ""),
                rated=_rating(block, length, path) if "rated_thickness" in block else None)


def _rating(block: dict, length: ReadLength, path: str) -> Rating:
    """What a plate stands for; of mild steel unless it says otherwise."""
    names = ("short_length", "short_thickness")
    shorter = tuple(NOSE.mm(block, key, path, length) for key in names) if all(key in block for key in names) else None
    return Rating(NOSE.mm(block, "rated_thickness", path, length),
                  block.get("rated_tensile", material("mild-steel").tensile_mpa), shorter)


def predict(die: VDie | None, nose: Nose | None, thickness: float, alloy: Material) -> Prediction | None:
    """The radius the tool will make; a die counts before a nose."""
    if die:
        return predict_air(die.v, thickness, alloy.natural_radius_factor, die.nose)
    return predict_nose(nose.radius, nose.shim, nose.slip, nose.way) if nose else None


def _springback(block: dict, radius: float | None, thickness: float, alloy: Material) -> tuple[float, str]:
    """(degrees, where they are from)."""
    stated = block.get("springback")
    if stated == START:
        return start_springback(radius, thickness, alloy), START
    return float(stated or 0.0), "" if stated is None else "given"


def _radius(data, predicted: Prediction | None, length):
    if "inside_radius" in data:
        return ROOT.mm(data, "inside_radius", "", length), "given on the part"
    return (predicted.radius, predicted.reason) if predicted else (None, "")

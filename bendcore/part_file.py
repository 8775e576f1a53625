"""The part file as declared: its own fields around those of each family, and the schema that follows from them.

``python -m bendcore.part_file`` writes the schema out for other programs, to ``schemas/part.schema.json``.
"""

import json
import re
from functools import cache, lru_cache
from importlib.resources import files

from .families import FAMILIES
from .fields import LENGTH, Choice, Const, Count, Field, Group, Length, Many, Number, Place, Text, Typing, find
from .files import put_schema
from .sheet.model import DOWN, UP
from .stock import refuse_bare_gauge
from .tolerance import CLASSES

TITLE = ('Dorvan part file, version 1. Lengths are numbers in the file\'s units or strings such as "7 3/8" or '
         '"187.3 mm".')


class Thickness(Length):
    """A thickness as a length or a gauge; a bare number in inches that could be a gauge is refused."""

    def read(self, text: str, path: str, how: Typing) -> object:
        """The gauge or length as typed."""
        if re.search(r"g", text, re.IGNORECASE):
            return text
        refuse_bare_gauge(text, how.units, path)
        return super().read(text, path, how)


def _over_nothing(high: float) -> Number:
    return Number(low=0, above=True, high=high, fixed=True)


VALUES: dict[str, Field] = {
    "density_kg_m3": _over_nothing(30000), "yield_mpa": _over_nothing(3000), "tensile_mpa": _over_nothing(3000),
    "modulus_gpa": _over_nothing(500), "natural_radius_factor": _over_nothing(1),
    "min_radius_over_t_across": Number(high=20), "min_radius_over_t_along": Number(high=20),
    "springback_at_90_deg": Number(high=45), "handbook_group": Choice("", ("soft", "medium", "hard")),
    "gauge_table": Choice("", ("steel", "galvanised", "stainless", "aluminium")),
    "edge_stretch": Number(high=1), "edge_shrink": Number(high=1)}
START = "start"
"""A springback that is not stated but begins with what the metal, its thickness and the radius make likely."""
NEITHER = "neither"
"""Of its two sides, where both are alike."""
FINISHES = ("film", "galvanised", "painted", "brushed")
STOCK = Group("", {
    "material": Text("material", needed=True), "thickness": Thickness("thickness", needed=True),
    "springback": Number("springback", high=45, word=START), "grain": Choice("grain", ("across", "along", "diagonal")),
    "finish": Choice("", FINISHES, fixed=True),
    "good_side": Choice("good side", (UP, DOWN, NEITHER)),
    "values": Group("values of the metal", VALUES, fixed=True)}, needed=True)
DIE = Group("die", {
    "name": Text(most=80), "v": Length("opening", needed=True, over=0),
    "shoulder_radius": Length("shoulder radius", default=0), "nose": Length("nose of the punch", default=0, least=0),
    "angle": _over_nothing(180)}, fixed=True)
NOSE = Group("nose", {
    "name": Text(most=80), "radius": Length("radius", needed=True, least=0, default=0),
    "shim": Length("shim", default=0, least=0), "slip": Length("slip sheet", default=0, least=0),
    "way": Choice("", ("nose", "bottom", "bar")), "rated_thickness": Length("rated thickness", over=0),
    "rated_tensile": _over_nothing(3000),
    "short_length": Length("shorter length on the plate", over=0),
    "short_thickness": Length("rated thickness at that", over=0)}, fixed=True)
ROW = Group("", {
    "angle": Number(low=0, above=True, high=180, needed=True), "deduction": Length(), "allowance": Length(),
    "thickness": Length(), "inside_radius": Length()}, fixed=True)
ALLOWANCE = Group("allowance", {
    "method": Choice("", ("k_factor", "deduction_chart", "din6935", "aircraft", "handbook", "generic", "none",
                          "half_zone"), needed=True, brings={"k_factor": ("k",), "handbook": ("group",)},
                     drops=("rows", "source", "correction")),
    "k": Number("K", start=0.4), "group": Choice("group of the metal", ("soft", "medium", "hard"), start="medium"),
    "rows": Many("", ROW, least=1, most=2000, fixed=True), "source": Text(most=200, fixed=True),
    "correction": Number("correction of K", low=-0.5, high=0.5, fixed=True)}, needed=True)
OWN: dict[str, Field] = {
    "format": Const("dorvan-part"), "version": Const("1"), "name": Text("name", most=120),
    "units": Choice("units", ("mm", "in"), needed=True, fixed=True),
    "stock": STOCK, "inside_radius": Length("inside radius", least=0),
    "die": DIE, "nose": NOSE, "allowance": ALLOWANCE,
    "report": Many("", Text(most=400, fixed=True), most=200, fixed=True), "count": Count(fixed=True),
    "general_tolerance": Choice("tolerances where the drawing is silent", tuple(CLASSES))}
"""The fields of every part file, beside its ``shape``; ``report`` and ``count`` are what a reader of solids said."""
ROOT = Group("", OWN)


@cache
def declared(kind: str) -> Group:
    """The fields of a part file of this family."""
    return Group("", OWN | {"shape": FAMILIES[kind].fields})


@lru_cache(maxsize=4096)
def field_at(path: str, kind: str = "") -> Place | None:
    """The field at a path of a part file of this family, or of the first family that has it; None where none has."""
    found = (find(declared(one), path) for one in ([kind] if kind else FAMILIES))
    return next(filter(None, found), None)


@lru_cache(maxsize=4096)
def in_words(path: str, kind: str = "") -> str:
    """A field's path as people call it; the path itself where no file has such a field.

    >>> in_words("shape.legs[1]"), in_words("shape.flanges[0].return.length"), in_words("colour")
    ('Leg L2', 'Flange F1, return length', 'colour')
    """
    while path and not ((found := field_at(path, kind)) and found.name):
        shorter = re.sub(r"(\.\w+|\[\d+\])$", "", path)
        if shorter == path:
            return path
        path = shorter
    return found.name if path else ""


def schema() -> dict:
    """The JSON schema of a part file."""
    around = {key: one.schema() for key, one in OWN.items()} | {"version": {"const": 1}}
    needed = [key for key, one in OWN.items() if one.needed]
    by_kind = [{"if": {"properties": {"kind": {"const": kind}}, "required": ["kind"]},
                "then": {"$ref": f"#/$defs/{kind}"}} for kind in FAMILIES]
    shape = {"type": "object", "properties": {"kind": {"enum": list(FAMILIES)}}, "required": ["kind"], "allOf": by_kind}
    size = {"type": ["number", "string", "object"], "maxLength": 60, "properties": {
        "length": LENGTH, "dims": {"enum": ["outside", "inside", "flat"]}, "around": LENGTH, "into": LENGTH,
        "clearance": LENGTH, "mate": {"type": "string", "maxLength": 60}}, "additionalProperties": False}
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": TITLE, "type": "object",
            "properties": around | {"shape": shape}, "required": [*needed, "shape"], "additionalProperties": False,
            "$defs": {kind: family.fields.schema() for kind, family in FAMILIES.items()} | {"size": size}}


def add_family(kind: str, module: str) -> None:
    """One more family, the ``FAMILY`` of a module: its parts can be read from here on."""
    FAMILIES.add(kind, module)
    _declare_anew()


def remove_family(kind: str) -> None:
    """One fewer, of those that were added."""
    FAMILIES.remove(kind)
    _declare_anew()


def _declare_anew() -> None:
    put_schema("part", schema())
    for known in (declared, field_at, in_words):
        known.cache_clear()


def _write() -> None:
    where = files("bendcore").joinpath("schemas", "part.schema.json")
    with open(str(where), "w", encoding="utf-8") as out:
        out.write(json.dumps(schema(), indent=1) + "\n")


if __name__ == "__main__":
    _write()

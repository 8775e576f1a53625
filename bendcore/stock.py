"""Materials and gauge tables.

The figures in ``data/`` are *start* values: representative, marked as such
wherever they are shown, to be replaced by the shop's own.
"""

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from functools import cache
from importlib.resources import files

from .errors import Refusal
from .said import Mm, Said
from .units import MM_PER, read_length, writer

_GAUGE = re.compile(r"^\s*#?\s*(\d{1,2})\s*(?:ga|gauge|g)\.?\s*$", re.IGNORECASE)
_GAUGE_TABLE = {
    "mild-steel": "steel", "hsla-350": "steel", "galvanised": "galvanised",
    "stainless-304": "stainless", "stainless-430": "stainless",
}
"""Everything else is measured by the aluminium (Brown & Sharpe) table."""


@dataclass(frozen=True)
class Material:
    """One alloy and temper. Radii are given over the thickness."""

    name: str
    density_kg_m3: float
    yield_mpa: float
    tensile_mpa: float
    modulus_gpa: float
    natural_radius_factor: float
    min_radius_over_t_across: float
    min_radius_over_t_along: float
    springback_at_90_deg: float
    handbook_group: str
    gauge_table: str = "aluminium"
    edge_stretch: float = 0.1
    edge_shrink: float = 0.02
    """How much a dressed edge stretches before it cracks, and shrinks under the hammer before it buckles, as shares."""

    @property
    def title(self) -> str:
        """Its name as people say it."""
        return called(self.name)


def called(name: str) -> str:
    """A metal's word of the files as people say it.

    >>> called("mild-steel"), called("stainless-304"), called("aluminium-5052-h32"), called("hive-tin")
    ('mild steel', '304 stainless', '5052-H32 aluminium', 'hive tin')
    """
    kind, _, grade = name.partition("-")
    if kind == "hsla":
        return f"HSLA {grade}"
    return f"{grade.upper()} {kind}" if grade[:1].isdigit() else name.replace("-", " ")


def _data(name: str) -> dict:
    return json.loads(files("bendcore").joinpath("data", name).read_text("utf-8"))


@cache
def materials() -> dict[str, Material]:
    """Every known material by its word."""
    rows = _data("materials.json")["materials"]
    return {name: Material(name=name, gauge_table=_GAUGE_TABLE.get(name, "aluminium"), **row)
            for name, row in rows.items()}


@cache
def gauges() -> dict[str, dict[int, float]]:
    """Gauge tables: name → number → thickness in mm."""
    tables = {k: v for k, v in _data("gauges.json").items() if isinstance(v, dict)}
    return {name: {int(n): inch * MM_PER["in"] for n, inch in rows.items()}
            for name, rows in tables.items()}


VALUES = tuple(f.name for f in fields(Material) if f.name != "name")
"""What is known of a material, by the names of the files."""
MAY_BE_LEFT_OUT = ("gauge_table", "edge_stretch", "edge_shrink")


def material(name: object, path: str = "stock.material", values: Mapping | None = None) -> Material:
    """The material called ``name``, with a shop's own ``values`` in place of the start values.

    A word that is not in the table is a shop's own material and needs every value.
    """
    values = values or {}
    if isinstance(name, str) and name in materials():
        return replace(materials()[name], **values)
    missing = [key for key in VALUES if key not in values and key not in MAY_BE_LEFT_OUT]
    if values and missing:
        raise Refusal("stock.values", f"“{str(name)[:30]}” is not in the table, so it also needs " + ", ".join(missing))
    if not values:
        raise Refusal(path, f"unknown material “{str(name)[:30]}”; known are " + ", ".join(materials()))
    return Material(name=name, **values)


SAME_STOCK = 0.05
"""Sheet whose thickness differs by no more than this share of the thicker is the same stock: as much as two sheets of
one order may (*start*, after the tolerances of cold-rolled sheet in EN 10131)."""


def alike(one: float, other: float) -> bool:
    """Whether two thicknesses are those of one stock, mm.

    >>> alike(0.5, 0.55), alike(3.0, 3.1), alike(1.5, 1.52)
    (False, True, True)
    """
    return abs(one - other) <= SAME_STOCK * max(one, other) + 1e-9


def bare_gauge(text: str) -> int | None:
    """The number in a thickness typed without a unit that might be meant as a gauge.

    >>> bare_gauge(" 16 "), bare_gauge("16 ga"), bare_gauge("1.5")
    (16, None, None)
    """
    number = int(text) if re.fullmatch(r"\s*\d{1,2}\s*", text) else 0
    return number if any(number in table for table in gauges().values()) else None


def refuse_bare_gauge(text: str, units: str, path: str) -> None:
    """A bare 16 might be a gauge, and the same gauge is another thickness in other metals: ask."""
    number = bare_gauge(text)
    if number is None:
        return
    show = writer(units)
    means = ", ".join(f"{show(table[number])} {name}" for name, table in gauges().items() if number in table)
    raise Refusal(path, f"might be a gauge: {number} ga is {means}. Write {number} ga, or {number} {units}")


def read_thickness(value: object, units: str, stock: Material, path: str = "stock.thickness") -> float:
    """Thickness in mm from a length or a gauge number of this material.

    >>> round(read_thickness("16 ga", "mm", material("mild-steel")), 4)
    1.5189
    """
    match = _GAUGE.match(value) if isinstance(value, str) else None
    if match:
        table = gauges()[stock.gauge_table]
        number = int(match[1])
        if number not in table:
            raise Refusal(path, f"gauge {number} is not in the {stock.gauge_table} table "
                                f"({min(table)} to {max(table)})")
        return table[number]
    thickness = read_length(value, units, path)
    if thickness <= 0:
        raise Refusal(path, "must be greater than 0")
    if thickness > 50:
        raise Refusal(path, Said("must not be more than {most}: this is sheet work", most=Mm(50)))
    return thickness

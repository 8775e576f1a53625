"""Materials and gauge tables.

The figures in ``data/`` are *start* values: representative, marked as such
wherever they are shown, to be replaced by the shop's own.
"""

import json
import re
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from .errors import Refusal
from .units import MM_PER, read_length

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

    @property
    def gauge_table(self) -> str:
        return _GAUGE_TABLE.get(self.name, "aluminium")


def _data(name: str) -> dict:
    return json.loads(files("bendcore").joinpath("data", name).read_text("utf-8"))


@cache
def materials() -> dict[str, Material]:
    """Every known material by its word."""
    rows = _data("materials.json")["materials"]
    return {name: Material(name=name, **row) for name, row in rows.items()}


@cache
def gauges() -> dict[str, dict[int, float]]:
    """Gauge tables: name → number → thickness in mm."""
    tables = {k: v for k, v in _data("gauges.json").items() if isinstance(v, dict)}
    return {name: {int(n): inch * MM_PER["in"] for n, inch in rows.items()}
            for name, rows in tables.items()}


def material(name, path: str = "stock.material") -> Material:
    """The material called ``name``; refuses an unknown word."""
    if not isinstance(name, str) or name not in materials():
        raise Refusal(path, f"unknown material “{str(name)[:30]}”; known are " + ", ".join(materials()))
    return materials()[name]


def read_thickness(value, units: str, stock: Material, path: str = "stock.thickness") -> float:
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
        raise Refusal(path, "must not be more than 50 mm: this is sheet work")
    return thickness

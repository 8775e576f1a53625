"""Reading what people type in the stockroom. Refusals name the field; nothing typed is lost."""

import re

from bendcore.errors import Refusal
from bendcore.stock import MAY_BE_LEFT_OUT, VALUES, Material, gauges, material, read_thickness, refuse_bare_gauge
from bendcore.units import read_length, writer
from dorvan.fields import whole, words

from .models import WORDS, Lot, MaterialValue

LIMITS = {"density_kg_m3": (100, 30_000), "yield_mpa": (1, 3000), "tensile_mpa": (1, 3000), "modulus_gpa": (1, 500),
          "natural_radius_factor": (0.02, 1), "min_radius_over_t_across": (0, 20), "min_radius_over_t_along": (0, 20),
          "springback_at_90_deg": (0, 45), "edge_stretch": (0, 1), "edge_shrink": (0, 1)}
MOST_READINGS = 30
_NAME = re.compile(r"^[a-z0-9]+(-[a-z0-9]+)*$")


def read_sheet_thickness(text: str, units: str, alloy: Material, path: str = "thickness") -> float:
    """A thickness in mm; a bare number that might be a gauge is asked about."""
    refuse_bare_gauge(text, units, path)
    return read_thickness(text, units, alloy, path)


def read_material_value(key: str, text: str):
    """One value of a material; refuses what no sheet metal has."""
    if key not in VALUES:
        raise Refusal("key", "is not a value of a material")
    if key in WORDS:
        choices = ("soft", "medium", "hard") if key == "handbook_group" else tuple(gauges())
        if text not in choices:
            raise Refusal(key, "must be one of " + ", ".join(choices))
        return text
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = float("nan")
    low, high = LIMITS[key]
    if not low <= value <= high:
        raise Refusal(key, f"must be a number from {low:g} to {high:g}")
    return value


def read_new_material(form) -> tuple[str, dict]:
    """(name, every value) of a material the table does not have."""
    name = form.get("name", "").strip().lower().replace(" ", "-")[:60]
    if not _NAME.match(name):
        raise Refusal("name", "must be a word of small letters, figures and hyphens, such as spring-steel")
    if name in MaterialValue.known():
        raise Refusal("name", "is in the stockroom already")
    values = {key: read_material_value(key, form.get(key, "").strip()) for key in VALUES
              if form.get(key, "").strip() or key not in MAY_BE_LEFT_OUT}
    material(name, values=values)
    return name, values


def read_lot(form, units: str) -> dict:
    """The fields of a lot; refuses at the first that cannot be."""
    known = MaterialValue.known()
    code = words(form.get("code"), 20)
    if not code:
        raise Refusal("code", "must be given: what is written on the sheets, such as L-031")
    if Lot.objects.filter(code__iexact=code).exists():
        raise Refusal("code", "is taken; every lot has its own")
    if form.get("material") not in known:
        raise Refusal("material", "must be one of the stockroom's materials")
    alloy = known[form["material"]]
    fields = {"code": code, "material": alloy.name,
              "thickness": read_sheet_thickness(form.get("thickness", ""), units, alloy),
              "supplier": words(form.get("supplier"), 80), "note": words(form.get("note"), 200)}
    fields["readings"] = read_readings(form.get("readings", ""), units, fields["thickness"])
    return fields | read_sheets(form, units)


def read_sheets(form, units: str) -> dict:
    """Size, count, grain and surface."""
    fields = {}
    for key in ("length", "width"):
        size = read_length(form.get(key, ""), units, key)
        if not 0 < size <= 20_000:
            raise Refusal(key, "must be greater than 0 and at most 20 m")
        fields[key] = size
    fields["count"] = read_count(form.get("count", "1"))
    for key, choices in (("grain", Lot.Grain), ("surface", Lot.Surface)):
        if form.get(key, choices.values[0]) not in choices.values:
            raise Refusal(key, "must be one of " + ", ".join(choices.labels))
        fields[key] = form.get(key, choices.values[0])
    return fields


def read_count(text: str) -> int:
    return whole(text, "count", 0, 10_000)


def read_readings(text: str, units: str, nominal: float) -> list[float]:
    """Caliper readings, mm, from text with spaces or commas between them."""
    words = [w for w in re.split(r"[;\s]+|,\s", text.strip()) if w]
    if len(words) > MOST_READINGS:
        raise Refusal("readings", f"must be at most {MOST_READINGS}")
    found = []
    for word in words:
        value = read_length(word, units, "readings")
        if not 0.5 * nominal <= value <= 1.5 * nominal:
            raise Refusal("readings", f"“{word[:12]}” is not near the nominal {writer(units)(nominal)}: "
                                      "measure again, or correct the nominal")
        found.append(value)
    return found

"""Where the allowance comes from: the schools.

Shops disagree about the bend allowance. Each school here is a small rule that
takes one bend and returns its allowance, or refuses where the rule does not hold.
``read_school`` turns the part file's ``allowance`` block into one.

Sources: DIN 6935; aircraft standard practice; machinists' handbook practice; the
remaining rules are shop practice and plain geometry.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from ..bending.bend import APEX, BendFigures, allowance_from_k, outside_setback
from ..errors import Refusal
from ..said import Deg, Mm, Said
from .charts import ALLOWANCE, DEDUCTION, Chart, Row

HANDBOOK_C = {"soft": 0.55, "medium": 0.64, "hard": 0.71}
CLOSED_HEM_K = 0.5
"""*Start* K of a hem folded right down."""


@dataclass(frozen=True)
class School:
    """One rule. ``allowance(angle, radius, thickness, convention)`` gives mm.

    ``formula`` and ``source`` say in words what is done, for the working;
    ``k`` is set where the rule is a fixed K.
    """

    method: str
    title: str
    formula: str
    source: str
    allowance: Callable[[float, float, float, str], float]
    k: float | None = None

    def figures(self, angle: float, radius: float, thickness: float,
                convention: str = APEX) -> BendFigures:
        """The bend's figures by this school; refuses a bend it cannot speak for."""
        width = self.allowance(angle, radius, thickness, convention)
        if width <= 0:
            raise Refusal("allowance", Said(
                "{school} leaves no material in a {angle}° bend of radius {radius} (allowance {width})",
                school=self.title, angle=f"{angle:g}", radius=Mm(radius), width=Mm(width)))
        return BendFigures(angle, radius, thickness, width, convention)


def k_factor(k: float, source: str = "given on the part") -> School:
    """A given K: BA = θ·(r + K·t)."""
    return School("k_factor", "K-factor", "BA = θ·(r + K·t)", source,
                  lambda a, r, t, _: allowance_from_k(a, r, t, k), k)


def din_k(radius: float, thickness: float) -> float:
    """K = (0.65 + 0.5·log10(r/t))/2, capped at 0.5; refused where it would not be positive."""
    k = (0.65 + 0.5 * math.log10(radius / thickness)) / 2 if radius > 0 else -1.0
    if k <= 0:
        raise Refusal("allowance", "DIN 6935 is not defined for so sharp a bend "
                                   f"(r/t = {radius / thickness:.3f}, needs more than 0.05)")
    return min(k, 0.5)


def generic_k(radius: float, thickness: float) -> float:
    """*Start* K of air bending by r/t: 0.33 below t, 0.40 to 3t, 0.50 above."""
    ratio = radius / thickness
    return 0.33 if ratio < 1 else 0.40 if ratio <= 3 else 0.50


def din6935() -> School:
    """K by DIN 6935, at most 0.5."""
    return School("din6935", "DIN 6935", "BA = θ·(r + K·t), K = (0.65 + 0.5·log10(r/t))/2 ≤ 0.5",
                  "DIN 6935", lambda a, r, t, _: allowance_from_k(a, r, t, din_k(r, t)))


def generic() -> School:
    """K by r/t in three steps, start values for air bending."""
    return School("generic", "Generic K by r/t", "BA = θ·(r + K·t), K = 0.33, 0.40 or 0.50 by r/t",
                  "start values for air bending",
                  lambda a, r, t, _: allowance_from_k(a, r, t, generic_k(r, t)))


def aircraft() -> School:
    """Aircraft standard practice."""
    return School("aircraft", "Aircraft practice", "BA = θ°·(0.01743·r + 0.0078·t)",
                  "aircraft standard practice", lambda a, r, t, _: a * (0.01743 * r + 0.0078 * t))


def handbook(group: str) -> School:
    """Machinists' handbook practice, by the group of the metal."""
    c = HANDBOOK_C[group]
    return School("handbook", f"Machinist's handbook, {group}", f"BA = θ/90·(1.57·r + {c}·t)",
                  "machinists' handbook practice",
                  lambda a, r, t, _: a / 90 * (1.57 * r + c * t))


def none() -> School:
    """Legs laid end to end: BD = 0."""
    return School("none", "No allowance", "BD = 0: legs laid end to end as dimensioned",
                  "thin gauge on hand brakes",
                  lambda a, r, t, convention: 2 * outside_setback(a, r, t, convention))


def half_zone() -> School:
    """BD = 2·t + r, of 90° bends only: square and drill-shank practice."""
    """The zone as long as half a quarter turn's outside; 90° bends only."""
    def rule(angle, radius, thickness, convention):
        if abs(angle - 90) > 1e-9:
            raise Refusal("allowance", Said("half-zone holds for {square} bends only, not for {angle}", square=Deg(90),
                                            angle=Deg(angle)))
        return 2 * outside_setback(90, radius, thickness) - (2 * thickness + radius)
    return School("half_zone", "Half-zone", "BD = 2·t + r, 90° only",
                  "square and drill-shank practice", rule)


def deduction_chart(rows: list[tuple[float, float]]) -> School:
    """A shop's chart of (angle, deduction) for one thickness and radius."""
    return from_chart(Chart(DEDUCTION, tuple(Row(angle, figure) for angle, figure in rows)))


def from_chart(chart: Chart, source: str = "chart on the part") -> School:
    """A shop's chart as a school: interpolated, refused beyond its edges."""
    if chart.kind == ALLOWANCE:
        return School("deduction_chart", "Allowance chart", "BA from the chart", source,
                      lambda a, r, t, _: chart.figure(a, r, t))
    return School("deduction_chart", "Deduction chart", "BA = 2·OSSB − BD, BD from the chart", source,
                  lambda a, r, t, convention: 2 * outside_setback(a, r, t, convention) - chart.figure(a, r, t))


SIMPLE = {"din6935": din6935, "generic": generic, "aircraft": aircraft,
          "none": none, "half_zone": half_zone}


def read_school(block: dict, units: str, read_length: Callable[..., float]) -> School:
    """The school named by an ``allowance`` block that already fits the schema.

    ``read_length(value, units, path)`` is passed in to keep units at the edge.
    Paths in refusals start at ``allowance``.
    """
    method = block["method"]
    wanted = {"k_factor": {"k"}, "deduction_chart": {"rows"}, "handbook": {"group"}}.get(method, set())
    for key in sorted(set(block) - {"method", "source", "correction"} - wanted):
        raise Refusal(f"allowance.{key}", f"does not belong to the method {method}")
    for key in wanted - set(block):
        raise Refusal(f"allowance.{key}", f"is needed by the method {method}")
    if method == "k_factor":
        found = k_factor(block["k"], block.get("source", "given on the part"))
    elif method == "handbook":
        found = handbook(block["group"])
    elif method == "deduction_chart":
        found = from_chart(_read_rows(block["rows"], units, read_length), block.get("source", "chart on the part"))
    else:
        found = SIMPLE[method]()
    return with_correction(found, block["correction"]) if block.get("correction") else found


def with_correction(school: School, more: float) -> School:
    """The same rule with its K ``more`` at every bend, each by its own angle and thickness: BA + θ·ΔK·t.

    >>> round(with_correction(k_factor(0.4), 0.05).allowance(90, 2, 1, APEX), 6)
    3.848451
    >>> round(k_factor(0.45).allowance(90, 2, 1, APEX), 6)
    3.848451
    """
    return replace(school, title=f"{school.title}, corrected", formula=f"{school.formula}; + θ·ΔK·t, ΔK = {more:+.4g}",
                   source=f"{school.source}; corrected by pieces checked",
                   allowance=lambda a, r, t, c: school.allowance(a, r, t, c) + math.radians(a) * more * t,
                   k=None if school.k is None else school.k + more)


def corrected(block: dict, more: float) -> dict:
    """An ``allowance`` block with K ``more`` at every bend: of a given K the K itself, of any other rule beside it.

    >>> corrected({"method": "k_factor", "k": 0.4}, 0.012), corrected({"method": "din6935"}, 0.012)
    ({'method': 'k_factor', 'k': 0.412}, {'method': 'din6935', 'correction': 0.012})
    """
    if block["method"] == "k_factor" and "correction" not in block:
        return {"method": "k_factor", "k": round(block["k"] + more, 4)}
    return block | {"correction": round(block.get("correction", 0.0) + more, 4)}


def _read_rows(rows: list[dict], units: str, read_length) -> Chart:
    """The ``rows`` of an allowance block; all give a deduction or all an allowance."""
    kind = ALLOWANCE if ALLOWANCE in rows[0] else DEDUCTION
    found = {}
    for i, row in enumerate(rows):
        path = f"allowance.rows[{i}]"
        if set(row) != set(rows[0]):
            raise Refusal(path, "must have the same keys as the first row")
        if kind not in row or {DEDUCTION, ALLOWANCE} <= set(row):
            raise Refusal(path, "must give either a deduction or an allowance")
        thickness, radius = (read_length(row[key], units, f"{path}.{key}") if key in row else None
                             for key in ("thickness", "inside_radius"))
        place = (thickness, radius, row["angle"])
        if place in found:
            raise Refusal("allowance.rows", "names the same angle twice" if radius is None and thickness is None
                          else "names the same bend twice")
        found[place] = Row(row["angle"], read_length(row[kind], units, f"{path}.{kind}"), thickness, radius)
    return Chart(kind, tuple(found.values()))

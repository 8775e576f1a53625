"""One bend: setbacks, allowance, deduction, K, and air bending over a V die.

Formulas are those of plane geometry and of common press-brake practice; each
function states its own. θ is the bend angle, h = θ/2, r the inside radius,
t the thickness, V the die opening between the points where its shoulders meet the
top face, ρ the shoulder radius.
"""

import math
from dataclasses import dataclass

from ..errors import Refusal
from ..said import Mm, Said

APEX, TANGENT = "apex", "tangent"
CONVENTIONS = (APEX, TANGENT)
SHARP = 0.63
"""Below this many thicknesses a *predicted* radius is sharp bending."""
LEG_MARGIN = 1.0
"""The check asks this much more than the shortest leg that stays on the die, mm."""


def outside_setback(angle: float, radius: float, thickness: float, convention: str = APEX) -> float:
    """Tangent line to outside apex, (r + t)·tan h.

    Above 90° under the ``tangent`` convention a drawing is dimensioned to the
    outermost tangent instead: r + t.
    """
    if convention == TANGENT and angle > 90:
        return radius + thickness
    return (radius + thickness) * math.tan(math.radians(angle) / 2)


def inside_setback(angle: float, radius: float, convention: str = APEX) -> float:
    """Tangent line to inside apex, r·tan h (r above 90° under ``tangent``)."""
    return outside_setback(angle, radius, 0.0, convention)


def allowance_from_k(angle: float, radius: float, thickness: float, k: float) -> float:
    """Length of the neutral fibre, BA = θ·(r + K·t)."""
    return math.radians(angle) * (radius + k * thickness)


def k_from_allowance(angle: float, radius: float, thickness: float, allowance: float) -> float:
    """The K that gives this allowance, (BA/θ − r)/t."""
    return (allowance / math.radians(angle) - radius) / thickness


@dataclass(frozen=True)
class BendFigures:
    """What one bend takes. ``deduction`` = 2·``outside_setback`` − ``allowance``."""

    angle: float
    inside_radius: float
    thickness: float
    allowance: float
    convention: str = APEX
    made: str = ""
    """How a large radius is made: bumped, rolled, over a former; empty where that is left to the tool."""
    facet: float | None = None
    """By how much facets of a bumped radius may stand off the arc, mm; None for the usual."""

    @property
    def outside_setback(self) -> float:
        """From the tangent line to the outside apex or tangent, mm."""
        return outside_setback(self.angle, self.inside_radius, self.thickness, self.convention)

    @property
    def inside_setback(self) -> float:
        """From the tangent line to the inside apex or tangent, mm."""
        return inside_setback(self.angle, self.inside_radius, self.convention)

    @property
    def deduction(self) -> float:
        """BD = 2·OSSB − BA, mm."""
        return 2 * self.outside_setback - self.allowance

    @property
    def k(self) -> float:
        """The K-factor that gives this allowance."""
        return k_from_allowance(self.angle, self.inside_radius, self.thickness, self.allowance)

    def radius_at(self, angle: float) -> float:
        """Inside radius while the bend stands at ``angle`` on its way to the full one.

        The neutral fibre keeps its length, so the zone stays as wide as the
        allowance and r(φ) = BA/φ − K·t: large at first, r at the full angle.
        """
        return self.allowance / math.radians(angle) - self.k * self.thickness


# --- air bending over a V die -------------------------------------------------

def leg_depth(angle: float, v: float, shoulder: float) -> float:
    """Depth of the legs' outside apex below the die's top, d = tan h·V/2 + ρ − ρ/cos h."""
    h = math.radians(angle) / 2
    return math.tan(h) * v / 2 + shoulder - shoulder / math.cos(h)


def punch_travel(angle: float, radius: float, thickness: float, v: float, shoulder: float) -> float:
    """Punch travel from touch, D = d − (r + t)(1/cos h − 1)."""
    h = math.radians(angle) / 2
    return leg_depth(angle, v, shoulder) - (radius + thickness) * (1 / math.cos(h) - 1)


def travel_per_degree(angle: float, radius: float, thickness: float, v: float, shoulder: float) -> float:
    """dD/dθ in mm per degree at this angle: what one degree is worth in depth."""
    h = math.radians(angle) / 2
    slope = v / 2 / math.cos(h) ** 2 - (shoulder + radius + thickness) * math.tan(h) / math.cos(h)
    return slope / 2 * math.pi / 180


def natural_radius(v: float, thickness: float, factor: float, nose: float = 0.0) -> tuple[float, str]:
    """The radius air bending will give, and why: p·V, not below 0.63·t, not below the nose."""
    radius, reason = factor * v, Said(f"{factor:.3g} × V {{v}}", v=Mm(v))
    if radius < SHARP * thickness:
        radius, reason = SHARP * thickness, f"sharp bending: {SHARP} × t"
    if nose > radius:
        radius, reason = nose, Said("the punch nose, R {nose}", nose=Mm(nose))
    return radius, reason


def radius_factor(tensile: float) -> float:
    """*Start* value of p for a material known by its tensile strength: 0.16·σ/415."""
    return 0.16 * tensile / 415


def shortest_flat(figures: BendFigures, v: float, shoulder: float) -> float:
    """Least flat from the bend line that stays on the die,
    max(V/2, (V/2 − ρ sin h)/cos h − BD/2): the start of the stroke can govern."""
    h = math.radians(figures.angle) / 2
    apex = BendFigures(figures.angle, figures.inside_radius, figures.thickness, figures.allowance)
    return max(v / 2, (v / 2 - shoulder * math.sin(h)) / math.cos(h) - apex.deduction / 2)


def minimum_leg(figures: BendFigures, v: float, shoulder: float) -> float:
    """The shortest outside leg on this die: :func:`shortest_flat` + BD/2."""
    return shortest_flat(figures, v, shoulder) + figures.deduction / 2


def tonnage(tensile: float, thickness: float, v: float, length: float = 1000.0) -> float:
    """Air-bending force in kN, 1.42·σ·t²·L/V/1000 (σ in MPa, lengths in mm)."""
    return 1.42 * tensile * thickness ** 2 * length / v / 1000


def check_angle(angle: float, path: str) -> float:
    """A bend angle must lie between 0 and 180; folding flat is a hem."""
    if angle <= 0:
        raise Refusal(path, "must be greater than 0")
    if angle >= 180:
        raise Refusal(path, "must be less than 180; an edge folded flat is a hem")
    return angle

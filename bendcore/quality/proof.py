"""A proof bend: one strip measured flat and bent, and the K it gives.

A strip of flat length F is bent once to θ. With both outside legs a and b, the
angle, the inside radius r and the thickness t measured,

    BD = a + b − F,   BA = 2·OSSB − BD,   K = (BA/θ − r)/t.

The uncertainty of K is the root of the squares of each reading's own uncertainty
times the derivative of K with respect to it (first-order propagation, readings
independent).
"""

import math
from dataclasses import dataclass, fields, replace

from ..bending.bend import APEX, TANGENT, BendFigures, check_angle, k_from_allowance, outside_setback
from ..errors import Refusal
from ..said import Fine, Mm, Said
from ..working import Value, Working


@dataclass(frozen=True)
class Uncertainty:
    """Standard uncertainties of the readings: mm, and degrees for the angle.

    The defaults are *start* values for a caliper, a bevel protractor, a radius
    gauge and a micrometer used with care.
    """

    strip: float = 0.03
    leg_a: float = 0.03
    leg_b: float = 0.03
    angle: float = 0.1
    inside_radius: float = 0.05
    thickness: float = 0.01


NAMES = tuple(f.name for f in fields(Uncertainty))
TITLES = {"strip": "strip, flat", "leg_a": "leg a", "leg_b": "leg b", "angle": "angle",
          "inside_radius": "inside radius", "thickness": "thickness"}


@dataclass(frozen=True)
class ProofBend:
    """The readings of one strip: mm, and degrees swept from flat."""

    strip: float
    leg_a: float
    leg_b: float
    angle: float
    inside_radius: float
    thickness: float
    convention: str = APEX
    u: Uncertainty = Uncertainty()

    @property
    def is_hem(self) -> bool:
        """Folded right back: 180° to the outermost tangent, with half the gap for radius."""
        return self.angle == 180 and self.convention == TANGENT

    @property
    def deduction(self) -> float:
        """BD = a + b − F."""
        return self.leg_a + self.leg_b - self.strip

    @property
    def outside_setback(self) -> float:
        """From the tangent line to the apex or tangent, mm."""
        return outside_setback(self.angle, self.inside_radius, self.thickness, self.convention)

    @property
    def allowance(self) -> float:
        """BA = 2·OSSB − BD."""
        return 2 * self.outside_setback - self.deduction

    @property
    def k(self) -> float:
        """K = (BA/θ − r)/t."""
        return k_from_allowance(self.angle, self.inside_radius, self.thickness, self.allowance)

    @property
    def slopes(self) -> dict[str, float]:
        """∂K over each reading, per mm and per degree."""
        theta, r, t = math.radians(self.angle), self.inside_radius, self.thickness
        if self.convention == TANGENT and self.angle > 90:
            per_size, per_angle = 2.0, 0.0  # OSSB = r + t
        else:
            per_size, per_angle = 2 * math.tan(theta / 2), (r + t) / math.cos(theta / 2) ** 2
        return {
            "strip": 1 / (theta * t), "leg_a": -1 / (theta * t), "leg_b": -1 / (theta * t),
            "angle": math.radians((per_angle - self.allowance / theta) / theta) / t,
            "inside_radius": (per_size / theta - 1) / t,
            "thickness": (per_size / theta - self.k) / t,
        }

    @property
    def shares(self) -> dict[str, float]:
        """What each reading adds to the uncertainty of K."""
        return {name: abs(slope) * getattr(self.u, name) for name, slope in self.slopes.items()}

    @property
    def u_k(self) -> float:
        """Standard uncertainty of K: the root of the sum of the shares' squares."""
        return math.sqrt(sum(share ** 2 for share in self.shares.values()))

    @property
    def u_allowance(self) -> float:
        """Uncertainty of BA: of the readings it is worked out from."""
        theta, r, t = math.radians(self.angle), self.inside_radius, self.thickness
        if self.convention == TANGENT and self.angle > 90:
            per_size, per_angle = 2.0, 0.0
        else:
            per_size, per_angle = 2 * math.tan(theta / 2), math.radians((r + t) / math.cos(theta / 2) ** 2)
        u = self.u
        return math.sqrt(u.strip ** 2 + u.leg_a ** 2 + u.leg_b ** 2 + (per_angle * u.angle) ** 2
                         + per_size ** 2 * (u.inside_radius ** 2 + u.thickness ** 2))

    @property
    def figures(self) -> BendFigures:
        """The bend as measured."""
        return BendFigures(self.angle, self.inside_radius, self.thickness, self.allowance, self.convention)

    def working(self) -> Working:
        """K with every reading, its uncertainty and its share of K's."""
        units = {"angle": "°"}
        values = tuple(Value(symbol, TITLES[name], getattr(self, name), units.get(name, "mm"),
                             Said("± {u}, moves K by {share}", share=f"{self.shares[name]:.4f}",
                                  u=f"{self.u.angle:g}°" if name == "angle" else Fine(getattr(self.u, name))))
                       for symbol, name in zip("Fabθrt", NAMES, strict=True))
        return Working("K of the proof bend", "K = ((2·OSSB − (a + b − F))/θ − r)/t", values, self.k, "",
                       f"± {self.u_k:.4f}")


def check_proof(proof: ProofBend) -> ProofBend:
    """Refuse readings that no bent strip can give, at the reading to look at again."""
    if not proof.is_hem:
        check_angle(proof.angle, "angle")
    for name in ("strip", "leg_a", "leg_b", "thickness"):
        if getattr(proof, name) <= 0:
            raise Refusal(name, "must be greater than 0")
    if proof.inside_radius < 0:
        raise Refusal("inside_radius", "must not be negative")
    for name in NAMES:
        if getattr(proof.u, name) < 0:
            raise Refusal(f"u_{name}", "must not be negative")
    for name in ("leg_a", "leg_b"):
        if getattr(proof, name) <= proof.outside_setback:
            raise Refusal(name, Said(
                "must be more than {least}, the bend's own setback", least=Mm(proof.outside_setback)))
    if proof.allowance <= 0:
        raise Refusal("strip", Said(
            "is too short for these legs: they leave {left} for the bend zone", left=Mm(proof.allowance)))
    if not -0.5 <= proof.k <= 1.5:
        raise Refusal("strip", f"does not belong to these legs: K would be {proof.k:.2f}, and the neutral fibre lies "
                               "within the sheet (0 to 1). Measure strip, legs and radius again")
    return proof


def springback(bent_to: float, angle: float) -> float:
    """Degrees a 90° bend opens, from one held at ``bent_to`` and found at ``angle``.

    Springback is taken in proportion to the angle left after it.
    """
    return (bent_to - angle) * 90 / angle


def u_springback(bent_to: float, angle: float, u_angle: float) -> float:
    """Uncertainty of :func:`springback` when both angles are read with the same tool."""
    return 90 * u_angle / angle * math.hypot(1.0, bent_to / angle)


@dataclass(frozen=True)
class StripPlan:
    """What to cut for a proof bend, mm: ``line`` is the bend line from the end of leg a."""

    strip: float
    width: float
    line: float
    leg_a: float
    leg_b: float
    least: float
    """The shortest leg the tool takes, with its margin."""


def plan_strip(expected: BendFigures, least: float, hem: float = 0.0) -> StripPlan:
    """A strip for a bend expected like this, on a tool that takes ``least`` (outside leg, mm).

    Leg a is the shorter one, so that the two cannot be taken for each other; of a hem
    it is the hem, ``hem`` long over the fold. Lengths in round 5 mm; wide enough that
    the curl of the edges does not reach the middle.
    """
    t = expected.thickness
    short = hem or _up(max(least + 5, 12 * t, 30))
    far = _up(max(short + 10, 40))
    strip = _up(short + far - expected.deduction)
    inside = short - expected.outside_setback + expected.allowance / 2
    return StripPlan(strip, _up(max(30, 10 * t)), inside, short, strip - short + expected.deduction, least)


def _up(size: float) -> float:
    return 5.0 * math.ceil(size / 5 - 1e-9)


def part_as_proof(blank: float, legs: list[float], angle: float, inside_radius: float, thickness: float,
                  bends: int, u: Uncertainty = Uncertainty()) -> ProofBend:
    """A finished part with a measured blank as one proof bend: all its ``bends`` are alike.

    Each bend takes (Σ legs − blank)/n; the readings' errors are shared out alike.
    """
    if bends < 1 or len(legs) != bends + 1:
        raise Refusal("legs", f"{bends} bends leave {bends + 1} legs to measure")
    deduction = (sum(legs) - blank) / bends
    spread = u.leg_a * math.sqrt(len(legs) / 2) / bends
    shared = replace(u, strip=u.strip / bends, leg_a=spread, leg_b=spread)
    return check_proof(ProofBend(legs[0] + legs[-1] - deduction, legs[0], legs[-1], angle, inside_radius, thickness,
                                 u=shared))

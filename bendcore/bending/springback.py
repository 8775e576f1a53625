"""Springback from yield and stiffness, before any proof bend.

With the inside radius r_i under load and r_f when let go,

    r_i/r_f = 4·X³ − 3·X + 1,   X = r_i·Y/(E·t),

and the neutral line keeps its length, so θ_f = θ_i·(r_i + t/2)/(r_f + t/2)
(handbooks of sheet forming; elastic, ideally plastic sheet). It holds for X < 0.5;
beyond that the sheet springs back wholly. A *start* value: proof bends replace it.
"""

from ..errors import Refusal
from ..said import Mm, Said
from ..stock import Material

WHOLE = 0.5
MOST = 30.0
"""A start value is no larger, degrees."""


def release(radius: float, angle: float, thickness: float, material: Material) -> tuple[float, float]:
    """(radius, angle) after letting go of a bend held at ``radius`` (mm) and ``angle`` (degrees)."""
    x = radius * material.yield_mpa / (material.modulus_gpa * 1000 * thickness)
    if x >= WHOLE:
        raise Refusal("inside_radius", Said(
            "radius {radius} on {t} {material} springs back wholly (X = {x}, must be below {whole})",
            radius=Mm(radius), t=Mm(thickness), material=material.title, x=f"{x:.2f}", whole=WHOLE))
    free = radius / (4 * x ** 3 - 3 * x + 1)
    return free, angle * (radius + thickness / 2) / (free + thickness / 2)


def loaded_radius(radius: float, thickness: float, material: Material) -> float:
    """The radius to hold so that ``radius`` is left; both sides are monotone, so it is halved in."""
    per_x = material.modulus_gpa * 1000 * thickness / material.yield_mpa
    low, high = 0.0, min(WHOLE * per_x, radius)
    for _ in range(80):
        middle = (low + high) / 2
        x = middle / per_x
        low, high = (middle, high) if middle < radius * (4 * x ** 3 - 3 * x + 1) else (low, middle)
    return (low + high) / 2


def opening(radius: float, angle: float, thickness: float, material: Material) -> float:
    """Degrees a bend finished at ``angle`` and ``radius`` has opened by the formula."""
    held = loaded_radius(radius, thickness, material)
    return angle * ((radius + thickness / 2) / (held + thickness / 2) - 1)


def start_springback(radius: float | None, thickness: float, material: Material) -> float:
    """Degrees a 90° bend opens before any proof bend, to a tenth: the metal's start value, which holds for a radius of
    one thickness, and what the formula adds for another radius; at most :data:`MOST`.

    >>> from bendcore.stock import material
    >>> start_springback(1.5, 1.5, material("stainless-304")), start_springback(6, 1.5, material("stainless-304"))
    (2.5, 3.4)
    """
    more = opening(radius, 90, thickness, material) - opening(thickness, 90, thickness, material) if radius else 0.0
    return round(min(max(material.springback_at_90_deg + more, 0.0), MOST), 1)

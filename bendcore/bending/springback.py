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

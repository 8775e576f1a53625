"""Templates of large inside radii, to be cut out and tried: SVG, true size."""

import math

from ..errors import Refusal
from ..families.shape import ROLLS
from ..layout.large import large_radii
from ..part import Part

WIDEST, DEEP = 240.0, 60.0
"""The template's chord at most, and how much stands below its arc, mm: it fits A4."""


def to_gauge(part: Part) -> str:
    """Of every inside radius that is rolled, bumped or bent round a former a template, one below the other; refuses a
    part without."""
    radii = part.shape.inside if part.shape.making == ROLLS else [one.radius for one in large_radii(part)]
    if not radii:
        raise Refusal("shape", "is bent and not rolled: there is no radius to try")
    shapes, top = [], 10.0
    for radius in dict.fromkeys(round(r, 3) for r in radii):
        half = min(radius * math.sin(math.radians(50)), WIDEST / 2)
        rise = radius - math.sqrt(radius ** 2 - half ** 2)
        left, base = 20.0, top + rise
        arc = f"M{left:.3f},{base:.3f}A{radius:.3f},{radius:.3f} 0 0 1 {left + 2 * half:.3f},{base:.3f}"
        words = f"R {radius / part.per_unit:.4g} {part.units} inside"
        shapes += [f'<path d="{arc}v{DEEP / 2}h{-2 * half:.3f}z"/>', _text(left + half, base + DEEP / 4, words)]
        top = base + DEEP
    shapes += [f'<path d="M20,{top:.3f}v4h50v-4"/>', _text(70, top - 1, "50 mm: measure it before cutting out")]
    tall = top + 10
    return (f'<svg xmlns="http://www.w3.org/2000/svg" width="280mm" height="{tall:.1f}mm" viewBox="0 0 280 {tall:.1f}" '
            'fill="none" stroke="#000" stroke-width="0.2" font-size="5" font-family="sans-serif">'
            + "".join(shapes) + "</svg>\n")


def _text(x: float, y: float, words: str) -> str:
    return f'<text x="{x:.3f}" y="{y:.3f}" text-anchor="middle" fill="#000" stroke="none">{words}</text>'

"""What a shop does not know yet, in millimetres of a blank."""

from math import pi

from ..schools.school import generic_k
from .spreads import THICKNESS, K, Spreads

SQUARE = pi / 2
CALIPER = 0.01
"""What a caliper leaves open of a thickness, mm (*start*)."""


def blank_uncertainty(thickness: float, radius: float, bends: int, spreads: Spreads) -> dict[str, float]:
    """± mm (two standard deviations) of a blank with so many square bends, by what it comes from.

    A blank is its outside lengths less, for each bend, BD = 2·(r + t) − θ·(r + K·t), θ = π/2. Both sources are the same
    for every bend of a piece, so that bends add up: by K, n·θ·t·σ_K; by the thickness, n·(2 − θ·K)·σ_t (the handbook,
    *Tolerances follow the order*).

    >>> round(blank_uncertainty(1.0, 1.0, 2, Spreads())["k"], 3)
    0.126
    """
    by_thickness = 2 - SQUARE * generic_k(radius, thickness)
    return {K: 2 * bends * SQUARE * thickness * spreads.k,
            THICKNESS: 2 * bends * by_thickness * spreads.thickness * thickness}

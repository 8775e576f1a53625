"""The inside radius a bend will really have, and why.

By how the bend is made: over a V die the die makes it (or a nose larger than that);
a bottomed or coined bend takes the nose; a leaf or finger brake its nose with
whatever lies over it (a radius shim, a slip sheet between nose and work: both are in
use, and both change setback and clamp pressure at both ends); a bench its bar's
edge. A radius *given* on a part is never altered: it is compared.
"""

from dataclasses import dataclass

from ..said import Mm, Said
from .bend import SHARP, natural_radius

AIR, BOTTOM, NOSE, BAR = "air", "bottom", "nose", "bar"
WAYS = {AIR: "air bending", BOTTOM: "bottoming", NOSE: "round a nose", BAR: "over a bar's edge"}
APART = 0.2
"""Radii nearer than this many thicknesses make no difference worth a word."""
WIDE, NARROW = 1.5, 0.75
"""An opening beyond these shares of practice is worth a caution."""


@dataclass(frozen=True)
class Prediction:
    """``radius`` in mm, the ``reason`` in words, and what to mind when bending so."""

    radius: float
    reason: str
    minds: tuple[str, ...] = ()


def usual_opening(thickness: float) -> float:
    """The opening of a V by practice (*start*) for a thickness, mm: about 6 t below 3 mm, 8 t to 10 mm, 10 to 12 t
    above.

    >>> usual_opening(1.5), usual_opening(4)
    (9.0, 32)
    """
    return thickness * (6 if thickness < 3 else 8 if thickness <= 10 else 11)


def predict_air(v: float, thickness: float, factor: float, nose: float = 0.0) -> Prediction:
    """Air bending over an opening ``v`` with a punch of tip radius ``nose``."""
    radius, reason = natural_radius(v, thickness, factor, nose)
    minds = ()
    if nose > max(factor * v, SHARP * thickness):
        minds = (Said("the nose (R {nose}) is larger than the die would make ({made})", nose=Mm(nose),
                      made=Mm(factor * v)),)
    elif factor * v < SHARP * thickness:
        minds = (f"the die is narrow: the sheet creases below {SHARP} × t",)
    return Prediction(radius, reason, minds)


def predict_nose(nose: float, shim: float = 0.0, slip: float = 0.0, way: str = NOSE) -> Prediction:
    """Round a nose, a bottoming punch or a bar's edge of radius ``nose`` (mm)."""
    words = {NOSE: "the nose", BOTTOM: "the punch nose, bottomed", BAR: "the bar's edge"}[way]
    parts = [f"{words}, R {{nose}}"]
    minds = []
    if shim:
        parts.append("radius shim {shim}")
    if slip:
        parts.append("slip sheet {slip}")
    if shim or slip:
        minds.append("set setback and clamp pressure again, at both ends: the sheet is held by so much more")
    if way == BAR:
        minds.append("back the lower bar off by the springback")
    if way == BOTTOM:
        minds.append("bottoming takes about 5 times the force of air bending: check machine and tools")
    reason = Said(" + ".join(parts), nose=Mm(nose), shim=Mm(shim), slip=Mm(slip))
    return Prediction(nose + shim + slip, reason, tuple(minds))


def differs(given: float, predicted: float, thickness: float) -> bool:
    """Whether a drawing's radius is far enough from the tool's to be told."""
    return abs(given - predicted) > APART * thickness


UNDER = " under R "
"""Between a die and the nose of the punch above it."""


def tool_name(die: str, predicted_by_die: float, nose: float = 0.0) -> str:
    """A die as the ledger names it: with the punch's nose where that sets the radius."""
    return f"{die}{UNDER}{nose:g}" if nose > predicted_by_die + 1e-9 else die


def die_in(tool: str) -> str:
    """The die in what :func:`tool_name` made, or whatever else stands there.

    >>> die_in("V 8 under R 3"), die_in("12 mm bar")
    ('V 8', '12 mm bar')
    """
    return tool.partition(UNDER)[0]

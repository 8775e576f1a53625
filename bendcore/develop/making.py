"""The making card of a rolled piece: what is done at the slip rolls (handbook, *Rolled and hammered work*).

What lies between the nip and the third roll stays flat, so both ends are bent first. The sheet opens when it is let
go by the springback of :mod:`..bending.springback`: it is rolled to a smaller radius than it is to have, by passes that
add as much curvature each. Numbers of passes are start values.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from ..bending.springback import loaded_radius
from ..said import Mm, Said
from ..stock import Material

PASSES = ((20.0, 6), (60.0, 5), (float("inf"), 4))
"""Up to a radius of so many thicknesses so many passes (*start*)."""
UP_MARK = 3.0
"""An end that slants by more than so many mm can be told from the other by eye; less is marked twice."""


@dataclass(frozen=True)
class Step:
    """One step: its ``title`` and what is done."""

    title: str
    words: str | Said


@dataclass(frozen=True)
class Pass:
    """The inside radius a pass leaves under load, at each end of the piece, mm: twice the same of a tube."""

    number: int
    radii: tuple[float, float]


def passes(inside: tuple[float, float], thickness: float, material: Material) -> list[Pass]:
    """How the rolls creep up on the inside radii wanted, the last the radius to hold so that these are left."""
    count = next(n for most, n in PASSES if min(inside) / thickness <= most)
    held = [loaded_radius(radius, thickness, material) for radius in inside]
    return [Pass(n, tuple(radius * count / n for radius in held)) for n in range(1, count + 1)]


def rolling(inside: tuple[float, float], slant: float, lap: str) -> Iterator[Step]:
    """What is done; ``slant`` is by how much the longest generator is longer than the shortest, mm, ``lap`` how the
    seam is joined."""
    yield Step("Mark", "Number, up side and the generators stand on the face that lies outside: it goes to the third "
                       "roll, so that the writing can be read on the finished piece."
               + (" Mark the up side on both faces: its slant is hardly seen once it is rolled."
                  if 0 < slant < UP_MARK else ""))
    yield Step("Seam first", {"butt": "Dress both edges.", "lap": "Ease the edge that comes to lie inside, so that the "
                              "lap does not stand off.", "lock": "Fold the lock's edges open, one to each side, before "
                              "anything is rolled."}[lap])
    yield Step("Ends", "Feed each end in from the back and bend it to the radius, or dress it over the roll with a "
                       "mallet: what lies between the nip and the third roll stays flat else.")
    if inside[0] != inside[1]:
        yield Step("Taper", Said("Set the third roll out of parallel, or hold the small end back as it goes through: "
                                 "both ends come round together, to {small} and {large} inside.",
                                 small=Mm(min(inside)), large=Mm(max(inside))))
    yield Step("Roll", "From the front, square to the rolls, a little closer each pass: never in one.")
    yield Step("Try", Said("Try it on the template of {radius} after each pass; over-rolled work is opened by hand, "
                           "from the ends.", radius=Mm(max(inside))))
    yield Step("Close", {"butt": "Tack at the ends and the middle, check it round, then weld.",
                         "lap": "Clamp the lap, check it round, then rivet or spot it.",
                         "lock": "Hook the folds, check it round, then set the lock down over a bar."}[lap])


CARE = ("Fingers and gloves stay away from the nip: feed with flat hands, well back. Know where the stop is. The "
        "machine's manual and local rules decide.")

"""Making cards: what is done at the slip rolls, and over a block (handbook, *Rolled and hammered work*).

At the rolls what lies between the nip and the third roll stays flat, so both ends are bent first. The sheet opens when
it is let go by the springback of :mod:`..bending.springback`: it is rolled to a smaller radius than it is to have, by
passes that add as much curvature each. Numbers of passes are start values.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..bending.springback import loaded_radius
from ..said import Deg, Mm, Said
from ..stock import Material

PASSES = ((20.0, 6), (60.0, 5), (float("inf"), 4))
"""Up to a radius of so many thicknesses so many passes (*start*)."""
HAMMER_PASSES = (4, 5)
"""Over a block (*start*)."""
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


def tacking(group: int) -> Iterator[Step]:
    """How pieces of a chain are put together, so many to a group."""
    yield Step("Tack", f"In groups of {group}, by their numbers, up marks in line and seams on opposite sides: four "
                       "tacks to a joint, opposite ones first. Measure each group against the running length, adjust "
                       "it as a whole, then join groups, and weld last. Welds are for qualified people.")


def hammering(back: float, tall: float, stretched: bool, flutes: int, lips: bool) -> Iterator[Step]:
    """How a rib is made over its block: the sides lean in by ``back`` degrees, the form block is at least ``tall`` mm;
    whether a curve is ``stretched``, how many ``flutes`` are laid, whether holes have ``lips``."""
    yield Step("Blocks", Said("Saw both from hard wood or board by their templates. Lean the form block's sides in by "
                              "{back}, for what springs back; it is at least {tall} thick. Round its edge to the "
                              "inside radius, and drill both and the blank together.", back=Deg(back), tall=Mm(tall)))
    yield Step("Look before the hammer", "The arrows on both blocks point at each other, TOP on the blank lies against "
                                         "the backing block, all pins are in. Of a pair, hold it beside its twin: "
                                         "their flanges go opposite ways.")
    yield Step("Hold", "In a vice whose jaws are faced with wood, close to the edge that is worked, with a prop under "
                       "the block.")
    if lips:
        yield Step("Lips", "Draw the lips of the holes while the web is still flat.")
    yield Step("Soft face first", f"A little at a time, from each end to the middle, {HAMMER_PASSES[0]} to "
                                  f"{HAMMER_PASSES[1]} passes over the whole length: laid down in one place, the "
                                  "flange tears along its neighbour."
               + (" Along hollow curves the edge stretches: dress it again after each pass." if stretched else ""))
    if flutes:
        yield Step("Flutes", f"Lay {flutes} in with fluting pliers as the flange comes over, at their marks between "
                             "the rivets, pointed at the bend, widest at the edge. Check flatness after each.")
    yield Step("Down to the block", "Then a polished, slightly domed face and glancing blows, until it lies on the "
                                    "block all along.")
    yield Step("Try", "Off the block the web lies flat on the bench and the flange stands to the square. Bowed away "
                      "from a stretched side, like a banana: deepen the flutes on the side that sticks out, a little "
                      "each, from the middle of the bow.")


def over_bars(turns: Sequence[tuple[str, str, float]], back: float) -> Iterator[Step]:
    """How many small bends are made by hand over bars; ``turns`` are (bend, direction, degrees) in the order in which
    they lie, ``back`` what a 90° bend springs back by, degrees."""
    yield Step("One bend to try", Said("On a strip of the same sheet: read what it springs back, about {back} at a "
                                       "right angle, and lean the lower bar by as much.", back=Deg(back)))
    yield Step("Lines", "Scribed on the face that lies inside the bend, and their ends marked on the edges. Reliefs at "
                        "the corners are drilled before anything is bent.")
    yield Step("Bars", "Their edge on the line, their end at the relief; clamps where they do not meet the part.")
    yield Step("From both ends to the middle", "Crease every line a little, then all of them a little more, until each "
                                               "has its angle: done one by one to the end, the last have no room.")
    for name, way, angle in turns:
        yield Step(name, Said("{way}, {angle} from flat in the end.", way=way, angle=Deg(angle)))
    yield Step("Try", "On a template of the round, or a ring of its size; over-bent work is opened by hand more easily "
                      "than closed.")
    yield Step("Close", "Tack at the ends and the middle, check both ends and the height, then weld or rivet.")


BARS_CARE = ("Eye and ear protection. Work held in the bars, never in the hand. Edges and tips of the facets cut: "
             "gloves. Local rules decide.")
BLOCK_CARE = ("Eye and ear protection. Hold the work in the vice, never in the hand. Hammer faces without chips. Wood "
              "dust needs air. Local rules decide.")
CARE = ("Fingers and gloves stay away from the nip: feed with flat hands, well back. Know where the stop is. The "
        "machine's manual and local rules decide.")

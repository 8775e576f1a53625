"""Running marks along the edges of a blank, and the steps of marking it out.

Every mark is measured from the datum, so that rounding never adds up; a rule shorter
than the sheet is carried from a *station* scribed first. The steps read as a person
with a rule, a square and a scriber takes them.
"""

import math
from collections.abc import Container, Iterable, Iterator
from dataclasses import dataclass

from ..bending.bumping import bumps, is_bumped
from ..families.shape import BLOCK, ROLLS
from ..part import Part
from ..sheet.model import Point
from ..sheet.unfold import FlatBend, FlatPattern

CENTRE, TANGENT, SIGHT, END = "centre", "tangent", "sight", "end"
RULE = 600.0
"""Length of the rule at hand unless said otherwise, mm."""
X, Y = "x", "y"
EDGES = {X: "front", Y: "left"}
DATUMS = ("left front", "right front", "left back", "right back")
"""Corners of the blank that may be the datum."""


def far_side(datum: str, axis: str) -> bool:
    """Whether marks along an edge count from its far end."""
    return ("right" if axis == X else "back") in datum


def from_datum(flat: FlatPattern, datum: str, axis: str, at: float) -> float:
    """A place along an edge, counted from the datum's end."""
    return flat.size[axis == Y] - at if far_side(datum, axis) else at


@dataclass(frozen=True)
class Mark:
    """``at`` mm from the datum along ``edge``; ``station`` + ``rest`` for a short rule."""

    edge: str
    at: float
    kind: str
    bend: str = ""
    station: float = 0.0

    @property
    def rest(self) -> float:
        """From the station it is measured from, mm."""
        return self.at - self.station


@dataclass(frozen=True)
class Step:
    """One step: a heading, what to do, and the marks it sets."""

    title: str
    do: str
    marks: tuple[Mark, ...] = ()


def stations(size: float, rule: float) -> list[float]:
    """Where the rule is set down again: whole hundreds, each within reach of the last."""
    step = max(100.0, math.floor(rule / 100) * 100)
    return [n * step for n in range(1, math.ceil(size / step)) if size > rule + 1e-9]


def running_marks(flat: FlatPattern, axis: str, kinds: Container[str] = (CENTRE,), rule: float = RULE,
                  datum: str = DATUMS[0]) -> list[Mark]:
    """Marks along one edge from the datum, ends included, in order; the last is the blank's size."""
    size = flat.size[0 if axis == X else 1]
    places = [(0.0, END, ""), (size, END, "")]
    for bend in flat.bends:
        if bend.at and bend.at[0] == axis:
            places += [(at, kind, bend.bend.id) for kind, at in lines_of(bend) if kind in kinds]
    places = [(from_datum(flat, datum, axis, at), kind, bend) for at, kind, bend in places]
    set_down = [0.0, *stations(size, rule)]
    found = []
    for at, kind, bend in sorted(set(places)):
        station = 0.0 if at <= rule + 1e-9 else max(s for s in set_down if s <= at)
        found.append(Mark(EDGES[axis], at, kind, bend, station))
    return found


def lines_of(bend: FlatBend) -> list[tuple[str, float]]:
    """(kind, mm from the datum) of a bend's lines square to an edge: tangents, centre, sights."""
    _, centre = bend.at
    half = bend.bend.figures.allowance / 2
    reach = bend.bend.figures.inside_radius - half
    return [(TANGENT, centre - half), (CENTRE, centre), (TANGENT, centre + half),
            (SIGHT, centre + reach), (SIGHT, centre - reach)]


def adds_up(flat: FlatPattern, axis: str) -> float:
    """Σ of the stretches between marks less the blank: nothing, if the marks are right."""
    marks = running_marks(flat, axis, (CENTRE, TANGENT))
    between = sum(b.at - a.at for a, b in zip(marks, marks[1:], strict=False))
    return between - flat.size[0 if axis == X else 1]


def diagonal(flat: FlatPattern) -> float:
    """Corner to corner of the blank before anything is notched."""
    return math.hypot(*flat.size)


GRAIN = {"along": "The length lies so that the bend lines run along the grain.",
         "diagonal": "The length lies at 45° to the grain."}
WORDS = {
    "stock": "{metal}, measured thickness. {good}Find a straight edge and square one corner to "
             "it: that corner, {datum}, is the datum. {grain}",
    "cut": "Scribe length and width from the datum, check both diagonals against the figure, then cut. The cut edge "
           "rolls its burr away from the upper blade: lay the burr to the inside of the bends, and dress it.",
    "edge": "All from the datum, none from the last mark. {carried}A zone's centre line lies half its allowance from "
            "each tangent. The last mark is the blank's size.",
    "carried": "The rule is shorter than the sheet: scribe the stations first and read the rest from there. ",
    "hits": "{hits} hits of {each:.1f}° each, light ones first all the way across, then again: the radius comes up "
            "evenly. Set by jogging, prove and produce by full strokes.",
    "centre": "Its marks lie alike on both sides, so they may be taken from a centre line instead of the datum: scribe "
              "the middle, then step each pair off it, once to either side.",
    "notches": "Scribe the outline of the corners from the template or the drawing, drill or file a round at the foot "
               "of each notch, cut, and dress every edge a bend crosses.",
    "holes": "Centre-punch before bending; across from the {across}, then up from the {up}.",
    "generators": "From the datum along the front edge, then up from the left one; prick each lightly.",
    "curves": "Draw the ends through the marks with a flexible rule, or strike them from the template; add the seam's "
              "width beside its edge. Cut outside the line and dress to it.",
    "number": "Carry every generator to both edges as a tick. Write number, up side and which end comes first, upright "
              "on the face that will lie outside.",
    "corners": "From the datum along the front edge, then up from the left one: these lie on the finished outline, "
               "over the flange's outside. The blank runs outside it.",
    "centres": "Prick each and strike its radius: {radii}. A centre off the sheet is struck from a board laid beside "
               "it, or the curve is taken from the template.",
    "pins": "Centre-punch and drill blank and both blocks together, so that they come back as they were.",
    "inside": "Scribe on the flange only what the template shows: flutes and rivets with a soft pencil. The line of "
              "the bend is the block's edge and is not scribed: a scratch there starts a crack.",
    "block": "Write part and hand, TOP and the arrow on the face that comes to lie on the backing block. Dress the "
             "whole edge smooth before it is hammered: a nick at a curve that stretches tears.",
    "ticks": "Carry every bend line to both edges as a tick, and snip the ticks of bends made from the other side, so "
             "that a wiped line or a lost template can be found again. Write part and piece number upright on the "
             "outside.",
}


def steps(part: Part, rule: float = RULE, datum: str = DATUMS[0]) -> list[Step]:
    """The whole of marking out, from the sheet to the numbered piece, all from one corner."""
    flat, stock = part.flat, part.stock
    grain = GRAIN.get(stock.grain, "The length runs with the grain, so that bend lines cross it.")
    good = f"{stock.good_called.capitalize()} {stock.good}, any film left on. " if stock.good else ""
    found = [Step("Stock", WORDS["stock"].format(metal=stock.material.title, grain=grain, datum=datum,
                                                    good=good)),
             Step("Cut the blank", WORDS["cut"], (Mark("front", flat.size[0], END), Mark("left", flat.size[1], END)))]
    if part.shape.making == ROLLS:
        return [*found, *_rolled(part, datum)]
    if part.shape.making == BLOCK:
        return [*found, *_hammered(part, datum)]
    for axis in (X, Y):
        marks = running_marks(flat, axis, (CENTRE, TANGENT), rule, datum)
        if len(marks) > 2:
            carried = WORDS["carried"] if any(m.station for m in marks) else ""
            title = f"Marks along the {EDGES[axis]} edge"
            found.append(Step(title, WORDS["edge"].format(carried=carried), tuple(marks)))
            if is_symmetric(flat, axis):
                pairs = tuple(m for m in from_centre(flat, axis) if m.at > 1e-9)
                found.append(Step(f"Or from the middle of the {EDGES[axis]} edge", WORDS["centre"], pairs))
    predicted = part.predicted
    for bend in flat.bends:
        if bend.at and is_bumped(bend.bend.figures, predicted and predicted.radius):
            found.append(_hits(part, bend, datum))
    if len(flat.outline) > 4:
        found.append(Step("Notches", WORDS["notches"]))
    if flat.holes:
        punched = [Mark(EDGES[axis], from_datum(flat, datum, axis, h.centre[axis == Y]), "hole")
                   for h in flat.holes for axis in (X, Y)]
        across, up = ("right" if far_side(datum, X) else "left"), ("back" if far_side(datum, Y) else "front")
        found.append(Step("Hole centres", WORDS["holes"].format(across=across, up=up), tuple(punched)))
    called = part.shape.short if part.shape.is_strip else part.shape.called
    ways = {sign: [called(b.bend.id) for b in flat.bends if b.bend.sign == sign] for sign in (1, -1)}
    return [*found, Step("Scribe the bend lines", _faces_in_words(ways[1], ways[-1])),
            Step("Ticks and number", WORDS["ticks"])]


def _rolled(part: Part, datum: str) -> Iterator[Step]:
    """The ends of the generators, from the datum: the curves run through them."""
    for end, words in enumerate(("first", "other")):
        marks = [Mark(EDGES[axis], from_datum(part.flat, datum, axis, at), f"generator {angle}°")
                 for angle, *ends in part.generators() for axis, at in zip((X, Y), ends[end], strict=True)]
        yield Step(f"Marks along the edges: the {words} end of the generators", WORDS["generators"], tuple(marks))
    yield Step("Curves and seam", WORDS["curves"])
    yield Step("Number", WORDS["number"])


def _hammered(part: Part, datum: str) -> Iterator[Step]:
    """Centres and corners of a rib's outline, its pins, then what is scribed inside."""
    flat, shape = part.flat, part.shape
    dx, dy = flat.shift

    def marks(places: Iterable[tuple[str, Point]]) -> tuple[Mark, ...]:
        return tuple(Mark(EDGES[axis], from_datum(flat, datum, axis, (at[axis == Y] + (dx, dy)[axis == Y])), words)
                     for words, at in places for axis in (X, Y))

    sides = shape.sides
    yield Step("Marks along the edges: corners of the outline", WORDS["corners"], marks(
        (f"corner {n}", side.edge.a) for n, side in enumerate(sides, 1)))
    arcs = [side for side in sides if side.edge.sweep]
    if arcs:
        yield Step("Centres of the curves", WORDS["centres"].format(
            radii=", ".join(f"{side.title}" for side in arcs)), marks(
            (f"centre of {side.title}", side.edge.centre) for side in arcs) + tuple(
                Mark("radius", side.edge.radius, f"of {side.title}") for side in arcs))
    if shape.holes or shape.pins:
        yield Step("Holes and pins", WORDS["pins"], marks(
            (name, hole.centre) for name, holes in (("hole", shape.holes), ("pin", shape.pins)) for hole in holes))
    yield Step("Inside the outline", WORDS["inside"])
    yield Step("Number", WORDS["block"])


def _hits(part: Part, bend: FlatBend, datum: str) -> Step:
    """The lines of a bumped radius, hit by hit."""
    figures, (axis, centre) = bend.bend.figures, bend.at
    plan = bumps(figures)
    first = centre - figures.allowance / 2
    words = WORDS["hits"].format(hits=plan.hits, each=plan.each)
    marks = (Mark(EDGES[axis], from_datum(part.flat, datum, axis, first + line), f"hit {n}", bend.bend.id)
             for n, line in enumerate(plan.lines, 1))
    return Step(f"Hits of {part.shape.called(bend.bend.id)}", words, tuple(marks))


def from_centre(flat: FlatPattern, axis: str) -> list[Mark]:
    """The centre lines measured from the middle of the blank: below it, negative."""
    middle = flat.size[0 if axis == X else 1] / 2
    return [Mark(m.edge, m.at - middle, m.kind, m.bend) for m in running_marks(flat, axis)]


def is_symmetric(flat: FlatPattern, axis: str) -> bool:
    """Whether the marks along an edge lie alike on both sides of the middle."""
    at = [m.at for m in from_centre(flat, axis)]
    return len(at) > 2 and all(abs(a + b) < 1e-6 for a, b in zip(at, reversed(at), strict=True))


def _faces_in_words(up: list[str], down: list[str]) -> str:
    words = []
    if up:
        words.append(f"{'; '.join(up)}: bent up, on the top face")
    if down:
        words.append(f"{'; '.join(down)}: bent down, on the back, the sheet turned over about its long edge")
    return (". ".join(words) + ". So every scribed line lies inside its bend: outside, a scratch starts a crack, "
            "and a pencil does.") if words else "The part has no bends."

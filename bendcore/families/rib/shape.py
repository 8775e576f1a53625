"""A rib: a flat web whose flange is hammered over a block along edges straight and curved.

The outline is that of the finished part, over the outside of its flange or (``inside``) over the block; edge n runs
from corner n to the next and may rise from its chord. The flange stands on every edge but those told to be plain,
``width`` from the web's outer face (from its inner one, inside) to its free edge. Section and excess are worked out by
:mod:`bendcore.develop.hammered`, the blank by :mod:`.blank`, flutes by :mod:`.flutes`.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from shapely import Polygon, union_all

from ...bending.bend import APEX
from ...develop.hammered import Section
from ...errors import Refusal
from ...said import Deg, Mm, Said
from ...sheet.model import DOWN, Face, Hole, Point, Sheet
from ...sheet.rings import without_tiny
from ...sheet.solid import Mesh
from ..collar import Collar, read_opening
from ..common import Given, check_ring, read_bend, read_outline
from ..joint import RIVET, Joint
from ..legs import INSIDE, OUTSIDE, Leg, Run, ShapeBend
from ..outlines import extent
from ..shape import BLOCK, Shape
from .blank import Blank, blank_of
from .fields import FIELDS, FLANGE, FLUTES, HOLE, PIN, RIVETS
from .flutes import Curve, Rivets, check_flutes, check_rivets, check_width, curves_of, place_on, rivets_along
from .formed import Formed
from .sides import Side, moved_in, read_sides, stretches

NAME = "blank"
SQUARE = 90.0
STEEPEST = 120.0
"""A block cannot be got out of a flange bent further, degrees."""
CROSS = 3.0
TOUCH = 1.0
"""Flanges seen from above that lie over each other by less do not meet, mm²."""
ROUGH, CLOSE, SMOOTH = 0.25, 0.02, 9.0
"""How far chords of the solid lie off its curves, mm: in pictures, of so many degrees to a facet, and in files."""


@dataclass(frozen=True)
class Rib(Shape):
    """A rib, read; ``outline`` are its corners counter-clockwise over the outside, mm."""

    thickness: float
    dims: str
    outline: tuple[Point, ...]
    sides: tuple[Side, ...]
    flange: ShapeBend
    section: Section
    plan: Blank
    curves: tuple[Curve, ...]
    rivets: Rivets | None
    relief: float
    holes: tuple[Hole, ...] = ()
    collars: tuple[Collar, ...] = ()
    pins: tuple[Hole, ...] = ()
    turned: bool = False
    """Whether the corners were given clockwise, so that edges are counted the other way."""

    kind = "rib"
    fields = FIELDS
    convention = APEX
    making = BLOCK
    runs: tuple[Run, ...] = ()
    legs: tuple[Leg, ...] = ()
    bends: tuple[ShapeBend, ...] = ()
    longest_bend = 0.0

    @cached_property
    def blank(self) -> tuple[Point, ...]:
        """The outline of the blank."""
        ring = without_tiny(self.plan.pieces[0].exterior.coords[:-1])
        return tuple(ring if Polygon(ring).exterior.is_ccw else ring[::-1])

    @property
    def web(self) -> Polygon:
        """Within the tangent lines, before anything is cut in it."""
        return self.plan.web

    @property
    def centres(self) -> tuple[Point, ...]:
        """About them lie the true arcs of its outline."""
        return self.plan.centres

    @property
    def direction(self) -> str:
        """To which side the flange stands."""
        return self.flange.direction

    def scribed(self) -> Iterator[tuple[str, Point, Point]]:
        """What is scribed: the bend's tangent lines, both sides of the flutes, rivets."""
        for strip in self.plan.strips:
            along = strip.line(-self.section.setback)
            yield from (("tangent", a, b) for a, b in zip(along, along[1:], strict=False))
        for flute in self.flutes:
            tip = place_on(flute.edge, flute.share, self.section.figures.allowance - self.section.setback)
            half = flute.width / 2 / flute.edge.length
            yield from (("flute", tip, place_on(flute.edge, flute.share + side * half, self.section.reach))
                        for side in (-1, 1))
        for x, y in self.rivet_places():
            yield "rivet", (x - CROSS, y), (x + CROSS, y)
            yield "rivet", (x, y - CROSS), (x, y + CROSS)

    def numbered(self) -> list[tuple[int, list[Point]]]:
        """(number as given, points along it) of every edge."""
        return [(side.number, side.edge.points()) for side in self.sides if side.number]

    @property
    def flutes(self) -> tuple:
        """All of them."""
        return tuple(flute for curve in self.curves for flute in curve.flutes)

    def rivet_places(self) -> list[Point]:
        """In the blank, in the middle of the flange's flat."""
        if not self.rivets:
            return []
        off = self.section.reach - self.section.flat / 2
        return [place_on(edge, share, off) for strip in self.plan.strips
                for edge, share in rivets_along(strip, self.rivets)]

    def shell(self, facet: float) -> Mesh:
        """The finished rib as a solid, its flutes laid in."""
        fine = ROUGH if facet > SMOOTH else CLOSE
        formed = Formed(self.plan.drawn(fine), self.flutes, self.thickness, self.direction == DOWN)
        return formed.mesh([hole.outline() for hole in (*self.holes, *self.pins)])

    def development(self, per: float) -> dict:
        """What becomes of its curves, lengths divided by ``per``."""
        return {"kind": "rib", "width": self.section.width / per, "reach": self.section.reach / per, "curves": [
            {"side": curve.side.title, "radius": curve.edge.radius / per, "sweep": math.degrees(curve.edge.sweep),
             "excess": curve.excess / per, "strain": curve.strain, "flutes": [
                 {"at": flute.share * curve.edge.length / per, "width": flute.width / per, "depth": flute.depth / per}
                 for flute in curve.flutes]} for curve in self.curves]}

    def counted_edges(self) -> list[tuple[int, Sequence[Point]]]:
        """Clockwise where the corners were given so."""
        return [(n, edge[::-1] if self.turned else edge) for n, edge in self.numbered()]

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured: over all, and the flange."""
        points = [p for side in self.sides for p in side.edge.points()]
        (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*points, strict=True))
        return [("across", "Across, over the flange", x1 - x0), ("up", "Up, over the flange", y1 - y0),
                ("flange", "Flange, from the web's outer face", self.section.width)]

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """The rivets of its flange."""
        places = self.rivet_places()
        if places:
            long = sum(edge.length for strip in self.plan.strips for _, edge in strip.edges)
            yield Joint("rivets", "flange to what it carries", long, RIVET, 1, len(places), self.rivets.diameter)

    def mate_sizes(self) -> dict[str, float]:
        """Its outline, over all, and its holes."""
        return super().mate_sizes() | extent(self.outline)

    def place(self, name: str) -> str:
        """The flange."""
        return "flange"

    def thing(self, name: str) -> str:
        """The blank is the whole."""
        return ""

    def _called(self, name: str) -> str:
        return "Blank" if name == NAME else name

    def _sheet(self) -> Sheet:
        return Sheet(self.thickness, NAME, (Face(NAME, self.blank, (*self.holes, *self.pins)),), ())


def read_rib(shape: dict, given: Given) -> Rib:
    """A rib from the part file's ``shape``; refusals name the field below ``shape``."""
    t, dims = given.thickness, shape.get("dims", OUTSIDE)
    bend = read_bend("flange", shape["flange"], shape["flange"].get("direction", "up"), "flange",
                     replace(given, convention=APEX), SQUARE)
    if bend.figures.angle > STEEPEST:
        raise Refusal("flange.angle", Said("must not be more than {most}: the block would not come out",
                                           most=Deg(STEEPEST)))
    section = _section(FLANGE.mm(shape["flange"], "width", "flange", given.length), bend, dims)
    outline, numbers = read_outline(shape["outline"], given.length)
    sides = read_sides(shape, given, section.width, outline, numbers)
    if dims == INSIDE:
        sides = _over_the_outside(sides, t * math.tan(math.radians(bend.figures.angle) / 2))
    check_ring([p for side in sides for p in side.edge.points()[:-1]], "outline")
    _refuse_round(sides, section)
    least = bend.figures.inside_radius + t / 2
    relief = given.length(shape["relief"], "relief") if "relief" in shape else bend.figures.inside_radius + t
    if relief < least - 1e-9:
        raise Refusal("relief", Said("must be at least {least}, to reach past the bend", least=Mm(least)))
    runs = stretches(sides)
    try:
        plan = blank_of(sides, runs, section, relief)
    except ValueError:
        raise Refusal("flange.width", "is more than the curves leave room for") from None
    rivets = _rivets(shape["rivets"], given) if "rivets" in shape else None
    if rivets:
        check_rivets(rivets, sum(edge.length for strip in plan.strips for _, edge in strip.edges))
    width = FLUTES.mm(shape["flutes"], "width", "flutes", given.length) if "flutes" in shape else None
    if width:
        check_width(width, t)
    if width and rivets and rivets.pitch < width + 2 * rivets.diameter:
        raise Refusal("flutes.width", Said("does not go between rivets {pitch} apart: at most {most}",
                                           pitch=Mm(rivets.pitch), most=Mm(rivets.pitch - 2 * rivets.diameter)))
    curves = tuple(curve for strip in plan.strips for curve in curves_of(strip, width, rivets))
    check_flutes(sum(len(curve.flutes) for curve in curves))
    rib = Rib(t, dims, outline, sides, bend, section, plan, curves, rivets, relief, turned=numbers[1][1])
    _refuse_apart(rib)
    return _with_holes(rib, shape, given)


def _section(width: float, bend: ShapeBend, dims: str) -> Section:
    figures = bend.figures
    lost = figures.outside_setback if dims == OUTSIDE else figures.inside_setback
    if width - lost <= 1e-6:
        raise Refusal("flange.width", Said("must be more than {taken}, which its bend takes", taken=Mm(lost)))
    return Section(figures, width - lost)


def _over_the_outside(sides: Sequence[Side], by: float) -> tuple[Side, ...]:
    try:
        return moved_in(sides, -by)
    except ValueError:
        raise Refusal("dims", "inside leaves no corner where a rounding stands between a flange and a plain edge: give "
                              "the outline over the outside") from None


def _refuse_round(sides: Sequence[Side], section: Section) -> None:
    """Refuse curves too small for the bend on their inside or the flange on their hollow side."""
    for side in sides:
        if not side.flanged or not side.edge.sweep:
            continue
        radius = side.edge.radius
        where = f"{side.path}.rise" if side.number else f"{side.path}.radius"
        if side.edge.sweep > 0 and radius <= section.setback + section.figures.inside_radius:
            raise Refusal(where if side.path else "outline", Said(
                "makes a curve of {radius}, too tight for the bend: at least {least}, or leave the corner sharp and it "
                "is relieved", radius=Mm(radius), least=Mm(section.setback + section.figures.inside_radius)))
        if side.edge.sweep < 0 and radius <= section.reach + section.figures.thickness:
            raise Refusal("flange.width", Said(
                "is as wide as the hollow curve of {radius} along {side}: make it narrower than {most}, open the "
                "curve, or leave the flange off there", radius=Mm(radius), side=side.title,
                most=Mm(radius - section.figures.thickness + section.figures.deduction)))


def _rivets(block: dict, given: Given) -> Rivets:
    return Rivets(*(RIVETS.mm(block, key, "rivets", given.length) for key in ("pitch", "diameter", "end")))


def _meet_over(rib: Rib, inner: float) -> bool:
    """Whether flanges that reach from the outline in to ``inner`` lie over each other, seen from above."""
    try:
        over = [band for strip in rib.plan.strips for band in strip.bands(inner, 0.0)]
    except ValueError:
        return True
    return not all(band.is_valid for band in over) or sum(b.area for b in over) - union_all(over).area > TOUCH


def _refuse_apart(rib: Rib) -> None:
    """Refuse flanges that run into each other, in the blank or leaning over the web, and reliefs that cut it apart."""
    section = rib.section
    inner = float(section.at(np.array(section.figures.allowance + section.flat), 0.0)[0])
    if inner < -section.setback and _meet_over(rib, inner):
        raise Refusal("flange.angle", "leans flanges over the web into each other: bend less, or make them narrower")
    pieces = rib.plan.pieces
    if not pieces or len(pieces) > 1 or pieces[0].interiors:
        raise Refusal("flange.width", "leaves nothing whole of the web: reliefs or flanges run into each other; make "
                                      "the flange narrower, or leave it off an edge")


def _with_holes(rib: Rib, shape: dict, given: Given) -> Rib:
    """The rib with what is cut in its web; refuses what leaves that."""
    web = rib.web
    found, collars, pins = [], [], []
    for i, block in enumerate(shape.get("holes", ())):
        path = f"holes[{i}]"
        centre = (given.length(block["x"], f"{path}.x"), given.length(block["y"], f"{path}.y"))
        size = HOLE.mm(block, "diameter", path, given.length)
        hole, collar = read_opening(Hole(centre, size, path=path), block, path, given)
        room = collar.rim if collar else size
        collars += [collar] if collar else []
        if not web.contains(Polygon(replace(hole, diameter=room).outline())):
            raise Refusal(f"{path}.x", Said("leaves the web: with its lip it is {wide} across", wide=Mm(room))
                          if collar else "leaves the web: a hole must not run into the bend or off the edge")
        found.append(hole)
    size = FIELDS.mm(shape, "pin", "", given.length)
    for i, block in enumerate(shape.get("pins", ())):
        centre = tuple(given.length(block[key], f"pins[{i}].{key}") for key in PIN.fields)
        pins.append(Hole(centre, size, path=f"pins[{i}]"))
        if not web.contains(Polygon(pins[-1].outline())):
            raise Refusal(f"pins[{i}].x", "leaves the web: pins stand where both blocks hold it")
    return replace(rib, holes=tuple(found), collars=tuple(collars), pins=tuple(pins))

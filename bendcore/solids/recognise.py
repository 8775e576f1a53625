"""A solid as a sheet bent: its flat faces joined at bends.

One skin of the sheet is followed from its largest flat face over the bends to all others. A bend is a pair of cylinders
on one axis, one thickness apart, each tangent to the skins beside it; round a sharp inner edge the inner one has no
radius. Where both skins meet sharply a radius is put in. What cannot be a bent sheet is refused with its place.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
from shapely import Polygon

from ..said import Mm, Said
from ..schools.school import k_factor
from ..sheet.model import DOWN, UP, Bend, Edge, Face, Hole, Point, Sheet
from . import sharp
from .brep import CIRCLE, LINE, PLANE, Side, Solid, Surface, Unrecognised
from .links import Link, Links
from .rings import end_to_end, outer, ring_in
from .thickness import LOOSE, frame, partners, thickness

ANY_K = 0.42
"""A K for what is told by setbacks alone: the part has its own."""
FOLD = 179.5
"""From here a bend is a fold of 180°."""
UNTOLD = 0.004
"""A body whose volume is off a sheet's by more than this share has something that was not recognised."""


@dataclass(frozen=True)
class Recognised:
    """The ``sheet`` of a solid (by any K), and what was done and noticed on the way."""

    sheet: Sheet
    report: tuple[Said, ...]


Axes = tuple[np.ndarray, np.ndarray, np.ndarray]
"""(origin, x, y) of a face in space."""


@dataclass(eq=False)
class Flat:
    """A flat face on the way to a sheet: its ``skin``, its axes, the link it was come by, and those that go on."""

    name: str
    skin: Surface
    axes: Axes
    came: Link | None = None
    at: "Flat | None" = None
    on: list[Link] = field(default_factory=list)

    def placed(self, points: np.ndarray) -> Edge:
        """Two points in its coordinates."""
        origin, x, y = self.axes
        one, other = ((float((p - origin) @ x), float((p - origin) @ y)) for p in points)
        return one, other

    def cuts(self) -> list[tuple[Edge, float]]:
        """What corners without a radius take from it: (edge counter-clockwise, depth)."""
        own = [(self.placed(self.came.far)[::-1], self.came.deep)] if self.came else []
        return own + [(self.placed(link.near), link.deep) for link in self.on]


def recognise(solid: Solid, name: str) -> Recognised:
    """The sheet of a solid; refuses, naming ``name``, what is none.

    Raises
    ------
    Unrecognised
        With its place, where faces are not one thickness apart, a bend cannot be read, faces close on themselves, or
        there is more metal than the faces and bends account for.
    """
    pairs = partners(solid)
    thick = thickness(solid, pairs, name)
    flats = {n: other for n, (other, far, _) in pairs.items() if abs(far - thick) <= LOOSE}
    links = Links(solid, flats, thick, name)
    found, seams = _tree(solid, flats, links)
    _refuse_left(solid, pairs, flats, {one.skin.number for one in found}, thick, name)
    rings = {one.name: ring_in(outer(one.skin), *one.axes) for one in found}
    left = {one.name: sharp.trimmed(rings[one.name], cuts, name) if (cuts := [c for c in one.cuts() if c[1]]) else
            tuple(rings[one.name]) for one in found}
    faces = tuple(Face(one.name, left[one.name], tuple(_hole(loop, one.axes) for loop in one.skin.loops[1:]))
                  for one in found)
    bends = tuple(_bend(one, left, thick, name) for one in found if one.came)
    _refuse_untold(solid, found, flats, rings, seams, thick, name)
    return Recognised(Sheet(thick, "base", faces, bends), tuple(_told(found, seams, thick)))


def _tree(solid: Solid, flats: dict[int, Surface], links: Links) -> tuple[list[Flat], list[Link]]:
    """The flat faces from the largest outwards, and the corners without a radius at which they are parted."""
    largest = max((s for s in solid.surfaces if s.number in flats), key=lambda s: round(s.area, 3))

    def turned(skin: Surface) -> tuple[int, int]:
        seen = list(links.of(skin))
        return len(seen), sum(link.is_up for link in seen)

    root = max((largest, flats[largest.number]), key=turned)
    found = [Flat("base", root, frame(root))]
    seen, seams, parted = {root.number}, [], set()
    for at in found:  # grows while it is gone through
        for link in links.of(at.skin):
            if at.came and link.edges & at.came.edges:
                continue
            if link.skin.number in seen:
                if not link.is_sharp:
                    raise Unrecognised(links.name, "closes on itself there and cannot be laid flat: part it where it "
                                                   "is to be joined", link.near.mean(axis=0))
                if not link.edges & parted:
                    parted |= link.edges
                    seams.append(link)
                continue
            seen.add(link.skin.number)
            along = (link.near[1] - link.near[0]) / np.linalg.norm(link.near[1] - link.near[0])
            axes = link.far[0], np.cross(along, link.skin.axis), along
            found.append(Flat(f"P{len(found)}", link.skin, axes, link, at))
            at.on.append(link)
    return found, seams


def _hole(loop, axes: Axes) -> Hole:
    origin, x, y = axes
    if len({(round(side.radius, 4), *np.round(side.centre, 3)) for side in loop}) == 1 and loop[0].kind == CIRCLE:
        off = loop[0].centre - origin
        return Hole((float(off @ x), float(off @ y)), 2 * loop[0].radius)
    rounds = [side for side in loop if side.kind == CIRCLE]
    if sorted(side.kind for side in loop) == [CIRCLE, CIRCLE, LINE, LINE] and abs(
            rounds[0].radius - rounds[1].radius) < 1e-4 and all(_is_half(side) for side in rounds):
        one, other = (np.array([(s.centre - origin) @ x, (s.centre - origin) @ y]) for s in rounds)
        apart, wide = other - one, 2 * rounds[0].radius
        return Hole(tuple((one + other) / 2), wide, float(np.linalg.norm(apart)) + wide,
                    math.degrees(math.atan2(apart[1], apart[0])))
    return Hole.opening(ring_in(end_to_end(loop), *axes))


def _is_half(side: Side) -> bool:
    """Whether an arc is half a circle."""
    return abs(float(np.linalg.norm(side.points[0] - side.points[-1])) - 2 * side.radius) < 1e-3


def _bend(one: Flat, left: dict[str, tuple[Point, ...]], thick: float, name: str) -> Bend:
    """The bend a face was come by; beside a corner without a radius as far along as both faces have metal."""
    link, at = one.came, one.at
    near, far = at.placed(link.near), one.placed(link.far)
    if link.deep:
        near, far = sharp.shifted(near, link.deep), sharp.shifted(far[::-1], link.deep)[::-1]
    if link.is_sharp:
        back = sharp.span(left[one.name], far[::-1])
        long = math.dist(*far)
        shared = sharp.common(sharp.span(left[at.name], near), back and (long - back[1], long - back[0]))
        if shared is None:
            raise Unrecognised(name, "leaves no length of bend", link.near.mean(axis=0))
        near, far = sharp.part_of(near, shared), sharp.part_of(far, shared)
    angle = 180.0 if link.angle > FOLD else round(link.angle, 4)
    figures = k_factor(ANY_K).figures(angle, round(link.radius, 4), thick, "tangent" if angle == 180 else "apex")
    return Bend(one.name, at.name, one.name, near, far, UP if link.is_up else DOWN, figures)


def _refuse_left(solid: Solid, pairs, flats: dict[int, Surface], seen: set[int], thick: float, name: str) -> None:
    """Refuse a flat face that was not come to. Two edges of the sheet may lie one thickness apart too."""
    done = seen | {flats[n].number for n in seen}
    for surface in solid.surfaces:
        if surface.number not in flats or surface.number in done or pairs[surface.number][2] <= 4 * thick ** 2:
            continue
        beside = (solid.over(surface, side) for side in surface.loops[0])
        if not any(other is not None and other.kind == PLANE and other.number in done
                   and abs(float(other.axis @ surface.axis)) < 0.1 for other in beside):
            raise Unrecognised(name, "has a flat face that hangs on no bend: a piece welded on, or a bend that is no "
                                     "round one", surface.middle)


def _refuse_untold(solid: Solid, found: list[Flat], flats: dict[int, Surface], rings: dict[str, list[Point]],
                   seams: list[Link], thick: float, name: str) -> None:
    """Refuse a body whose metal is not that of its faces and bends."""
    made, loose = 0.0, 0.0
    for one in found:
        holes = sum(_hole(loop, one.axes).area for loop in one.skin.loops[1:])
        made += (Polygon(rings[one.name]).area - holes) * thick
    for link in [one.came for one in found if one.came] + seams:
        long, turn = float(np.linalg.norm(link.near[1] - link.near[0])), math.radians(link.angle)
        if link.is_drawn:
            made += turn * (link.radius + thick / 2) * thick * long
        else:
            made += (1 if link.is_up else -1) * thick ** 2 * math.tan(turn / 2) * long
            loose += 2 * thick ** 3
    off = solid.volume - made
    if abs(off) > UNTOLD * solid.volume + loose:
        raise Unrecognised(name, Said(
            "has {share} % {way} metal than a sheet of {thick} bent like it: it is not as thick everywhere, or "
            "something stands on it", share=f"{abs(off) / solid.volume * 100:.1f}", way="more" if off > 0 else "less",
            thick=Mm(thick)), _odd(solid, found, flats))


def _odd(solid: Solid, found: list[Flat], flats: dict[int, Surface]) -> np.ndarray | None:
    """Where an opening of a skin does not go straight through to the other: a boss, a step, a blind or countersunk
    hole; None where all do."""
    for skin in (one for flat in found for one in (flat.skin, flats[flat.skin.number])):
        other = flats[skin.number]
        for loop in skin.loops[1:]:
            walls = [solid.over(skin, side) for side in loop]
            if not all(wall and any(solid.over(wall, side) is other for side in wall.sides()) for wall in walls):
                return np.concatenate([side.points for side in loop]).mean(axis=0)
    return None


def _told(found: list[Flat], seams: list[Link], thick: float) -> Iterator[Said]:
    count, joints = len(found), len(found) - 1
    yield Said("A sheet of {thick}: {count} flat face{s}, {joints} bend{p}.", thick=Mm(thick), count=count,
               s="s" if count != 1 else "", joints=joints, p="s" if joints != 1 else "")
    given = [one.came for one in found if one.came and not one.came.is_drawn]
    if given:
        yield Said("Corners drawn without a radius: {count}. An inside radius of {radius} was put in: set the one your "
                   "tools give.", count=len(given), radius=Mm(given[0].radius))
    if seams:
        yield Said("Corners where faces met and are parted now, to be laid flat: {count}. Their gap is to be closed or "
                   "covered.", count=len(seams))

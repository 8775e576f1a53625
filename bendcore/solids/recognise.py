"""A solid as a sheet bent: its flat faces joined at bends.

One skin of the sheet is followed from its largest flat face over the bends to all others. A bend is a pair of cylinders
on one axis, one thickness apart, each tangent to the skins beside it; between sharp faces the inner one may have no
radius at all. What cannot be a bent sheet is refused with its place.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..errors import Refusal
from ..said import Mm, Said
from ..schools.school import k_factor
from ..sheet.model import DOWN, UP, Bend, Edge, Face, Hole, Point, Sheet
from .brep import CIRCLE, CYLINDER, LINE, PLANE, Side, Solid, Surface
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
    report: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Link:
    """A bend seen from the skin it was come by: over ``cylinder`` to the ``skin`` beyond; inside ``radius``, mm; its
    tangent lines on either skin."""

    skin: Surface
    radius: float
    angle: float
    is_up: bool
    near: np.ndarray
    far: np.ndarray
    cylinder: Surface


class Unrecognised(Refusal):
    """A body that is no bent sheet: ``place`` in mm is where."""

    def __init__(self, name: str, message, place: np.ndarray):
        x, y, z = (round(float(v), 1) for v in place)
        super().__init__(name, Said("{what}, at about x {x}, y {y}, z {z}", what=message, x=Mm(x), y=Mm(y), z=Mm(z)))


def recognise(solid: Solid, name: str) -> Recognised:
    """The sheet of a solid; refuses, naming ``name``, what is none."""
    return _Skins(solid, name).recognised()


class _Skins:
    def __init__(self, solid: Solid, name: str):
        self.solid, self.name = solid, name
        self.pairs = partners(solid)
        self.thickness = thickness(solid, self.pairs, name)
        self.flats = {n: other for n, (other, far, _) in self.pairs.items() if abs(far - self.thickness) <= LOOSE}
        self.edges: dict[str, Edge] = {}

    def recognised(self) -> Recognised:
        """All of it."""
        largest = max((s for s in self.solid.surfaces if s.number in self.flats), key=lambda s: round(s.area, 3))
        root = max((largest, self.flats[largest.number]), key=self._turned)
        origin, x, y = frame(root)
        faces, bends = [self._face("base", root, origin, x, y)], []
        seen, waiting = {root.number}, [("base", root, (origin, x, y), -1)]
        while waiting:
            at, skin, axes, came = waiting.pop(0)
            for link in self._links(skin):
                if link.cylinder.number == came:
                    continue
                if link.skin.number in seen:
                    raise Unrecognised(self.name, "closes on itself there and cannot be laid flat: part it where it is "
                                                  "to be joined", link.near.mean(axis=0))
                seen.add(link.skin.number)
                name = f"P{len(bends) + 1}"
                y1 = (link.near[1] - link.near[0]) / np.linalg.norm(link.near[1] - link.near[0])
                own = (link.far[0], np.cross(y1, link.skin.axis), y1)
                bends.append(self._bend(name, at, link, axes, own))
                faces.append(self._face(name, link.skin, *own))
                waiting.append((name, link.skin, own, link.cylinder.number))
        sheet = Sheet(self.thickness, "base", tuple(faces), tuple(bends))
        return Recognised(sheet, tuple(self._told(sheet, seen)))

    def _turned(self, skin: Surface) -> tuple[int, int]:
        """(how many bends are seen from a skin, how many of them turn up)."""
        links = list(self._links(skin))
        return len(links), sum(link.is_up for link in links)

    def _links(self, skin: Surface) -> Iterator[Link]:
        """Every bend beside a skin; cylinders in one line between the same two are one bend."""
        found: dict[int, list[tuple[np.ndarray, Side, Surface]]] = {}
        for side, points in outer(skin):
            for beyond, over, other in self._beyond(skin, side):
                found.setdefault(other.number, []).append((points, beyond, over))
        for side in (side for loop in skin.loops[1:] for side in loop):
            if any(True for _ in self._beyond(skin, side)):
                raise Unrecognised(self.name, "has a bend in the middle of a face: a tab cut out and bent, or a face "
                                              "that touches another; neither is read yet", side.points.mean(axis=0))
        for rows in found.values():
            yield self._link(skin, rows)

    def _beyond(self, skin: Surface, side: Side) -> Iterator[tuple[Side, Surface, Surface]]:
        """Over a side on a bend: (its other tangent line, its cylinder, the skin beyond)."""
        over = self.solid.over(skin, side)
        if side.kind != LINE or over is None or over.kind != CYLINDER or not self._is_bent(over):
            return
        for beyond in over.sides():
            other = self.solid.over(over, beyond)
            if beyond.edge != side.edge and beyond.kind == LINE and other is not None and (
                    other.number in self.flats and other is not skin):
                yield beyond, over, other

    def _link(self, skin: Surface, rows: list[tuple[np.ndarray, Side, Surface]]) -> Link:
        points, side, cylinder = rows[0]
        beyond = self.solid.over(cylinder, side)
        radius = cylinder.radius - (self.thickness if cylinder.is_convex else 0.0)
        along = (points[-1] - points[0]) / np.linalg.norm(points[-1] - points[0])
        near = self._spanned([points for points, _, _ in rows], along)
        far = self._spanned([side.points for _, side, _ in rows], along)
        if max(abs(float((near[i] - far[i]) @ along)) for i in (0, 1)) > 5 * LOOSE:
            raise Unrecognised(self.name, "has a bend whose ends run slanting, which is not read yet",
                               near.mean(axis=0))
        turn = math.degrees(math.atan2(float(np.linalg.norm(np.cross(skin.axis, beyond.axis))),
                                       float(skin.axis @ beyond.axis)))
        return Link(beyond, max(radius, 0.0), turn, not cylinder.is_convex, near, far, cylinder)

    def _spanned(self, runs: list[np.ndarray], along: np.ndarray) -> np.ndarray:
        """From end to end of one or more edges in a line; refuses a gap between them."""
        spans = sorted((sorted((run[0], run[-1]), key=lambda p: float(p @ along)) for run in runs),
                       key=lambda span: float(span[0] @ along))
        for (_, end), (begin, _) in zip(spans, spans[1:], strict=False):
            if float((begin - end) @ along) > LOOSE:
                raise Unrecognised(self.name, "has an opening across a bend, which is not read yet", end)
        return np.array([spans[0][0], spans[-1][1]])

    def _is_bent(self, cylinder: Surface) -> bool:
        """Whether a cylinder has its other skin on the same axis, one thickness away; an outside as small as the
        sheet is thick bends round a sharp inner edge."""
        if cylinder.is_convex and abs(cylinder.radius - self.thickness) <= LOOSE:
            return True
        want = cylinder.radius + (-self.thickness if cylinder.is_convex else self.thickness)
        return any(one.kind == CYLINDER and one.is_convex != cylinder.is_convex and abs(one.radius - want) <= LOOSE
                   and self._on_axis(one, cylinder) for one in self.solid.surfaces)

    def _on_axis(self, one: Surface, other: Surface) -> bool:
        if np.linalg.norm(np.cross(one.axis, other.axis)) > 1e-4:
            return False
        return float(np.linalg.norm(np.cross(one.origin - other.origin, other.axis))) <= LOOSE

    def _face(self, name: str, skin: Surface, origin: np.ndarray, x: np.ndarray, y: np.ndarray) -> Face:
        ring = ring_in(outer(skin), origin, x, y)
        holes = tuple(self._hole(loop, origin, x, y) for loop in skin.loops[1:])
        return Face(name, tuple(ring), holes)

    def _hole(self, loop, origin, x, y) -> Hole:
        if len({(round(side.radius, 4), *np.round(side.centre, 3)) for side in loop}) == 1 and loop[0].kind == CIRCLE:
            off = loop[0].centre - origin
            return Hole((float(off @ x), float(off @ y)), 2 * loop[0].radius)
        return Hole.opening(ring_in(end_to_end(loop), origin, x, y))

    def _bend(self, name: str, at: str, link: Link, axes, own) -> Bend:
        def placed(points: np.ndarray, origin, x, y) -> Edge:
            one, other = ((float((p - origin) @ x), float((p - origin) @ y)) for p in points)
            return one, other

        angle = 180.0 if link.angle > FOLD else round(link.angle, 4)
        figures = k_factor(ANY_K).figures(angle, round(link.radius, 4), self.thickness,
                                          "tangent" if angle == 180 else "apex")
        return Bend(name, at, name, placed(link.near, *axes), placed(link.far, *own), UP if link.is_up else DOWN,
                    figures)

    def _told(self, sheet: Sheet, seen: set[int]) -> Iterator[str]:
        """What to say of it; refuses what a sheet's faces and bends do not account for."""
        done = seen | {self.flats[n].number for n in seen}
        left = [s for s in self.solid.surfaces if s.number in self.flats and s.number not in done
                and self.pairs[s.number][2] > 4 * self.thickness ** 2 and self._is_wide(s)]
        for surface in left:
            raise Unrecognised(self.name, "has a flat face that hangs on no bend: a corner without a radius, or a "
                                          "piece welded on", surface.middle)
        made = sum(abs(_area(face.outline)) - sum(hole.area for hole in face.holes) for face in sheet.faces)
        made *= self.thickness
        for bend in sheet.bends:
            long = math.dist(*bend.parent_edge)
            made += math.radians(bend.angle) * (bend.figures.inside_radius + self.thickness / 2) * self.thickness * long
        off = (self.solid.volume - made) / self.solid.volume
        if abs(off) > UNTOLD:
            raise Refusal(self.name, Said(
                "has {share} % {way} metal than a sheet of {thick} bent like it: it is not as thick everywhere, or "
                "something stands on it", share=f"{abs(off) * 100:.1f}", way="more" if off > 0 else "less",
                thick=Mm(self.thickness)))
        count, joints = len(sheet.faces), len(sheet.bends)
        yield Said("A sheet of {thick}: {count} flat face{s}, {joints} bend{p}.", thick=Mm(self.thickness), count=count,
                   s="s" if count != 1 else "", joints=joints, p="s" if joints != 1 else "")

    def _is_wide(self, surface: Surface) -> bool:
        """Whether a pair is a face of the sheet and not two of its edges as far apart as it is thick."""
        beside = [self.solid.over(surface, side) for side in surface.loops[0]]
        return not any(one is not None and one.kind == PLANE and one.number in self.flats
                       and abs(float(one.axis @ surface.axis)) < 0.1 for one in beside)


def _area(ring: tuple[Point, ...] | list[Point]) -> float:
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(ring, (*ring[1:], ring[0]), strict=True)) / 2

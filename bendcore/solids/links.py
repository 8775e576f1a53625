"""From one flat face of a solid to the next: over a bend, or over a corner that has no radius."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from .brep import CYLINDER, LINE, PLANE, Side, Solid, Surface, Unrecognised
from .rings import outer
from .sharp import depth
from .thickness import LOOSE


@dataclass(frozen=True, eq=False)
class Link:
    """A bend seen from the skin it was come by: the ``skin`` beyond, inside ``radius``, mm, ``angle`` from flat; its
    lines on either skin, (2, 3), counter-clockwise round the first; the ``edges`` it has there. Of a corner without a
    radius the lines are the corner itself, and ``deep`` is how far off it the tangent lines of a bend lie."""

    skin: Surface
    radius: float
    angle: float
    is_up: bool
    near: np.ndarray
    far: np.ndarray
    edges: frozenset[int]
    is_sharp: bool = False
    is_drawn: bool = True
    deep: float = 0.0


class Links:
    """All of a solid: by plane the other skin of its ``flats``."""

    def __init__(self, solid: Solid, flats: dict[int, Surface], thickness: float, name: str):
        self.solid, self.flats, self.thickness, self.name = solid, flats, thickness, name

    def of(self, skin: Surface) -> Iterator[Link]:
        """Every bend and sharp corner beside a skin; cylinders in one line between the same two are one bend."""
        found: dict[int, list[tuple[np.ndarray, Side, Side, Surface]]] = {}
        for side, points in outer(skin):
            for beyond, over, other in self._beyond(skin, side):
                found.setdefault(other.number, []).append((points, side, beyond, over))
            corner = self._corner(skin, side, points)
            if corner:
                yield corner
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

    def _link(self, skin: Surface, rows: list[tuple[np.ndarray, Side, Side, Surface]]) -> Link:
        points, _, side, cylinder = rows[0]
        beyond = self.solid.over(cylinder, side)
        radius = cylinder.radius - (self.thickness if cylinder.is_convex else 0.0)
        along = (points[-1] - points[0]) / np.linalg.norm(points[-1] - points[0])
        near = self._spanned([points for points, *_ in rows], along)
        far = self._spanned([side.points for _, _, side, _ in rows], along)
        if max(abs(float((near[i] - far[i]) @ along)) for i in (0, 1)) > 5 * LOOSE:
            raise Unrecognised(self.name, "has a bend whose ends run slanting, which is not read yet",
                               near.mean(axis=0))
        edges = frozenset(one.edge for _, *pair, _ in rows for one in pair)
        return Link(beyond, max(radius, 0.0), _turn(skin, beyond), not cylinder.is_convex, near, far, edges)

    def _corner(self, skin: Surface, side: Side, points: np.ndarray) -> Link | None:
        """A sharp corner to another face of the sheet whose other skins meet at a corner or round a cylinder too."""
        other = self.solid.over(skin, side)
        if side.kind != LINE or other is None or other.kind != PLANE or other.number not in self.flats:
            return None
        one, far = self.flats[skin.number], self.flats[other.number]
        behind = {self._over_corner(one, own) for own in one.sides()}
        if far.number not in behind:
            return None
        angle = _turn(skin, other)
        is_up = skin.off(other.middle) > 0
        is_drawn = any(over.kind == CYLINDER and self._is_bent(over) for own in one.sides()
                       if (over := self.solid.over(one, own)) is not None and self._leads_to(over, far))
        radius = 0.0 if is_drawn else self.thickness
        line = np.array([points[0], points[-1]])
        return Link(other, radius, angle, is_up, line, line, frozenset([side.edge]), True, is_drawn,
                    depth(angle, radius, self.thickness, is_up))

    def _over_corner(self, skin: Surface, side: Side) -> int:
        """The number of the flat face beyond a side, straight or over a bend's cylinder; -1 for none."""
        over = self.solid.over(skin, side)
        if over is None:
            return -1
        if over.kind == PLANE:
            return over.number if over.number in self.flats else -1
        return next((other.number for _, _, other in self._beyond(skin, side)), -1)

    def _leads_to(self, cylinder: Surface, skin: Surface) -> bool:
        return any(self.solid.over(cylinder, side) is skin for side in cylinder.sides())

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
                   and _on_axis(one, cylinder) for one in self.solid.surfaces)


def _on_axis(one: Surface, other: Surface) -> bool:
    if np.linalg.norm(np.cross(one.axis, other.axis)) > 1e-4:
        return False
    return float(np.linalg.norm(np.cross(one.origin - other.origin, other.axis))) <= LOOSE


def _turn(one: Surface, other: Surface) -> float:
    """Degrees between the outsides of two planes."""
    return math.degrees(math.atan2(float(np.linalg.norm(np.cross(one.axis, other.axis))),
                                   float(one.axis @ other.axis)))

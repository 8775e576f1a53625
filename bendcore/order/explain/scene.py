"""A step in space: the part among its tools as bodies, to be drawn from where the operator stands.

Coordinates are the machine's as the operator has it before him: (x to his right, y to the back, z up), mm; x is
reckoned from the end of the bend's line that is its first point in the flat.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon, box

from ...brakes.setting import FRAME, PIECES
from ..contact.collide import beside
from ..plan import Placed
from ..proof.prover import Prover
from ..states.facing import RIGHT
from ..states.moves import Levels, Move
from .frames import Instant, moves_with, shift_of, turned

HELD, FREE, TOOL = "held", "free", "tool"
ROUND = 130.0
"""Tools as long as the brake are drawn so far round the bend, mm."""
BESIDE = 25.0
"""They are cut off so far beyond the part along it, mm."""


@dataclass(frozen=True)
class Solid:
    """A body by its faces, each a ring of corners (k, 3); ``kind`` is ``held``, ``free`` or ``tool``, ``name`` the
    face or tool it belongs to. Of the part the first face is the sheet's upper side, the second the lower one."""

    name: str
    kind: str
    faces: tuple[np.ndarray, ...]


def solids(prover: Prover, levels: Levels, move: Move, mount: int, step: Placed, instant: Instant) -> list[Solid]:
    """The part and its tools at one instant of a step."""
    job, on = prover.job, prover.job.brakes[move.on]
    stroke, found = job.stroke(move.bends, move.to), []
    sides = prover.sides(levels, move)
    for kind, side, path, (half, own) in zip((HELD, FREE), (1, -1), on.machine(stroke, mount), sides, strict=True):
        at = [float(v) for v in path(np.array(float(instant.angle)))]
        for node, _, pose in prover.halves.poses(half, own):
            found += [Solid(node.face, kind, _faces(beside(body, side, *at)[:, [2, 0, 1]], len(body)))
                      for body in pose.bodies]
    low, high = (some(span) for some, span in zip((min, max), zip(*(
        prover.halves.span(*side) for side in sides), strict=True), strict=True))
    for tool in on.tools(stroke, mount):
        if tool.reach == FRAME:
            continue
        shift = shift_of(on, stroke, mount, tool, instant) if moves_with(on, tool) else (0.0, 0.0, 0.0)
        near = tool.shape if tool.reach == PIECES else tool.shape.intersection(box(-ROUND, -ROUND, ROUND, ROUND))
        spans = [(piece.start, piece.end) for piece in step.tools.of(tool.name)] if tool.reach == PIECES else []
        for start, end in spans or [(low - BESIDE, high + BESIDE)]:
            found += [_prism(tool.name, turned(ring.exterior.coords, shift), start, end)
                      for ring in shapely.get_parts(near) if isinstance(ring, Polygon) and not ring.is_empty]
    if job.way(move) == RIGHT:
        return found
    return [Solid(one.name, one.kind, tuple(face[::-1] * (-1.0, 1.0, 1.0) for face in one.faces)) for one in found]


def _faces(points, count) -> tuple[np.ndarray, ...]:
    """Of a body whose corners are a ring and the same the thickness below; of a facet's eight, edge by edge."""
    half = count // 2
    order = [0, 1, 3, 2] if half == 4 and _crosses(points[:4]) else list(range(half))
    top, below = points[:half][order], points[half:][order]
    return (top, below[::-1], *(np.array([top[k - 1], top[k], below[k], below[k - 1]]) for k in range(half)))


def _crosses(ring) -> bool:
    """Whether four corners lie pair by pair across, not round."""
    return bool((ring[1] - ring[0]) @ (ring[3] - ring[2]) > 0)


def _prism(name, ring, start, end) -> Solid:
    """A section drawn out along the bend."""
    points = np.asarray(ring)[:-1]
    near, far = (np.column_stack([np.full(len(points), x), points]) for x in (start, end))
    return Solid(name, TOOL, (near, far[::-1], *(np.array([near[k - 1], near[k], far[k], far[k - 1]])
                                                 for k in range(len(points)))))

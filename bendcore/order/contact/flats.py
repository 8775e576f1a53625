"""How far a sheet lies flat beside a bend: what stays on the die, lies under the clamp or on the leaf."""

import numpy as np
import shapely
from shapely import Polygon, box

from ..states.body import Half
from ..states.moves import FLAT
from .halves import OWN, Halves

MIDDLE = 0.05
"""A slanted or notched face counts along the middle nine tenths of the bend."""
EDGE, FAR = 1e-3, 1e5


class Flats:
    """Depths of the flat of one :class:`~.halves.Halves`, kept."""

    def __init__(self, halves: Halves):
        self.halves = halves
        self._kept: dict[tuple, float] = {}
        self._faces: dict[tuple, Polygon] = {}

    def reach(self, half: Half, levels: tuple[int, ...], need: float) -> bool:
        """Whether as much lies flat as is needed, mm; the face at the bend alone is most often enough."""
        return self._alone(half, need) or self.depth(half, levels) >= need

    def _alone(self, half, need) -> bool:
        if len(half.made) > 1 or need <= EDGE:
            return False
        key = (half.made, half.side)
        if key not in self._faces:
            self._faces[key] = _seen(self.halves.pose(half, 0, ()).bodies[0])
        (low, high), = self.halves.job.lines(half.made)
        inner = MIDDLE * (high - low)
        return bool(self._faces[key].covers(box(EDGE, low + inner, need, high - inner)))

    def depth(self, half: Half, levels: tuple[int, ...]) -> float:
        """The least from the tangent line to the edge or the next made bend, over all the bends made together, mm."""
        bent = tuple(max(level, FLAT) for level in levels)
        key = (half.made, half.side, tuple(level == FLAT for level in bent))
        if key not in self._kept:
            self._kept[key] = self._depth(half, bent)
        return self._kept[key]

    def _depth(self, half, levels) -> float:
        job = self.halves.job
        region = shapely.union_all([_seen(body) for _, _, pose in self.halves.poses(half, levels, OWN)
                                    for body in pose.bodies]).buffer(1e-4, join_style="mitre")
        least = np.inf
        for low, high in job.lines(half.made):
            inner = MIDDLE * (high - low)
            open_ground = box(EDGE, low + inner, FAR, high - inner).difference(region)
            least = min(least, open_ground.bounds[0] if not open_ground.is_empty else FAR)
        return float(least)

    def deepest(self, half: Half, levels: tuple[int, ...]) -> float:
        """How far anything of a half reaches from the tangent line, mm."""
        key = ("deep", half.made, half.side, levels)
        if key not in self._kept:
            self._kept[key] = max(float(body[:, 0].max()) for _, _, pose in self.halves.poses(half, levels)
                                  for body in pose.bodies)
        return self._kept[key]


def _seen(points: np.ndarray) -> Polygon:
    """A flat body from above."""
    return shapely.convex_hull(shapely.multipoints(points[:, (0, 2)]))

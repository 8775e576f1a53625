"""Sheet → folded part: every face in space, with any of its bends made.

The root face keeps its place in the blank with its top at z = 0; a bend up turns
the child towards +z. Points lie on the sheet's top surface, so an up bend turns
about its inside radius r and a down bend about r + t.
"""

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from shapely import Polygon, difference, union_all

from .model import Bend, Edge, Face, Point, Sheet
from .unfold import FlatPattern, unfold
from .vectors import cross

SNAPPED = 1e-9
"""Corners nearer than this are one where notches are cut, mm."""
HOLE_STEPS = 12
"""Points along each half of a hole."""


@dataclass(frozen=True)
class FoldedFace:
    """``corners`` (n, 3) on the top surface; ``normal`` points out of it; ``holes`` are
    rings (m, 3) round its holes and slots."""

    id: str
    corners: np.ndarray
    normal: np.ndarray
    holes: tuple[np.ndarray, ...] = ()
    cut: np.ndarray | None = None
    """The corners less what openings across its bends take; None where there are none."""

    @property
    def rim(self) -> np.ndarray:
        """What there is of its outline."""
        return self.corners if self.cut is None else self.cut


@dataclass(frozen=True)
class FoldedBend:
    """A bend in space. ``arc`` (m, 2, 3) holds top-surface points across the zone,
    ``normals`` (m, 3) the top's normal at each; a bend not made has two rows."""

    id: str
    angle: float
    arc: np.ndarray
    normals: np.ndarray
    parent: str = ""
    child: str = ""
    openings: tuple[tuple[Point, ...], ...] = ()
    """What is cut out of its zone, as :attr:`~.model.Bend.openings`."""
    allowance: float = 0.0


@dataclass(frozen=True)
class Frame:
    """A face's plane in space: its ``origin`` and its two axes."""

    origin: np.ndarray
    x: np.ndarray
    y: np.ndarray

    def __call__(self, points: ArrayLike) -> np.ndarray:
        """Points of the plane, (n, 2), in space."""
        p = np.asarray(points, float)
        return self.origin + p[..., :1] * self.x + p[..., 1:] * self.y

    @property
    def normal(self) -> np.ndarray:
        """Out of the sheet's top."""
        return cross(self.x, self.y)

    @property
    def matrix(self) -> np.ndarray:
        """(4, 4): points (x, y, above the top, 1) of the plane → space."""
        found = np.eye(4)
        found[:3] = np.column_stack([self.x, self.y, self.normal, self.origin])
        return found


@dataclass(frozen=True)
class Folded:
    """A part as folded: faces and bends in space, the ``thickness`` in mm, the plane of each face by its name."""

    faces: tuple[FoldedFace, ...]
    bends: tuple[FoldedBend, ...]
    thickness: float
    frames: Mapping[str, Frame] = field(default_factory=dict)


def fold(sheet: Sheet, made: Collection[str] | None = None, angles: Mapping[str, float] | None = None,
         facet: float = 6.0, flat: FlatPattern | None = None) -> Folded:
    """Fold the bends named in ``made`` (all when ``None``) to their angle.

    ``angles`` overrides the angle of single bends, for a bend half-way; ``facet``
    is the turn in degrees between points along an arc; ``flat`` spares unfolding the sheet again.
    """
    angles = dict(angles or {})
    for bend in sheet.bends:
        full = bend.angle if made is None or bend.id in made else 0.0
        angles.setdefault(bend.id, full)

    dx, dy = (flat or unfold(sheet)).shift
    frames = {sheet.root: Frame(np.array([dx, dy, 0.0]),
                                 np.array([1.0, 0, 0]), np.array([0, 1.0, 0]))}
    bends = []
    for bend in sheet.bends:
        frame = frames[bend.parent]
        near = frame(bend.parent_edge)
        arc, normals, out = zone_arc(bend, near, frame.normal, angles[bend.id], sheet.thickness, facet)
        bends.append(FoldedBend(bend.id, angles[bend.id], arc, normals, bend.parent, bend.child, bend.openings,
                                bend.figures.allowance))
        frames[bend.child] = beyond(bend.child_edge, arc[-1], out)
    faces = tuple(FoldedFace(f.id, frames[f.id](f.outline), frames[f.id].normal,
                             tuple(frames[f.id](h.outline(HOLE_STEPS)) for h in f.holes if not h.is_across),
                             frames[f.id](_notched(f)) if f.notches else None) for f in sheet.faces)
    return Folded(faces, tuple(bends), sheet.thickness, frames)


def _notched(face: Face) -> tuple[Point, ...]:
    """A face's outline less its notches."""
    left = difference(Polygon(face.outline), union_all([Polygon(ring) for ring in face.notches]), grid_size=SNAPPED)
    body = max(getattr(left, "geoms", [left]), key=lambda piece: piece.area)
    ring = body.exterior.coords[:-1]
    return tuple(ring if body.exterior.is_ccw else ring[::-1])


def zone_arc(bend: Bend, near: np.ndarray, normal: np.ndarray, angle: float, thickness: float,
             facet: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points (m, 2, 3) and normals (m, 3) across a zone, and the direction in which the child leaves."""
    along = (near[1] - near[0]) / np.linalg.norm(near[1] - near[0])
    out = cross(along, normal)
    ends = np.array(bend.taper)[:, None] * along
    if angle < 1e-9:
        far = near + out * bend.figures.allowance + ends
        return np.array([near, far]), np.array([normal, normal]), out
    radius = bend.figures.radius_at(angle) + (0 if bend.sign > 0 else thickness)
    steps = max(2, math.ceil(angle / facet) + 1)
    turn = np.radians(np.linspace(0, angle, steps))[:, None]
    rise = bend.sign * normal
    shift = radius * (np.sin(turn) * out + (1 - np.cos(turn)) * rise)
    normals = np.cos(turn) * normal - np.sin(turn) * bend.sign * out
    leave = math.cos(turn[-1, 0]) * out + math.sin(turn[-1, 0]) * rise
    share = np.linspace(0, 1, steps)[:, None, None]
    return near[None] + shift[:, None, :] + share * ends[None], normals, leave


def beyond(edge: Edge, at: np.ndarray, out: np.ndarray) -> Frame:
    """The child's frame: ``edge`` lies on ``at``, the face runs on towards ``out``."""
    (x0, y0), (x1, y1) = edge
    length = math.hypot(x1 - x0, y1 - y0)
    along = (at[1] - at[0]) / np.linalg.norm(at[1] - at[0])
    fx, fy = (x1 - x0) / length, (y1 - y0) / length
    # plane axes: along ↔ (fx, fy), out ↔ (fy, −fx)
    x, y = fx * along + fy * out, fy * along - fx * out
    return Frame(at[0] - x0 * x - y0 * y, x, y)

"""The flanges of a transition: each lies in the plane of its end, and goes as far round a corner as the blank lets it.

In the cross-section square to an end's edge, u runs from the edge up the panel and f from it along the flange. The
outside of the flange lies in the end's plane; the tops of panel and flange meet δ up the panel from the mould edge and
α along f (plain geometry), and the flats end a setback further, the inside one at a bend up, else the outside one.

At a corner flanges are mitred in their plane, half the gap off the line that halves it. In the blank there is less room
where panels that stay joined leave a wedge narrower than that: there both end on the line that halves the wedge, and
the corner stands open by what is missing.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ...develop.facets import Outline
from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.model import DOWN, UP, Bend, Edge, Face, Point
from ..common import Given, read_bend
from ..facetted import BOTTOM, Panel
from ..legs import INSIDE, OUTSIDE, Leg, ShapeBend
from .sizes import Sizes

OUT = "out"
Limit = Callable[[float, float], float]
"""(v along f from the mould edge, x in the blank from the panel's tangent line) → how far along the edge it may not go
further, mm from its first corner."""


@dataclass(frozen=True)
class Rim:
    """How a flange stands on one panel, before its ends are known: ``at`` its mould edge, ``back`` how far the panel's
    flat ends from that edge, ``root`` how far the flange's flat begins from it along f, mm."""

    panel: Panel
    end: str
    at: int
    way: str
    width: float
    bend: ShapeBend
    back: float
    root: float
    z: float

    @property
    def flat(self) -> float:
        """Of the flange, mm."""
        return self.width - self.root

    @property
    def f(self) -> np.ndarray:
        """In space, along the flange."""
        inward = self.panel.facet.inward * (1, 1, 0)
        return inward / np.linalg.norm(inward) * (-1 if self.way == OUT else 1)

    def space(self, y: float, v: float) -> np.ndarray:
        """A place of the flange's top by y along its mould edge and v along f."""
        b, a = self.panel.ends(self.at)
        along = (b - a) / np.linalg.norm(b - a)
        place = a + y * along + v * self.f
        return np.array([place[0], place[1], self.z])


def rim_of(panel: Panel, end: str, block: dict, sizes: Sizes, given: Given) -> Rim:
    """The flange on one panel; refuses one that its bend uses up."""
    facet, at, path = panel.facet, panel.edge(end, panel.number), f"{end}_flange"
    width, way = sizes.flanges[end]
    inward, up = facet.inward, 1 if end == BOTTOM else -1
    level = 0.0 if end == BOTTOM else sizes.height
    z = level if way == OUT else level + up * sizes.thickness
    a, b = panel.ends(at)
    along = (b - a) / np.linalg.norm(b - a)
    u = np.cross(-inward, along)
    f = inward * (1, 1, 0) / np.linalg.norm(inward[:2]) * (-1 if way == OUT else 1)
    angle = math.degrees(math.acos(float(np.clip(-u @ f, -1, 1))))
    name = f"{facet.id}-{end}"
    bend = read_bend(name, block, UP if f @ inward > 0 else DOWN, path, given, angle)
    delta = (z - a[2] - facet.thickness * inward[2]) / u[2]
    apex = float((facet.thickness * inward + delta * u) @ f)
    setback = bend.figures.inside_setback if bend.direction == UP else bend.figures.outside_setback
    if width <= apex + setback:
        raise Refusal(f"{path}.width", Said("must be more than {taken}, which its bend takes on panel {panel}",
                                            taken=Mm(apex + setback), panel=facet.id))
    return Rim(panel, end, at, way, width, bend, float(delta + setback), apex + setback, z)


@dataclass(frozen=True)
class Flange:
    """A flange as it is cut: ``rim`` and its ends along the edge, ``near`` at its bend and ``far`` at its free edge."""

    rim: Rim
    near: tuple[float, float]
    far: tuple[float, float]
    parent_edge: Edge

    @property
    def id(self) -> str:
        """As its bend."""
        return self.rim.bend.id

    @property
    def long(self) -> float:
        """Along its bend, mm."""
        return self.near[1] - self.near[0]

    @property
    def leg(self) -> Leg:
        """As wide as it stands out in the end's plane from the mould edge."""
        rim, figures = self.rim, self.rim.bend.figures
        return Leg(self.id, rim.width, INSIDE if rim.way == OUT else OUTSIDE, rim.flat, (rim.root, 0.0),
                   rim.flat + figures.outside_setback, (self.id, None))

    @property
    def face(self) -> Face:
        """x from its tangent line outwards, y along the edge."""
        (low, high), (left, right), flat = self.near, self.far, self.rim.flat
        return Face(self.id, ((0.0, low), (flat, left), (flat, right), (0.0, high)))

    @property
    def bend(self) -> Bend:
        """The bend of the sheet."""
        low, high = self.near
        bend = self.rim.bend
        return Bend(bend.id, self.rim.panel.facet.id, bend.id, self.parent_edge, ((0.0, low), (0.0, high)),
                    bend.direction, bend.figures)

    @property
    def free_corners(self) -> tuple[np.ndarray, np.ndarray]:
        """In space, of its free edge."""
        return tuple(self.rim.space(y, self.rim.width) for y in self.far)


def flange_of(rim: Rim, outline: Outline, gap: float, wedges: tuple[Limit | None, Limit | None]) -> Flange:
    """The flange on a panel's flat; ``wedges`` are the limits the blank sets at its first and its second end; refuses
    one whose ends meet."""
    facet, out = rim.panel.facet, 1 if rim.way == OUT else -1
    at, along = facet.edge(rim.at)
    edge = outline.edge(rim.at)
    ends = [float((np.array(point) - at) @ along) for point in edge]
    whole, zone = float(np.linalg.norm(np.subtract(*rim.panel.ends(rim.at)))), rim.bend.figures.allowance
    half = gap / math.sqrt(2)
    near, far = [], []
    for side, inwards, corner in ((0, 1, 0.0), (1, -1, whole)):
        def limit(v, x, side=side, inwards=inwards, corner=corner):
            mitre = inwards * corner - out * v + half
            wedge = wedges[side]
            return mitre if wedge is None else max(mitre, inwards * wedge(v, x))

        clear = gap if wedges[side] else 0.0  # of the bend that stands there when this one is made
        root = max(inwards * ends[side] + clear, limit(rim.root, 0.0), limit(rim.root, zone))
        near.append(inwards * root)
        far.append(inwards * limit(rim.width, zone + rim.flat))
    if near[1] - near[0] <= 1e-3 or far[1] - far[0] <= 1e-3:
        raise Refusal(f"{rim.end}_flange.width", f"is so wide that its ends meet on panel {facet.id}: make it narrower")
    parent = tuple((float(x), float(y)) for x, y in (
        np.array(edge[0]) + (near[0] - ends[0]) * along, np.array(edge[1]) + (near[1] - ends[1]) * along))
    return Flange(rim, tuple(near), tuple(far), parent)


def wedge_limits(one: Rim, other: Rim, outlines: dict[str, Outline], flats: dict[str, tuple[Point, ...]],
                 gap: float) -> tuple[Limit, Limit]:
    """The limits that two flanges of one end set each other in the blank, where their panels stay joined; ``flats`` are
    the panels' ``outlines`` as they lie in the blank."""
    placed = [_laid(rim, outlines[rim.panel.facet.id], flats[rim.panel.facet.id]) for rim in (one, other)]
    first = shared_end(one.end)
    at = [placed[0].corners[first], placed[1].corners[1 - first]]
    middle, way = (at[0] + at[1]) / 2, placed[0].out + placed[1].out
    across = np.array([way[1], -way[0]]) / max(float(np.linalg.norm(way)), 1e-9)
    across *= 1 if (at[1] - at[0]) @ across >= 0 else -1

    def limit(laid, sign):
        slope = float(laid.along @ across)

        def of(v: float, x: float) -> float:
            off = float((laid.origin + laid.out * x - middle) @ across)
            return (sign * gap / 2 - off) / slope

        return of

    return limit(placed[0], -1), limit(placed[1], 1)


def shared_end(end: str) -> int:
    """At which of its ends a panel's edge meets the next panel's: edges run clockwise seen from above at the bottom,
    and the other way at the top."""
    return 0 if end == BOTTOM else 1


@dataclass(frozen=True)
class _Laid:
    """A panel's edge in the blank: the place of y = 0, the way along it, the way out over the flange, and its ends."""

    origin: np.ndarray
    along: np.ndarray
    out: np.ndarray
    corners: tuple[np.ndarray, np.ndarray]


def _laid(rim: Rim, outline: Outline, flat: Sequence[Point]) -> _Laid:
    at, along = rim.panel.facet.edge(rim.at)
    start = float((np.array(outline.edge(rim.at)[0]) - at) @ along)
    first, second = (np.array(p) for p in outline.laid(flat).edge(rim.at))
    way = (second - first) / np.linalg.norm(second - first)
    return _Laid(first - start * way, way, np.array([way[1], -way[0]]), (first, second))

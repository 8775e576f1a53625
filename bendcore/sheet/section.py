"""The cross-section of a strip: what a person sees looking along the bends.

A :class:`Strip` is a sheet whose bends are all parallel, read as flats and bend
zones along its length. :meth:`Strip.half` lays out everything on one side of a
bend in a plane of its own: origin on the sheet's *inner* surface (the side the
bend folds towards) at that bend's tangent line, s along the leg and away from the
bend, n towards the inside. The material lies between n = 0 and n = −t there.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from shapely import LineString

from ..bending.bend import BendFigures
from ..errors import Refusal
from .model import Sheet
from .unfold import FlatPattern, unfold

SAGITTA = 0.02
"""Bend zones are faceted so closely that no facet leaves its arc by more, mm."""
START, END = "start", "end"


@dataclass(frozen=True)
class StripBend:
    """A bend of the strip. ``sign`` +1 folds up, −1 down, seen with the top face up."""

    id: str
    figures: BendFigures
    sign: int
    x: float
    """Centre line in the flat, from the start edge."""

    @property
    def is_hem(self) -> bool:
        """Whether it is a fold of 180°."""
        return self.figures.angle >= 180


@dataclass(frozen=True)
class Piece:
    """One flat or bend zone in section: ``outline`` (k, 2), its upper side backwards after the lower one, or, where it
    is bent ``over`` (down), before it."""

    id: str
    is_flat: bool
    outline: np.ndarray
    over: bool = False

    def side(self, upper: bool) -> np.ndarray:
        """Its edge on the sheet's upper or lower side, along the strip, (k / 2, 2)."""
        half = len(self.outline) // 2
        return self.outline[:half] if upper == self.over else self.outline[:half - 1:-1]


@dataclass(frozen=True)
class Strip:
    """``flats`` are (face id, length) along the strip, ``bends`` lie between them."""

    flats: tuple[tuple[str, float], ...]
    bends: tuple[StripBend, ...]
    thickness: float
    width: float

    @classmethod
    def of(cls, sheet: Sheet, flat: FlatPattern | None = None) -> "Strip":
        """Read a sheet as a strip, from its ``flat`` if that is worked out already; refuses one that is not."""
        flat = flat or unfold(sheet)
        ends = [(b.line[0][0], b.line[1][0], b.line[0][1], b.line[1][1]) for b in flat.bends]
        width = flat.size[1]
        if any(abs(x0 - x1) > 1e-6 or not _reaches_across(flat, x0, y1 - y0) for x0, x1, y0, y1 in ends):
            raise Refusal("shape", "bends that cross or end inside the sheet cannot be ordered as a strip")
        faces = sorted(flat.faces.items(), key=lambda item: min(x for x, _ in item[1]))
        flats = tuple((name, max(x for x, _ in pts) - min(x for x, _ in pts)) for name, pts in faces)
        bends = tuple(StripBend(b.bend.id, b.bend.figures, b.bend.sign, b.line[0][0]) for b in flat.bends)
        return cls(flats, bends, sheet.thickness, width)

    @cached_property
    def length(self) -> float:
        """Developed length, mm."""
        return sum(f for _, f in self.flats) + sum(b.figures.allowance for b in self.bends)

    @property
    def lies_on(self) -> str:
        """The face on which it is measured: of its first and those parallel to it the longest."""
        turn, parallel = 0.0, [self.flats[0]]
        for bend, flat in zip(self.bends, self.flats[1:], strict=True):
            turn += bend.sign * bend.figures.angle
            if abs((turn + 90) % 180 - 90) < 1e-6 and not bend.is_hem:
                parallel.append(flat)
        return max(parallel, key=lambda flat: round(flat[1], 6))[0]

    def outward(self, i: int, side: str) -> list[int]:
        """The bends on one side of bend ``i``, nearest first."""
        return list(range(i - 1, -1, -1)) if side == START else list(range(i + 1, len(self.bends)))

    def half(self, i: int, side: str, angles: Sequence[float]) -> list[Piece]:
        """Everything on one side of bend ``i`` with the bends beyond standing at
        ``angles`` (nearest first; may stop short): flat, zone, flat, …"""
        order = self.outward(i, side)[:len(angles)]
        step = 0 if side == START else 1
        pen = _Pen(self.thickness)
        pieces = [pen.flat(*self.flats[i + step])]
        for j, angle in zip(order, angles, strict=False):
            bend = self.bends[j]
            pieces.append(pen.zone(bend, angle, bend.sign * self.bends[i].sign))
            pieces.append(pen.flat(*self.flats[j + step]))
        return pieces

    def stretch(self, i: int, j: int, angle: float) -> tuple[list[np.ndarray], np.ndarray, float]:
        """The zone of bend ``j`` and the flat beyond it, as the half of bend ``i`` sees them
        from where the zone begins: outlines, the point reached, and the turn in radians."""
        pen = _Pen(self.thickness)
        bend = self.bends[j]
        zone = pen.zone(bend, angle, bend.sign * self.bends[i].sign)
        flat = pen.flat(*self.flats[j + (j > i)])
        return [zone.outline, flat.outline], pen.at, pen.turn

    def whole(self, angles: Sequence[float]) -> list[Piece]:
        """The whole section from the start edge, top face up."""
        pen = _Pen(self.thickness)
        pieces = [pen.flat(*self.flats[0])]
        for bend, angle, face in zip(self.bends, angles, self.flats[1:], strict=True):
            pieces += [pen.zone(bend, angle, bend.sign), pen.flat(*face)]
        return pieces


def _reaches_across(flat: FlatPattern, x: float, long: float) -> bool:
    """Whether a line so long at x goes from edge to edge of the blank, be it tapered."""
    width = flat.size[1]
    if abs(long - width) <= 1e-6:
        return True
    across = LineString([(x, -1.0), (x, width + 1.0)])
    return abs(flat.blank.intersection(across).length - long) <= 1e-3


class _Pen:
    """Walks along the inner surface and draws what it passes."""

    def __init__(self, thickness: float):
        self.t = thickness
        self.at = np.zeros(2)
        self.turn = 0.0

    @property
    def _axes(self):
        c, s = math.cos(self.turn), math.sin(self.turn)
        return np.array([c, s]), np.array([-s, c])

    def flat(self, name: str, length: float) -> Piece:
        along, normal = self._axes
        near, far = self.at, self.at + length * along
        down = self.t * normal
        self.at = far
        return Piece(name, True, np.array([near - down, far - down, far, near]))

    def zone(self, bend: StripBend, angle: float, sign: int) -> Piece:
        if angle < 1e-9:
            return Piece(bend.id, False, self.flat(bend.id, bend.figures.allowance).outline)
        along, normal = self._axes
        inner = bend.figures.radius_at(angle)
        own = inner if sign > 0 else inner + self.t
        centre = self.at + sign * own * normal
        a = np.linspace(0, math.radians(angle), facets(inner + self.t, angle) + 1)[:, None]
        spoke = np.sin(a) * along - sign * np.cos(a) * normal
        outer_arc, inner_arc = centre + (inner + self.t) * spoke, centre + max(inner, 0.0) * spoke
        self.at = centre + own * spoke[-1]
        self.turn += sign * math.radians(angle)
        return Piece(bend.id, False, np.concatenate([outer_arc, inner_arc[::-1]]), sign < 0)


def facets(radius: float, angle: float) -> int:
    """How many facets an arc needs to keep within :data:`SAGITTA`."""
    if radius <= SAGITTA:
        return 2
    return max(2, math.ceil(math.radians(angle) / (2 * math.acos(1 - SAGITTA / radius))))

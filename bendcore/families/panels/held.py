"""Sizes held over all: how far two faces stand apart, or reach, and which size gives way so that it comes out.

One size drives: the length of a panel, or the base drawn longer the way from one face to the other. How far apart the
faces then stand is linear in it as long as both keep their direction, so that two readings of the part say how much it
must be, and a third proves it (a secant, carried on where something else moves with it).
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.fold import FoldedFace, fold
from ...sheet.model import Point, Sheet
from ..legs import INSIDE
from .fields import HELD


class Sheeted(Protocol):
    """What is asked of panels once they are read."""

    @property
    def thickness(self) -> float:
        """mm."""

    def sheet(self) -> Sheet:
        """Their faces joined at bends."""


Read = Callable[[Mapping[str, Any]], Sheeted]
"""A ``shape`` without sizes held over all, read."""
LengthMm = Callable[[Any, str], float]
CLOSE = 1e-6
"""A size held comes out within so much, mm."""
MOST_TRIALS = 6
STEP = 0.5
"""By so much a size is changed to see what comes of it, mm."""
LEVEL = 1e-9
"""Two directions whose cosine is nearer to 1 are one."""


@dataclass(frozen=True)
class Held:
    """``size`` mm between two faces by their names, inside or outside; ``gives`` is the face whose size gives way."""

    path: str
    one: str
    other: str
    dims: str
    size: float
    gives: str


def apart(one: FoldedFace, other: FoldedFace, thickness: float, dims: str) -> float:
    """How far two faces reach over all, square to the first, mm. Inside it is from the surface of ``one`` that faces
    the other to the other's nearest surface, or to its far edge where it does not lie along the first; outside over
    both.
    """
    normal = one.normal
    plane = float(one.corners[0] @ normal)
    beyond = np.concatenate([other.corners, other.corners - thickness * other.normal]) @ normal - plane
    if dims != INSIDE:
        return float(max(beyond.max(), 0.0) - min(beyond.min(), -thickness))
    if beyond.mean() < -thickness / 2:  # on the other side: measured from the lower surface
        beyond = -beyond - thickness
    along = abs(abs(float(normal @ other.normal)) - 1) < LEVEL
    return float(beyond.min() if along else beyond.max())


def read_held(shape: Mapping[str, Any], names: list[str], length: LengthMm) -> list[Held]:
    """Those of a file's ``shape``; ``names`` are its faces, the base first. Refuses faces that are not there, a face
    with itself, and a size that gives way twice."""
    found: list[Held] = []
    for i, block in enumerate(shape.get("held", ())):
        path = f"held[{i}]"
        for key in ("one", "other", "gives"):
            if block[key] >= len(names):
                raise Refusal(f"{path}.{key}", f"must be a panel from 1 to {len(names) - 1}, or 0 for the base")
        if block["one"] == block["other"]:
            raise Refusal(f"{path}.other", "must be another face")
        gives = names[block["gives"]]
        if gives != names[0] and any(one.gives == gives for one in found):
            raise Refusal(f"{path}.gives", "gives way already to a size before")
        found.append(Held(path, names[block["one"]], names[block["other"]], block.get("dims", INSIDE),
                          HELD.mm(block, "size", path, length), gives))
    return found


def measured(part: Sheeted, one: Held) -> float:
    """What a size held over all comes to, mm."""
    faces = {face.id: face for face in fold(part.sheet()).faces}
    return apart(faces[one.one], faces[one.other], part.thickness, one.dims)


def held(shape: Mapping[str, Any], names: list[str], length: LengthMm, read: Read) -> dict[str, Any]:
    """The ``shape`` with the sizes that give way as large as those held over all need; refuses, at its field, what
    cannot be held so."""
    bare = {key: value for key, value in shape.items() if key != "held"}
    wanted = read_held(shape, names, length)
    for _ in range(2):  # one may have moved what was held before it
        for one in wanted:
            bare = _solved(bare, one, names, length, read)
        part = read(bare)
        off = [one for one in wanted if abs(measured(part, one) - one.size) > 10 * CLOSE]
        if not off:
            return bare | {"held": shape["held"]}
    raise Refusal(f"{off[0].path}.size", "cannot be held beside the others: take one of them off")


def _solved(bare: dict, one: Held, names: list[str], length: LengthMm, read: Read) -> dict:
    """One of them held."""
    part = read(bare)
    change, now = _giving(bare, one, names, part, length)
    at, off = now, measured(part, one) - one.size
    if abs(off) <= CLOSE:
        return bare
    slope = (measured(read(change(now + STEP)), one) - one.size - off) / STEP
    for _ in range(MOST_TRIALS):
        if abs(slope) < 1e-6:
            raise Refusal(f"{one.path}.gives", "does not change this size: choose another to give way")
        before, at = at, at - off / slope
        if at <= 0:
            raise Refusal(f"{one.path}.size", Said("cannot be held: what gives way would have to be {size}",
                                                   size=Mm(at)))
        found = change(at)
        last, off = off, measured(read(found), one) - one.size
        if abs(off) <= CLOSE:
            return found
        slope = (off - last) / (at - before)
    raise Refusal(f"{one.path}.size", "cannot be held: what gives way turns these faces")


def _giving(bare: dict, one: Held, names: list[str], part: Sheeted,
            length: LengthMm) -> tuple[Callable[[float], dict], float]:
    """(the shape with what gives way so large, how large it is now), mm."""
    number = names.index(one.gives)
    if not number:
        return _stretching(bare, one, part, length)
    block = bare["panels"][number - 1]
    if "length" not in block:
        raise Refusal(f"{one.path}.gives", "has an outline of its own: choose a panel that has a length")

    def change(size: float) -> dict:
        panels = [*bare["panels"]]
        panels[number - 1] = block | {"length": f"{size:.10g} mm"}
        return bare | {"panels": panels}
    return change, length(block["length"], f"panels[{number - 1}].length")


def _stretching(bare: dict, one: Held, part: Sheeted, length: LengthMm) -> tuple[Callable[[float], dict], float]:
    """The base drawn longer the way from one face to the other: of its corners before and beyond the middle between
    them those move among which the first is not."""
    faces = {face.id: face for face in fold(part.sheet()).faces}
    first, second = faces[one.one], faces[one.other]
    way = first.normal[:2]
    if np.linalg.norm(way) < 1 - LEVEL:
        raise Refusal(f"{one.path}.gives", "must be a panel: the base does not lie across this size")
    places = [float(face.corners.mean(axis=0)[:2] @ way) for face in (first, second)]
    way, (low, high) = (way, places) if places[0] < places[1] else (-way, [-place for place in places])
    corners: list[Point] = [tuple(length(value, f"outline[{i}]") for value in point)
                            for i, point in enumerate(bare["outline"])]
    beyond = [float(np.dot(corner, way)) > (low + high) / 2 for corner in corners]
    if beyond[0]:
        way, beyond = -way, [not far for far in beyond]
    reach = high - low

    def change(size: float) -> dict:
        by = (size - reach) * way
        moved = [[f"{x + by[0]:.10g} mm", f"{y + by[1]:.10g} mm"] if far else point
                 for (x, y), far, point in zip(corners, beyond, bare["outline"], strict=True)]
        return bare | {"outline": moved}
    return change, reach

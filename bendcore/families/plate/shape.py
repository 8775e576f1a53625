"""A flanged plate: any straight-sided outline with holes, slots, and flanges on chosen edges.

The outline is that of the finished part, over the outside of its flanges; edge n runs
from corner n to the next, counted from 1. A flange stands on its edge or on part of it
(``start`` and ``end`` are left free at either end), measured from the plate's outside
to its free edge or to the outside of its return. Bends and faces are ``F1…``, returns
``F1-return``, in the order the flanges are listed; the plate is ``plate``.

Along a flange the plate is cut back to the tangent line; where it ends :mod:`.flanges`
says. Where a bend ends inside an edge a relief is cut beside it, past the tangent line by
r + t/2.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from shapely import Polygon

from ...bending.bend import APEX
from ...errors import Refusal
from ...fields import Steps
from ...said import Mm, Said
from ...sheet.model import Bend, Edge, Face, Hole, Sheet
from ..common import Given, joint_across, read_outline, read_slot
from ..legs import OUTSIDE, Leg, Run, ShapeBend
from ..metal import cut_from
from ..outlines import extent
from ..propagation import Propagation, edge_error
from ..shape import Resize, Shape
from .fields import FIELDS, HOLE, SLOT
from .flanges import Flange, read_flanges, relief_depth


@dataclass(frozen=True)
class Plate(Shape):
    """A plate with flanges, read."""

    thickness: float
    outline: tuple[tuple[float, float], ...]
    """Corners counter-clockwise, over the outside of the flanges, mm."""
    flanges: tuple[Flange, ...]
    holes: tuple[Hole, ...] = ()
    relief: float = 1.0
    """Width of a relief, mm."""
    dims: str = OUTSIDE
    turned: bool = False
    """Whether the corners were given clockwise, so that edges are counted the other way."""

    kind = "plate"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()

    @property
    def legs(self) -> tuple[Leg, ...]:
        """Flanges and returns."""
        return tuple(leg for f in self.flanges for leg in (f.leg, f.back) if leg)

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Bends of flanges and returns."""
        return tuple(b for f in self.flanges for b in (f.bend, f.back_bend) if b)

    @property
    def longest_bend(self) -> float:
        """Along the longest flange, mm."""
        return max((f.span[1] - f.span[0] for f in self.flanges), default=0.0)

    def numbered(self) -> list[tuple[int, tuple]]:
        """(number as given, (corner, corner)) of every edge."""
        n = len(self.outline)
        edges = list(zip(self.outline, [*self.outline[1:], self.outline[0]], strict=True))
        return [((n - 2 - i) % n + 1 if self.turned else i + 1, edge) for i, edge in enumerate(edges)]

    def counted_edges(self) -> list[tuple[int, Edge]]:
        """Clockwise where the corners were given so."""
        return [(n, edge[::-1] if self.turned else edge) for n, edge in self.numbered()]

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of the finished outline's edges."""
        return [(f"edge-{n}", f"Edge {n}, over the flanges", math.dist(*edge)) for n, edge in sorted(self.numbered())]

    def edges(self) -> dict[str, Edge]:
        """Of the finished outline."""
        return {f"edge-{n}": edge for n, edge in self.numbered()}

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """An edge is as much longer as the flanges beside it stand further out."""
        numbers = {f"edge-{n}": i for i, (n, _) in enumerate(self.numbered())}
        bends = {flange.edge: self.sheet().bend[flange.bend.id] for flange in self.flanges}
        return edge_error(self.outline, numbers[name], bends, errors) if name in numbers else None

    def size_path(self, leg: str) -> Steps | None:
        """A flange's length."""
        return next((("flanges", i, "length") for i, one in enumerate(self.flanges) if one.leg.id == leg), None)

    def resized(self) -> Iterator[Resize]:
        """Its flanges."""
        for i, flange in enumerate(self.flanges):
            yield Resize((flange.leg,), (("flanges", i, "length"),), f"Make flange {flange.id} {{size}}")

    def mate_sizes(self) -> dict[str, float]:
        """Its flanges, its outline over all, and its holes."""
        return super().mate_sizes() | extent(self.outline)

    def place(self, name: str) -> str:
        """The flange's field, or that of its return."""
        for i, flange in enumerate(self.flanges):
            if name == flange.id:
                return f"flanges[{i}]"
            if flange.back_bend and name == flange.back_bend.id:
                return f"flanges[{i}].return"
        return "flanges"

    def short(self, name: str) -> str:
        """A flange by its number; its return by its place."""
        return "return" if self.place(name).endswith(".return") else name

    def _called(self, name: str) -> str:
        """*Flange F1, return*; the plate itself is *Plate*."""
        return "Plate" if name == "plate" else super()._called(name)

    def _sheet(self) -> Sheet:
        """Plate, flanges and returns as faces joined at bends."""
        faces, joints = [Face("plate", self._body(), self.holes)], []
        for flange in self.flanges:
            a, along, inward = self._axes(flange.edge)
            setback, (low, high) = flange.bend.figures.outside_setback, flange.span
            near = tuple((a[0] + along[0] * u + inward[0] * setback, a[1] + along[1] * u + inward[1] * setback)
                         for u in (low, high))
            wide = high - low
            faces.append(Face(flange.id, flange.outline, flange.holes))
            joints.append(Bend(flange.id, "plate", flange.id, near, ((0.0, 0.0), (0.0, wide)), flange.bend.direction,
                               flange.bend.figures))
            if flange.back:
                points = flange.back_outline
                faces.append(Face(flange.back.id, points))
                joints.append(joint_across(flange.back_bend, flange.id, flange.back.id, flange.leg.flat,
                                           (points[0][1], points[3][1])))
        return Sheet(self.thickness, "plate", tuple(faces), tuple(joints))

    def _axes(self, edge):
        """First corner of an edge, its direction, and the direction into the plate."""
        a, b = self.outline[edge], self.outline[(edge + 1) % len(self.outline)]
        long = math.dist(a, b)
        along = ((b[0] - a[0]) / long, (b[1] - a[1]) / long)
        return a, along, (-along[1], along[0])

    def _body(self):
        """The plate between its tangent lines, reliefs cut."""
        away = []
        for flange in self.flanges:
            f = flange.bend.figures
            away.append(self._strip(flange.edge, *flange.cut, f.outside_setback))
            deep = relief_depth(f)
            (low, high), (before, after) = flange.span, flange.reliefs
            away += [self._strip(flange.edge, *at, deep) for at in ((low - before, low), (high, high + after))
                     if at[1] - at[0] > 1e-9]
        return cut_from(self.outline, away, self._feet(), "flanges", "the plate")

    def _feet(self):
        """The middle of every flange's tangent line, which must stay on the plate."""
        for flange in self.flanges:
            a, along, inward = self._axes(flange.edge)
            u, v = sum(flange.span) / 2, flange.bend.figures.outside_setback
            yield (a[0] + along[0] * u + inward[0] * v, a[1] + along[1] * u + inward[1] * v)

    def _strip(self, edge, low, high, deep):
        a, along, inward = self._axes(edge)
        return [(a[0] + along[0] * u + inward[0] * v, a[1] + along[1] * u + inward[1] * v)
                for u, v in ((low, -0.1), (high, -0.1), (high, deep), (low, deep))]


def read_plate(shape: dict, given: Given) -> Plate:
    """A flanged plate from the part file's ``shape``; refusals name the field below ``shape``."""
    length, thickness = given.length, given.thickness
    outline, numbers = read_outline(shape["outline"], length)
    relief = length(shape["relief"], "relief") if "relief" in shape else max(thickness, 1.0)
    if relief < thickness - 1e-9:
        raise Refusal("relief", Said("must be at least as wide as the sheet is thick ({thick})", thick=Mm(thickness)))
    gap = FIELDS.mm(shape, "gap", "", length)
    flanges = read_flanges(shape.get("flanges", ()), outline, numbers, gap, relief, given)
    holes = {f"holes[{i}]": _read_hole(f"holes[{i}]", block, length) for i, block in enumerate(shape.get("holes", ()))}
    holes |= {f"slots[{i}]": _read_slot(f"slots[{i}]", block, length) for i, block in enumerate(shape.get("slots", ()))}
    plate = Plate(thickness, outline, flanges, tuple(holes.values()), relief, turned=numbers[1][1])
    body = Polygon(plate.sheet().face["plate"].outline)
    for path, hole in holes.items():
        if not body.contains(Polygon(hole.outline())):
            raise Refusal(f"{path}.x", "leaves the plate's flat: a hole must not run into a bend or off the edge")
    return plate


def _read_hole(path, block, length) -> Hole:
    size = HOLE.mm(block, "diameter", path, length)
    return Hole((length(block["x"], f"{path}.x"), length(block["y"], f"{path}.y")), size, path=path)


def _read_slot(path, block, length) -> Hole:
    width = SLOT.mm(block, "width", path, length)
    long = length(block["length"], f"{path}.length")
    return read_slot((length(block["x"], f"{path}.x"), length(block["y"], f"{path}.y")), width, long,
                     float(block.get("angle", 0.0)), path)


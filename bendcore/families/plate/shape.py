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

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from shapely import Polygon

from ...bending.bend import APEX
from ...errors import Refusal
from ...fields import Steps
from ...sheet.model import Bend, Face, Hole, Sheet
from ..common import Given, joint_across, read_outline, read_slot
from ..legs import OUTSIDE, Leg, Run, ShapeBend
from ..metal import EdgeAxes, cut_from, read_relief, relief_depth
from ..outlined import Outlined
from ..shape import Resize
from .fields import FIELDS, HOLE, SLOT
from .flanges import Flange, read_flanges


@dataclass(frozen=True)
class Plate(Outlined):
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
    edge_title = "Edge {n}, over the flanges"

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

    def bent_at(self) -> Mapping[int, str]:
        """Its flanges' bends."""
        return {flange.edge: flange.bend.id for flange in self.flanges}

    def size_path(self, leg: str) -> Steps | None:
        """A flange's length."""
        return next((("flanges", i, "length") for i, one in enumerate(self.flanges) if one.leg.id == leg), None)

    def resized(self) -> Iterator[Resize]:
        """Its flanges."""
        for i, flange in enumerate(self.flanges):
            yield Resize((flange.leg,), (("flanges", i, "length"),), f"Make flange {flange.id} {{size}}")

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
            axes, setback, (low, high) = self._axes(flange), flange.bend.figures.outside_setback, flange.span
            near = (axes.at(low, setback), axes.at(high, setback))
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

    def _axes(self, flange: Flange) -> EdgeAxes:
        return EdgeAxes.of(self.outline, flange.edge)

    def _body(self):
        """The plate between its tangent lines, reliefs cut."""
        away = []
        for flange in self.flanges:
            figures, axes = flange.bend.figures, self._axes(flange)
            away.append(axes.strip(*flange.cut, figures.outside_setback))
            deep = relief_depth(figures)
            (low, high), (before, after) = flange.span, flange.reliefs
            away += [axes.strip(*at, deep) for at in ((low - before, low), (high, high + after))
                     if at[1] - at[0] > 1e-9]
        return cut_from(self.outline, away, self._feet(), "flanges", "the plate")

    def _feet(self):
        """The middle of every flange's tangent line, which must stay on the plate."""
        for flange in self.flanges:
            yield self._axes(flange).at(sum(flange.span) / 2, flange.bend.figures.outside_setback)



def read_plate(shape: dict, given: Given) -> Plate:
    """A flanged plate from the part file's ``shape``; refusals name the field below ``shape``."""
    length, thickness = given.length, given.thickness
    outline, numbers = read_outline(shape["outline"], length)
    relief = read_relief(shape, given)
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


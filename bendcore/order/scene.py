"""The tools around a bend as geometry: what stands still, what moves with the ram.

``upper`` is punch and ram, ``lower`` die, table and side frames. The faces of the
bend being made may touch the punch tip and the die's shoulders, so against those
faces the tools are taken without them.
"""

from collections.abc import Callable
from functools import cached_property

import numpy as np
from shapely import Polygon, box, union_all
from shapely.affinity import scale, translate
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..bending.bend import BendFigures
from .collide import inset, swept
from .moves import Job, Tools
from .poses import Stroke, daylight, ram_over, table_under

FAR = 1e5


class Scene:
    """One bend's figures with one pair of tools on the brake."""

    def __init__(self, job: Job, figures: BendFigures, tools: Tools):
        self.job, self.figures, self.tools = job, figures, tools
        punch = tools.punch
        self.stroke = Stroke(figures, punch.tip_radius if punch else 0.0,
                             tools.die if tools.die.kind == "v" else None)
        self._groups: dict[tuple, object] = {}
        self._columns: dict[tuple, object] = {}
        self.open = daylight(job.brake, punch, tools.die)

    @cached_property
    def upper(self) -> dict[str, Polygon]:
        """At rest with the punch tip at (0, 0)."""
        brake, punch = self.job.brake, self.tools.punch
        if punch is None:
            plate = np.asarray(self.tools.die.section) * (1, -1)
            top = plate[:, 1].max()
            return {"punch": Polygon(plate), "ram": Polygon(np.asarray(brake.ram_section) + (0, top))}
        return {"punch": punch.polygon, "ram": Polygon(ram_over(punch, brake.ram_section))}

    @cached_property
    def lower(self) -> dict[str, Polygon]:
        """What stands still: die, table, and side frames where the sheet is wider than their space."""
        brake, die = self.job.brake, self.tools.die
        found = {"die": die.polygon, "table": Polygon(table_under(die, brake.table_section))}
        if brake.frame_section and self.job.strip.width > brake.between_frames:
            found["frame"] = Polygon(table_under(die, brake.frame_section))
        return found

    @cached_property
    def _tip(self):
        punch = self.tools.punch
        return Point(0, 0).buffer(punch.tip_radius + self.figures.thickness) if punch else Polygon()

    @cached_property
    def _shoulders(self):
        die = self.tools.die
        if die.kind != "v":
            return box(-FAR, -1.0, FAR, FAR)
        half = die.v / 2 + die.shoulder_radius + 0.1
        return box(-half, -FAR, half, FAR)

    def tools_of(self, group: str, own: bool) -> dict[str, Polygon]:
        """Inset tools of a group; ``own`` for the faces of the bend being made."""
        found = {name: inset(p) for name, p in (self.upper if group == "upper" else self.lower).items()}
        if own:
            key, spare = ("punch", self._tip) if group == "upper" else ("die", self._shoulders)
            found[key] = found[key].difference(spare)
        return {name: p for name, p in found.items() if not p.is_empty}

    @cached_property
    def even(self) -> bool:
        """Whether what stands below is the same from the front and from the back."""
        return all(p.equals(scale(p, -1, 1, origin=(0, 0))) for p in self.lower.values())

    def inset_group(self, group: str, own: bool) -> BaseGeometry:
        """:meth:`tools_of` as one geometry."""
        if (group, own) not in self._groups:
            self._groups[group, own] = union_all(list(self.tools_of(group, own).values()))
        return self._groups[group, own]

    def path(self, group: str) -> Callable:
        """(y, z, h) of the rear half relative to a group at rest, as a function of angles."""
        def relative(angles):
            y, z, h, tip = self.stroke.path(angles)
            return (y, z - tip, h) if group == "upper" else (y, z, h)
        return relative

    def column(self, angle: float, own: bool) -> BaseGeometry:
        """What punch and ram pass through from their place at ``angle`` up to the top."""
        if (angle, own) not in self._columns:
            tip = self.closed_at(angle)
            tools = self.inset_group("upper", own)
            self._columns[angle, own] = translate(swept(tools, 0.0, max(0.0, self.open - tip)), 0.0, tip)
        return self._columns[angle, own]

    def closed_at(self, angle: float) -> float:
        """Height of the punch tip; of the upper bar when a hem is being closed."""
        if self.tools.punch is None:
            return 2 * (self.figures.thickness + self.figures.inside_radius)
        return self.stroke.punch_tip(angle)

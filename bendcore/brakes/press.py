"""A press brake and its rack of tools, from a ``dorvan-brake`` file of kind press.

Sections are closed polygons (y, z): y towards the back of the machine, z up. A
punch has its tip at (0, 0) and its body above; a die its top centre at (0, 0) and
its body below. The ram hangs from the punch's highest point, the table carries the
die's lowest. A tool that may be turned end for end counts as two tools.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Self

from shapely import Polygon

from ..errors import Refusal
from .accuracy import Accuracy, read_accuracy
from .costs import Costs
from .section import Reader, Section

TURNED = ", turned"
"""What the name of a tool turned end for end ends in."""


@dataclass(frozen=True)
class Tool:
    """What punches and dies have in common. ``lengths`` are the pieces owned."""

    name: str
    section: Section
    lengths: tuple[float, ...]
    turned: bool = False
    max_kn_per_m: float | None = None

    @property
    def height(self) -> float:
        """From the lowest point of its section to the highest, mm."""
        z = [z for _, z in self.section]
        return max(z) - min(z)

    @cached_property
    def polygon(self) -> Polygon:
        """Its section as a polygon, mm."""
        return Polygon(self.section)

    def end_for_end(self) -> Self:
        """The same tool turned round."""
        return replace(self, name=f"{self.name}{TURNED}", turned=True, section=tuple((-y, z) for y, z in self.section))


@dataclass(frozen=True)
class Punch(Tool):
    """An upper tool, its tip at the section's origin: ``tip_radius`` mm, ``angle`` degrees."""

    tip_radius: float = 0.0
    angle: float = 88.0


@dataclass(frozen=True)
class Die(Tool):
    """``kind`` is ``v`` or ``flatten``; the opening is None on a flattener."""

    kind: str = "v"
    v: float = 0.0
    angle: float = 88.0
    shoulder_radius: float = 0.0


@dataclass(frozen=True)
class Stops:
    """Back stops: reach from the bend line, and the finger's section with (0, 0)
    at its contact face on the die's top."""

    min: float
    max: float
    section: Section | None = None

    @cached_property
    def polygon(self) -> Polygon:
        """The stop's section as a polygon, its face at y = 0; empty where none is drawn."""
        return Polygon(self.section or ())

    @cached_property
    def contact_height(self) -> float:
        """Highest point of the contact face; 10 mm when no section is drawn."""
        face = [z for y, z in self.section or () if abs(y) < 1e-6]
        return max(face) if face else 10.0


@dataclass(frozen=True)
class PressBrake:
    """A press brake and its rack, as its file says; lengths mm, force kN."""

    name: str
    units: str
    length: float
    between_frames: float
    tonnage_kn: float
    open_height: float
    stroke: float
    punches: tuple[Punch, ...]
    dies: tuple[Die, ...]
    ram_section: Section
    table_section: Section
    stops: Stops
    frame_section: Section | None = None
    costs: Costs = field(default_factory=Costs)
    accuracy: Accuracy = Accuracy()

    kind = "press"

    def with_tools(self, punches: Sequence[str] | None = None, dies: Sequence[str] | None = None) -> "PressBrake":
        """The same brake with only the named punches or dies on the rack.

        A V punch named alone still leaves the flattening dies in place.
        """
        kept_p = tuple(p for p in self.punches if not punches or p.name in punches)
        kept_d = tuple(d for d in self.dies if not dies or d.name in dies or d.kind == "flatten")
        return replace(self, punches=kept_p, dies=kept_d)


def read_press(data: dict) -> PressBrake:
    """A press brake from the file's data; refusals name the field."""
    reader = Reader(data, "press")
    units, length, section = reader.units, reader.length, reader.section

    def tool(block, path):
        return {"name": block["name"], "section": section(block["section"], f"{path}.section"),
                "lengths": tuple(length(v, f"{path}.lengths[{i}]") for i, v in enumerate(block["lengths"])),
                "max_kn_per_m": block.get("max_kn_per_m")}

    punches = [_punch(b, f"punches[{i}]", tool, length) for i, b in enumerate(data["punches"])]
    dies = [_die(b, f"dies[{i}]", tool, length) for i, b in enumerate(data["dies"])]
    if not (_up(data["punches"], punches) and _up(data["dies"], dies)):
        raise Refusal("dies" if _up(data["punches"], punches) else "punches", "are all put away: one must be up")
    for rack, key in ((punches, "punches"), (dies, "dies")):
        names = [t.name for t in rack]
        for i, name in enumerate(names):
            if name in names[:i]:
                raise Refusal(f"{key}[{i}].name", "is used twice on this rack")
    stops = data["stops"]
    low, high = (length(stops[k], f"stops.{k}", strict=False) for k in ("min", "max"))
    if high <= low:
        raise Refusal("stops.max", "must be greater than the least")
    return PressBrake(
        name=data["name"], units=units,
        **{k: length(data[k], k) for k in ("length", "between_frames", "open_height", "stroke")},
        tonnage_kn=float(data["tonnage_kn"]),
        punches=_with_turned(_up(data["punches"], punches)), dies=_with_turned(_up(data["dies"], dies)),
        ram_section=section(data["ram_section"], "ram_section"),
        table_section=section(data["table_section"], "table_section"),
        frame_section=section(data["frame_section"], "frame_section") if "frame_section" in data else None,
        stops=Stops(low, high, section(stops["section"], "stops.section") if "section" in stops else None),
        costs=Costs(**data.get("costs", {})), accuracy=read_accuracy(data, length),
    )


def _punch(block, path, tool, length) -> Punch:
    made = Punch(**tool(block, path), tip_radius=length(block["tip_radius"], f"{path}.tip_radius", strict=False),
                 angle=float(block["angle"]))
    if min(z for _, z in made.section) < -1e-6:
        raise Refusal(f"{path}.section", "must have its tip at (0, 0) and its body above")
    return made


def die_named(brake: object, name: str | None) -> Die | None:
    """A brake's die; None where it has none of that name, as a hand brake has none at all."""
    return next((die for die in getattr(brake, "dies", ()) if die.name == name), None)


def punch_named(brake: object, name: str | None) -> Punch | None:
    """A brake's punch; None where it has none of that name."""
    return next((punch for punch in getattr(brake, "punches", ()) if punch.name == name), None)


def _die(block, path, tool, length) -> Die:
    kind = block.get("kind", "v")
    common = tool(block, path)
    if max(z for _, z in common["section"]) > 1e-6 and kind == "flatten":
        raise Refusal(f"{path}.section", "must have its top at (0, 0) and its body below")
    if kind == "flatten":
        return Die(**common, kind=kind)
    for key in ("v", "angle"):
        if key not in block:
            raise Refusal(f"{path}.{key}", "is missing")
    v = length(block["v"], f"{path}.v")
    shoulder = length(block.get("shoulder_radius", 0), f"{path}.shoulder_radius", strict=False)
    if shoulder >= v / 2:
        raise Refusal(f"{path}.shoulder_radius", "must be less than half the opening")
    return Die(**common, kind=kind, v=v, angle=float(block["angle"]), shoulder_radius=shoulder)


def _up(blocks, tools) -> list[tuple]:
    """The tools that are not put away, each with its block of the file."""
    return [(tool, block) for tool, block in zip(tools, blocks, strict=True) if not block.get("retired")]


def _with_turned(up):
    return (*(tool for tool, _ in up), *(tool.end_for_end() for tool, block in up if block.get("turnable")))

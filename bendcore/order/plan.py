"""A bend order as it leaves the engine: its steps, or what is in the way, and what would free it.

Lengths are in mm. :meth:`Plan.written` is the one place where it becomes the data of a file (``dorvan-order``,
described in ``docs/order-result.md``), :meth:`Plan.read` where such data becomes an order again.
"""

from dataclasses import dataclass, replace

from ..said import in_units
from ..units import MM_PER
from .gauge import Gauge


@dataclass(frozen=True)
class Tooling:
    """What is mounted, by name, and the pieces it is put together from, mm; no punch over a flattener."""

    punch: str | None
    die: str
    punch_lengths: tuple[float, ...] = ()
    die_lengths: tuple[float, ...] = ()

    @property
    def key(self) -> tuple[str | None, str]:
        """The pair by name."""
        return self.punch, self.die


@dataclass(frozen=True)
class Placed:
    """A bend in the machine: ``angle`` bent from flat, the side ``held`` towards the stop, where that stands."""

    bends: tuple[str, ...]
    angle: float
    held: str
    gauge: Gauge
    tools: Tooling


@dataclass(frozen=True)
class Step(Placed):
    """One stroke. ``bend_to`` is the angle with the springback; ``clearance`` what tools and faces not being bent keep
    of each other, mm, None where nothing swings; ``cost`` in seconds."""

    bend_to: float
    face_up: str
    clearance: float | None
    notes: tuple[str, ...]
    cost: float


@dataclass(frozen=True)
class Met:
    """A face that meets a tool at a step that cannot be made: in which phase, how deep (mm), at which angle deepest and
    from which on, under which pair of tools and with which side held."""

    step: int
    bend: str
    phase: str
    face: str
    tool: str
    depth: float
    at_angle: float
    from_angle: float
    held: str
    punch: str | None
    die: str


@dataclass(frozen=True)
class Cause:
    """Why a step cannot be made, where it is no collision."""

    step: int
    bend: str
    code: str
    message: str


@dataclass(frozen=True)
class Remedy:
    """What would free a part, as simulated: another ``order`` of bends, other ``tools``, or ``legs`` of other lengths
    (id → mm); ``cost`` of the order it gives, in seconds, where one was looked for."""

    kind: str
    message: str
    order: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    legs: tuple[tuple[str, float], ...] = ()
    cost: float | None = None

    def written(self, units: str) -> dict:
        """The remedy as data."""
        row = {"kind": self.kind, "message": in_units(self.message, units)}
        if self.order:
            row |= {"order": list(self.order), "tools": list(self.tools), "cost_seconds": self.cost}
        if self.kind == "shorter-leg":
            row |= {"face": self.legs[0][0], "length": self.legs[0][1] / MM_PER[units]}
        elif self.legs:
            row |= {"faces": [name for name, _ in self.legs], "lengths": [mm / MM_PER[units] for _, mm in self.legs]}
        return row


@dataclass(frozen=True)
class Plan:
    """``steps`` are the cheapest order where it is ``feasible``, else the way to the furthest state; ``blocked`` is
    then the step that fails least from there."""

    brake: str
    feasible: bool
    cost: float
    steps: tuple[Step, ...]
    hits: tuple[Met, ...] = ()
    reasons: tuple[Cause, ...] = ()
    blocked: Placed | None = None
    remedies: tuple[Remedy, ...] = ()

    @property
    def shown(self) -> tuple[Placed, ...]:
        """All that can be drawn: the steps, and the one that cannot be made."""
        return (*self.steps, *([self.blocked] if self.blocked else []))

    @property
    def names(self) -> tuple[str, ...]:
        """The bends in order; a hem once for each of its strokes."""
        return tuple(name for step in self.steps for name in step.bends)

    def with_remedies(self, found: list[Remedy]) -> "Plan":
        """The same with what would free the part."""
        return replace(self, remedies=tuple(found))

    def written(self, units: str) -> dict:
        """The order as data, lengths in ``units``."""
        per = MM_PER[units]
        return {
            "format": "dorvan-order", "version": 1, "units": str(units), "feasible": self.feasible,
            "optimal": self.feasible, "cost_seconds": self.cost, "brake": self.brake,
            "steps": [_placed(s, per) | {
                "bend_to": s.bend_to, "face_up": s.face_up, "clearance": _over(s.clearance, per),
                "notes": [in_units(note, units) for note in s.notes], "cost_seconds": s.cost} for s in self.steps],
            "hits": [vars(hit) | {"depth": hit.depth / per} for hit in self.hits],
            "reasons": [vars(why) | {"message": in_units(why.message, units)} for why in self.reasons],
            "remedies": [remedy.written(units) for remedy in self.remedies],
            "blocked": _placed(self.blocked, per) if self.blocked else None}

    @classmethod
    def read(cls, data: dict) -> "Plan":
        """The order that was written so: that of a release, which is always whole."""
        per = MM_PER[data["units"]]
        steps = tuple(Step(
            tuple(row["bends"]), row["angle"], row["held"], _gauge(row["gauge"], per), _tooling(row["tools"], per),
            row["bend_to"], row["face_up"], _times(row.get("clearance"), per), tuple(row.get("notes", ())),
            row.get("cost_seconds", 0.0)) for row in data["steps"])
        return cls(data.get("brake", ""), data["feasible"], data["cost_seconds"], steps)


def _placed(step: Placed, per: float) -> dict:
    tools = step.tools
    row: dict = {}
    for key in ("punch", "die"):
        if getattr(tools, key):
            row[key] = getattr(tools, key)
            row[f"{key}_lengths"] = [mm / per for mm in getattr(tools, f"{key}_lengths")]
    return {"bends": list(step.bends), "angle": step.angle, "held": step.held, "tools": row,
            "gauge": {"from": step.gauge.kind, "of": step.gauge.of, "stop": _over(step.gauge.stop, per)}}


def _gauge(row: dict, per: float) -> Gauge:
    return Gauge(row["from"], row["of"], _times(row["stop"], per))


def _tooling(row: dict, per: float) -> Tooling:
    lengths = (tuple(v * per for v in row.get(f"{key}_lengths", ())) for key in ("punch", "die"))
    return Tooling(row.get("punch"), row["die"], *lengths)


def _over(mm: float | None, per: float) -> float | None:
    return None if mm is None else mm / per


def _times(length: float | None, per: float) -> float | None:
    return None if length is None else length * per

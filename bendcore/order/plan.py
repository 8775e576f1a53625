"""A bend order as it leaves the engine: its steps, or what is in the way, and what would free it.

Lengths are in mm. :meth:`Plan.written` is the one place where it becomes the data of a file (``dorvan-order``,
described in ``docs/order-result.md``), :meth:`Plan.read` where such data becomes an order again.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from ..brakes.brake import Brake
from ..brakes.pieces import Stands
from ..brakes.press import TURNED
from ..said import in_units
from ..sheet.section import END, START, Strip
from ..units import MM_PER
from .proof.gauge import Gauge

PIECE_KEYS = {"punch": "punch_pieces", "die": "die_pieces", "finger": "fingers"}
"""Groups of pieces, and what their places are called in a file."""


@dataclass(frozen=True)
class Tooling:
    """What is mounted, by name: a punch and a die, or only a die for flattening; on hand brakes neither. ``pieces`` by
    group: ``punch``, ``die`` or ``finger``."""

    punch: str | None = None
    die: str | None = None
    pieces: tuple[tuple[str, tuple[Stands, ...]], ...] = ()

    @property
    def key(self) -> tuple[str | None, str | None]:
        """The pair by name."""
        return self.punch, self.die

    @property
    def pair(self) -> tuple[str | None, str | None]:
        """The same however they are turned: turning a tool leaves its height as it is."""
        return tuple(name and name.removesuffix(TURNED) for name in self.key)

    def of(self, group: str) -> tuple[Stands, ...]:
        """The pieces of a group, in order along the bend."""
        return dict(self.pieces).get(group, ())

    @property
    def fingers(self) -> tuple[Stands, ...]:
        """Where the fingers stand."""
        return self.of("finger")

    @property
    def punch_lengths(self) -> tuple[float, ...]:
        """The pieces of the punch."""
        return tuple(piece.length for piece in self.of("punch"))

    @property
    def die_lengths(self) -> tuple[float, ...]:
        """The pieces of the die."""
        return tuple(piece.length for piece in self.of("die"))


@dataclass(frozen=True)
class Placed:
    """Bends in a brake: ``angle`` bent from flat, the face ``held`` towards the stop or under the clamp, what it is
    located by, what is mounted."""

    bends: tuple[str, ...]
    angle: float
    held: str
    gauge: Gauge
    tools: Tooling
    brake: str = ""


class Spent(NamedTuple):
    """Seconds that go ``on`` something, named as :class:`~bendcore.brakes.costs.Costs` names it."""

    on: str
    seconds: float


TURNS = {(True, ""): "Turn the sheet over.",
         (True, "end for end"): "Turn the sheet over and end for end.",
         (True, "round"): "Turn the sheet over and round to its next side.",
         (False, "end for end"): "Turn the sheet end for end.",
         (False, "round"): "Turn the sheet round to its next side."}
"""How the sheet is turned before a step: over, and end for end or round to its next side."""


@dataclass(frozen=True)
class Step(Placed):
    """One stroke. ``bend_to`` is the angle with the springback; ``clearance`` what tools and faces not being bent keep
    of each other, mm, None where nothing swings; ``sight`` how far the line to see lies from the clamped side's tangent
    line; ``cost`` in seconds, and what it is ``spent`` on; ``change`` what is done before: other tools, other fingers,
    another brake."""

    bend_to: float = 0.0
    face_up: str = "top"
    clearance: float | None = None
    notes: tuple[str, ...] = ()
    cost: float = 0.0
    sight: float | None = None
    change: str = ""
    spent: tuple[Spent, ...] = ()

    @property
    def is_turned(self) -> bool:
        """Whether the sheet is turned before it."""
        return any(note in TURNS.values() for note in self.notes)

    def on(self, brakes: Sequence[Brake]) -> Brake:
        """The one of ``brakes`` it is made on: the first, where it names none of them."""
        return next((brake for brake in brakes if brake.name == self.brake), brakes[0])


@dataclass(frozen=True)
class Met:
    """A face that meets a tool at a step that cannot be made: in which phase, how deep (mm), at which angle deepest and
    from which on, under which tools and with which face held."""

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
    die: str | None
    brake: str = ""


@dataclass(frozen=True)
class Cause:
    """Why a step cannot be made, where it is no collision."""

    step: int
    bend: str
    code: str
    message: str


STILL, ONE_SETTING = WISHES = ("larger still", "one setting")
"""What a setter would rather have: the larger side still at every stroke; one setting of tools or fingers for all."""


@dataclass(frozen=True)
class Important:
    """What was asked of an order at any price, a leg gauged ``direct``ly or one of the :data:`WISHES`: whether the
    order keeps to it, and what that costs more than the cheapest, seconds; ``why`` it does not."""

    name: str
    direct: bool
    price: float = 0.0
    why: str = ""

    @property
    def is_wish(self) -> bool:
        """Whether it is a wish, not a leg."""
        return self.name in WISHES


@dataclass(frozen=True)
class Remedy:
    """What would free a part, as simulated: another ``order`` of bends, other ``tools``, another ``brake``, or sizes of
    the part (field below ``shape`` → mm, ``legs`` the same by leg); ``cost`` of the order it gives, in seconds."""

    kind: str
    message: str
    order: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    legs: tuple[tuple[str, float], ...] = ()
    cost: float | None = None
    brake: str = ""
    sizes: tuple[tuple[str, float], ...] = ()
    fields: tuple[tuple[str, object], ...] = ()
    """Fields of the part below ``shape`` with the words, counts or mm they are set to; None for what is left off."""
    radius: float | None = None
    """The part's inside radius, mm."""

    def written(self, units: str) -> dict:
        """The remedy as data."""
        row = {"kind": self.kind, "message": in_units(self.message, units)}
        if self.order:
            row |= {"order": list(self.order), "tools": list(self.tools)}
        if self.cost is not None:
            row["cost_seconds"] = self.cost
        if self.brake:
            row["brake"] = self.brake
        if self.kind == "shorter-leg" and self.legs:
            row |= {"face": self.legs[0][0], "length": self.legs[0][1] / MM_PER[units]}
        elif self.legs:
            row |= {"faces": [name for name, _ in self.legs], "lengths": [mm / MM_PER[units] for _, mm in self.legs]}
        if self.fields:
            row["fields"] = {name: value / MM_PER[units] if isinstance(value, float) else value
                             for name, value in self.fields}
        if self.radius is not None:
            row["inside_radius"] = self.radius / MM_PER[units]
        if self.sizes:
            row["sizes"] = {name: mm / MM_PER[units] for name, mm in self.sizes}
        return row


@dataclass(frozen=True)
class Plan:
    """``steps`` are the cheapest order where it is ``feasible``, else the way to the furthest state; ``blocked`` is
    then the step that fails least from there. ``optimal`` when none is cheaper, else ``bound`` is the least it could
    cost."""

    brake: str
    feasible: bool
    cost: float
    steps: tuple[Step, ...]
    hits: tuple[Met, ...] = ()
    reasons: tuple[Cause, ...] = ()
    blocked: Placed | None = None
    remedies: tuple[Remedy, ...] = ()
    optimal: bool = True
    bound: float = 0.0
    tried: tuple[str, ...] = ()
    unfinished: tuple[str, ...] = ()
    """Kinds of remedies that were not tried to their end."""
    brakes: tuple[str, ...] = field(default=())
    together: tuple[str, ...] = ()
    """The fewest bends that cannot all be made, whatever the order."""
    important: tuple[Important, ...] = ()
    """What the order was to keep to."""

    @classmethod
    def nothing(cls) -> "Plan":
        """Of a part without bends."""
        return cls("", True, 0.0, ())

    @property
    def shown(self) -> tuple[Placed, ...]:
        """All that can be drawn: the steps, and the one that cannot be made."""
        return (*self.steps, *([self.blocked] if self.blocked else []))

    @property
    def names(self) -> tuple[str, ...]:
        """The bends in order; a hem once for each of its strokes."""
        return tuple(name for step in self.steps for name in step.bends)

    @property
    def spent(self) -> list[tuple[str, int, float]]:
        """(what the seconds go on, how often, seconds in all), the dearest first."""
        rows: dict[str, list[float]] = {}
        for one in (one for step in self.steps for one in step.spent):
            rows.setdefault(one.on, []).append(one.seconds)
        return sorted(((on, len(some), sum(some)) for on, some in rows.items()), key=lambda row: -row[2])

    @property
    def set_ups(self) -> int:
        """How often tools or fingers are mounted, brakes gone to."""
        return sum(bool(step.change) for step in self.steps) + bool(self.steps)

    def written(self, units: str) -> dict:
        """The order as data, lengths in ``units``."""
        per = MM_PER[units]
        return {
            "format": "dorvan-order", "version": 1, "units": str(units), "feasible": self.feasible,
            "optimal": self.feasible and self.optimal, "cost_seconds": self.cost, "brake": self.brake,
            "steps": [_placed(s, per) | {
                "bend_to": s.bend_to, "face_up": s.face_up, "clearance": _over(s.clearance, per),
                "notes": [in_units(note, units) for note in s.notes], "cost_seconds": s.cost}
                | ({"sight": s.sight / per} if s.sight is not None else {})
                | ({"change": s.change} if s.change else {})
                | ({"spent": dict(s.spent)} if s.spent else {}) for s in self.steps],
            "hits": [vars(hit) | {"depth": hit.depth / per} for hit in self.hits],
            "reasons": [vars(why) | {"message": in_units(why.message, units)} for why in self.reasons],
            "remedies": [remedy.written(units) for remedy in self.remedies],
            "tried": list(self.tried), **({"unfinished": list(self.unfinished)} if self.unfinished else {}),
            **({"together": list(self.together)} if self.together else {}),
            **({"important": [{"name": row.name, "direct": row.direct, "price_seconds": row.price, "why": row.why}
                              for row in self.important]} if self.important else {}),
            "blocked": _placed(self.blocked, per) if self.blocked else None}

    @classmethod
    def read(cls, data: dict) -> "Plan":
        """The order that was written so: that of a release, which is always whole."""
        per = MM_PER[data["units"]]
        steps = tuple(Step(
            tuple(row["bends"]), row["angle"], row["held"], _gauge(row["gauge"], per), _tooling(row, per),
            row.get("brake", data.get("brake", "")), row["bend_to"], row["face_up"], _times(row.get("clearance"), per),
            tuple(row.get("notes", ())), row.get("cost_seconds", 0.0), _times(row.get("sight"), per),
            row.get("change", ""), tuple(itertools.starmap(Spent, row.get("spent", {}).items())))
            for row in data["steps"])
        important = tuple(Important(row["name"], row["direct"], row["price_seconds"], row["why"])
                          for row in data.get("important", ()))
        return cls(data.get("brake", ""), data["feasible"], data["cost_seconds"], steps,
                   optimal=data.get("optimal", True), important=important)

    def with_faces(self, strip: Callable[[], Strip]) -> "Plan":
        """An order written when the end of a strip was named that is held, or gauged from, names faces instead, as
        every other does."""
        if not any(step.held in (START, END) for step in self.steps):
            return self
        flats, index = strip().flats, {bend.id: i for i, bend in enumerate(strip().bends)}

        def named(step):
            gauge = step.gauge
            if gauge.of in (START, END):
                gauge = replace(gauge, of=flats[0 if gauge.of == START else -1][0])
            return replace(step, held=flats[index[step.bends[0]] + (step.held == END)][0], gauge=gauge)
        return replace(self, steps=tuple(map(named, self.steps)))


def _placed(step: Placed, per: float) -> dict:
    tools = step.tools
    named: dict = {}
    for key in ("punch", "die"):
        if getattr(tools, key):
            named[key] = getattr(tools, key)
            named[f"{key}_lengths"] = [mm / per for mm in getattr(tools, f"{key}_lengths")]
    row = {"bends": list(step.bends), "angle": step.angle, "brake": step.brake, "held": step.held, "tools": named,
           "gauge": {"from": step.gauge.kind, "of": step.gauge.of, "stop": _over(step.gauge.stop, per)}}
    for group, pieces in tools.pieces:
        size = "width" if group == "finger" else "length"
        row[PIECE_KEYS[group]] = [{size: p.length / per, "from": p.start / per, "to": p.end / per} for p in pieces]
    return row


def _gauge(row: dict, per: float) -> Gauge:
    return Gauge(row["from"], row["of"], _times(row["stop"], per))


def _tooling(row: dict, per: float) -> Tooling:
    named, pieces = row["tools"], []
    for group, key in PIECE_KEYS.items():
        if key in row:
            pieces.append((group, tuple(Stands((p.get("length") or p["width"]) * per, p["from"] * per)
                                        for p in row[key])))
        elif named.get(f"{group}_lengths"):  # as written before pieces had places
            pieces.append((group, tuple(Stands(v * per, 0.0) for v in named[f"{group}_lengths"])))
    return Tooling(named.get("punch"), named.get("die"), tuple(pieces))


def _over(mm: float | None, per: float) -> float | None:
    return None if mm is None else mm / per


def _times(length: float | None, per: float) -> float | None:
    return None if length is None else length * per

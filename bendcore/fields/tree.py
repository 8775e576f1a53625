"""What a declared file is built of: groups and lists of fields."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from ..errors import Refusal
from ..sizes import with_unit
from .kinds import Field, Length, ReadLength, Typing


@dataclass(frozen=True)
class Group(Field):
    """An object. ``thing`` is what it is on the drawing. An ``extra`` one comes and goes as a whole; one that
    ``vanishes`` comes with the first of its lengths that is set and goes when all are nothing."""

    fields: Mapping[str, Field] = field(default_factory=dict)
    thing: str = field(default="", kw_only=True)
    extra: bool = field(default=False, kw_only=True)
    vanishes: bool = field(default=False, kw_only=True)

    def schema(self) -> dict:
        """An object of just these fields."""
        needed = [key for key, one in self.fields.items() if one.needed]
        return {"type": "object",
                "properties": {key: one.schema() for key, one in self.fields.items() if one.stands}
                } | ({"required": needed} if needed else {}) | {"additionalProperties": False}

    def begin(self, own: str) -> dict:
        """What its fields begin with."""
        found = {key: one.begin(own) for key, one in self.fields.items()}
        return {key: value for key, value in found.items() if value is not None and value != {}}

    def mm(self, block: dict, key: str, path: str, length: ReadLength) -> float:
        """The length of ``key`` in its block, mm, or its default; refused where it is not within its limits."""
        one, where = self.fields[key], f"{path}.{key}" if path else key
        if key not in block:
            if one.default is None:
                raise Refusal(where, "is missing")
            return one.default
        return one.held(length(block[key], where), where)


@dataclass(frozen=True)
class Many(Field):
    """A list. ``{n}`` in ``words`` and ``thing`` is the place of one in it, counted from 1. Of an ``extra`` one things
    come and go one by one; ``most`` and ``least`` are how many there may be. ``listed`` says that each stands on the
    bench sheet by itself, the others only once they are picked on the drawing."""

    item: Field = Field()
    least: int | None = field(default=None, kw_only=True)
    most: int | None = field(default=None, kw_only=True)
    thing: str = field(default="", kw_only=True)
    extra: bool = field(default=False, kw_only=True)
    listed: bool = field(default=False, kw_only=True)

    def __post_init__(self) -> None:
        """A list has no gaps: what is typed in one must stand."""
        if not isinstance(self.item, (Group, Many)):
            object.__setattr__(self, "item", replace(self.item, needed=True))

    @property
    def stands(self) -> bool:
        """Whether the things it lists stand in the file."""
        return self.item.stands

    def schema(self) -> dict:
        """A list of so many."""
        limits = {key: value for key, value in (("minItems", self.least), ("maxItems", self.most)) if value is not None}
        return {"type": "array"} | limits | {"items": self.item.schema()}


def ring(words: str, least: int, most: int, **more: Any) -> Many:
    """A list of points, each (across, up)."""
    return Many(words, PAIR, least=least, most=most, **more)


@dataclass(frozen=True)
class Drawn(Field):
    """A length that follows from other fields and sets them: ``put(shape, places, mm, units)`` is the shape with it."""

    put: Callable[[dict, tuple[int, ...], float, str], dict] | None = None

    @property
    def stands(self) -> bool:
        """No: other fields do."""
        return False

    def read(self, text: str, path: str, how: Typing) -> object:
        """The length as typed."""
        return with_unit(text, how.units, how.own, path)


PAIR = Many("", Length(grows=True), least=2, most=2)

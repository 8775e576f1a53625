"""The fields of a file, declared once: what may stand there and be typed, what it is called, what it begins with.

A file is a tree. :class:`Group` is an object with named fields, :class:`Many` a list of one kind of thing, the others
are leaves. From the declaration follow the file's schema (:meth:`Field.schema`), which fields a person may set and how
what is typed is read (:meth:`Field.read`), how a field is called (:attr:`Place.name`), which thing on the drawing it
belongs to (:attr:`Place.thing`), its limits where a file is read (:meth:`Group.mm`), and what it begins with
(:meth:`Field.begin`).

Lengths are read in the file's units or a unit written with them, and are in mm once read. Paths are written as in
refusals: ``shape.legs[2]``, ``shape.walls.left.lip.width``.
"""

import math
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

from .errors import Refusal
from .sizes import begun, typed, with_unit

LENGTH = {"type": ["number", "string"], "maxLength": 60}
_STEP = re.compile(r"([a-z][a-z0-9_]*)|\[(\d{1,4})\]", re.ASCII)
_PATH = re.compile(r"[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*|\[\d{1,4}\])*", re.ASCII)

Steps = tuple[str | int, ...]
ReadLength = Callable[[object, str], float]
"""(value, path) → mm; raises :class:`Refusal` at the path."""


def steps(path: str) -> Steps:
    """A path's steps, keys and places in lists; empty for what is no path.

    >>> steps("shape.holes[2].x"), steps("__class__; x")
    (('shape', 'holes', 2, 'x'), ())
    """
    if not _PATH.fullmatch(path):
        return ()
    return tuple(name or int(number) for name, number in _STEP.findall(path))


@dataclass(frozen=True)
class Typing:
    """What else reading a typed text depends on: the reader's ``units``, the file's ``own``, how its sizes are measured
    unless they say so (``dims``), and what stood there ``before``."""

    units: str
    own: str
    dims: str = "outside"
    before: object = None


@dataclass(frozen=True)
class Field:
    """``words`` name it for people, within what it belongs to; ``label`` stands beside its input, ``help`` beneath.
    ``needed`` fields must stand in their group; ``fixed`` ones are read from files but not typed; what ``grows`` does
    so with the part, when that is made as large as a sample."""

    words: str = ""
    label: str = field(default="", kw_only=True)
    help: str = field(default="", kw_only=True)
    needed: bool = field(default=False, kw_only=True)
    fixed: bool = field(default=False, kw_only=True)
    grows: bool = field(default=False, kw_only=True)

    @property
    def stands(self) -> bool:
        """Whether it stands in the file itself."""
        return True

    @property
    def title(self) -> str:
        """What stands beside its input."""
        return self.label or self.words[:1].upper() + self.words[1:]

    def schema(self) -> dict:
        """Its part of the file's JSON schema."""
        raise NotImplementedError

    def begin(self, own: str) -> object:
        """What it begins with in a file of these units; None where it is left out."""
        return None

    def read(self, text: str, path: str, how: Typing) -> object:
        """What was typed, as the file keeps it; None takes the field out. Raises :class:`Refusal` at the path."""
        raise Refusal(path[:60], "is not a field of a part")


@dataclass(frozen=True)
class Length(Field):
    """A length in mm. ``start`` is what it begins with, ``default`` what holds where it is left out; it must be more
    than ``over`` and no less than ``least`` where those are given."""

    start: float | None = field(default=None, kw_only=True)
    default: float | None = field(default=None, kw_only=True)
    over: float | None = field(default=None, kw_only=True)
    least: float | None = field(default=None, kw_only=True)

    def schema(self) -> dict:
        return LENGTH

    def begin(self, own: str) -> object:
        return None if self.start is None else begun(self.start, own)

    def read(self, text: str, path: str, how: Typing) -> object:
        return with_unit(text, how.units, how.own, path)

    def held(self, mm: float, path: str) -> float:
        """The length, if it keeps its limits."""
        if self.over is not None and mm <= self.over:
            raise Refusal(path, f"must be greater than {self.over:g}")
        if self.least is not None and mm < self.least:
            raise Refusal(path, "must not be negative" if self.least == 0 else f"must be at least {self.least:g}")
        return mm


@dataclass(frozen=True)
class Size(Length):
    """A length that may say how it is measured, or what it is made to fit
    (:func:`bendcore.families.common.read_size`)."""

    grows: bool = field(default=True, kw_only=True)

    def schema(self) -> dict:
        return {"$ref": "#/$defs/size"}

    def read(self, text: str, path: str, how: Typing) -> object:
        return typed(text, how.before, how.dims, lambda size: with_unit(size, how.units, how.own, path))


@dataclass(frozen=True)
class Angle(Field):
    """An angle bent from flat, in degrees: ``90``, ``105 included``."""

    start: float | None = field(default=None, kw_only=True)

    def schema(self) -> dict:
        return {"type": ["number", "string"], "maxLength": 40}

    def begin(self, own: str) -> object:
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        return text


@dataclass(frozen=True)
class Number(Field):
    """A bare number from ``low`` (more than it, where it is ``above``) to ``high``."""

    low: float = field(default=0, kw_only=True)
    high: float = field(default=1, kw_only=True)
    above: bool = field(default=False, kw_only=True)
    start: float | None = field(default=None, kw_only=True)

    def schema(self) -> dict:
        return {"type": "number", "exclusiveMinimum" if self.above else "minimum": self.low, "maximum": self.high}

    def begin(self, own: str) -> object:
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        try:
            value = float(text.replace(",", ".").rstrip("°"))
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise Refusal(path, f"“{text[:24]}” is not a number")
        return value


@dataclass(frozen=True)
class Count(Field):
    """A whole number, counted from ``low``."""

    low: int = field(default=1, kw_only=True)
    high: int | None = field(default=None, kw_only=True)

    def schema(self) -> dict:
        return {"type": "integer", "minimum": self.low} | ({"maximum": self.high} if self.high else {})

    def read(self, text: str, path: str, how: Typing) -> object:
        if not re.fullmatch(r"\s*\d{1,9}\s*", text, re.ASCII):
            raise Refusal(path, f"“{text[:24]}” is not a whole number")
        return int(text)


@dataclass(frozen=True)
class Choice(Field):
    """One of ``options``. ``brings`` are the fields beside it that come with an option, and go with it; ``drops`` go
    with any. One that is not needed is taken out where nothing is chosen."""

    options: tuple[str, ...] = ()
    start: str | None = field(default=None, kw_only=True)
    brings: Mapping[str, tuple[str, ...]] = field(default_factory=dict, kw_only=True)
    drops: tuple[str, ...] = field(default=(), kw_only=True)

    def schema(self) -> dict:
        return {"enum": list(self.options)}

    def begin(self, own: str) -> object:
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        if not text and not self.needed:
            return None
        if text not in self.options:
            raise Refusal(path, "must be one of " + ", ".join(self.options))
        return text

    def beside(self, option: str) -> tuple[set[str], tuple[str, ...]]:
        """(the keys that go, the keys that come) beside it when this is chosen."""
        come = self.brings.get(option, ())
        return {*self.drops, *(key for keys in self.brings.values() for key in keys)} - set(come), come


@dataclass(frozen=True)
class Text(Field):
    """A line of text."""

    most: int = field(default=60, kw_only=True)

    def schema(self) -> dict:
        return {"type": "string", "maxLength": self.most}

    def read(self, text: str, path: str, how: Typing) -> object:
        return text


@dataclass(frozen=True)
class Const(Field):
    """A word that says what the block is."""

    fixed: bool = field(default=True, kw_only=True)
    needed: bool = field(default=True, kw_only=True)

    def schema(self) -> dict:
        return {"const": self.words}


@dataclass(frozen=True)
class Group(Field):
    """An object. ``thing`` is what it is on the drawing. An ``extra`` one comes and goes as a whole; one that
    ``vanishes`` comes with the first of its lengths that is set and goes when all are nothing."""

    fields: Mapping[str, Field] = field(default_factory=dict)
    thing: str = field(default="", kw_only=True)
    extra: bool = field(default=False, kw_only=True)
    vanishes: bool = field(default=False, kw_only=True)

    def schema(self) -> dict:
        needed = [key for key, one in self.fields.items() if one.needed]
        return {"type": "object",
                "properties": {key: one.schema() for key, one in self.fields.items() if one.stands}
                } | ({"required": needed} if needed else {}) | {"additionalProperties": False}

    def begin(self, own: str) -> dict:
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
    come and go one by one; ``most`` and ``least`` are how many there may be."""

    item: Field = Field()
    least: int | None = field(default=None, kw_only=True)
    most: int | None = field(default=None, kw_only=True)
    thing: str = field(default="", kw_only=True)
    extra: bool = field(default=False, kw_only=True)

    @property
    def stands(self) -> bool:
        return self.item.stands

    def schema(self) -> dict:
        limits = {key: value for key, value in (("minItems", self.least), ("maxItems", self.most)) if value is not None}
        return {"type": "array"} | limits | {"items": self.item.schema()}


def ring(words: str, least: int, most: int, **more) -> Many:
    """A list of points, each (across, up)."""
    return Many(words, PAIR, least=least, most=most, **more)


@dataclass(frozen=True)
class Drawn(Field):
    """A length that follows from other fields and sets them: ``put(shape, places, mm, units)`` is the shape with it."""

    put: Callable[[dict, tuple[int, ...], float, str], dict] | None = None

    @property
    def stands(self) -> bool:
        return False

    def read(self, text: str, path: str, how: Typing) -> object:
        return with_unit(text, how.units, how.own, path)


PAIR = Many("", Length(grows=True), least=2, most=2)


@dataclass(frozen=True)
class Place:
    """A field where it stands in a file: its ``path``, its ``name`` for people, the ``thing`` on the drawing that it
    belongs to (empty for the whole), and the fields it stands ``within``, outermost first."""

    field: Field
    path: str
    name: str
    thing: str
    within: tuple[Field, ...]

    @property
    def is_typed(self) -> bool:
        """Whether a person may set it."""
        return not any(one.fixed for one in (*self.within, self.field)) and not isinstance(self.field, (Group, Many))


def find(root: Group, path: str) -> Place | None:
    """The field at a path of a file declared so; None where none is declared.

    >>> shape = Group(fields={"holes": Many("Hole {n}", Group(fields={"x": Length("from the left")}))})
    >>> found = find(shape, "holes[2].x")
    >>> found.name, found.is_typed, find(shape, "holes[2].y")
    ('Hole 3, from the left', True, None)
    """
    one, within, words, thing = root, [], [], ""
    walked = steps(path)
    for step in walked:
        within.append(one)
        if isinstance(one, Group) and isinstance(step, str) and step in one.fields:
            one = one.fields[step]
            words.append("" if isinstance(one, Const) or "{n}" in one.words else one.words)
            thing = getattr(one, "thing", "") if isinstance(one, Group) and one.thing else thing
        elif isinstance(one, Many) and isinstance(step, int):
            if "{n}" in one.words:
                words.append(one.words.format(n=step + 1))
            thing = one.thing.format(n=step + 1) or thing
            one = one.item
        else:
            return None
    return Place(one, path, called([w for w in words if w]), thing, tuple(within)) if walked else None


def called(words: list[str]) -> str:
    """The name of a field from those of what it stands in, outermost first.

    >>> called(["Flange F1", "return", "length"]), called(["width"])
    ('Flange F1, return length', 'Width')
    """
    if not words:
        return ""
    first, *rest = words
    return ", ".join(filter(None, [first[:1].upper() + first[1:], " ".join(w[:1].lower() + w[1:] for w in rest)]))


def walk(one: Field, path: str = "") -> Iterator[tuple[str, Field]]:
    """(path, field) of all that is declared, ``[]`` standing for a place in a list.

    >>> [path for path, _ in walk(Group(fields={"legs": Many("", Size())}))]
    ['', 'legs', 'legs[]']
    """
    yield path, one
    if isinstance(one, Group):
        for key, inner in one.fields.items():
            yield from walk(inner, f"{path}.{key}" if path else key)
    elif isinstance(one, Many):
        yield from walk(one.item, f"{path}[]")


def leaves(one: Field, value: object, path: str = "") -> Iterator[tuple[Field, str, object]]:
    """(field, path, value) of all that stands in a block declared so."""
    if isinstance(one, Group) and isinstance(value, dict):
        for key, inner in value.items():
            if key in one.fields:
                yield from leaves(one.fields[key], inner, f"{path}.{key}" if path else key)
    elif isinstance(one, Many) and isinstance(value, list):
        for i, inner in enumerate(value):
            yield from leaves(one.item, inner, f"{path}[{i}]")
    else:
        yield one, path, value

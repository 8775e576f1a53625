"""The leaves of a declared file: what may stand there and be typed, and how it is read."""

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from ..errors import Refusal
from ..measured import is_measured, named, radius_of
from ..sizes import begun, typed, with_unit
from ..units import kept_angle, read_length

LENGTH = {"type": ["number", "string"], "maxLength": 60}

ReadLength = Callable[[object, str], float]
"""(value, path) → mm; raises :class:`Refusal` at the path."""


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
    """``words`` name it for people, within what it belongs to; ``label`` stands beside its input.
    ``needed`` fields must stand in their group; ``fixed`` ones are read from files but not typed; what ``grows`` does
    so with the part, when that is made as large as a sample; ``rare`` ones stand back on the bench. What may be
    ``tried`` otherwise, where the part cannot be bent as it is, says so."""

    words: str = ""
    label: str = field(default="", kw_only=True)
    needed: bool = field(default=False, kw_only=True)
    fixed: bool = field(default=False, kw_only=True)
    grows: bool = field(default=False, kw_only=True)
    rare: bool = field(default=False, kw_only=True)
    tried: bool = field(default=False, kw_only=True)

    @property
    def stands(self) -> bool:
        """Whether it stands in the file itself."""
        return True

    @property
    def title(self) -> str:
        """What stands beside its input."""
        return self.label or self.words[:1].upper() + self.words[1:]

    def schema(self) -> dict:
        """Its part of the file's JSON schema: anything, where a kind does not say."""
        return {}

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
        """A number in the file's units, or a text with its unit."""
        return LENGTH

    def begin(self, own: str) -> object:
        """Its start, round in the file's units."""
        return None if self.start is None else begun(self.start, own)

    def read(self, text: str, path: str, how: Typing) -> object:
        """The length as typed, its unit named where it is not the file's; None for nothing where that may be."""
        if not text.strip() and not self.needed and self.default is None:
            return None
        return with_unit(text, how.units, how.own, path)

    def held(self, mm: float, path: str) -> float:
        """The length, if it keeps its limits."""
        if self.over is not None and mm <= self.over:
            raise Refusal(path, f"must be greater than {self.over:g}")
        if self.least is not None and mm < self.least:
            raise Refusal(path, "must not be negative" if self.least == 0 else f"must be at least {self.least:g}")
        return mm


@dataclass(frozen=True)
class Radius(Length):
    """A length, or what was measured of a curve that it is to follow (:mod:`bendcore.measured`)."""

    def schema(self) -> dict:
        """A length, or a longer text."""
        return LENGTH | {"maxLength": 400}

    def read(self, text: str, path: str, how: Typing) -> object:
        """The length as typed, or the measurements with their units named."""
        if not is_measured(text):
            return super().read(text, path, how)
        radius_of(text, lambda part: read_length(part, how.units, path), path)
        return named(text.strip(), lambda part: with_unit(part.strip(), how.units, how.own, path))


@dataclass(frozen=True)
class Size(Length):
    """A length that may say how it is measured, or what it is made to fit
    (:func:`bendcore.families.common.read_size`)."""

    grows: bool = field(default=True, kw_only=True)

    def schema(self) -> dict:
        """A length, or an object that says how it is measured."""
        return {"$ref": "#/$defs/size"}

    def read(self, text: str, path: str, how: Typing) -> object:
        """The size as typed, keeping the way it was measured."""
        return typed(text, how.before, how.dims, lambda size: with_unit(size, how.units, how.own, path))


@dataclass(frozen=True)
class Angle(Field):
    """An angle bent from flat, in degrees: ``90``, ``105 included``."""

    start: float | None = field(default=None, kw_only=True)
    default: float | None = field(default=None, kw_only=True)

    def schema(self) -> dict:
        """A number, or a text such as ``105 included``."""
        return {"type": ["number", "string"], "maxLength": 40}

    def begin(self, own: str) -> object:
        """Its start, degrees."""
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        """As typed, ``included`` named where the reader measures so; :func:`bendcore.units.read_angle` says what is
        one."""
        return kept_angle(text, how.units)


@dataclass(frozen=True)
class Number(Field):
    """A bare number from ``low`` (more than it, where it is ``above``) to ``high``; or a ``word`` that stands for one
    that is worked out, which is meant where nothing is typed."""

    low: float = field(default=0, kw_only=True)
    high: float = field(default=1, kw_only=True)
    above: bool = field(default=False, kw_only=True)
    start: float | None = field(default=None, kw_only=True)
    word: str = field(default="", kw_only=True)

    def schema(self) -> dict:
        """A number within its limits."""
        number = {"type": "number", "exclusiveMinimum" if self.above else "minimum": self.low, "maximum": self.high}
        return {"anyOf": [number, {"const": self.word}]} if self.word else number

    def begin(self, own: str) -> object:
        """Its start."""
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        """The number, with a comma or a point."""
        if self.word and not text.strip():
            return None
        try:
            value = float(text.replace(",", ".").rstrip("°"))
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise Refusal(path, f"“{text[:24]}” is not a number")
        return value


@dataclass(frozen=True)
class Count(Field):
    """A whole number, counted from ``low``. One that counts places is ``picked`` on the drawing."""

    low: int = field(default=1, kw_only=True)
    high: int | None = field(default=None, kw_only=True)
    default: int | None = field(default=None, kw_only=True)
    picked: bool = field(default=False, kw_only=True)

    def schema(self) -> dict:
        """A whole number within its limits."""
        return {"type": "integer", "minimum": self.low} | ({"maximum": self.high} if self.high else {})

    def read(self, text: str, path: str, how: Typing) -> object:
        """The whole number; None where nothing is typed and nothing needed."""
        if not text.strip() and not self.needed:
            return None
        if not re.fullmatch(r"\s*\d{1,9}\s*", text, re.ASCII):
            raise Refusal(path, f"“{text[:24]}” is not a whole number")
        return int(text)


@dataclass(frozen=True)
class Choice(Field):
    """One of ``options``, the ``default`` where none is said. ``brings`` are the fields beside it that come with an
    option, and go with it; ``drops`` go with any. One that is not needed is taken out where nothing is chosen."""

    options: tuple[str, ...] = ()
    default: str | None = field(default=None, kw_only=True)
    start: str | None = field(default=None, kw_only=True)
    brings: Mapping[str, tuple[str, ...]] = field(default_factory=dict, kw_only=True)
    drops: tuple[str, ...] = field(default=(), kw_only=True)

    def schema(self) -> dict:
        """One of its options."""
        return {"enum": list(self.options)}

    def begin(self, own: str) -> object:
        """Its start."""
        return self.start

    def read(self, text: str, path: str, how: Typing) -> object:
        """The option; None where nothing is chosen and nothing needed."""
        if not text and not self.needed:
            return None
        if text not in self.options:
            raise Refusal(path, "must be one of " + ", ".join(self.options))
        return text

    def beside(self, option: str) -> tuple[set[str], tuple[str, ...]]:
        """(the keys that go, the keys that come) beside it when this is chosen."""
        come = self.brings.get(option, ())
        return {*self.drops, *(key for keys in self.brings.values() for key in keys)} - set(come), come

    def bears(self, key: str, option: str) -> bool:
        """Whether a field beside it may stand with this option."""
        if key in self.drops:
            return bool(self.brings.get(option))
        return key in self.brings.get(option, ()) or not any(key in keys for keys in self.brings.values())


@dataclass(frozen=True)
class Text(Field):
    """A line of text."""

    most: int = field(default=60, kw_only=True)

    def schema(self) -> dict:
        """A text of so many characters."""
        return {"type": "string", "maxLength": self.most}

    def read(self, text: str, path: str, how: Typing) -> object:
        """As typed."""
        return text


@dataclass(frozen=True)
class Const(Field):
    """A word that says what the block is."""

    fixed: bool = field(default=True, kw_only=True)
    needed: bool = field(default=True, kw_only=True)

    def schema(self) -> dict:
        """Just this word."""
        return {"const": self.words}

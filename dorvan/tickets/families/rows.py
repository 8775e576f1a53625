"""A block of a part file as rows of the bench sheet, as its fields are declared: what is set, added, taken off."""

import json
from collections.abc import Collection, Iterator
from functools import lru_cache
from typing import NamedTuple

from bendcore.fields import Angle, Choice, Count, Field, Group, Length, Many, Number
from bendcore.measured import is_measured
from bendcore.part_file import field_at, in_words
from bendcore.sizes import shown
from bendcore.units import Reading, as_typed, read_angle, read_length, show_angle

ENTRY, PICK, TURN, TOGGLE, ADD, TAKE, COPY = "entry", "pick", "turn", "toggle", "add", "take", "copy"
ARROWS = {"up": "▲ up", "down": "▼ down"}


class Row(NamedTuple):
    """One row: of which ``kind``, about which field, its label, its full ``name``, what stands in it and its ``unit``;
    for a choice its ``options``, the other of two for a turn; for what can be added the place ``index`` in its list.
    One that is ``drawn`` has its input on the drawing, and shows here where the drawing is too small for it."""

    kind: str
    field: str
    label: str
    name: str = ""
    value: str = ""
    unit: str = ""
    options: tuple[str, ...] = ()
    index: str = ""
    rare: bool = False
    drawn: bool = False


class Rows:
    """Rows of a ticket's part, in its reader's ``units``; ``drawn`` are fields whose input stands on the drawing."""

    def __init__(self, kind: str, own: str, units: str, drawn: Collection[str] = ()):
        self.kind, self.own, self.units, self.drawn = kind, own, units, frozenset(drawn)

    def of(self, one: Field, path: str, raw: object) -> Iterator[Row]:
        """The rows of what stands at a path; of a group those of its fields, in their order."""
        if one.fixed or (isinstance(one, Count) and one.picked):
            return
        if isinstance(one, Group):
            yield from self._group(one, path, raw)
        elif isinstance(one, Many):
            yield from self._many(one, path, raw or [])
        elif isinstance(one, Choice):
            yield self._choice(one, path, raw)
        elif isinstance(one, Length | Angle | Number | Count):
            yield self._entry(one, path, raw)

    def _group(self, one, path, raw):
        block = raw or {}
        for key, inner in one.fields.items():
            where, value = f"{path}.{key}", block.get(key)
            if isinstance(inner, Group) and inner.extra:
                yield self.toggle(inner, where, value is not None)
            if isinstance(inner, Group) and value is None and not _stands_empty(inner):
                continue
            if not _brought(one, key, block):
                continue
            yield from self.of(inner, where, value)

    def _many(self, one, path, raw):
        if not isinstance(one.item, Group):
            return
        for i, block in enumerate(raw):
            yield self.take(f"{path}[{i}]", label=one.words.format(n=i + 1))
            yield from self.of(one.item, f"{path}[{i}]", block)
        if one.extra:
            yield self.add(one, path)

    def toggle(self, one: Group, path: str, on: bool) -> Row:
        """What comes and goes as a whole."""
        return Row(TOGGLE, path, _capital(one.words), self.name(path), "on" if on else "")

    def add(self, one: Many, path: str, index: int | None = None, label: str = "", place: str = "") -> Row:
        """One more of a list; on the edge ``index``, called ``place``, where it stands on one."""
        what = one.words.partition(" ")[0].lower()
        place = place or self.name(path.rpartition(".")[0]) if "[" in path or place else "the part"
        an = "an" if what[:1] in "aeiou" else "a"
        return Row(ADD, path, label or f"Add {an} {what}", f"Add {an} {what}: {place}",
                   index="" if index is None else str(index))

    def take(self, path: str, label: str = "") -> Row:
        """One of a list goes."""
        return Row(TAKE, path, label or self.name(path), self.name(path))

    def copy(self, path: str) -> Row:
        """One of a list twice."""
        return Row(COPY, path, "One more like it", self.name(path))

    def name(self, path: str) -> str:
        """The field as people call it."""
        return in_words(path, self.kind)

    def _choice(self, one, path, raw):
        value = raw if isinstance(raw, str) else one.default or ""
        options = one.options if one.needed or one.default else ("", *one.options)
        kind = TURN if len(options) == 2 and path.endswith(".direction") else PICK
        return Row(kind, path, one.title, self.name(path), value, options=options, rare=one.rare)

    def _entry(self, one, path, raw):
        text, unit = "", self.units if isinstance(one, Length) else ""
        if isinstance(one, Length):
            text = self.length(one, raw)
        elif isinstance(one, Angle):
            text = show_angle(read_angle(one.default if raw is None else raw), self.units)
        elif raw is not None or getattr(one, "default", None) is not None:
            text = f"{one.default if raw is None else raw:g}"
        return Row(ENTRY, path, one.title, self.name(path), text, str(unit), rare=one.rare,
                   drawn=path in self.drawn)

    def length(self, one: Length, raw: object) -> str:
        """A length for its input: as typed, its default, or nothing."""
        if raw is None:
            return "" if one.default is None else as_typed(one.default, self.units)
        if is_measured(raw):
            return str(raw)
        size = raw.get("length", 0) if isinstance(raw, dict) else raw
        return shown(raw, read_length(size, self.own), self.units, self.own)


@lru_cache(maxsize=8192)
def rows_at(kind: str, own: str, reading: tuple[str, int, bool], path: str, text: str,
            drawn: frozenset[str]) -> tuple[Row, ...]:
    """The rows of one block, ``text`` as JSON: an edit changes one of a hundred, and the others are as they were."""
    rows = Rows(kind, own, Reading(*reading), drawn)
    return tuple(rows.of(field_at(path, kind).field, path, json.loads(text)))


def _stands_empty(one: Group) -> bool:
    """Whether a group that is not in the file can be filled in all the same."""
    return one.vanishes or not (one.extra or any(inner.needed for inner in one.fields.values()))


def _brought(one: Group, key: str, block: dict) -> bool:
    """Whether a field may stand with what is chosen beside it."""
    return all(choice.bears(key, block.get(name, choice.default)) for name, choice in one.fields.items()
               if isinstance(choice, Choice))


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]

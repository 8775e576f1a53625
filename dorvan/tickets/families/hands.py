"""What can be taken in hand: the whole part and its things, each with its rows of the bench sheet."""

import json
from collections.abc import Collection, Iterable
from typing import NamedTuple

from bendcore.families import FAMILIES
from bendcore.fields import Angle, Choice, Drawn, Field, Group, Many
from bendcore.part_file import field_at
from bendcore.units import read_angle, show_angle

from .rows import Row, Rows, rows_at

WHOLE = "whole"


class Thing(NamedTuple):
    """A thing of the part: its name as fields and picks know it, its title, what is said of it while it is not in hand.
    One that is not ``listed`` shows only once it is picked."""

    name: str
    title: str
    said: str
    rows: tuple[Row, ...]
    listed: bool = True

    @property
    def common(self) -> tuple[Row, ...]:
        """Rows at hand."""
        return tuple(row for row in self.rows if not row.rare)

    @property
    def rare(self) -> tuple[Row, ...]:
        """Rows that stand back."""
        return tuple(row for row in self.rows if row.rare)


class Hands:
    """The things of a ticket's part, as its family declares them, the whole first; ``drawn`` are fields whose inputs
    stand on the drawing."""

    def __init__(self, ticket, units: str, drawn: Collection[str] = ()):
        family, self.part, self.found = FAMILIES[ticket.kind], ticket.part, {}
        self.fields, self.rows = family.fields.fields, Rows(ticket.kind, ticket.part["units"], units, drawn)
        self.reading = (str(units), getattr(units, "tape", 0), getattr(units, "included", False))
        self.drawn: dict[str, set[str]] = {}
        for path in drawn:
            self.drawn.setdefault(path[:path.find("]") + 1] or path, set()).add(path)
        self._put(WHOLE, f"The {family.title.lower()}", "", [])
        self._group(family.fields, "shape", ticket.part["shape"])

    def all(self) -> list[Thing]:
        """Every thing, the whole first."""
        return list(self.found.values())

    def add(self, name: str, rows: Iterable[Row]) -> None:
        """More rows for a thing that is there."""
        if name in self.found:
            thing = self.found[name]
            self.found[name] = thing._replace(rows=(*thing.rows, *rows))

    def put(self, name: str, title: str, rows: Iterable[Row], listed: bool = False) -> None:
        """A thing that no field declares, such as an edge."""
        self._put(name, title, "", rows, listed)

    def _put(self, name, title, said, rows, listed=True):
        before = self.found.get(name)
        self.found[name] = Thing(name, before.title if before else title, before.said if before else said,
                                 (*(before.rows if before else ()), *rows), listed)

    def _group(self, one, path, raw):
        for key, inner in one.fields.items():
            self._field(inner, f"{path}.{key}", raw.get(key))

    def _field(self, one, path, raw):
        if isinstance(one, Group):
            self._of_group(one, path, raw)
        elif isinstance(one, Many):
            self._of_many(one, path, raw)
        else:
            self.add(WHOLE, self.rows.of(one, path, raw))

    def _of_group(self, one, path, raw):
        if one.extra and raw is None:
            self.add(WHOLE, [self.rows.toggle(one, path, False)])
        elif one.thing:
            own = [self.rows.toggle(one, path, True)] if one.extra else []
            self._put(one.thing, TITLES.get(one.thing) or self.rows.name(path), said(one, raw or {}, self.rows.units),
                      [*self.rows.of(one, path, raw), *own])
        elif one.extra:
            self.add(WHOLE, [self.rows.toggle(one, path, True), *self.rows.of(one, path, raw)])
        else:
            self._group(one, path, raw or {})

    def _of_many(self, one, path, raw):
        count = len(self.part["shape"]["outline"]) if isinstance(one.item, Drawn) else len(raw or ())
        for i in range(count) if one.thing else ():
            where = f"{path}[{i}]"
            rows = self._item(one, where, raw[i] if raw else None)
            own = [self.rows.take(where)] if one.extra else []
            if own and isinstance(one.item, Group) and {"x", "y"} <= set(one.item.fields):
                own.insert(0, self.rows.copy(where))
            told = said(one.item, raw[i] if raw else None, self.rows.units)
            self._put(one.thing.format(n=i + 1), self.rows.name(where), told, [*rows, *own], one.listed)
        if one.extra and isinstance(one.item, Group):
            self.add(WHOLE, [self.rows.add(one, path)])

    def _item(self, one, where, raw):
        if isinstance(one.item, Many):  # a point
            return [row._replace(label=axis) for axis, i in (("Across", 0), ("Up", 1))
                    for row in self.rows.of(one.item.item, f"{where}[{i}]", raw[i])]
        return [] if isinstance(one.item, Drawn) else self._kept(where, raw)

    def _kept(self, path, raw) -> tuple[Row, ...]:
        """The rows of one item of a list."""
        return rows_at(self.rows.kind, self.rows.own, self.reading, path, json.dumps(raw),
                       frozenset(self.drawn.get(path, ())))


TITLES = {"ends": "Tapered and snipped ends"}
"""Things that more than one field belongs to."""


def said(one: Field, block: object, units: str) -> str:
    """What a thing is like, in a few words: its angle, what is chosen, what stands on it."""
    if not isinstance(one, Group) or not isinstance(block, dict):
        return ""
    found = []
    for key, inner in one.fields.items():
        value = block.get(key)
        if isinstance(inner, Angle) and not inner.rare:
            found.append(show_angle(read_angle(inner.default if value is None else value), units))
        elif isinstance(inner, Choice) and (value or inner.default) and key != "pair":
            found.append(str(value or inner.default))
        elif isinstance(inner, Group) and inner.extra and value is not None:
            found.append(inner.words)
    return ", ".join(found)


def thing_at(field: str, kind: str) -> str:
    """The thing that a field belongs to; the whole for one that belongs to none."""
    place = field_at(field, kind)
    return place.thing or WHOLE if place else WHOLE

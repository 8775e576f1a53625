"""Fields by their path: what stands there, what it is called, which thing on the drawing it belongs to."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from .kinds import Const, Field
from .tree import Group, Many

_STEP = re.compile(r"([a-z][a-z0-9_]*)|\[(\d{1,4})\]", re.ASCII)
_PATH = re.compile(r"[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*|\[\d{1,4}\])*", re.ASCII)

Steps = tuple[str | int, ...]


def steps(path: str) -> Steps:
    """A path's steps, keys and places in lists; empty for what is no path.

    >>> steps("shape.holes[2].x"), steps("__class__; x")
    (('shape', 'holes', 2, 'x'), ())
    """
    if not _PATH.fullmatch(path):
        return ()
    return tuple(name or int(number) for name, number in _STEP.findall(path))


def path_of(way: Steps) -> str:
    """A way to a field as it is written.

    >>> path_of(("legs", 1, "length"))
    'legs[1].length'
    """
    return "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in way).lstrip(".")


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

    >>> from bendcore.fields import Length
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
            thing = one.thing or thing if isinstance(one, Group) else thing
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

    >>> from bendcore.fields import Size
    >>> [path for path, _ in walk(Group(fields={"legs": Many("", Size())}))]
    ['', 'legs', 'legs[]']
    """
    yield path, one
    if isinstance(one, Group):
        for key, inner in one.fields.items():
            yield from walk(inner, f"{path}.{key}" if path else key)
    elif isinstance(one, Many):
        yield from walk(one.item, f"{path}[]")


def standing(one: Field, value: object, path: str = "") -> Iterator[tuple[Field, str, object]]:
    """(field, path, value) of a block declared so and of all that stands in it, what holds others before these."""
    yield one, path, value
    if isinstance(one, Group) and isinstance(value, dict):
        for key, inner in value.items():
            if key in one.fields:
                yield from standing(one.fields[key], inner, f"{path}.{key}" if path else key)
    elif isinstance(one, Many) and isinstance(value, list):
        for i, inner in enumerate(value):
            yield from standing(one.item, inner, f"{path}[{i}]")


def leaves(one: Field, value: object, path: str = "") -> Iterator[tuple[Field, str, object]]:
    """(field, path, value) of all that stands in a block declared so and holds no others."""
    for field, where, inner in standing(one, value, path):
        if not (isinstance(field, Group) and isinstance(inner, dict) or isinstance(field, Many) and isinstance(
                inner, list)):
            yield field, where, inner

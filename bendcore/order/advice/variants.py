"""A part otherwise in one field, or two, that its family says may be tried: another pair that covers, tabs on the other
side, eased more, a lip turned the other way, another seam, two pieces instead of one; sizes both ways.

Which fields those are is declared with them (``tried``); nothing here knows a family.
"""

import copy
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, product
from typing import Any

from ...errors import Refusal
from ...families import FAMILIES
from ...families.shape import Shape
from ...fields import Choice, Count, Field, Group, Length, leaves, path_of, standing, steps
from ...part_file import in_words
from ...said import Mm, Said
from ...units import read_length

OTHERWISE = (0.75, 0.5, 1.5)
"""A size is tried so many times as large together with another change."""
SHARES = (1.5, 2.0, 3.0, 0.5)
"""Sizes are tried so many times as large."""
JOINED = {False: "rivet, weld or slide", True: "rivet or slide"}
"""How a strip is joined on to metal that is bare, and that is coated."""
LEAST = 0.5
"""A size that is nothing begins with so much, mm."""


@dataclass(frozen=True)
class Variant:
    """``changes`` are (path below ``shape``, value as typed, in mm or a word, None for what is left off), ``radius``
    another inside radius of the part, mm; ``said`` tells them."""

    changes: tuple[tuple[str, object], ...]
    said: Said
    radius: float | None = None

    @property
    def is_single(self) -> bool:
        """Whether it changes one thing."""
        return len(self.changes) + (self.radius is not None) == 1

    def of(self, data: dict) -> dict:
        """The part file so."""
        trial = copy.deepcopy(data)
        for path, value in self.changes:
            _put(trial["shape"], path, f"{value!r} mm" if isinstance(value, float) else value)
        if self.radius is not None:
            trial["inside_radius"] = f"{self.radius!r} mm"
        return trial

    def with_(self, other: "Variant") -> "Variant":
        """Both together."""
        return Variant(self.changes + other.changes, Said("{one} And {other}", one=self.said, other=other.said),
                       other.radius if self.radius is None else self.radius)


def variants(data: dict) -> list[Variant]:
    """One field otherwise, words before sizes."""
    shape = data["shape"]
    family, units = FAMILIES[shape["kind"]], data["units"]
    found: list[tuple[bool, Variant]] = []
    for one, path, value in leaves(family.fields, _whole(family.fields, shape)):
        if one.tried:
            found += [(isinstance(one, Length), variant) for variant in _of(one, path, value, shape["kind"], units)]
    return [variant for _, variant in sorted(found, key=lambda row: row[0])]


def apart(data: dict, is_coated: bool) -> list[Variant]:
    """What comes and goes as a whole and may be tried, each left off: to be made by itself and joined on; what is
    coated is not welded."""
    kind, how = data["shape"]["kind"], JOINED[is_coated]
    return [Variant(((path, None),), Said("Leave off: {what}. Fold it as a strip of its own, and {how} it on.",
                                          what=in_words(f"shape.{path}", kind).lower(), how=how))
            for one, path, _ in standing(FAMILIES[kind].fields, data["shape"])
            if isinstance(one, Group) and one.extra and one.tried]


def in_twos(single: Sequence[Variant]) -> Iterator[tuple[Variant, Variant]]:
    """Two of them together, of different fields."""
    for one, other in combinations(single, 2):
        if one.changes[0][0] != other.changes[0][0]:
            yield one, other


def across(some: Iterable[Variant], others: Sequence[Variant]) -> Iterator[tuple[Variant, Variant]]:
    """One of each together, where neither changes what the other is part of."""
    for one, other in product(some, others):
        if not any(_within(a, b) or _within(b, a) for a, _ in one.changes for b, _ in other.changes):
            yield one, other


def _within(path: str, whole: str) -> bool:
    """Whether a path is another, or leads into what stands there.

    >>> _within("legs[10]", "legs[1]"), _within("walls.left.lip", "walls.left")
    (False, True)
    """
    return path == whole or path.startswith((f"{whole}.", f"{whole}["))


def sizes_otherwise(shape: Shape) -> Iterator[Variant]:
    """Every leg of which the size stands in the file, in a few other sizes."""
    for leg in shape.legs:
        way = shape.size_path(leg.id)
        if way is None:
            continue
        for share in OTHERWISE:
            size = round(leg.size * share, 1)
            yield Variant(((path_of(way), size),), Said("Make {leg} {size} instead of {now}.", leg=shape.called(leg.id),
                                                size=Mm(size), now=Mm(leg.size)))


def _of(one: Field, path: str, value: object, kind: str, units: str) -> Iterator[Variant]:
    what = in_words(f"shape.{path}", kind)
    if isinstance(one, Choice):
        for option in one.options:
            if option != value and option not in one.brings:
                yield Variant(((path, option),), Said("{what}: {option} instead of {now}.", what=what, option=option,
                                                      now=str(value)))
    elif isinstance(one, Count):
        for count in range(one.low, min(one.high or one.low, one.low + 3) + 1):
            if count != value:
                yield Variant(((path, count),), Said("{what}: {count} instead of {now}.", what=what, count=count,
                                                     now=str(value)))
    elif isinstance(one, Length):
        try:
            now = read_length(value, units, path)
        except Refusal:
            return
        for share in SHARES:
            size = round(max(now, LEAST) * share, 2)
            yield Variant(((path, size),), Said("{what}: {size} instead of {now}.", what=what, size=Mm(size),
                                                now=Mm(now)))


def _whole(group: Group, block: dict) -> dict:
    """A block with the defaults of fields that may be tried and do not stand in it."""
    found = {key: getattr(one, "default", None) for key, one in group.fields.items() if one.tried and key not in block}
    found = {key: value for key, value in found.items() if value is not None}
    for key, value in block.items():
        inner = group.fields.get(key)
        found[key] = _whole(inner, value) if isinstance(inner, Group) and isinstance(value, dict) else value
    return found


def _put(shape: dict, path: str, value: object) -> None:
    *way, last = steps(path)
    for step in way:
        shape = shape[step]
    if value is None:
        del shape[last]
    else:
        shape[last] = value


def value_at(shape: dict, path: str) -> object:
    """What stands at a path below a ``shape``; None where nothing does."""
    found: Any = shape
    for step in steps(path):
        found = found.get(step) if isinstance(found, dict) else found[step]
        if found is None:
            return None
    return found

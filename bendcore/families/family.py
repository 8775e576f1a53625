"""What a family of parts declares: its fields, its reader, what it begins as, and how things come to it and go."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from ..fields import Group
from .common import Given, Shape

Sized = Callable[[float], object]
"""mm → a size near it, round in the units of the file."""
Now = Callable[[], Shape]
"""The part's shape as it stands, read when it is asked for."""
Begin = Callable[[dict, tuple[int, ...], str, Now], dict]
"""(the file's ``shape``, places in its lists, the file's units, the shape read) → the block of the thing that comes."""
Edit = Callable[[dict, tuple[int, ...], str], None]
"""Changes a copy of the file's ``shape`` in place: (shape, places in its lists, the file's units)."""


@dataclass(frozen=True)
class Family:
    """A family of parts.

    ``start`` gives the ``shape`` of a new part; None where a part cannot begin from nothing. ``begins`` says how a
    thing begins where its fields' starts do not say all, ``comes`` and ``goes`` what else changes with a thing of a
    list, by the path below ``shape`` with ``[]`` for a place. ``fits`` are the two sizes that one entry,
    ``240 × 160``, makes fit; ``making`` says where it is made by its card, since it has no bends.
    """

    kind: str
    title: str
    read: Callable[[dict, Given], Shape]
    fields: Group
    start: Callable[[Sized], dict] | None = None
    begins: Mapping[str, Begin] = field(default_factory=dict)
    comes: Mapping[str, Edit] = field(default_factory=dict)
    goes: Mapping[str, Edit] = field(default_factory=dict)
    fits: tuple[str, str] | None = None
    making: str = ""
    by_hand: bool = False
    """Whether it is made by a card over bars, where those are its brake: its bends are many and small."""

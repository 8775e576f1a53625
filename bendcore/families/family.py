"""What a family of parts declares: its fields, its reader, what it begins as, and how things come to it and go."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..fields import Group, ReadLength
from .common import Given
from .shape import Shape

Sized = Callable[[float], object]
"""mm → a size near it, round in the units of the file."""
Now = Callable[[], Shape]
"""The part's shape as it stands, read when it is asked for."""
Begin = Callable[[dict, tuple[int, ...], str, Now], dict | list]
"""(the file's ``shape``, places in its lists, the file's units, the shape read) → the block of the thing that comes; of
a ring its points."""
ReadMm = Callable[[Any], float]
"""A length of a file in mm."""
Mirror = Callable[[dict, ReadMm], dict]
"""(a copy of the file's ``shape``, how its lengths are read) → the ``shape`` of the other hand."""
Edit = Callable[[dict, tuple[int, ...], str], None]
"""Changes a copy of the file's ``shape`` in place: (shape, places in its lists, the file's units)."""


@dataclass(frozen=True)
class Family:
    """A family of parts: all that is to be known of it where there is no part yet. What a part of it can be asked is in
    :class:`~bendcore.families.shape.Shape`."""

    made: type[Shape]
    """What a part is once it is read."""
    title: str
    """For people."""
    read: Callable[[dict, Given], Shape]
    """(the file's ``shape``, what it is read with) → the part's; refusals name the field below ``shape``."""
    mirror: Mirror
    start: Callable[[Sized], dict] | None = None
    """The ``shape`` of a new part; None where a part cannot begin from nothing."""
    begins: Mapping[str, Begin] = field(default_factory=dict)
    """How a thing begins where its fields' starts do not say all, by the path below ``shape``, ``[]`` for a place."""
    comes: Mapping[str, Edit] = field(default_factory=dict)
    """What else changes where a thing of a list comes, by the same paths …"""
    goes: Mapping[str, Edit] = field(default_factory=dict)
    """… and where one goes."""
    makes: Mapping[str, Callable[[dict, Any, str], dict]] = field(default_factory=dict)
    """Changes of its own that are more than a field, by name: (``shape``, value, the file's units) → ``shape``."""
    settle: Callable[[Mapping[str, Any], ReadLength], tuple[dict, dict[str, str]] | None] | None = None
    """A ``shape`` told another way as it is held, and by path below it the path it had; None for one told as held."""
    holds: Callable[[dict, Given], dict] | None = None
    """The ``shape`` with what gives way to sizes that are held; None where none can be."""
    edges: Callable[[dict], int] | None = None
    """On how many edges of a ``shape`` something may be put, where that is not as many as its outline has corners."""
    fits: tuple[str, str] | None = None
    """The two sizes that one entry, ``240 × 160``, makes fit."""
    kept: tuple[str, ...] = ()
    """Keys of the ``shape`` that stay a person's own on a piece drawn from its lead."""
    alike: Callable[[dict], Mapping[str, Sequence[str]]] = lambda shape: {}
    """Which directions may be turned together: by what they are called, their paths below a ``shape``."""
    by_hand: bool = False
    """Whether it is made by a card over bars, where those are its brake: its bends are many and small."""

    @property
    def kind(self) -> str:
        """As files call it."""
        return self.made.kind

    @property
    def fields(self) -> Group:
        """What its ``shape`` is told by."""
        return self.made.fields

"""How people describe a part; every family becomes a :class:`~bendcore.sheet.Sheet`.

A family is a folder: ``fields`` (declared once), ``shape`` (what is read, and its faces), ``edits`` (what it begins as,
and what comes and goes); its ``__init__`` gives the :class:`~bendcore.families.family.Family`.
"""

from collections.abc import Iterator, Mapping
from importlib import import_module

from .common import Given
from .family import Family
from .shape import Shape

OWN = ("profile", "tray", "plate", "panels", "sleeve", "flat", "guard", "transition", "square-to-round", "cone",
       "tube", "elbow", "chain", "rib")


class Families(Mapping[str, Family]):
    """Families by the ``kind`` of their shape, each imported when it is first asked for: all of them take longer to
    come than most parts to be laid out."""

    def __init__(self) -> None:
        self._modules = {kind: f"{__name__}.{kind.replace('-', '_')}" for kind in OWN}

    def add(self, kind: str, module: str) -> None:
        """One more family, the ``FAMILY`` of a module."""
        self._modules[kind] = module

    def remove(self, kind: str) -> None:
        """One fewer."""
        del self._modules[kind]

    def __getitem__(self, kind: str) -> Family:
        return import_module(self._modules[kind]).FAMILY

    def __iter__(self) -> Iterator[str]:
        return iter(self._modules)

    def __len__(self) -> int:
        return len(self._modules)


FAMILIES = Families()
"""Every family."""


def read_shape(shape: dict, given: Given) -> Shape:
    """The part file's ``shape`` by its kind."""
    return FAMILIES[shape["kind"]].read(shape, given)

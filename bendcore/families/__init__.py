"""How people describe a part; every family becomes a :class:`~bendcore.sheet.Sheet`.

A family is a folder: ``fields`` (declared once), ``shape`` (what is read, and its faces), ``edits`` (what it begins as,
and what comes and goes); its ``__init__`` gives the :class:`~bendcore.families.family.Family`.
"""

from collections.abc import Iterator, Mapping
from importlib import import_module

from .common import Given, Shape
from .family import Family


class Families(Mapping[str, Family]):
    """Families by the ``kind`` of their shape, each imported when it is first asked for: all of them take longer to
    come than most parts to be laid out."""

    kinds = ("profile", "tray", "plate", "sleeve", "flat", "guard", "transition", "square-to-round", "cone", "tube",
             "elbow", "chain", "rib")

    def __getitem__(self, kind: str) -> Family:
        if kind not in self.kinds:
            raise KeyError(kind)
        return import_module(f".{kind.replace('-', '_')}", __name__).FAMILY

    def __iter__(self) -> Iterator[str]:
        return iter(self.kinds)

    def __len__(self) -> int:
        return len(self.kinds)


FAMILIES = Families()
"""Every family."""


def read_shape(shape: dict, given: Given) -> Shape:
    """The part file's ``shape`` by its kind."""
    return FAMILIES[shape["kind"]].read(shape, given)

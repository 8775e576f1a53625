"""How people describe a part; every family becomes a :class:`~bendcore.sheet.Sheet`.

A family is a folder: ``fields`` (declared once), ``shape`` (what is read, and its faces), ``edits`` (what it begins as,
and what comes and goes); its ``__init__`` gives the :class:`~bendcore.families.family.Family`.
"""

from . import chain, cone, elbow, flat, guard, plate, profile, rib, sleeve, square_to_round, transition, tray, tube
from .common import Given, Shape
from .family import Family

FAMILIES: dict[str, Family] = {one.FAMILY.kind: one.FAMILY for one in (
    profile, tray, plate, sleeve, flat, guard, transition, square_to_round, cone, tube, elbow, chain, rib)}
"""Every family, by the ``kind`` of its shape."""


def read_shape(shape: dict, given: Given) -> Shape:
    """The part file's ``shape`` by its kind."""
    return FAMILIES[shape["kind"]].read(shape, given)

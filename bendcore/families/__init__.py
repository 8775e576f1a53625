"""How people describe a part; every family becomes a :class:`~bendcore.sheet.Sheet`."""

from .common import Shape
from .flat import read_flat
from .guard import read_guard
from .plate import read_plate
from .profile import read_profile
from .sleeve import read_sleeve
from .tray import read_tray

READERS = {"profile": read_profile, "tray": read_tray, "plate": read_plate, "sleeve": read_sleeve,
           "flat": read_flat, "guard": read_guard}


def read_shape(shape: dict, **context) -> Shape:
    """The part file's ``shape`` by its kind."""
    return READERS[shape["kind"]](shape, **context)

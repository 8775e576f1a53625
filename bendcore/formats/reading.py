"""A flat from a drawing of any kind that can be read, by the file's ending."""

from ..errors import Refusal
from .drawing import Drawing
from .dxf_in import read_dxf
from .svg_in import read_svg

READERS = {"dxf": read_dxf, "svg": read_svg}


def read_drawing(data: bytes, name: str) -> Drawing:
    """The flat in a file called ``name``; refuses endings that are not read."""
    ending = name.rpartition(".")[2].lower()
    if ending not in READERS:
        raise Refusal(name[:60], "must end in " + " or ".join(f".{e}" for e in READERS))
    return READERS[ending](data, name[:60])

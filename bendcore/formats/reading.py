"""A shape from a file of any kind that can be read, by its ending."""

from collections.abc import Callable, Mapping

from ..errors import Refusal
from .drawing import Drawing
from .dxf_in import read_dxf
from .stations import read_stations
from .step_in import read_step_in
from .svg_in import read_svg

READERS = {"dxf": read_dxf, "svg": read_svg}
SOLIDS = {"step": read_step_in, "stp": read_step_in}
SHAPES = READERS | {"csv": read_stations} | SOLIDS


def read_drawing(data: bytes, name: str) -> Drawing:
    """The flat in a file called ``name``; refuses endings that are not read."""
    return _read(data, name, READERS)


def read_shape_in(data: bytes, name: str, unit: str = "", without: tuple[str, ...] = ()) -> Drawing:
    """The flat in a drawing, the chain of which a CSV lists the stations, or the panels of a solid. Of a DXF the
    ``unit`` it was drawn in may be said, and the layers ``without`` which it is read."""
    if name.lower().endswith(".dxf"):
        return read_dxf(data, name[:60], unit, without)
    return _read(data, name, SHAPES)


def _read(data: bytes, name: str, readers: Mapping[str, Callable[[bytes, str], Drawing]]) -> Drawing:
    ending = name.rpartition(".")[2].lower()
    if ending not in readers:
        raise Refusal(name[:60], "must end in " + " or ".join(f".{e}" for e in readers if e != "stp"))
    return readers[ending](data, name[:60])

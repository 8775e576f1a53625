"""DXF as all files of Dorvan's write it: R2010, units set, each layer with its colour."""

import io
from collections.abc import Mapping

import ezdxf
from ezdxf import units as dxf_units
from ezdxf.document import Drawing


def drawing(units: str, layers: Mapping[str, int]) -> Drawing:
    """An empty drawing in ``mm`` or ``in`` with these layers."""
    doc = ezdxf.new("R2010")
    doc.units = dxf_units.MM if units == "mm" else dxf_units.IN
    for name, colour in layers.items():
        doc.layers.add(name, color=colour, linetype="CONTINUOUS")
    return doc


def as_text(doc: Drawing) -> str:
    """The drawing as the text of its file."""
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()

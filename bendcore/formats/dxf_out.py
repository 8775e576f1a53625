"""DXF as all files of Dorvan's write it: R2010, units set, each layer with its colour."""

import io
from collections.abc import Mapping

import ezdxf
from ezdxf import units as dxf_units
from ezdxf.document import Drawing
from ezdxf.layouts import Modelspace

from ..layout.linework import CUT, TEXT, Linework


def drawing(units: str, layers: Mapping[str, int]) -> Drawing:
    """An empty drawing in ``mm`` or ``in`` with these layers."""
    doc = ezdxf.new("R2010")
    doc.units = dxf_units.MM if units == "mm" else dxf_units.IN
    for name, colour in layers.items():
        doc.layers.add(name, color=colour, linetype="CONTINUOUS")
    return doc


def draw(space: Modelspace, drawn: Linework, per: float = 1.0) -> None:
    """All of a flat: closed contours on CUT, its lines on their layers, labels along them; lengths are divided by
    ``per``. What is cut out of it comes before its outline, as it is cut."""
    for contour in reversed(drawn.contours):
        if contour.is_circle:
            x, y = contour.centre
            space.add_circle((x / per, y / per), contour.diameter / 2 / per, dxfattribs={"layer": CUT})
        else:
            space.add_lwpolyline([(x / per, y / per, bulge) for x, y, bulge in contour.corners], format="xyb",
                                 close=True, dxfattribs={"layer": CUT})
    for stroke in drawn.strokes:
        start, end = ((x / per, y / per) for x, y in (stroke.start, stroke.end))
        space.add_line(start, end, dxfattribs={"layer": stroke.layer})
        if stroke.label:
            (x, y), turn = stroke.beside(drawn.size)
            space.add_text(stroke.label, height=drawn.size / per, rotation=turn, dxfattribs={"layer": TEXT}
                           ).set_placement((x / per, y / per))


def as_text(doc: Drawing) -> str:
    """The drawing as the text of its file."""
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()

"""A sheet of a cutting plan as DXF, in mm: every blank with all of its linework, placed."""

from collections.abc import Mapping

from ..cutting.plan import Plan
from ..layout.linework import LAYERS, Linework
from .dxf_out import as_text, draw, drawing

SHEET, LEFT, NAME = "SHEET", "LEFT", "NAME"
OWN = {SHEET: 8, LEFT: 3, NAME: 2}


def to_nest(plan: Plan, sheet: int, drawn: Mapping[str, Linework]) -> str:
    """R2010: the sheet's edge; of each blank, by its id ``drawn``, every contour on CUT, bend lines, marks and labels
    on their layers, its name; leftovers. What lies in an opening comes before the blank that it lies in."""
    doc = drawing("mm", LAYERS | OWN)
    space, stock = doc.modelspace(), plan.sheets[sheet]

    def ring(points, layer):
        space.add_lwpolyline(list(points), close=True, dxfattribs={"layer": layer})

    ring(((0, 0), (stock.length, 0), (stock.length, stock.width), (0, stock.width)), SHEET)
    for one in sorted(plan.placed, key=lambda one: one.piece.area):
        if one.sheet == sheet:
            draw(space, drawn[one.piece.id].moved(one.move))
            wide, high = one.size
            space.add_text(one.piece.id, height=max(3.0, min(wide, high) / 12), dxfattribs={"layer": NAME}
                           ).set_placement((one.x + wide / 4, one.y + high / 2))
    for n, x, y, long, wide in plan.leftovers:
        if n == sheet:
            ring(((x, y), (x + long, y), (x + long, y + wide), (x, y + wide)), LEFT)
    return as_text(doc)

"""A sheet of a cutting plan as DXF: blanks in true outlines, in mm."""

from ..cutting.plan import Plan
from .dxf_out import as_text, drawing

LAYERS = {"SHEET": 8, "CUT": 7, "LEFT": 3, "TEXT": 2}


def to_nest(plan: Plan, sheet: int) -> str:
    """R2010: the sheet's edge, each blank closed on CUT with its name, leftovers."""
    doc = drawing("mm", LAYERS)
    space, stock = doc.modelspace(), plan.sheets[sheet]

    def ring(points, layer):
        space.add_lwpolyline(list(points), close=True, dxfattribs={"layer": layer})

    ring(((0, 0), (stock.length, 0), (stock.length, stock.width), (0, stock.width)), "SHEET")
    for one in plan.placed:
        if one.sheet == sheet:
            ring(one.ring, "CUT")
            wide, high = one.size
            space.add_text(one.piece.id, height=max(3.0, min(wide, high) / 12), dxfattribs={"layer": "TEXT"}
                           ).set_placement((one.x + wide / 4, one.y + high / 2))
    for n, x, y, long, wide in plan.leftovers:
        if n == sheet:
            ring(((x, y), (x + long, y), (x + long, y + wide), (x, y + wide)), "LEFT")
    return as_text(doc)

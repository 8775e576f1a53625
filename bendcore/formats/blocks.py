"""A rib's blocks as files: a drawing for the saw, and templates at 1:1 to glue on the wood."""

from collections.abc import Callable

from ..errors import Refusal
from ..families.shape import BLOCK
from ..layout.blocks import Block, blocks_of
from ..part import Part
from ..sheet import Sheet, unfold
from ..sheet.model import Face, Hole, Point
from .dxf_out import as_text, drawing
from .pdf import Template, templates

LAYERS = {"FORM": 7, "FORM_FAR": 8, "BACKING": 5, "PINS": 1, "LIPS": 3, "ARROW": 2}
"""FORM and BACKING are the faces on the web, FORM_FAR the form block's far face; all lie over each other."""


def _blocks(part: Part) -> tuple[Block, Block]:
    if part.shape.making != BLOCK:
        raise Refusal("shape", "is not hammered over a block")
    return blocks_of(part)


def to_blocks(part: Part) -> str:
    """R2010: both blocks over each other as they are pinned."""
    form, backing = _blocks(part)
    per = part.per_unit
    doc = drawing(part.units, LAYERS)
    space = doc.modelspace()

    def at(point: Point) -> Point:
        return point[0] / per, point[1] / per

    for layer, ring in (("FORM", form.outline), ("FORM_FAR", form.under), ("BACKING", backing.outline)):
        if ring:
            space.add_lwpolyline([at(p) for p in ring], close=True, dxfattribs={"layer": layer})
    for layer, holes in (("PINS", form.pins), ("LIPS", (*form.openings, *backing.openings))):
        for hole in holes:
            space.add_circle(at(hole.centre), hole.diameter / 2 / per, dxfattribs={"layer": layer})
    for line in _arrow(form):
        space.add_line(*map(at, line), dxfattribs={"layer": "ARROW"})
    return as_text(doc)


def _template(which: int) -> Callable[..., bytes]:
    def write(part: Part, paper: str = "A4") -> bytes:
        block = _blocks(part)[which]
        holes = tuple(Hole(h.centre, h.diameter) for h in (*block.pins, *block.openings))
        flat = unfold(Sheet(block.thickness, "block", (Face("block", block.outline, holes),), ()), block.outline)
        words = f"{part.name or 'rib'}: {block.title.lower()}, face on the web, TOP and arrow up"
        return templates([Template(flat, words, tuple(_arrow(block)), "TOP")], paper)
    return write


to_form_block, to_backing_block = _template(0), _template(1)


def _arrow(block: Block) -> list[tuple[Point, Point]]:
    (x, y0), (_, y1) = block.arrow
    head = (y1 - y0) / 5
    return [block.arrow, ((x - head, y1 - head), (x, y1)), ((x + head, y1 - head), (x, y1))]

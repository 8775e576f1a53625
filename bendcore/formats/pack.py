"""What leaves for a supplier, in one zip: the blank as DXF or SVG with its tabs, the bend table, a drawing with the
face that lies still, notes, and the part file."""

import io
import json
import math
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, replace

from reportlab.lib.pagesizes import A4, landscape
from reportlab.pdfgen.canvas import Canvas
from shapely import Polygon

from ..part import Part
from ..suppliers.profile import Profile
from ..suppliers.tabs import tabbed
from ..units import show_length
from .export import export
from .letterhead import NOBODY, Letterhead, head
from .pdf import PT, ring, words

MARGIN = 14.0


@dataclass(frozen=True)
class Order:
    """What is asked of the supplier: a ``tag``, how many, further ``lines`` for the notes, and whose paper it is."""

    tag: str
    quantity: int
    lines: Sequence[str] = ()
    letterhead: Letterhead = NOBODY


def pack(part: Part, file: dict, profile: Profile, order: Order) -> bytes:
    """The zip. ``file`` is the part file that stands beside it. Refuses a blank that cannot be cut, or a bend with no
    room for its tab."""
    sent = replace(tabbed(part) if profile.parallel else part, units=profile.file[1])
    ending = profile.file[0]
    parts = {f"{order.tag}.{ending}": export(sent, ending), f"{order.tag}-bends.csv": export(sent, "csv"),
             f"{order.tag}-drawing.pdf": drawing(sent, profile, order),
             f"{order.tag}-notes.txt": notes(sent, profile, order),
             f"{order.tag}-part.json": json.dumps(file, indent=1) + "\n"}
    box = io.BytesIO()
    with zipfile.ZipFile(box, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in parts.items():
            archive.writestr(name, text)
    return box.getvalue()


def fixed_face(part: Part) -> str:
    """The face that lies still while the others are bent: the largest."""
    return max(part.flat.faces, key=lambda name: (Polygon(part.flat.faces[name]).area, name))


def notes(part: Part, profile: Profile, order: Order) -> str:
    """What a person there reads first."""
    units, stock = part.units, part.stock
    bends = part.shape.all_bends
    radius = ""
    if bends:
        first = bends[0].figures
        radius = f", inside radius {show_length(first.inside_radius, units)} {units}, K {first.k:.3f}"
    lines = [f"{order.tag} {part.name}", *([f"From: {order.letterhead.name}"] if order.letterhead.name else []),
             f"For: {profile.name}", f"Pieces: {order.quantity}",
             f"Stock: {stock.material.title}, {show_length(stock.thickness, units, 3)} {units}{radius}",
             f"Bends: {len(bends)}; the blank is laid out for this radius and K: do not lay it out anew.",
             f"Fixed face: {fixed_face(part)}, top face up as drawn. up and down are seen from there.",
             f"Bend lines run {stock.grain} the grain." if stock.grain else "Grain: any way.",
             f"Tolerances where nothing is said: ISO 2768-{part.general_tolerance} for lengths, 1 degree for angles."]
    if stock.good:
        lines.append(f"Good side: {stock.good_called}, {stock.good} as drawn. Protect it.")
    if part.cut_off:
        lines.append("Tabs on MARK lines are for the stops: cut them off along these lines after bending.")
    lines += [*order.lines, f"All lengths in {units}.", *([f"Their note: {profile.note}"] if profile.note else [])]
    return "\n".join(lines) + "\n"


def drawing(part: Part, profile: Profile, order: Order) -> bytes:
    """One page: the blank to scale with its bends, the fixed face shaded, and the bend table."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=landscape(A4), pageCompression=0)
    canvas.setTitle(f"{order.tag} {part.name}")
    canvas.scale(PT, PT)
    wide, high = (side / PT for side in landscape(A4))
    words(canvas, MARGIN, high - MARGIN, f"{order.tag}  {part.name}  ({order.quantity} off)  for {profile.name}", 5)
    head(canvas, order.letterhead, wide - MARGIN, high - 4, 9)
    _blank(canvas, part, (MARGIN, 72.0, wide - 2 * MARGIN, high - 72.0 - 2 * MARGIN))
    _table(canvas, part, 62.0)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _blank(canvas, part, room):
    flat = part.flat
    left, bottom, wide, high = room
    scale = min(wide / flat.size[0], high / flat.size[1])
    canvas.saveState()
    canvas.translate(left, bottom)
    canvas.scale(scale, scale)
    canvas.setLineWidth(0.3 / scale)
    face = fixed_face(part)
    ring(canvas, flat.faces[face], 0.9)
    ring(canvas, flat.outline)
    for hole in flat.holes:
        ring(canvas, hole.outline())
    dx, dy = flat.shift
    canvas.setDash([2 / scale, 1.5 / scale])
    for (x0, y0), (x1, y1) in part.cut_off:
        canvas.line(x0 + dx, y0 + dy, x1 + dx, y1 + dy)
    for bend in flat.bends:
        (x0, y0), (x1, y1) = bend.line
        dashes = (6, 1.5, 1, 1.5) if bend.bend.sign > 0 else (3, 2)
        canvas.setDash([dash / scale for dash in dashes])
        canvas.line(x0, y0, x1, y1)
        canvas.saveState()
        canvas.translate((x0 + x1) / 2, (y0 + y1) / 2)
        canvas.rotate(math.degrees(math.atan2(y1 - y0, x1 - x0)))
        words(canvas, 0, 1 / scale, f"{bend.bend.id} {bend.bend.direction} {bend.bend.angle:g}", 3 / scale)
        canvas.restoreState()
    canvas.setDash([])
    middle = Polygon(flat.faces[face]).representative_point()
    words(canvas, middle.x, middle.y, f"FIXED: {face}, top up", 3.4 / scale)
    canvas.restoreState()


def _table(canvas, part, top):
    units = part.units
    size = " x ".join(show_length(side, units) for side in part.flat.size)
    words(canvas, MARGIN, top, f"Blank {size} {units}. Chain line: up. Dashed: down or cut off. Scale by the sizes, "
                                "not by the paper.", 3.2)
    for n, flat in enumerate(part.flat.bends[:12]):
        f = flat.bend.figures
        ends = "  to  ".join(f"{show_length(x, units)}, {show_length(y, units)}" for x, y in flat.line)
        words(canvas, MARGIN, top - 5 - 4 * n,
               f"{flat.bend.id}: {flat.bend.direction} {flat.bend.angle:g} deg, "
               f"R {show_length(f.inside_radius, units)}, allowance {show_length(f.allowance, units, 3)}, line {ends}",
               3.0)
    if len(part.flat.bends) > 12:
        words(canvas, MARGIN, top - 5 - 4 * 12, f"and {len(part.flat.bends) - 12} more: see the bend table", 3.0)

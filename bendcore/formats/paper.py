"""A small paper model to cut out, fold and glue: does it look right, and do I read it right?

On one sheet, as large as fits or at a chosen scale. Bends up are dashed, bends down dotted;
tabs carry the letter of the edge they are glued behind.
"""

import io

from reportlab.pdfgen.canvas import Canvas

from ..errors import Refusal
from ..layout.glue import glue_tabs
from ..part import Part
from .pdf import PAPERS, PT, ring

SCALES = (1, 2, 3, 4, 5, 8, 10, 15, 20, 25, 50)
MARGIN, TAB, HEAD = 10.0, 7.0, 16.0
"""Margins, depth of a tab and room for the words at the head, mm of paper."""


def fitting_scale(size: tuple[float, float], paper: str) -> tuple[int, bool]:
    """(scale 1:n, whether the paper lies) of the largest model with its tabs on one sheet."""
    if paper not in PAPERS:
        raise Refusal("paper", "must be one of " + ", ".join(PAPERS))
    wide, high = (side / PT for side in PAPERS[paper])
    for scale in SCALES:
        need = [length / scale + 2 * TAB for length in size]
        for lies, (w, h) in ((False, (wide, high)), (True, (high, wide))):
            if need[0] <= w - 2 * MARGIN and need[1] <= h - 2 * MARGIN - HEAD:
                return scale, lies
    raise Refusal("paper", "is too small for a model even at 1:50")


def paper_model(part: Part, paper: str = "A4") -> bytes:
    """The PDF of the model."""
    scale, lies = fitting_scale(part.flat.size, paper)
    page = PAPERS[paper][::-1] if lies else PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=page, pageCompression=0)
    canvas.setTitle(f"{part.name or 'part'}, paper model 1:{scale}")
    canvas.scale(PT, PT)
    canvas.setFont("Helvetica", 3.6)
    high = page[1] / PT
    canvas.drawString(MARGIN, high - MARGIN - 3, f"{part.name or 'Part'}, paper model 1:{scale}. Cut the outline, fold "
                      "dashed lines towards you and dotted ones away,")
    canvas.drawString(MARGIN, high - MARGIN - 8, "glue each tab behind the edge with its letter. A model only: not to "
                      "be measured from.")
    canvas.translate(MARGIN + TAB, MARGIN + TAB)
    canvas.scale(1 / scale, 1 / scale)
    canvas.setLineWidth(0.3 * scale)
    tabs = glue_tabs(part, TAB * scale)
    for tab in tabs:
        ring(canvas, tab.outline, fill=0.92)
    ring(canvas, part.flat.outline)
    for hole in part.flat.holes:
        ring(canvas, hole.outline())
    for bend in part.flat.bends:
        canvas.setDash([2.2 * scale, 1.2 * scale] if bend.bend.sign > 0 else [0.3 * scale, 1.2 * scale])
        canvas.line(*bend.line[0], *bend.line[1])
    dx, dy = part.flat.shift
    for what, (x0, y0), (x1, y1) in part.shape.scribed():
        canvas.setDash([2.2 * scale, 1.2 * scale] if what == "tangent" else [])
        canvas.line(x0 + dx, y0 + dy, x1 + dx, y1 + dy)
    canvas.setDash()
    canvas.setFont("Helvetica", 3 * scale)
    for name, outline in part.flat.faces.items():
        canvas.drawCentredString(*_middle(outline), name)
    canvas.setFont("Helvetica-Bold", 3.2 * scale)
    for tab in tabs:
        canvas.drawCentredString(*_middle(tab.outline), tab.letter)
        canvas.drawCentredString(*tab.mate, tab.letter)
    canvas.save()
    return out.getvalue()


def _middle(points):
    return tuple(sum(axis) / len(points) for axis in zip(*points, strict=True))

"""Labels for blanks and leftovers: sheets of A4 to be cut or stuck, each with what a hand must know of the piece."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from .pdf import PT, as_printed, words

COLUMNS, ROWS = 3, 8
WIDE, HIGH, MARGIN = 66.0, 35.0, 6.0
LINES = 4


@dataclass(frozen=True)
class Label:
    """A ``code`` in large letters, lines below, and whether the ``grain`` runs along the label's piece: an arrow tells
    it; None where it does not matter."""

    code: str
    lines: Sequence[str]
    grain: bool | None = None


def labels(title: str, items: Sequence[Label], name: str = "") -> bytes:
    """The PDF: so many to a page, from the top left, each with the ``name`` of the shop in small letters."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, pageCompression=0)
    canvas.setTitle(as_printed(title))
    high = A4[1] / PT
    for n, label in enumerate(items):
        if n and n % (COLUMNS * ROWS) == 0:
            canvas.showPage()
        row, column = divmod(n % (COLUMNS * ROWS), COLUMNS)
        canvas.saveState()
        canvas.scale(PT, PT)
        canvas.translate(MARGIN + column * WIDE, high - MARGIN - (row + 1) * HIGH)
        _one(canvas, label)
        words(canvas, 4, 2.2, name, 2.0)
        canvas.restoreState()
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _one(canvas: Canvas, label: Label) -> None:
    canvas.setLineWidth(0.2)
    canvas.rect(1, 1, WIDE - 2, HIGH - 2)
    words(canvas, 4, HIGH - 9, label.code, 6.5, "Helvetica-Bold")
    for n, line in enumerate(label.lines[:LINES]):
        words(canvas, 4, HIGH - 15 - 4.6 * n, as_printed(line)[:44])
    if label.grain is not None:
        x, y = WIDE - 12, HIGH - 8
        dx, dy = (6, 0) if label.grain else (0, 6)
        canvas.setLineWidth(0.5)
        canvas.line(x - dx / 2, y - dy / 2, x + dx / 2, y + dy / 2)
        words(canvas, x - 4, y - 7, "grain")

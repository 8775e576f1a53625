"""A job on paper: one PDF of sections, each with words, tables to read or to fill in, drawings of blanks and a code
that a tablet's camera reads. Black on white; every page says whose it is.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing, Line, Polygon, Rect, String
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.platypus import Image, KeepTogether, PageBreak, Paragraph, SimpleDocTemplate, Spacer, Table

from ..sheet.unfold import FlatPattern
from .letterhead import NOBODY, Letterhead, head
from .pdf import as_printed
from .report import MM, RULED, STYLES

WIDE, HIGH, MARGIN = 178.0, 92.0, 16.0
CODE = 32.0


@dataclass(frozen=True)
class Words:
    """Paragraphs; ``numbered`` ones are steps with a box to tick."""

    lines: Sequence[str]
    numbered: bool = False


@dataclass(frozen=True)
class Rows:
    """A table: its ``header``, and rows of texts; an empty one is to be filled in."""

    header: Sequence[str]
    rows: Sequence[Sequence[str]]


@dataclass(frozen=True)
class Blank:
    """A blank with its bend lines, fitted to the page."""

    flat: FlatPattern


@dataclass(frozen=True)
class Figure:
    """A drawing from the page, fitted to the paper: ``boxes`` (x, y, wide, high, grey from 0 black to 1 white),
    ``lines`` (x0, y0, x1, y1), ``texts`` (x, y, words, ``start`` or ``middle``) and below them ``rings`` of points,
    white, the later before the earlier, in its own units, y down; ``share`` of the paper's width."""

    wide: float
    high: float
    boxes: Sequence[tuple[float, float, float, float, float]]
    lines: Sequence[tuple[float, float, float, float]]
    texts: Sequence[tuple[float, float, str, str]]
    words: str
    rings: Sequence[Sequence[tuple[float, float]]] = ()
    share: float = 1.0


@dataclass(frozen=True)
class Code:
    """An address as a square code."""

    address: str
    words: str


@dataclass(frozen=True)
class Photograph:
    """A picture as JPEG, and what it shows."""

    jpeg: bytes
    words: str


Block = Words | Rows | Blank | Figure | Code | Photograph


@dataclass(frozen=True)
class Section:
    """A part of the pack, beginning on a page of its own where it is a ``page``."""

    title: str
    blocks: Sequence[Block]
    page: bool = True


def job_pack(title: str, sections: Sequence[Section], letterhead: Letterhead = NOBODY) -> bytes:
    """The PDF of these sections, with whose paper it is on every page."""
    story: list = []
    for n, section in enumerate(sections):
        if n and section.page:
            story.append(PageBreak())
        story.append(Paragraph(_text(section.title), STYLES["Heading1" if section.page else "Heading2"]))
        for block in section.blocks:
            story += [*_drawn(block), Spacer(1, 3 * MM)]

    def foot(canvas, document):
        canvas.setFont("Helvetica", 8)
        canvas.drawString(MARGIN * MM, 9 * MM, as_printed(title))
        canvas.drawRightString(A4[0] - MARGIN * MM, 9 * MM, str(document.page))
        head(canvas, letterhead, A4[0] - MARGIN * MM, A4[1] - 4 * MM, 9 * MM)

    found = io.BytesIO()
    SimpleDocTemplate(found, pagesize=A4, title=as_printed(title), leftMargin=MARGIN * MM, rightMargin=MARGIN * MM,
                      topMargin=MARGIN * MM, bottomMargin=MARGIN * MM).build(story, onFirstPage=foot, onLaterPages=foot)
    return found.getvalue()


def _text(text: str) -> str:
    return escape(as_printed(text))


def _drawn(block: Block) -> list:
    if isinstance(block, Words):
        lines = [f"{n}. [  ] {_text(line)}" if block.numbered else _text(line) for n, line in enumerate(block.lines, 1)]
        return [Paragraph(line, STYLES["BodyText"]) for line in lines]
    if isinstance(block, Rows):
        cells = [[Paragraph(f"<b>{_text(cell)}</b>", STYLES["BodyText"]) for cell in block.header]]
        cells += [[Paragraph(_text(cell), STYLES["BodyText"]) for cell in row] for row in block.rows]
        return [Table(cells, _widths(block), style=RULED, repeatRows=1)]
    if isinstance(block, Blank):
        return [_blank(block.flat)]
    if isinstance(block, Figure):
        return [KeepTogether([_figure(block), Paragraph(_text(block.words), STYLES["BodyText"])])]
    if isinstance(block, Photograph):
        picture = Image(io.BytesIO(block.jpeg))
        scale = min(WIDE * MM / 2 / picture.imageWidth, 60 * MM / picture.imageHeight)
        picture.drawWidth, picture.drawHeight = picture.imageWidth * scale, picture.imageHeight * scale
        return [KeepTogether([picture, Paragraph(_text(block.words), STYLES["BodyText"])])]
    return [_code(block.address), Paragraph(_text(block.words), STYLES["BodyText"])]


def _widths(block: Rows) -> list[float]:
    """Columns as wide as what stands in them, long texts taking more lines."""
    longest = [max(map(len, column)) for column in zip(block.header, *block.rows, strict=True)]
    shares = [min(max(long, 6), 60) ** 0.7 for long in longest]
    return [WIDE * MM * share / sum(shares) for share in shares]


def _code(address: str) -> Drawing:
    found = Drawing(CODE * MM, CODE * MM)
    found.add(QrCodeWidget(address, barLevel="M", barWidth=CODE * MM, barHeight=CODE * MM))
    return found


def _figure(block: Figure) -> Drawing:
    scale = block.share * WIDE * MM / block.wide
    found = Drawing(block.wide * scale, block.high * scale)

    def up(y):
        return (block.high - y) * scale

    for ring in block.rings:
        found.add(Polygon([value for x, y in ring for value in (x * scale, up(y))], fillColor=colors.white,
                          strokeColor=colors.black, strokeWidth=0.5))
    for x, y, wide, high, grey in block.boxes:
        found.add(Rect(x * scale, up(y + high), wide * scale, high * scale, fillColor=colors.Color(grey, grey, grey),
                       strokeColor=colors.black, strokeWidth=0.5))
    for x0, y0, x1, y1 in block.lines:
        found.add(Line(x0 * scale, up(y0), x1 * scale, up(y1), strokeWidth=0.5))
    for x, y, words, anchor in block.texts:
        found.add(String(x * scale, up(y), as_printed(words), fontSize=7.5, textAnchor=anchor))
    return found


def _blank(flat: FlatPattern) -> Drawing:
    long, wide = flat.size
    scale = min(WIDE / long, HIGH / wide) * MM
    found = Drawing(long * scale, wide * scale)

    def ring(points, width):
        flattened = [value * scale for point in points for value in point]
        return Polygon(flattened, strokeColor=colors.black, fillColor=None, strokeWidth=width)

    found.add(ring(flat.outline, 0.9))
    for hole in flat.holes:
        found.add(ring(hole.outline(), 0.6))
    for bend in flat.bends:
        (x0, y0), (x1, y1) = bend.line
        dashes = [8, 2, 1, 2] if bend.bend.sign > 0 else [4, 3]
        found.add(Line(x0 * scale, y0 * scale, x1 * scale, y1 * scale, strokeWidth=0.6, strokeDashArray=dashes))
    return found

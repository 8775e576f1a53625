"""A job on paper: one PDF of sections, each with words, tables to read or to fill in, drawings of blanks and a code
that a tablet's camera reads. Black on white; every page says whose it is.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

import shapely
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing, Group, Line, Polygon, PolyLine, Rect, String
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.platypus import Image, KeepTogether, PageBreak, Paragraph, SimpleDocTemplate, Spacer, Table

from ..sheet.unfold import FlatPattern
from .letterhead import NOBODY, Letterhead, head
from .pdf import as_printed
from .report import MM, RULED, STYLES

WIDE, HIGH, MARGIN = 178.0, 130.0, 16.0
BESIDE = 24.0
"""What is read off a blank stands so far beside it, mm."""
STRIP, SHORT = 1.5, 0.45
"""A strip that is longer along its bends than across is drawn at this scale at most, and so much of its length high."""
LETTERS = 8.0
"""How high its letters are, points."""
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
    """A blank with its bend lines, fitted to the page, and what is read off along its front edge (``along``) and up its
    left one (``up``): (how far from the datum in mm, in words). A ``strip`` has nothing but lines from edge to edge,
    and is drawn shorter along them where it is long."""

    flat: FlatPattern
    along: Sequence[tuple[float, str]] = ()
    up: Sequence[tuple[float, str]] = ()
    strip: bool = False


@dataclass(frozen=True)
class Pane:
    """A filled ring of ``points``, ``grey`` from 0 black to 1 white."""

    points: Sequence[tuple[float, float]]
    grey: float = 1.0


@dataclass(frozen=True)
class Figure:
    """A drawing from the page, fitted to the paper and cut off there: ``boxes`` (x, y, wide, high, grey), ``lines``
    (x0, y0, x1, y1), ``texts`` (x, y, words, ``start``, ``middle`` or ``end``) and below them ``panes``, the later
    before the earlier, in its own units, y down; ``share`` of the paper's width."""

    wide: float
    high: float
    boxes: Sequence[tuple[float, float, float, float, float]]
    lines: Sequence[tuple[float, float, float, float]]
    texts: Sequence[tuple[float, float, str, str]]
    words: str
    panes: Sequence[Pane] = ()
    share: float = 1.0


@dataclass(frozen=True)
class Picture:
    """A picture as PNG or JPEG, and what it shows; ``share`` of the paper's width."""

    data: bytes
    words: str
    share: float = 1.0


@dataclass(frozen=True)
class Stroke:
    """A step of an order to be ticked off: its ``title``, its ``figures`` side by side, and ``lines`` below."""

    title: str
    figures: Sequence[Figure | Picture]
    lines: Sequence[str]


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


Block = Words | Rows | Blank | Figure | Stroke | Code | Photograph


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
        return [_blank(block)]
    if isinstance(block, Figure):
        return [KeepTogether(_captioned(block))]
    if isinstance(block, Stroke):
        return [_stroke(block)]
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

    for pane in block.panes:
        seen = shapely.clip_by_rect(shapely.make_valid(shapely.Polygon(pane.points)), 0, 0, block.wide, block.high)
        for one in (part for part in shapely.get_parts(seen) if part.geom_type == "Polygon" and part.area):
            ring = [value for x, y in one.exterior.coords for value in (x * scale, up(y))]
            found.add(Polygon(ring, fillColor=colors.Color(*(pane.grey,) * 3), strokeColor=colors.black,
                              strokeWidth=0.5))
    for x, y, wide, high, grey in block.boxes:
        found.add(Rect(x * scale, up(y + high), wide * scale, high * scale, fillColor=colors.Color(grey, grey, grey),
                       strokeColor=colors.black, strokeWidth=0.5))
    for x0, y0, x1, y1 in block.lines:
        found.add(Line(x0 * scale, up(y0), x1 * scale, up(y1), strokeWidth=0.5))
    for x, y, words, anchor in block.texts:
        found.add(String(x * scale, up(y), as_printed(words), fontSize=7.5, textAnchor=anchor))
    return found


def _captioned(block: Figure | Picture) -> list:
    drawn = _figure(block) if isinstance(block, Figure) else _picture(block)
    return [drawn, *([Paragraph(_text(block.words), STYLES["BodyText"])] if block.words else [])]


def _picture(block: Picture) -> Image:
    found = Image(io.BytesIO(block.data))
    wide = block.share * WIDE * MM
    found.drawWidth, found.drawHeight = wide, wide * found.imageHeight / found.imageWidth
    return found


def _stroke(block: Stroke) -> KeepTogether:
    widths = [figure.share * WIDE * MM + 2 for figure in block.figures]
    rows = [Table([list(map(_captioned, block.figures))], widths, style=[("VALIGN", (0, 0), (-1, -1), "BOTTOM"),
                                                                        ("LEFTPADDING", (0, 0), (-1, -1), 0),
                                                                        ("RIGHTPADDING", (0, 0), (-1, -1), 0)])]
    return KeepTogether([Paragraph(f"[  ] {_text(block.title)}", STYLES["Heading3"]), *(rows if block.figures else []),
                         *(Paragraph(_text(line), STYLES["BodyText"]) for line in block.lines)])


def _blank(block: Blank) -> Drawing:
    """Fitted to the paper with what is read off written beside it, each at the end of a line from its place."""
    flat, (long, wide) = block.flat, block.flat.size
    left, below = (BESIDE if marks else 0.0 for marks in (block.up, block.along))
    scale = min((WIDE - left) / long, (HIGH - below) / wide) * MM
    x0, y0, shown = left * MM, below * MM, wide * scale
    if block.strip and wide > long:
        scale = min((WIDE - left) / long, STRIP) * MM
        shown = min(wide * scale, long * scale * SHORT)
    found = Drawing(x0 + long * scale, y0 + shown)
    drawn = _outlined(flat, scale, shown / wide)
    drawn.translate(x0, y0)
    found.add(drawn)
    if shown < wide * scale - 1:
        found.add(_broken(x0, y0 + 0.7 * shown, long * scale))
    marks = _with_room(block.along, long * scale)
    for (at, words), place in zip(marks, _spread([at * scale for at, _ in marks]), strict=True):
        found.add(PolyLine([x0 + at * scale, y0 - 1 * MM, x0 + at * scale, y0 - 3 * MM, x0 + place, y0 - 6 * MM],
                           strokeWidth=0.3))
        turned = Group(String(0, 0, as_printed(words), fontSize=LETTERS, textAnchor="end"))
        turned.translate(x0 + place + LETTERS / 3, y0 - 7 * MM)
        turned.rotate(90)
        found.add(turned)
    marks = _with_room(block.up, shown)
    heights = [at * shown / wide for at, _ in marks]
    for (_, words), y, place in zip(marks, heights, _spread(heights), strict=True):
        found.add(PolyLine([x0 - 1 * MM, y0 + y, x0 - 3 * MM, y0 + y, x0 - 6 * MM, y0 + place], strokeWidth=0.3))
        found.add(String(x0 - 7 * MM, y0 + place - LETTERS / 3, as_printed(words), fontSize=LETTERS,
                         textAnchor="end"))
    return found


def _with_room(marks: Sequence[tuple[float, str]], long: float) -> Sequence[tuple[float, str]]:
    """Marks that can all be written along so many points; else those at the ends: the others stand in their list."""
    return marks if len(marks) * (LETTERS + 1) <= long + LETTERS else [*marks[:1], *marks[-1:]]


def _spread(places: Sequence[float]) -> list[float]:
    """Places in their order, moved as little to the right as keeps lines of letters apart, then back together where
    that went beyond the last."""
    found: list[float] = []
    for at in places:
        found.append(max(at, found[-1] + LETTERS + 1) if found else at)
    limit = places[-1] if places else 0.0
    for n in range(len(found) - 1, -1, -1):
        found[n] = min(found[n], limit)
        limit = found[n] - LETTERS - 1
    return found


def _broken(x: float, y: float, long: float) -> Group:
    """A break across a blank that is drawn shorter than it is."""
    ends = [value for n in range(13) for value in (x + long * n / 12, y + (2 * MM if n % 2 else 0))]
    lower = [value for n in range(12, -1, -1) for value in (x + long * n / 12, y - 2 * MM + (2 * MM if n % 2 else 0))]
    words = String(x + long - 3, y - 5 * MM, "drawn shorter along the bends", fontSize=LETTERS - 1, textAnchor="end")
    return Group(Polygon([*ends, *lower], fillColor=colors.white, strokeColor=None), PolyLine(ends, strokeWidth=0.5),
                 PolyLine(lower, strokeWidth=0.5), words)


def _outlined(flat: FlatPattern, along: float, up: float) -> Group:
    found = Group()

    def ring(points, width):
        flattened = [value for x, y in points for value in (x * along, y * up)]
        return Polygon(flattened, strokeColor=colors.black, fillColor=None, strokeWidth=width)

    found.add(ring(flat.outline, 0.9))
    for hole in flat.holes:
        found.add(ring(hole.outline(), 0.6))
    for bend in flat.bends:
        (x0, y0), (x1, y1) = bend.line
        dashes = [8, 2, 1, 2] if bend.bend.sign > 0 else [4, 3]
        found.add(Line(x0 * along, y0 * up, x1 * along, y1 * up, strokeWidth=0.6, strokeDashArray=dashes))
    return found

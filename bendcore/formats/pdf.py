"""Full-size templates: the flat at 1:1, tiled over sheets of paper, as PDF.

Sheets overlap; every pair of neighbours shares alignment crosses, so that they are
laid cross on cross, taped, and measured: the first sheet carries a square to check
before anything is cut, since printers scale. Bend lines have ticks at the outline, so
that a shifted template can be found again.
"""

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib import pagesizes
from reportlab.pdfgen.canvas import Canvas
from shapely import Polygon

from ..errors import Refusal
from ..sheet.model import Point
from ..sheet.unfold import FlatPattern

PT = 72 / 25.4
"""Points in a millimetre."""
PAPERS = {"A4": pagesizes.A4, "Letter": pagesizes.LETTER, "A3": pagesizes.A3}
MARGIN, OVERLAP = 12.0, 15.0
SQUARE = 100.0
TICK = 6.0
MOST_SHEETS = 200
PLAIN = str.maketrans({"−": "-", "–": "-", "■": "!", "▲": "!", "✓": "ok", "“": '"', "”": '"', "′": "'", "″": '"',
                       "…": "...", "≤": "<=", "≥": ">=", "→": "->", "⁄": "/", "○": "", "●": ""})
"""What the printer's own letters do not have, in those that they have."""


@dataclass(frozen=True)
class Tiling:
    """How a flat is cut into sheets. Lengths in mm; ``step`` is from sheet to sheet."""

    paper: tuple[float, float]
    columns: int
    rows: int
    step: tuple[float, float]

    @property
    def sheets(self) -> int:
        """How many sheets of paper."""
        return self.columns * self.rows

    def origin(self, column: int, row: int) -> tuple[float, float]:
        """Lower-left corner of a sheet's picture in the flat."""
        return column * self.step[0] - TICK, row * self.step[1] - TICK


def tile(size: tuple[float, float], paper: str) -> Tiling:
    """The tiling with the fewest sheets, upright or lying."""
    if paper not in PAPERS:
        raise Refusal("paper", "must be one of " + ", ".join(PAPERS))
    width, height = (side / PT for side in PAPERS[paper])
    choices = []
    for wide, high in ((width, height), (height, width)):
        step = (wide - 2 * MARGIN - OVERLAP, high - 2 * MARGIN - OVERLAP)
        count = [max(1, math.ceil((length + 2 * TICK - OVERLAP) / reach))
                 for length, reach in zip(size, step, strict=True)]
        choices.append(Tiling((wide, high), *count, step))
    best = min(choices, key=lambda t: t.sheets)
    if best.sheets > MOST_SHEETS:
        raise Refusal("paper", f"would take {best.sheets} sheets; {MOST_SHEETS} is the most. Take a larger paper")
    return best


@dataclass(frozen=True)
class Template:
    """A ``flat`` and what is written on it: its ``title``, ``lines`` besides bends, ``words`` in its middle."""

    flat: FlatPattern
    title: str
    lines: tuple[tuple[Point, Point], ...] = ()
    words: str = ""
    lies: str = ""
    """Which side of the sheet is up."""


def templates(items: Sequence[Template], paper: str = "A4") -> bytes:
    """The PDF: of each template a first sheet to check, then the tiles row by row from the datum."""
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=0)
    canvas.setTitle(f"{items[0].title}, template 1:1")
    for item in items:
        tiling = tile(item.flat.size, paper)
        _page(canvas, tiling)
        _first(canvas, item.flat, item.title, tiling, paper)
        canvas.showPage()
        for row in range(tiling.rows):
            for column in range(tiling.columns):
                _page(canvas, tiling)
                _sheet(canvas, item, tiling, column, row)
                canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas, tiling):
    canvas.setPageSize(tuple(side * PT for side in tiling.paper))
    canvas.scale(PT, PT)


def as_printed(text: str) -> str:
    """A text in the letters that every printer has."""
    return str(text).translate(PLAIN).encode("cp1252", "replace").decode("cp1252")


def words(canvas: Canvas, x: float, y: float, text: str, size: float = 3.2, font: str = "Helvetica") -> None:
    """A line of text from (x, y) on, ``size`` in the canvas's units."""
    canvas.setFont(font, size)
    canvas.drawString(x, y, as_printed(text))


def _first(canvas, flat, title, tiling, paper):
    wide, high = tiling.paper
    words(canvas, MARGIN, high - MARGIN - 5, title, 6)
    lines = [f"Template at 1:1 on {paper}, {tiling.columns} x {tiling.rows} sheets. Blank {flat.size[0]:.2f} x "
             f"{flat.size[1]:.2f} mm.", f"Print without scaling. Measure the square: {SQUARE:g} mm both ways, "
             "or nothing is to be cut from this.", "Lay the sheets cross on cross, row by row from the datum (A1), "
             "and tape them.", "Full line: cut. Chain line: bend up. Dashed line: bend down. Ticks show where lines "
             "meet the edge."]
    for i, line in enumerate(lines):
        words(canvas, MARGIN, high - MARGIN - 14 - 5 * i, line)
    canvas.setLineWidth(0.2)
    canvas.rect(MARGIN + 5, MARGIN + 5, SQUARE, SQUARE)
    words(canvas, MARGIN + 8, MARGIN + 8, f"{SQUARE:g} mm: measure both sides")
    scale = min((wide - 2 * MARGIN - SQUARE - 20) / flat.size[0], 60 / flat.size[1])
    if scale > 0:
        canvas.saveState()
        canvas.translate(MARGIN + SQUARE + 14, MARGIN + 5)
        canvas.scale(scale, scale)
        canvas.setLineWidth(0.3 / scale)
        _outline(canvas, flat)
        for row in range(tiling.rows):
            for column in range(tiling.columns):
                x, y = tiling.origin(column, row)
                canvas.rect(x, y, tiling.step[0], tiling.step[1])
        canvas.restoreState()


def name_of(column: int, row: int) -> str:
    """``A1`` at the datum; letters go up, numbers to the right."""
    letter = chr(65 + row) if row < 26 else f"{chr(64 + row // 26)}{chr(65 + row % 26)}"
    return f"{letter}{column + 1}"


def _sheet(canvas, item, tiling, column, row):
    flat = item.flat
    wide, high = tiling.paper
    left, bottom = tiling.origin(column, row)
    canvas.saveState()
    window = canvas.beginPath()
    window.rect(MARGIN, MARGIN, wide - 2 * MARGIN, high - 2 * MARGIN)
    canvas.clipPath(window, stroke=0)
    canvas.translate(MARGIN - left, MARGIN - bottom)
    canvas.setLineWidth(0.25)
    _outline(canvas, flat)
    for bend in flat.bends:
        _bend(canvas, bend)
    canvas.setLineWidth(0.15)
    for (x0, y0), (x1, y1) in item.lines:
        canvas.line(x0, y0, x1, y1)
    if item.words:
        middle = Polygon(flat.outline).representative_point()
        words(canvas, middle.x - len(item.words) * 1.2, middle.y, item.words, 5)
    canvas.restoreState()
    canvas.setLineWidth(0.1)
    canvas.rect(MARGIN, MARGIN, wide - 2 * MARGIN, high - 2 * MARGIN)
    _crosses(canvas, tiling, column, row)
    lies = f"; {item.lies}" if item.lies else ""
    words(canvas, MARGIN, 5, f"{name_of(column, row)}   {item.title}   datum at A1, lower left{lies}")


def _outline(canvas, flat):
    ring(canvas, flat.outline)
    for hole in flat.holes:
        x, y = hole.centre
        if hole.is_slot or hole.ring:
            ring(canvas, hole.outline())
        else:
            canvas.circle(x, y, hole.diameter / 2)
        canvas.line(x - 2, y, x + 2, y)
        canvas.line(x, y - 2, x, y + 2)


def ring(canvas: Canvas, points: Sequence[Point], fill: float | None = None) -> None:
    """A closed line, filled with a grey from 0 (black) to 1 if asked."""
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    path.close()
    if fill is None:
        canvas.drawPath(path)
        return
    canvas.setFillGray(fill)
    canvas.drawPath(path, fill=1)
    canvas.setFillGray(0)


def _bend(canvas, bend):
    """Its centre line by direction, with a tick past the outline at both ends, and its words."""
    (x0, y0), (x1, y1) = bend.line
    long = math.dist(*bend.line)
    ux, uy = (x1 - x0) / long, (y1 - y0) / long
    canvas.setDash([6, 1.5, 1, 1.5] if bend.bend.sign > 0 else [3, 2])
    canvas.line(x0, y0, x1, y1)
    canvas.setDash([])
    for x, y, way in ((x0, y0, -1), (x1, y1, 1)):
        canvas.line(x, y, x + way * ux * TICK, y + way * uy * TICK)
    canvas.saveState()
    canvas.translate(x0 + ux * min(20, long / 4), y0 + uy * min(20, long / 4))
    canvas.rotate(math.degrees(math.atan2(uy, ux)))
    way = "up" if bend.bend.sign > 0 else "down"
    words(canvas, 0, 1, f"{bend.bend.id} {way} {bend.bend.angle:g}° r {bend.bend.figures.inside_radius:.2f}")
    canvas.restoreState()


def _crosses(canvas, tiling, column, row):
    """Alignment crosses in the middle of every overlap this sheet has with a neighbour."""
    wide, high = tiling.paper
    middle = ((wide - 2 * MARGIN) / 2, (high - 2 * MARGIN) / 2)
    half = OVERLAP / 2
    spots = []
    if column:
        spots += [(half, y) for y in (middle[1] / 2, middle[1] * 1.5)]
    if column < tiling.columns - 1:
        spots += [(tiling.step[0] + half, y) for y in (middle[1] / 2, middle[1] * 1.5)]
    if row:
        spots += [(x, half) for x in (middle[0] / 2, middle[0] * 1.5)]
    if row < tiling.rows - 1:
        spots += [(x, tiling.step[1] + half) for x in (middle[0] / 2, middle[0] * 1.5)]
    for x, y in spots:
        x, y = x + MARGIN, y + MARGIN
        canvas.line(x - 4, y, x + 4, y)
        canvas.line(x, y - 4, x, y + 4)
        canvas.circle(x, y, 1.5)

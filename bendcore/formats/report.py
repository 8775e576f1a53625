"""Check sheets of a batch as a printed report: a page for each piece, black on white."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import getSampleStyleSheet
from reportlab.platypus import PageBreak, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from ..quality.checksheet import TRIED, CheckRow
from ..units import show_angle, show_length
from .letterhead import NOBODY, Letterhead, head

MM = 72 / 25.4
"""Points in a millimetre."""
STYLES = getSampleStyleSheet()
RULED = TableStyle([("FONTSIZE", (0, 0), (-1, -1), 9), ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.grey),
                    ("FONTNAME", (0, 0), (-1, 0), "Helvetica-Bold"), ("VALIGN", (0, 0), (-1, -1), "MIDDLE")])


@dataclass(frozen=True)
class Checked:
    """A piece as it was checked: ``title`` of its page, the ``rows`` measured, and ``lines`` of what else is told."""

    title: str
    rows: Sequence[CheckRow]
    lines: Sequence[str] = ()


def report(name: str, pieces: Sequence[Checked], units: str, letterhead: Letterhead = NOBODY) -> bytes:
    """A PDF of these pieces, lengths in a reader's ``units``."""
    story = []
    for piece in pieces:
        cells = [["Dimension", "Nominal", "Tolerance", "Measured", "Verdict"]]
        cells += [_cells(row, units) for row in piece.rows]
        story += [Paragraph(escape(name), STYLES["Title"]), Paragraph(escape(piece.title), STYLES["Heading2"]),
                  Table(cells, [70 * MM, 25 * MM, 24 * MM, 38 * MM, 18 * MM], style=RULED, repeatRows=1),
                  Spacer(1, 5 * MM)]
        story += [*(Paragraph(escape(line), STYLES["BodyText"]) for line in piece.lines), PageBreak()]

    def top(canvas, _document):
        head(canvas, letterhead, A4[0] - 16 * MM, A4[1] - 8 * MM, 9 * MM)

    found = io.BytesIO()
    SimpleDocTemplate(found, pagesize=A4, title=name, leftMargin=16 * MM, rightMargin=16 * MM).build(
        story or [Paragraph("Nothing was checked yet.", STYLES["BodyText"])], onFirstPage=top, onLaterPages=top)
    return found.getvalue()


def _cells(row, units) -> list:
    one, sizes = row.dimension, (row.measured, *row.others)

    def shown(size):
        if one.unit == TRIED:
            return "yes" if size else "no"
        return f"{show_length(size, units)} {units}" if one.unit == "mm" else show_angle(size, units, 2)

    tolerance = {"mm": f"± {shown(one.tolerance)}", TRIED: ""}.get(one.unit, f"± {one.tolerance:g}°")
    return [Paragraph(escape(one.title), STYLES["BodyText"]), shown(one.nominal), tolerance,
            Paragraph("; ".join(map(shown, sizes)), STYLES["BodyText"]), "good" if row.verdict == "good" else "OUT"]

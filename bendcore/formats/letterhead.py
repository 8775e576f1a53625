"""Whose paper it is: the shop's name and mark at the head of what is printed and handed on."""

import io
from dataclasses import dataclass

from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from .pdf import as_printed

NAME_HIGH, APART = 0.42, 0.25
"""Height of the name's letters, and what lies between it and the mark, in heights of the head."""


@dataclass(frozen=True)
class Letterhead:
    """The shop's ``name`` and its ``mark`` as JPEG; either may be empty."""

    name: str = ""
    mark: bytes = b""


NOBODY = Letterhead()


def head(canvas: Canvas, letterhead: Letterhead, right: float, top: float, high: float) -> None:
    """The mark with its upper right corner at (``right``, ``top``), ``high`` and at most three times as wide, the name
    to its left; lengths in the canvas's units."""
    if letterhead.mark:
        picture = ImageReader(io.BytesIO(letterhead.mark))
        wide, tall = picture.getSize()
        scale = min(high / tall, 3 * high / wide)
        canvas.drawImage(picture, right - wide * scale, top - tall * scale, wide * scale, tall * scale)
        right -= wide * scale + APART * high
    if letterhead.name:
        canvas.setFont("Helvetica-Bold", NAME_HIGH * high)
        canvas.drawRightString(right, top - (0.5 + 0.35 * NAME_HIGH) * high, as_printed(letterhead.name))

"""A drawing of a flat, a line of stations or a solid as a shape."""

import argparse
from pathlib import Path

from ..errors import Refusal
from ..formats.drawing import MOST_BYTES, Drawing
from ..formats.reading import read_shape_in


def run(args: argparse.Namespace) -> dict:
    """A flat from a DXF or SVG, or a chain from the CSV of its stations: its shape for a part file, and the report. Of
    a STEP solid the whole part file, of mild steel until somebody says otherwise; of an assembly how often each is
    there, and its ``others``."""
    try:
        with Path(args.file).open("rb") as file:
            drawing = read_shape_in(file.read(MOST_BYTES + 1), Path(args.file).name[-80:])
    except OSError as error:
        raise Refusal(args.file[:80], error.strerror or "cannot be read") from None
    name = Path(args.file).stem[:100]
    return _told(drawing, name) | (
        {"others": [_told(one, f"{name}, part {n}") for n, one in enumerate(drawing.others, 2)]}
        if drawing.others else {})


def _told(drawing: Drawing, name: str) -> dict:
    report = {"report": list(drawing.report)}
    if not drawing.part:
        return {"shape": drawing.shape} | report
    return drawing.as_part(name) | ({"count": drawing.count} if drawing.count > 1 else {}) | report

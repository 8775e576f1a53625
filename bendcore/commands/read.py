"""A drawing of a flat, a line of stations or a solid as a shape."""

import argparse
from pathlib import Path

from ..errors import Refusal
from ..formats.drawing import MOST_BYTES, Drawing
from ..formats.reading import read_shape_in


def run(args: argparse.Namespace) -> dict:
    """A flat from a DXF or SVG, a chain from the CSV of its stations, panels from a STEP solid: its shape for a part
    file, what else of one it tells, and the report; of an assembly how often, and its other parts."""
    try:
        with Path(args.file).open("rb") as file:
            drawing = read_shape_in(file.read(MOST_BYTES + 1), Path(args.file).name[-80:])
    except OSError as error:
        raise Refusal(args.file[:80], error.strerror or "cannot be read") from None
    return _told(drawing) | ({"others": [_told(one) for one in drawing.others]} if drawing.others else {})


def _told(drawing: Drawing) -> dict:
    count = {"count": drawing.count} if drawing.count > 1 else {}
    return {"shape": drawing.shape} | drawing.part | count | {"report": list(drawing.report)}

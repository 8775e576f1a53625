"""A drawing of a flat, or a line of stations, as a shape."""

import argparse
from pathlib import Path

from ..errors import Refusal
from ..formats.drawing import MOST_BYTES
from ..formats.reading import read_shape_in


def run(args: argparse.Namespace) -> dict:
    """A flat from a DXF or SVG, a chain from the CSV of its stations: its shape for a part file, and the report."""
    try:
        with Path(args.file).open("rb") as file:
            drawing = read_shape_in(file.read(MOST_BYTES + 1), Path(args.file).name[-80:])
    except OSError as error:
        raise Refusal(args.file[:80], error.strerror or "cannot be read") from None
    return {"shape": drawing.shape, "report": list(drawing.report)}

"""A part as a file for others."""

import argparse
from pathlib import Path

from ..errors import Refusal
from ..formats.export import WRITERS, export
from ..part import read_part
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """The flat or the model written to a file, by its ending."""
    path = Path(args.to)
    ending = path.suffix.lstrip(".").lower()
    options = {"paper": args.paper} if ending == "pdf" else {}
    before = path.with_suffix("").suffix.lstrip(".").lower()
    if before in WRITERS and ending in ("pdf", "dxf", "svg"):  # NAME.model.pdf, NAME.blocks.dxf, NAME.gauge.svg
        ending = before
    made = export(read_part(read_file(args.file)), ending, **options)
    try:
        path.write_bytes(made if isinstance(made, bytes) else made.encode())
    except OSError as error:
        raise Refusal("to", error.strerror or "cannot be written") from None
    return {"written": args.to}

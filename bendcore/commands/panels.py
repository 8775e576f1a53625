"""A part told as panels."""

import argparse

from ..edits import as_panels_part
from ..part import read_part, settled
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """The part file with its shape told as panels on panels: the same faces, bends and openings."""
    data = settled(read_file(args.file))[0]
    return as_panels_part(data, lambda: read_part(data))

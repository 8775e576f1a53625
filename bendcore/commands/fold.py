"""A part folded."""

import argparse

from ..formats.results import fold_result
from ..part import read_part
from .reading import names, read_file


def run(args: argparse.Namespace) -> dict:
    """The part folded, or only the bends named."""
    made = names(args.made) if args.made is not None else None
    return fold_result(read_part(read_file(args.file)), made)

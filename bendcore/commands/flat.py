"""A part's flat pattern."""

import argparse

from ..formats.results import flat_result
from ..part import read_part
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """The flat of a part file."""
    return flat_result(read_part(read_file(args.file)))

"""One bend's figures."""

import argparse

from ..formats.figures import bend_result
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """One bend from a bend file."""
    return bend_result(read_file(args.file))

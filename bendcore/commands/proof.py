"""A proof bend's K and its uncertainty."""

import argparse

from ..formats.figures import proof_result
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """Proof bends from a proof file."""
    return proof_result(read_file(args.file))

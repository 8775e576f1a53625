"""Files named on the command line."""

import sys
from pathlib import Path

from ..errors import Refusal
from ..files import MAX_BYTES, read_json


def read_file(name: str) -> dict:
    """JSON from a file or standard input, never more than the limit."""
    try:
        if name == "-":
            return read_json(sys.stdin.buffer.read(MAX_BYTES + 1))
        with Path(name).open("rb") as file:
            return read_json(file.read(MAX_BYTES + 1))
    except OSError as error:
        raise Refusal(name[:80], error.strerror or "cannot be read") from None


def names(text: str) -> list[str]:
    """Bends named with commas between."""
    return [name.strip() for name in text.split(",") if name.strip()]

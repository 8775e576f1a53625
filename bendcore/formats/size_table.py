"""One part in a table of sizes: a row a size, typed or as CSV.

The first row names the columns: ``name``, ``count`` (1 where it is left out), then fields below the part's shape as
the part file calls them (``length``, ``walls.left.height``, ``legs[2]``). A cell left empty keeps the first part's
size.
"""

from dataclasses import dataclass

from ..errors import Refusal
from ..files import table_rows

MOST_ROWS, MOST_TEXT = 60, 20_000
MOST_COUNT = 1000
NAME, COUNT = "name", "count"


@dataclass(frozen=True)
class Sized:
    """One size: its ``name``, how many, and what is typed for each field."""

    name: str
    count: int
    fields: dict[str, str]


def read_sizes(text: str) -> list[Sized]:
    """Every row; refuses with its number what cannot be read."""
    if len(text) > MOST_TEXT:
        raise Refusal("table", f"is longer than {MOST_TEXT} characters")
    rows = table_rows(text, "table", "cannot be read")
    if len(rows) < 2:
        raise Refusal("table", "needs a first row that names the columns, and a row for each size")
    if len(rows) > MOST_ROWS + 1:
        raise Refusal("table", f"has more than {MOST_ROWS} sizes")
    header = rows[0][1]
    if NAME not in header:
        raise Refusal("table", f"needs a column called {NAME}")
    if len(set(header)) < len(header):
        raise Refusal("table", "names a column twice")
    return [_sized(dict(zip(header, row, strict=False)), n) for n, row in rows[1:]]


def _sized(row: dict[str, str], n: int) -> Sized:
    name, count = row.pop(NAME, "")[:120], row.pop(COUNT, "") or "1"
    if not name:
        raise Refusal("table", f"has no name in line {n}")
    if not (count.isascii() and count.isdigit() and 1 <= int(count[:9]) <= MOST_COUNT):
        raise Refusal("table", f"has “{count[:12]}” for a count in line {n}: a whole number from 1 to {MOST_COUNT}")
    return Sized(name, int(count), {key: cell for key, cell in row.items() if cell})

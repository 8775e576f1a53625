"""A chain's stations from a CSV: ``length``, ``diameter``, and where it turns ``turn`` and ``plane``, a row a station.

The first row names the columns; a unit in round brackets holds for its column (``length (in)``), else lengths are mm
unless they say otherwise themselves. Turns are degrees. The first station has no length, and neither end a turn.
"""

import math
import re

from ..errors import Refusal
from ..files import table_rows
from ..units import in_mm, read_length
from .drawing import MOST_BYTES, Drawing

COLUMNS = ("length", "diameter", "turn", "plane")
MOST_STATIONS = 65
_HEADER = re.compile(r"^\s*(\w+)\s*(?:\(\s*(mm|in)\s*\))?\s*$")


def read_stations(data: bytes, name: str) -> Drawing:
    """The shape of a chain; refuses with the row and the column what cannot be read."""
    if len(data) > MOST_BYTES:
        raise Refusal(name, f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal(name, "is not a CSV in UTF-8") from None
    rows = [row for _, row in table_rows(text[:200_000], name, "is not CSV")]
    units = _columns(rows[0] if rows else [], name)
    if not 3 <= len(rows) <= MOST_STATIONS + 1:
        raise Refusal(name, f"needs from 2 to {MOST_STATIONS} stations, a row each")
    stations = [_station(row, n, len(rows) - 2, units, name) for n, row in enumerate(rows[1:])]
    return Drawing({"kind": "chain", "dims": "outside", "stations": stations},
                   (f"{len(stations)} stations were read: a chain of {len(stations) - 1} pieces, diameters outside, "
                    "butt seam.",))


def _columns(header: list[str], name: str) -> dict[str, tuple[int, str]]:
    """(place, unit) of each column by its name."""
    found = {}
    for place, cell in enumerate(header):
        match = _HEADER.match(cell.lower())
        if not match or match[1] not in COLUMNS or match[1] in found:
            raise Refusal(name, f"has a column “{cell.strip()[:24]}”: its first row names them, of "
                          + ", ".join(COLUMNS))
        found[match[1]] = (place, match[2] or "mm")
    missing = [column for column in COLUMNS[:2] if column not in found]
    if missing:
        raise Refusal(name, f"has no column {' and '.join(missing)} in its first row")
    return found


def _station(row: list[str], n: int, last: int, columns: dict[str, tuple[int, str]], name: str) -> dict:
    found = {}
    for key, (place, unit) in columns.items():
        text = row[place].strip() if place < len(row) else ""
        where = f"{name}, row {n + 2}, {key}"
        if key in ("length", "diameter"):
            if text and not (key == "length" and n == 0 and text in ("0", "-")):
                found[key] = in_mm(read_length(text, unit, where))
        elif text and 0 < n < last:
            found[key] = _degrees(text, where)
        elif text and _degrees(text, where) and key == "turn":
            raise Refusal(where, "belongs to a station between two pieces: the line begins and ends straight")
    for key in ("diameter", *(("length",) if n else ())):
        if key not in found:
            raise Refusal(f"{name}, row {n + 2}, {key}", "is missing")
    return found


def _degrees(text: str, where: str) -> float:
    try:
        value = float(text.rstrip("°").replace(",", "."))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Refusal(where, f"“{text[:24]}” is not a number of degrees")
    return value

"""A supplier's profile said limit by limit, and its stocks row by row or pasted as its sheet has them.

What is not said is no limit, and nothing is checked against it; the largest sheet and one stock there must be.
"""

import copy
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..bending.bend import APEX, k_from_allowance, outside_setback
from ..errors import Refusal
from ..files import table_rows
from ..said import Mm, Said
from ..stock import called, material, materials, read_thickness, refuse_bare_gauge
from ..units import MM_PER, read_angle, read_length
from .profile import read_profile

LENGTH, BEND, NUMBER, CHOICE, WORDS = "length", "bend", "number", "choice", "words"
MOST_STOCKS, MOST_TEXT, MOST_NOTE = 200, 100_000, 400


@dataclass(frozen=True)
class Limit:
    """One thing that a profile may say: its ``path`` in the file, what it is called and what hangs on it, what it is
    read as, and what may be chosen. ``partner`` is said with it where it is not said yet."""

    path: str
    title: str
    said: str
    unit: str = LENGTH
    options: tuple[str, ...] = ()
    partner: str = ""


LIMITS = (
    Limit("largest.length", "Largest sheet, long side", "a blank must fit on it, turned either way"),
    Limit("largest.width", "Largest sheet, short side", "likewise"),
    Limit("smallest.length", "Smallest blank, long side", "a smaller one slips through its table",
          partner="smallest.width"),
    Limit("smallest.width", "Smallest blank, short side", "likewise", partner="smallest.length"),
    Limit("longest_bend", "Longest bend", "a longer one goes on no brake of theirs"),
    Limit("kerf", "Width of its cut", "a slit that is narrower cannot be cut"),
    Limit("angles.least", "Least bend", "bent from flat", BEND, partner="angles.most"),
    Limit("angles.most", "Sharpest bend", "bent from flat", BEND, partner="angles.least"),
    Limit("parallel", "Needs an edge parallel to each bend", "tabs are put on where there is none", CHOICE,
          ("no", "yes")),
    Limit("tolerances.length", "Holds sizes to ±", "a check row that asks for less is told"),
    Limit("tolerances.angle", "Holds angles to ±", "likewise, in degrees", NUMBER),
    Limit("file.format", "Drawing it wants", "the pack has it so", CHOICE, ("dxf", "svg")),
    Limit("file.units", "Units of the drawing", "the pack has it so", CHOICE, ("mm", "in")),
    Limit("note", "Its own words", "printed with the pack", WORDS),
)
WHOLE = {"angles.least": 0.0, "angles.most": 180.0}
"""What a partner says where nobody said it."""
REQUIRED = ("largest.length", "largest.width")
STOCK = (("material", "Metal"), ("thickness", "Thickness"), ("inside_radius", "Inside radius"), ("k", "K"),
         ("shortest_flange", "Shortest flange, outside"), ("hole_to_bend", "Hole's edge to tangent line"),
         ("smallest_opening", "Smallest opening"), ("hems", "Hems"))
"""Fields of a stock, as they are called."""
MAY_LACK = ("hole_to_bend", "smallest_opening")


def begun(name: str, units: str) -> dict:
    """A profile to be filled in: one sheet size and one stock, as many shops have them."""
    def of(mm):
        return round(mm / MM_PER[units], 4)
    return {"format": "dorvan-supplier", "version": 1, "name": name, "units": units,
            "largest": {"length": of(2440), "width": of(1220)},
            "stocks": [{"material": "mild-steel", "thickness": of(1.5), "inside_radius": of(1.5), "k": 0.42,
                        "shortest_flange": of(10)}]}


def limit_at(path: str) -> Limit:
    """The limit at a path of the file; refuses one that there is not."""
    found = next((limit for limit in LIMITS if limit.path == path), None)
    if found is None:
        raise Refusal(path or "field", "is nothing that a profile says")
    return found


def said_at(data: Mapping, path: str) -> object:
    """What the file says there, in its own units; None where it says nothing."""
    found: object = data
    for key in path.split("."):
        found = found.get(key) if isinstance(found, Mapping) else None
    return found


def with_limit(data: dict, path: str, text: str, units: str) -> dict:
    """The file with a limit as a reader of ``units`` typed it; an empty text says nothing from then on.

    >>> with_limit(begun("S", "mm"), "kerf", "1/64 in", "mm")["kerf"]
    0.396875
    """
    limit, found = limit_at(path), copy.deepcopy(data)
    if not text.strip():
        if path in REQUIRED:
            raise Refusal(path, "must be said: nothing can be checked without it")
        _drop(found, limit)
    else:
        value = _read(limit, text, units, data["units"])
        _put(found, path, value)
        if limit.partner and said_at(found, limit.partner) is None:
            _put(found, limit.partner, WHOLE.get(limit.partner, value))
    read_profile(found)
    return found


def _read(limit, text, units, own) -> object:
    if limit.unit == CHOICE:
        if text not in limit.options:
            raise Refusal(limit.path, "must be one of " + ", ".join(limit.options))
        return text == "yes" if limit.options == ("no", "yes") else text
    if limit.unit == WORDS:
        return " ".join(text.split())[:MOST_NOTE]
    if limit.unit == BEND:
        return _within(read_angle(text, limit.path, units), limit.path, 0, 180)
    if limit.unit == NUMBER:
        return _within(_number(text, limit.path), limit.path, 0.01, 10)
    mm = read_length(text, units, limit.path)
    if mm <= 0:
        raise Refusal(limit.path, Said("must be greater than {least}", least=Mm(0)))
    return round(mm / MM_PER[own], 6)


def _within(value, path, low, high) -> float:
    if not low <= value <= high:
        raise Refusal(path, f"must be from {low:g} to {high:g}")
    return value


def _number(text, path) -> float:
    try:
        value = float(text[:20].replace(",", ".").rstrip("° "))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Refusal(path, "must be a number")
    return value


def _put(data, path, value) -> None:
    *above, key = path.split(".")
    for name in above:
        data = data.setdefault(name, {})
    data[key] = value


def _drop(data, limit) -> None:
    top, _, key = limit.path.partition(".")
    if not key or limit.partner:  # one of a pair says nothing by itself
        data.pop(top, None)
    elif top in data:
        data[top].pop(key, None)
        if not data[top]:
            del data[top]


def with_stock(data: dict, number: int, field: str, text: str, units: str) -> dict:
    """The file with a field of one of its stocks as typed; refuses at ``stocks[number].field``."""
    if not 0 <= number < len(data["stocks"]):
        raise Refusal(f"stocks[{number}]", "is none of its stocks")
    found = copy.deepcopy(data)
    row, path = found["stocks"][number], f"stocks[{number}].{field}"
    if field not in dict(STOCK):
        raise Refusal(path, "is nothing that a stock says")
    if not text.strip() and field in MAY_LACK:
        row.pop(field, None)
    else:
        row[field] = _of_stock(field, text, units, data["units"], path, row["material"])
    _refuse_twice(found["stocks"], number, path)
    read_profile(found)
    return found


def _of_stock(field, text, units, own, path, metal) -> object:
    if field == "material":
        return _metal(text, path)
    if field == "hems":
        return _yes(text, path)
    if field == "k":
        return _within(_number(text, path), path, 0.05, 0.7)
    if field == "thickness":
        refuse_bare_gauge(text, units, path)
    mm = read_thickness(text, units, material(metal, path), path) if field == "thickness" else read_length(
        text, units, path)
    if mm <= 0:
        raise Refusal(path, Said("must be greater than {least}", least=Mm(0)))
    return round(mm / MM_PER[own], 6)


def _metal(text, path) -> str:
    """A metal by the name of files or as people say it."""
    said = " ".join(text.lower().split())
    known = next((name for name in materials() if said in (name, called(name).lower())), text.strip())
    return material(known, path).name


def _yes(text, path) -> bool:
    word = text.strip().lower()
    if word not in ("yes", "no", "y", "n", "1", "0", ""):
        raise Refusal(path, "must be yes or no")
    return word in ("yes", "y", "1")


def _refuse_twice(stocks, number, path) -> None:
    one = (stocks[number]["material"], stocks[number]["thickness"])
    if any((row["material"], row["thickness"]) == one for n, row in enumerate(stocks) if n != number):
        raise Refusal(path, "would give one stock twice")


def with_stock_more(data: dict) -> dict:
    """The file with a stock more, like its last but thicker by half, to be changed."""
    last = copy.deepcopy(data["stocks"][-1])
    last["thickness"] = round(1.5 * read_length(last["thickness"], data["units"]) / MM_PER[data["units"]], 6)
    return _held(data, [*data["stocks"], last])


def without_stock(data: dict, number: int) -> dict:
    """The file without one of its stocks; refuses the last."""
    if not 0 <= number < len(data["stocks"]):
        raise Refusal("stocks", "has none of that number")
    if len(data["stocks"]) == 1:
        raise Refusal("stocks", "must hold one at least")
    return _held(data, [row for n, row in enumerate(data["stocks"]) if n != number])


def _held(data, stocks) -> dict:
    if len(stocks) > MOST_STOCKS:
        raise Refusal("stocks", f"are more than {MOST_STOCKS}")
    found = data | {"stocks": stocks}
    read_profile(found)
    return found


COLUMNS: Mapping[str, str] = {
    "material": "material", "metal": "material", "thickness": "thickness", "t": "thickness", "radius": "inside_radius",
    "inside radius": "inside_radius", "r": "inside_radius", "k": "k", "deduction": "deduction", "bd": "deduction",
    "flange": "shortest_flange", "shortest flange": "shortest_flange", "hole": "hole_to_bend",
    "hole to bend": "hole_to_bend", "opening": "smallest_opening", "smallest opening": "smallest_opening",
    "hems": "hems"}
"""Headings of a pasted table, and the field that each stands for; ``deduction`` is that of a bend of 90°."""


def pasted(data: dict, text: str, units: str) -> dict:
    """The file with the stocks of a table as a supplier's sheet has it, in place of those so far: a heading, then a
    stock to a line, between tabs, semicolons or commas.

    Material, thickness, radius, flange, and K or the deduction of a square bend, from which K is worked out: the
    allowance is 2·setback − deduction. Raises Refusal naming the line and the column.
    """
    rows = _table(text)
    header = [COLUMNS.get(cell.strip().lower(), "") for cell in rows[0][1]]
    for cell, name in zip(rows[0][1], header, strict=True):
        if not name:
            raise Refusal("table", f"has a column “{cell[:20]}”; known are " + ", ".join(dict.fromkeys(COLUMNS)))
        if header.count(name) > 1:
            raise Refusal("table", f"has the column {cell[:20]} twice")
    needed = {"material": "material", "thickness": "thickness", "inside_radius": "radius", "shortest_flange": "flange"}
    for name, title in needed.items():
        if name not in header:
            raise Refusal("table", f"needs a column {title}")
    if ("k" in header) == ("deduction" in header):
        raise Refusal("table", "needs either a column K or a column deduction")
    stocks = [_stock(dict(zip(header, cells, strict=True)), number, units, data["units"]) if len(cells) == len(header)
              else _uneven(number, len(cells), len(header)) for number, cells in rows[1:]]
    for n in range(len(stocks)):
        _refuse_twice(stocks, n, "table")
    return _held(data, stocks)


def _uneven(number, cells, wanted):
    raise Refusal("table", f"line {number} has {cells} cells, the heading {wanted}")


def _table(text) -> list[tuple[int, list[str]]]:
    if len(text) > MOST_TEXT:
        raise Refusal("table", f"is larger than {MOST_TEXT // 1000} kB")
    rows = table_rows(text, "table", "cannot be read")
    if len(rows) < 2:
        raise Refusal("table", "needs a heading and a line for each stock")
    return rows


def _stock(cells, number, units, own) -> dict:
    """One line as a stock of the file."""
    found: dict = {}
    def read(field: str, make: Callable[[str], object]) -> None:
        try:
            found[field] = make(cells[field])
        except Refusal as refusal:
            raise Refusal("table", Said("line {line}, {field}: {what}", line=number, field=field.replace("_", " "),
                                        what=refusal.message)) from None

    read("material", lambda text: _metal(text, "material"))
    for field in cells:
        if field not in ("deduction", "material") and (cells[field] or field not in MAY_LACK):
            read(field, lambda text, field=field: _of_stock(field, text, units, own, field, found["material"]))
    if "deduction" in cells:
        read("deduction", lambda text: read_length(text, units))
        radius, thick = (found[key] * MM_PER[own] for key in ("inside_radius", "thickness"))
        allowance = 2 * outside_setback(90, radius, thick, APEX) - found.pop("deduction")
        k = k_from_allowance(90, radius, thick, allowance)
        if not 0.05 <= k <= 0.7:
            raise Refusal("table", f"line {number}, deduction: would be a K of {k:.2f}; look at radius and thickness")
        found["k"] = round(k, 4)
    return found

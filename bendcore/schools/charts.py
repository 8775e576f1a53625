"""Deduction and allowance charts: read from CSV, interpolated, never extrapolated.

A chart is a table of thickness, inside radius and angle against a deduction or an
allowance, as shops keep on the wall; ``tool`` is optional. Between rows the figure
is interpolated in a straight line, thickness by thickness, radius by radius, angle by
angle; beyond the outermost row it is refused.
"""

from collections.abc import Callable
from dataclasses import dataclass

from ..errors import Refusal
from ..files import table_rows
from ..said import Deg, Mm, Said
from ..units import read_length

DEDUCTION, ALLOWANCE = "deduction", "allowance"
MOST_ROWS, MOST_BYTES = 2000, 200_000
NEAR = 0.02
"""A thickness or radius within this share of a row's is that row's."""


@dataclass(frozen=True)
class Row:
    """One line: mm and degrees. ``thickness`` and ``radius`` may be None: any."""

    angle: float
    figure: float
    thickness: float | None = None
    radius: float | None = None
    tool: str = ""


@dataclass(frozen=True)
class Chart:
    """``kind`` says whether the figures are deductions or allowances."""

    kind: str
    rows: tuple[Row, ...]

    def figure(self, angle: float, radius: float, thickness: float, path: str = "allowance.rows") -> float:
        """The figure for one bend; refuses what lies outside the chart."""
        return _at(self.rows, thickness, "thickness",
                   lambda rows: _at(rows, radius, "radius",
                                    lambda rest: _at(rest, angle, "angle", lambda row: row[0].figure, path),
                                    path), path)

    def for_tool(self, tool: str) -> "Chart":
        """Only the rows of this tool, and those that name none."""
        rows = tuple(r for r in self.rows if r.tool in ("", tool))
        if not rows:
            raise Refusal("allowance.rows", f"the chart has no rows for {tool or 'no tool'}")
        return Chart(self.kind, rows)


def _at(rows, value: float, key: str, below: Callable, path: str) -> float:
    """``below`` of the rows at ``value`` of ``key``, or a straight line between two."""
    steps = sorted({getattr(r, key) for r in rows if getattr(r, key) is not None})
    if not steps:
        return below(rows)
    near = 1e-9 if key == "angle" else NEAR
    closest = min(steps, key=lambda s: abs(s - value))
    if abs(closest - value) <= near * max(closest, value) + 1e-9:
        return below(tuple(r for r in rows if getattr(r, key) == closest))
    if not steps[0] < value < steps[-1]:
        value, first, last = ((Deg(x) if key == "angle" else Mm(x)) for x in (value, steps[0], steps[-1]))
        raise Refusal(path, Said("the chart does not reach {key} {value}: it covers "
                                 + ("only {first}" if len(steps) == 1 else "{first} to {last}"),
                                 key=key, value=value, first=first, last=last))
    low, high = max(s for s in steps if s < value), min(s for s in steps if s > value)
    share = (value - low) / (high - low)
    one, other = (below(tuple(r for r in rows if getattr(r, key) == s)) for s in (low, high))
    return one + share * (other - one)


def read_chart(text: str, units: str = "mm") -> Chart:
    """A chart from CSV text with a header; commas or semicolons.

    Columns: ``angle`` and one of ``deduction`` and ``allowance``; ``thickness``,
    ``radius`` and ``tool`` if the chart goes by them. Lengths in ``units`` or with
    their own. Refusals name line and column.
    """
    if len(text) > MOST_BYTES:
        raise Refusal("chart", f"is larger than {MOST_BYTES // 1000} kB")
    lines = table_rows(text, "chart", "is not CSV")
    if not lines:
        raise Refusal("chart", "is empty: paste a header line, such as thickness,radius,angle,deduction, and its rows")
    header = [cell.lower() for cell in lines[0][1]]
    kind = _header(header)
    if len(lines) - 1 > MOST_ROWS:
        raise Refusal("chart", f"has more than {MOST_ROWS} rows")
    rows = tuple(_row(header, cells, number, kind, units) for number, cells in lines[1:])
    if not rows:
        raise Refusal("chart", "has a header but no rows")
    seen: dict[tuple, float] = {}
    for (number, _), row in zip(lines[1:], rows, strict=True):
        place = (row.tool, row.thickness, row.radius, row.angle)
        if place in seen:
            raise Refusal("chart", f"line {number} gives a bend that an earlier line gave already")
        seen[place] = row.figure
    return Chart(kind, rows)


def _header(header):
    known = {"tool", "thickness", "radius", "angle", DEDUCTION, ALLOWANCE}
    for name in header:
        if name not in known:
            raise Refusal("chart", f"has a column “{name[:20]}”; known are " + ", ".join(sorted(known)))
        if header.count(name) > 1:
            raise Refusal("chart", f"has the column {name} twice")
    if "angle" not in header:
        raise Refusal("chart", "needs a column angle")
    kinds = [k for k in (DEDUCTION, ALLOWANCE) if k in header]
    if len(kinds) != 1:
        raise Refusal("chart", "needs either a column deduction or a column allowance")
    return kinds[0]


def _row(header, cells, number, kind, units) -> Row:
    if len(cells) != len(header):
        raise Refusal("chart", f"line {number} has {len(cells)} cells, the header {len(header)}")
    cell = dict(zip(header, cells, strict=True))

    def length(name, least):
        if name not in cell:
            return None
        try:
            value = read_length(cell[name], units)
        except Refusal as refusal:
            raise Refusal("chart", Said("line {line}, {name}: {what}", line=number, name=name,
                                        what=refusal.message)) from None
        if value < least:
            raise Refusal("chart", Said("line {line}, {name}: must be at least {least}", line=number, name=name,
                                        least=Mm(least)))
        return value

    try:
        angle = float(cell["angle"].replace(",", ".").rstrip("° "))
    except ValueError:
        angle = 0.0
    if not 0 < angle <= 180:
        raise Refusal("chart", f"line {number}, angle: must be a bend angle above 0 and up to 180")
    thickness = length("thickness", 0.01)
    return Row(angle, length(kind, 0.0 if kind == ALLOWANCE else -1000.0), thickness, length("radius", 0.0),
               cell.get("tool", "")[:80])

"""The sections of a brake file by their places, to be looked at and changed one by one."""

import copy
import re

from ..errors import Refusal
from ..units import MM_PER, as_typed, read_length

NAMES = {"ram_section": "Ram", "table_section": "Table", "frame_section": "Side frames",
         "finger_section": "Fingers or nose", "beam_section": "Clamp beam", "bed_section": "Bed",
         "leaf_section": "Leaf", "bar_section": "Bar", "backing_section": "Backing bar"}
_TOOL = re.compile(r"(punches|dies)\[(\d{1,3})\]\.section", re.ASCII)
MOST_POINTS, MOST_ALIKE = 400, 99


def sections(data: dict) -> dict[str, str]:
    """Place → what it is called, of every section in a brake file."""
    found = {key: title for key, title in NAMES.items() if key in data}
    for rack in ("punches", "dies"):
        found |= {f"{rack}[{i}].section": tool["name"] for i, tool in enumerate(data.get(rack, ()))}
    if "section" in data.get("stops", {}):
        found["stops.section"] = "Stop"
    return found


def section_at(data: dict, place: str) -> list:
    """The points of the section at a place; refuses one that there is not."""
    holder, key = _holder(data, place)
    return holder[key]


def points_at(data: dict, place: str) -> list[tuple[float, float]]:
    """The same in mm."""
    per = MM_PER[data["units"]]
    return [(y * per, z * per) for y, z in section_at(data, place)]


def with_section(data: dict, place: str, points: list) -> dict:
    """The file with other points there; what had been made of measured sizes is drawn from then on."""
    found = copy.deepcopy(data)
    holder, key = _holder(found, place)
    holder[key] = points
    if _TOOL.fullmatch(place):
        holder.pop("measured", None)
    elif "measured" in found:
        drawn = found["measured"].setdefault("drawn", [])
        drawn += [place] if place not in drawn else []
    return found


def _holder(data, place) -> tuple[dict, str]:
    if place not in sections(data):
        raise Refusal("place", "is no section of this brake")
    tool = _TOOL.fullmatch(place)
    if tool:
        return data[tool[1]][int(tool[2])], "section"
    return (data["stops"], "section") if place == "stops.section" else (data, place)


def read_points(text: str, units: str, path: str) -> list[list[float]]:
    """Points typed one to a line, ``y, z`` (two numbers with a comma, semicolon or blanks between), in the file's
    ``units``; refuses the first that cannot be read, by its place."""
    rows = [line.strip() for line in text.splitlines() if line.strip()]
    if not 3 <= len(rows) <= MOST_POINTS:
        raise Refusal(path, f"needs from 3 to {MOST_POINTS} points, one to a line")
    found = []
    for i, line in enumerate(rows):
        pair = re.split(r"\s*[,;]\s*|\s{2,}|\t", line) if re.search(r"[,;\t]|\s{2,}", line) else line.split()
        if len(pair) != 2:
            raise Refusal(f"{path}[{i}]", "must be two lengths: y, then z")
        found.append([read_length(value, units, f"{path}[{i}]") / MM_PER[units] for value in pair])
    return found


def written_points(points: list, units: str) -> str:
    """The same as text."""
    return "\n".join(", ".join(_plain(value, units) for value in pair) for pair in points)


def _plain(value, units) -> str:
    mm = read_length(value, units, "section") if isinstance(value, str) else value * MM_PER[units]
    return f"{mm / MM_PER[units]:.6g}"


def written_pieces(data: dict, place: str, reader: str = "") -> str:
    """The pieces owned of what stands at a place as text, ``width × count`` to a line, in the units of its ``reader``
    or else the file's; empty where it has none."""
    units = data["units"]

    def shown(value):
        return as_typed(read_length(value, units, place), reader) if reader else _plain(value, units)

    if place == "finger_section":
        return "\n".join(f"{shown(row['width'])} × {row['count']}" for row in data["fingers"])
    if not _TOOL.fullmatch(place):
        return ""
    lengths = [shown(value) for value in _holder(data, place)[0]["lengths"]]
    return "\n".join(f"{length} × {lengths.count(length)}" for length in dict.fromkeys(lengths))


def with_pieces(data: dict, place: str, text: str, reader: str = "") -> dict:
    """The file with other pieces owned there, written the same, or in one line with semicolons between, by a
    ``reader`` of other units where one is given; refuses the first that cannot be read."""
    rows = []
    for i, line in enumerate(filter(None, map(str.strip, re.split(r"[;\n]", text)))):
        size, _, count = re.sub(r"[x*×]", "×", line).partition("×")
        if not (count.strip() or "1").isdecimal() or not 1 <= int(count.strip() or 1) <= MOST_ALIKE:
            raise Refusal(f"pieces[{i}]", f"must be a size × how many, 1 to {MOST_ALIKE}")
        mm = read_length(size.strip(), reader or data["units"], f"pieces[{i}]")
        rows.append((round(mm / MM_PER[data["units"]], 6), int(count.strip() or 1)))
    found = copy.deepcopy(data)
    holder, _ = _holder(found, place)
    if place == "finger_section":
        found["fingers"] = [{"width": width, "count": count} for width, count in rows]
    elif _TOOL.fullmatch(place):
        holder["lengths"] = [length for length, count in rows for _ in range(count)]
    else:
        raise Refusal("place", "is not put together of pieces")
    return found

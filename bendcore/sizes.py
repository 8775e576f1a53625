"""Sizes as people type and read them: ``240``, ``240 inside``, ``around 240 with 0.5``, ``around T-0150 width``.

A size that says how it is measured, or what it is made to fit, is kept as the part file keeps it; everything else
stays the text that was typed.
"""

import re
from collections.abc import Callable

from .errors import Refusal
from .units import MM_PER, as_typed, read_length, to_fraction

STEPS = ((2, 2), (0.4, 4), (0.1, 16), (0, 64))
"""From so many inches on, sizes to begin with are whole parts of an inch: halves, quarters, …"""
MATE = re.compile(r"^T-?0*(\d{1,9})\s+([\w-]{1,30})$", re.IGNORECASE)
"""A size of another piece: its ticket, and the size's name."""
_NAMED = re.compile(r"[a-z\"″'′]", re.IGNORECASE)
_DIMS = re.compile(r"^(.+?)[\s,]+(outside|inside)$", re.IGNORECASE)
_FIT = re.compile(r"^(around|into)\s+(.+?)(?:\s+with\s+(.+))?$", re.IGNORECASE)


def begun(mm: float, units: str) -> float | str:
    """A size to begin with near ``mm``, round in ``units``, as a part file takes it.

    >>> begun(200, "mm"), [begun(mm, "in") for mm in (200, 120, 30, 12, 5, 0.5)]
    (200, ['8 in', '5 in', '1 1/4 in', '1/2 in', '3/16 in', '1/64 in'])
    """
    if units != "in" or not mm:
        return mm
    inches = mm / 25
    step = next(step for most, step in STEPS if inches >= most)
    return f"{to_fraction(max(round(inches * step), 1) / step * MM_PER['in'], 64)} in"


def with_unit(text: str, units: str, own: str, path: str) -> str:
    """A length as typed, its unit named where the reader's is not the file's; refuses what is no length."""
    read_length(text, units, path)
    return f"{text} {units}" if units != own and not _NAMED.search(text) else text


def typed(text: str, before: object, default: str, length: Callable[[str], str]) -> object:
    """A size as the part file keeps it. ``before`` is what stood there, whose way of being measured a bare figure
    keeps; ``default`` how the part's sizes are measured; ``length(text)`` checks a length and names its unit."""
    fit = _FIT.match(text)
    if fit:
        way, what, clearance = fit[1].lower(), fit[2], fit[3]
        block = {way: "0 mm", "mate": MATE.sub(lambda m: f"T-{int(m[1]):04d} {m[2]}", what)} if MATE.match(what) else {
            way: length(what)}
        return block | ({"clearance": length(clearance)} if clearance else {})
    worded = _DIMS.match(text)
    if worded:
        size, dims = length(worded[1]), worded[2].lower()
        return size if dims == default else {"length": size, "dims": dims}
    size = length(text)
    return before | {"length": size} if isinstance(before, dict) and "length" in before else size


def shown(raw: object, mm: float, units: str, own: str) -> str:
    """A size for an input: as it was typed where that still reads the same in the reader's ``units``."""
    if isinstance(raw, dict):
        return _in_words(raw, mm, units, own)
    if units == own and isinstance(raw, str):
        return raw.removesuffix(f" {own}")
    return as_typed(mm, units)


def _in_words(raw: dict, mm: float, units: str, own: str) -> str:
    if "length" in raw:
        return " ".join(filter(None, [shown(raw["length"], mm, units, own), raw.get("dims")]))
    way = "around" if "around" in raw else "into"
    what, clear = (key in raw and shown(raw[key], read_length(raw[key], own), units, own) for key in (way, "clearance"))
    return f"{way} {raw.get('mate') or what}" + (f" with {clear}" if clear else "")


def fit_over(text: str, way: str, clearance: str, field: str, length: Callable[[str], str]) -> tuple[dict, dict]:
    """Two sizes from one entry, ``240 × 160``, each around or into its mate."""
    if way not in ("around", "into"):
        raise Refusal(field, "must be around or into")
    parts = [p for p in re.split(r"\s*(?:[x×*]|\bby\b)\s*", text.strip(), flags=re.IGNORECASE) if p]
    if len(parts) != 2:
        raise Refusal(field, "needs two sizes, such as 240 × 160")
    clear = {"clearance": length(clearance)} if clearance.strip() else {}
    return tuple({way: length(part)} | clear for part in parts)

"""Sizes as people type and read them: ``240``, ``240 inside``, ``around 240 with 0.5``.

A size that may say how it is measured is kept as the part file keeps it; everything
else stays the text that was typed.
"""

import re

from bendcore.errors import Refusal
from bendcore.units import as_typed, read_length

OWN_WAY = {"profile": r"legs\[\d+\]", "tray": r"length|width|walls\.\w+\.(height|lip\.width)",
           "sleeve": r"width|height", "plate": r"flanges\[\d+\]\.length", "guard": r"width"}
"""Fields below ``shape``, by family, that may be measured their own way."""
_DIMS = re.compile(r"^(.+?)[\s,]+(outside|inside)$", re.IGNORECASE)
_FIT = re.compile(r"^(around|into)\s+(.+?)(?:\s+with\s+(.+))?$", re.IGNORECASE)
MATE = re.compile(r"^T-?0*(\d{1,9})\s+([\w-]{1,30})$", re.IGNORECASE)


def has_own_way(kind: str, field: str) -> bool:
    """Whether this field's size may say how it is measured."""
    return bool(re.fullmatch(rf"shape\.({OWN_WAY.get(kind, '(?!)')})", field))


def typed(text: str, before, default: str, length) -> object:
    """A size as the part file keeps it. ``before`` is what stood there, whose way of being measured
    a bare figure keeps; ``length(text)`` checks a length and names its unit."""
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


def shown(raw, mm: float, units: str, own: str) -> str:
    """A size for an input: as it was typed where that still reads the same."""
    if isinstance(raw, dict):
        return _in_words(raw, mm, units, own)
    if units == own and isinstance(raw, str):
        return raw.removesuffix(f" {own}")
    return as_typed(mm, units)


def _in_words(raw, mm, units, own) -> str:
    if "length" in raw:
        return " ".join(filter(None, [shown(raw["length"], mm, units, own), raw.get("dims")]))
    way = "around" if "around" in raw else "into"
    what, clear = (key in raw and shown(raw[key], read_length(raw[key], own), units, own) for key in (way, "clearance"))
    return f"{way} {raw.get('mate') or what}" + (f" with {clear}" if clear else "")


def fit_over(text: str, way: str, clearance: str, field: str, length) -> tuple[dict, dict]:
    """Two sizes from one entry, ``240 × 160``, each around or into its mate."""
    if way not in ("around", "into"):
        raise Refusal(field, "must be around or into")
    parts = [p for p in re.split(r"\s*(?:[x×*]|\bby\b)\s*", text.strip(), flags=re.IGNORECASE) if p]
    if len(parts) != 2:
        raise Refusal(field, "needs two sizes, such as 240 × 160")
    clear = {"clearance": length(clearance)} if clearance.strip() else {}
    return tuple({way: length(part)} | clear for part in parts)

"""Sizes as inputs show them."""

from bendcore.units import show_length


def shown(raw, mm: float, units: str, own: str) -> str:
    """A size for an input: as it was typed where that still reads the same."""
    if isinstance(raw, dict):
        raw = raw["length"]
    if units == own and isinstance(raw, str):
        return raw.removesuffix(f" {own}")
    return show_length(mm, units)

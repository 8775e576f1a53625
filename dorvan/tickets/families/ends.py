"""The ends of a strip as inputs: taper of either edge, snips of the corners."""

from bendcore.families.profile.ends import CORNERS, SIDES

from .entries import sizer


def end_entries(ticket, units: str) -> list[dict]:
    """Tapers, then snips, of the blank as it lies."""
    data, size = ticket.part["shape"], sizer(ticket, units)
    found = [size(f"taper.{side}.{end}", data.get("taper", {}).get(side, {}).get(end, 0),
                  f"{side.capitalize()} edge in, at the {end}") for side in SIDES for end in ("start", "end")]
    for corner in CORNERS:
        block = data.get("snips", {}).get(corner, {})
        found += [size(f"snips.{corner}.{key}", block.get(key, 0),
                       f"Snip, {corner.replace('_', ' at the ')}, {key}") for key in ("along", "across")]
    return found

"""A joint as a rule with its places on it."""

from bendcore.joining.spacing import Spaced
from bendcore.units import show_length

WIDTH, HEIGHT, SIDE = 420, 40, 10
MOST = 60


def joint_view(length: float, spaced: Spaced, units: str) -> dict:
    """What is drawn: the line, a mark at each place, and the first distances in words."""
    scale = (WIDTH - 2 * SIDE) / max(length, 1e-6)
    places = spaced.places if len(spaced.places) <= MOST else spaced.places[:MOST]
    words = f"{show_length(spaced.end, units)} from the end" if spaced.end else ""
    if spaced.pitch:
        words += f", then {show_length(spaced.pitch, units)} apart"
    return {"width": WIDTH, "height": HEIGHT, "line": f"M{SIDE},24H{WIDTH - SIDE}M{SIDE},16v16M{WIDTH - SIDE},16v16",
            "ends": (SIDE, WIDTH - SIDE),
            "marks": [round(SIDE + at * scale, 1) for at in places], "words": words.strip(", ")}

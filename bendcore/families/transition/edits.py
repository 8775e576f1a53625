"""What a transition begins as."""

from ..family import Sized


def start(s: Sized) -> dict:
    """A hopper, its outlet off the middle."""
    return {"kind": "transition", "dims": "outside", "bottom": {"length": s(160), "width": s(120)},
            "top": {"length": s(100), "width": s(80), "offset": [s(20), 0], "turn": 0}, "height": s(120), "gap": s(1)}

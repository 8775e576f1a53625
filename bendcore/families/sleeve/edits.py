"""What a sleeve begins as."""

from ..family import Sized


def start(s: Sized) -> dict:
    """A wrapper with a lapped seam."""
    return {"kind": "sleeve", "dims": "outside", "width": s(120), "height": s(80), "length": s(200),
            "seam": {"kind": "lap", "lap": s(15), "gap": s(0.3)}}

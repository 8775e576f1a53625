"""What a new ticket begins as: nothing is blank, everything can be changed."""

from bendcore.families.corners import SIDES
from bendcore.units import MM_PER, to_fraction

STEPS = ((2, 2), (0.4, 4), (0.1, 16), (0, 64))
"""From so many inches on, sizes to begin with are whole parts of an inch: halves, quarters, …"""


def new_part(name: str, units: str, family: str = "profile") -> dict:
    """A plain part of a family, an angle unless said otherwise, in round sizes of ``units``."""
    thickness, radius = {"mm": ("1.5 mm", "1.5 mm"), "in": ("16 ga", "1/16 in")}[units]
    shape = SHAPES.get(family, _profile)(lambda mm: begun(mm, units))
    return {"format": "dorvan-part", "version": 1, "name": name, "units": str(units),
            "stock": {"material": "mild-steel", "thickness": thickness, "springback": 1.0},
            "inside_radius": radius, "allowance": {"method": "generic"}, "shape": shape}


def begun(mm: float, units: str):
    """A size to begin with near ``mm``, round in ``units``, as a part file takes it.

    >>> begun(200, "mm"), [begun(mm, "in") for mm in (200, 120, 30, 12, 5, 0.5)]
    (200, ['8 in', '5 in', '1 1/4 in', '1/2 in', '3/16 in', '1/64 in'])
    """
    if units != "in":
        return mm
    inches = mm / 25
    step = next(step for most, step in STEPS if inches >= most)
    return f"{to_fraction(max(round(inches * step), 1) / step * MM_PER['in'], 64)} in"


def _profile(s):
    return {"kind": "profile", "width": s(100), "dims": "outside", "convention": "apex", "legs": [s(40), s(60)],
            "bends": [{"angle": 90, "direction": "up"}]}


def _tray(s):
    return {"kind": "tray", "dims": "outside", "direction": "up", "length": s(200), "width": s(120),
            "walls": {side: {"height": s(30)} for side in SIDES}, "corners": {"style": "open", "gap": s(0.5)}}


def _plate(s):
    return {"kind": "plate", "outline": [[0, 0], [s(150), 0], [s(150), s(100)], [0, s(100)]],
            "flanges": [{"edge": 1, "length": s(30), "direction": "up"}]}


def _sleeve(s):
    return {"kind": "sleeve", "dims": "outside", "width": s(120), "height": s(80), "length": s(200),
            "seam": {"kind": "lap", "lap": s(15), "gap": s(0.3)}}


def _guard(s):
    return {"kind": "guard", "dims": "outside", "width": s(80), "wrapped": [2, 5],
            "outline": [[0, 0], [s(240), 0], [s(240), s(90)], [s(150), s(160)], [0, s(160)]],
            "front": {"width": s(14), "direction": "in"}, "back": {"width": s(14), "direction": "in"},
            "corners": {"style": "mitre", "gap": s(0.5)}}


SHAPES = {"profile": _profile, "tray": _tray, "plate": _plate, "sleeve": _sleeve, "guard": _guard}

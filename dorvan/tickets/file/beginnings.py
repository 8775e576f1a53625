"""What a new ticket begins as: nothing is blank, everything can be changed."""

from bendcore.families.corners import SIDES


def new_part(name: str, units: str, family: str = "profile") -> dict:
    """A plain part of a family, an angle unless said otherwise, in round sizes of ``units``."""
    size = {"mm": 1.0, "in": 1 / 25}[units]

    def s(mm):
        return round(mm * size * 8) / 8 if units == "in" else mm

    shape = SHAPES.get(family, _profile)(s)
    return {"format": "dorvan-part", "version": 1, "name": name, "units": units,
            "stock": {"material": "mild-steel", "thickness": "1.5 mm", "springback": 1.0},
            "inside_radius": "1.5 mm", "allowance": {"method": "generic"}, "shape": shape}


def _profile(s):
    return {"kind": "profile", "width": s(100), "dims": "outside", "convention": "apex", "legs": [s(40), s(60)],
            "bends": [{"angle": 90, "direction": "up"}]}


def _tray(s):
    return {"kind": "tray", "dims": "outside", "direction": "up", "length": s(200), "width": s(120),
            "walls": {side: {"height": s(30)} for side in SIDES}, "corners": {"style": "open", "gap": "0.5 mm"}}


def _plate(s):
    return {"kind": "plate", "outline": [[0, 0], [s(150), 0], [s(150), s(100)], [0, s(100)]],
            "flanges": [{"edge": 1, "length": s(30), "direction": "up"}]}


def _sleeve(s):
    return {"kind": "sleeve", "dims": "outside", "width": s(120), "height": s(80), "length": s(200),
            "seam": {"kind": "lap", "lap": s(15), "gap": "0.3 mm"}}


def _guard(s):
    return {"kind": "guard", "dims": "outside", "width": s(80), "wrapped": [2, 5],
            "outline": [[0, 0], [s(240), 0], [s(240), s(90)], [s(150), s(160)], [0, s(160)]],
            "front": {"width": s(14), "direction": "in"}, "back": {"width": s(14), "direction": "in"},
            "corners": {"style": "mitre", "gap": "0.5 mm"}}


SHAPES = {"profile": _profile, "tray": _tray, "plate": _plate, "sleeve": _sleeve, "guard": _guard}

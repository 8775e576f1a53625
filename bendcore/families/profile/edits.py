"""Changes to a strip that are more than one field."""

import math

from ...errors import Refusal
from ...sizes import begun
from ...units import to_fraction
from ..common import swapped
from ..family import Now, ReadMm, Sized
from ..room import clear_spot


def start(s: Sized) -> dict:
    """An angle."""
    return {"kind": "profile", "width": s(100), "dims": "outside", "convention": "apex", "legs": [s(40), s(60)],
            "bends": [{"angle": 90, "direction": "up"}]}


def add_leg(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A bend has come at the end: one more leg beyond it."""
    shape["legs"].append(begun(30, own))


def remove_leg(shape: dict, places: tuple[int, ...], own: str) -> None:
    """A bend has gone: the leg after it goes too, with what is cut out of it."""
    gone = places[0] + 2
    del shape["legs"][gone - 1]
    for key in ("holes", "slots", "openings"):
        kept = [one | {"leg": one["leg"] - (one["leg"] > gone)} for one in shape.get(key, ()) if one["leg"] != gone]
        if key in shape:
            shape[key] = kept
        if not kept:
            shape.pop(key, None)


def _place(shape: dict, now: Now, wanted: float) -> tuple[dict, float]:
    """(where there is room on the widest leg, how much of what is wanted)."""
    strip = now()
    leg = max(strip.legs, key=lambda leg: leg.flat)
    (x, y), size = clear_spot(strip.sheet().face[leg.id], wanted, strip.thickness, "shape.holes")
    return {"leg": strip.legs.index(leg) + 1, "along": f"{leg.setbacks[0] + x:.6g} mm", "across": f"{y:.6g} mm"}, size


def begin_hole(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A hole where there is room."""
    place, size = _place(shape, now, 6)
    return place | {"diameter": f"{size:.3g} mm"}


def begin_slot(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A slot where there is room, across the strip."""
    place, size = _place(shape, now, 15)
    return place | {"length": f"{size:.3g} mm", "width": f"{size / 3:.3g} mm", "angle": 90}


def begin_opening(shape: dict, places: tuple[int, ...], own: str, now: Now) -> dict:
    """A rectangle where there is room."""
    place, size = _place(shape, now, 18)
    return place | {"length": f"{size / 2:.3g} mm", "width": f"{size / 2:.3g} mm"}


def add_jog(shape: dict, height: float, own: str) -> dict:
    """The shape with a step of this height, mm, at the end: two opposite bends of 90° and a leg beyond."""
    if height <= 0:
        raise Refusal("jog", "must be greater than 0: how high the step is, outside to outside")
    bends = [{"angle": 90, "direction": "up"}, {"angle": 90, "direction": "down"}]
    legs = [{"length": f"{height:.10g} mm", "dims": "outside"}, begun(30, own)]
    return shape | {"bends": [*shape["bends"], *bends], "legs": [*shape["legs"], *legs]}


def from_points(shape: dict, points: object, own: str) -> dict:
    """The shape with legs and bends of a line drawn point to point, taken as the outside of the part.

    ``points`` are (x, y) in mm, y up. The side the line turns to is up. Refuses what is no line of 2 to 41 points.
    """
    if not isinstance(points, list) or not 2 <= len(points) <= 41:
        raise Refusal("points", "draw at least two points and at most 41")
    try:
        line = [(float(x), float(y)) for x, y in points]
    except (TypeError, ValueError):
        raise Refusal("points", "must be pairs of numbers") from None
    if not all(math.isfinite(v) and abs(v) < 1e5 for p in line for v in p):
        raise Refusal("points", "must be finite and less than 100 m apart")
    legs = [round(math.dist(a, b), 4) for a, b in zip(line, line[1:], strict=False)]
    headings = [math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) for a, b in zip(line, line[1:], strict=False)]
    bends, kept = [], [legs[0]]
    for before, heading, leg in zip(headings, headings[1:], legs[1:], strict=False):
        turn = round((heading - before + 180) % 360 - 180, 2)
        if abs(turn) < 0.5:
            kept[-1] = round(kept[-1] + leg, 4)
            continue
        if abs(turn) >= 179:
            raise Refusal("points", "the line turns straight back; add a hem instead")
        bends.append({"angle": abs(turn), "direction": "up" if turn > 0 else "down"})
        kept.append(leg)
    return shape | {"legs": [_drawn(leg, own) for leg in kept], "bends": bends, "dims": "outside"}


def _drawn(mm: float, own: str) -> str:
    """A leg as it was drawn: on the tape where it lies on a mark, to a hundredth of a millimetre elsewhere."""
    mark = to_fraction(mm, 64)
    return f"{mark} in" if own == "in" and not mark.left_over else f"{round(mm, 2):g} mm"


def mirror(shape: dict, length: ReadMm) -> dict:
    """Read from its other end."""
    for one in (one for key in ("holes", "slots", "openings") for one in shape.get(key, ())):
        one["leg"] = len(shape["legs"]) + 1 - one["leg"]
        one["from"] = "start" if one.get("from") == "end" else "end"
        if one.get("angle"):
            one["angle"] = -one["angle"]
    shape["legs"].reverse()
    shape["bends"].reverse()
    for side, block in shape.get("taper", {}).items():
        shape["taper"][side] = {{"start": "end", "end": "start"}[end]: size for end, size in block.items()}
    if "snips" in shape:
        other = {"start": "end", "end": "start"}
        shape["snips"] = {f"{other[end]}_{side}": block for name, block in shape["snips"].items()
                          for end, _, side in (name.partition("_"),)}
    return swapped(shape, "start_hem", "end_hem")

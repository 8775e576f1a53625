"""Changes to a part file, one at a time, named as the file's own fields.

A field is the path a refusal would name (``shape.legs[2]``, ``stock.thickness``),
so an error comes back to the input it was typed into.
"""

import copy
import math
import re

from bendcore.errors import Refusal
from bendcore.families.common import positive
from bendcore.families.mates import sizes_of
from bendcore.stock import refuse_bare_gauge
from bendcore.units import read_length, to_fraction
from dorvan.fields import number, words

from ..results.derived import figures
from .beginnings import begun
from .plate import set_edge
from .sizes import fit_over, has_own_way, typed

LENGTHS = ("shape.legs", "shape.width", "inside_radius", "stock.thickness", "shape.holes", "shape.slots",
           "shape.outline", "shape.corners.gap")
LENGTH_KEYS = ("start", "end", "length", "gap", "height", "width", "lap", "clearance", "ease", "hole", "rise", "along",
               "up", "diameter")
NUMBERS = ("allowance.k", "stock.springback")
SETTABLE = re.compile(
    r"^(name|inside_radius|stock\.(material|thickness|springback|grain)|allowance\.(method|k|group)"
    r"|shape\.(width|dims|convention)|shape\.legs\[\d{1,2}\]|shape\.bends\[\d{1,2}\]\.(angle|direction|gap)"
    r"|shape\.(start_hem|end_hem)\.(length|gap|direction)"
    r"|shape\.(length|direction)|shape\.cross_breaks\.rise|shape\.holes\[\d{1,3}\]\.(x|y|diameter|collar\.(height|direction))"
    r"|shape\.walls\.(front|right|back|left)\.(height|angle|(lip|hem)\.(width|length|gap|direction))"
    r"|shape\.corners\.(style|gap|pair|tab\.(width|side|clearance|ease|hole))"
    r"|shape\.outline\[\d{1,2}\]\[[01]\]|shape\.slots\[\d{1,2}\]\.(x|y|length|width)"
    r"|shape\.flanges\[\d{1,2}\]\.(edge|start|end|length|angle|direction|return\.(length|angle|direction)"
    r"|holes\[\d{1,2}\]\.(along|up|diameter))"
    r"|shape\.taper\.(front|back)\.(start|end)|shape\.snips\.(start|end)_(front|back)\.(along|across)"
    r"|shape\.edges\[\d{1,2}\]|shape\.(front|back)\.(width|direction)|shape\.wrapped\[[01]\]"
    r"|shape\.height|shape\.seam\.(kind|gap|lap|height|hole)|shape\.(start|end)_flange\.(width|direction))$")
_STEP = re.compile(r"([a-z_]+)|\[(\d+)\]")
NEEDED = {"k_factor": ("k", 0.4), "handbook": ("group", "medium")}
METHODS = [("generic", "Generic K by r/t"), ("k_factor", "K-factor, given"), ("din6935", "DIN 6935"),
           ("aircraft", "Aircraft practice"), ("handbook", "Machinist's handbook"), ("none", "No allowance"),
           ("half_zone", "Half-zone, 90° only")]


WORDS = {"shape.width": "Width", "stock.thickness": "Thickness", "stock.springback": "Springback",
         "inside_radius": "Inside radius", "allowance.k": "K", "allowance": "Allowance", "name": "Name",
         "points": "The line", "quantity": "Pieces", "due": "Due", "shape.start_hem": "Hem at the start",
         "shape.end_hem": "Hem at the end", "stock.material": "Material", "stock.grain": "Grain", "lot": "Lot",
         "brake": "Brake", "punch": "Punch", "die": "Die", "nose": "Nose", "shim": "Shim", "slip": "Slip sheet",
         "follows_shop": "Allowance by the shop", "bend_order": "Bend order", "shape.dims": "Legs are measured",
         "shape.convention": "Above 90°, to the", "shape.legs": "Legs", "shape.bends": "Bends",
         "shape.length": "Length", "shape.corners": "Corners", "shape.cross_breaks": "Cross-breaks",
         "shape.holes": "Holes", "shape.outline": "Outline", "shape.flanges": "Flanges",
         "shape.slots": "Slots", "shape.height": "Height", "jog": "Step", "shape.seam": "Seam",
         "shape.start_flange": "Flanges at the start", "shape.end_flange": "Flanges at the end",
         "shape.direction": "Walls go",
         "shape.front": "Turned edge at the front", "shape.back": "Turned edge at the back",
         "shape.wrapped": "Edges wrapped", "fit": "The fit", "rescale": "The sample",
         "shape.taper": "The taper", "shape.snips": "The snips"}
ITEMS = {"outline": "Corner ", "flanges": "Flange F", "slots": "Slot ", "edges": "Edge ", "holes": "Hole "}
_ITEM = re.compile(rf"^shape\.({'|'.join(ITEMS)})\[(\d+)\](?:\.(.+))?")
_LISTED = re.compile(r"^shape\.(legs|bends)\[(\d+)\](?:\.(\w+))?")


def in_words(path: str) -> str:
    """A field's path as people call it: ``shape.legs[1]`` is Leg L2."""
    match = _LISTED.match(path)
    if match:
        number = int(match[2]) + 1
        return f"Leg L{number}" if match[1] == "legs" else f"{(match[3] or 'bend').capitalize()} B{number}"
    item = _ITEM.match(path)
    if item:
        name = f"{ITEMS[item[1]]}{int(item[2]) + 1}"
        more = re.sub(r"holes\[(\d+)\]", lambda hole: f"hole {int(hole[1]) + 1}", item[3] or "").replace(".", " ")
        return f"{name}, {more}" if more else name
    wall = re.match(r"^shape\.walls\.(\w+)(?:\.(lip|hem))?(?:\.(\w+))?$", path)
    if wall:
        own = f"The {wall[1]} wall"
        return " ".join(filter(None, [f"{own}'s", wall[2], wall[3]])) if wall[3] else own
    known = [words for start, words in WORDS.items() if path == start or path.startswith((start + ".", start + "["))]
    return known[0] if known else path


def set_field(part: dict, field: str, text: str, units: str) -> dict:
    """The part with one field set from what was typed, in the reader's ``units``."""
    if not SETTABLE.match(field):
        raise Refusal(field[:60], "is not a field of a part")
    text = words(text, 120)
    if field.startswith("shape.edges") and part["shape"]["kind"] == "guard":
        size = positive(read_length(text, units, field), field)
        return set_edge(part, int(re.search(r"\d+", field)[0]), size)
    part = _opened(part, field)
    if field.startswith(("shape.taper", "shape.snips")) and part["shape"]["kind"] == "profile":
        return _set_end(part, field, _with_unit(text, units, part["units"], field))
    holder, key = _find(part, field)
    if field == "allowance.method":
        part["allowance"] = {"method": text}
        if text in NEEDED:
            key, value = NEEDED[text]
            part["allowance"][key] = value
    elif field == "stock.grain" and not text:
        holder.pop(key, None)
    elif field == "shape.seam.kind":
        own = {"lap": {"lap": begun(15, part["units"])}, "standing": {"height": begun(12, part["units"])}}
        part["shape"]["seam"] = {"kind": text, "gap": holder.get("gap", begun(0.3, part["units"]))} | own.get(text, {})
    elif key == "edge" or field.startswith("shape.wrapped"):
        holder[key] = number(text, 0)
    elif field == "shape.corners.style":
        holder[key] = text
        if text == "tab":
            holder.setdefault("tab", {"width": begun(15, part["units"])})
        else:
            holder.pop("tab", None)
    elif field in NUMBERS:
        holder[key] = _number(text, field)
    elif has_own_way(part["shape"]["kind"], field):
        default = part["shape"].get("dims", "outside")
        holder[key] = typed(text, holder.get(key) if isinstance(holder, dict) else holder[key], default,
                            lambda size: _with_unit(size, units, part["units"], field))
    elif key == "direction":
        holder[key] = text
    elif any(field.startswith(prefix) for prefix in LENGTHS) or key in LENGTH_KEYS:
        holder[key] = _with_unit(text, units, part["units"], field)
    else:
        holder[key] = text
    return part


def _set_end(part, field, size):
    """A taper or a snip of a strip; one that is nothing is left out of the file."""
    _, group, name, key = field.split(".")
    block = part["shape"].setdefault(group, {}).setdefault(name, {})
    block[key] = size
    if group == "snips":
        block.setdefault("along" if key == "across" else "across", size)
    if not any(read_length(value, part["units"], field) for value in block.values()):
        del part["shape"][group][name]
        if not part["shape"][group]:
            del part["shape"][group]
    return part


def _steps(field):
    return [name or int(number) for name, number in _STEP.findall(field)]


def _opened(part, field):
    """The part with what lies on the way to a field copied, so that it can be set; the rest, which may be
    a long outline, is shared with the part as it was."""
    part = holder = part | {"shape": dict(part["shape"])}
    for step in _steps(field)[:-1]:
        known = step in holder if isinstance(holder, dict) else isinstance(step, int) and step < len(holder)
        if not known or not isinstance(holder[step], (dict, list)):
            break
        holder[step] = holder = copy.copy(holder[step])
    return part


def _find(part, field):
    steps, holder = _steps(field), part
    for step in steps[:-1]:
        if isinstance(holder, list) and (not isinstance(step, int) or step >= len(holder)):
            raise Refusal(field, "is not on this part")
        if step == "corners" and isinstance(holder, dict):
            holder.setdefault("corners", {})
        if isinstance(holder, dict) and step not in holder:
            raise Refusal(field, "is not on this part")
        holder = holder[step]
    if isinstance(holder, list) and steps[-1] >= len(holder):
        raise Refusal(field, "is not on this part")
    return holder, steps[-1]


def _number(text, field):
    try:
        value = float(text.replace(",", ".").rstrip("°"))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Refusal(field, f"“{text[:24]}” is not a number")
    return value


def _with_unit(text, units, own, field):
    """Keep what was typed; name its unit when the reader's is not the file's."""
    if field == "stock.thickness":
        if re.search(r"g", text, re.IGNORECASE):
            return text
        refuse_bare_gauge(text, units, field)
    read_length(text, units, field)
    if units != own and not re.search(r"[a-z\"″'′]", text, re.IGNORECASE):
        return f"{text} {units}"
    return text


def differences(one: dict, other: dict, path: str = "") -> list[tuple[str, object, object]]:
    """(field, before, after) of all that differs between two part files or two sets of choices."""
    found = []
    for key in dict.fromkeys([*one, *other]):
        before, after, name = one.get(key), other.get(key), f"{path}.{key}" if path else key
        if isinstance(before, dict) and isinstance(after, dict):
            found += differences(before, after, name)
        elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
            items = [{f"[{i}]": v for i, v in enumerate(values)} for values in (before, after)]
            found += [(f"{name}{k}", b, a) for k, b, a in differences(*items)]
        elif before != after:
            found.append((name, before, after))
    return found


def from_lot(part: dict, lot) -> dict:
    """The part in this lot's metal, as thick as it was measured."""
    part = copy.deepcopy(part)
    part["stock"] |= {"material": lot.material, "thickness": f"{round(lot.best, 3)} mm"}
    return part


FLANGED = {"sleeve": ("start_flange", "end_flange"), "guard": ("front", "back")}
"""Sides of a family that have flanges or turned edges all along, or none."""


def toggle_flange(part: dict, side: str) -> dict:
    """Flanges all along one side of a sleeve or a guard, or none."""
    kind = part["shape"]["kind"]
    if side not in FLANGED.get(kind, ()):
        raise Refusal("shape", "has no such side to be turned")
    part = copy.deepcopy(part)
    if part["shape"].pop(side, None) is None:
        part["shape"][side] = {"width": begun(15, part["units"]), "direction": "out" if kind == "sleeve" else "in"}
    return part


FITTED = {"tray": ("length", "width"), "sleeve": ("width", "height")}


def fit(part: dict, text: str, way: str, clearance: str, units: str) -> dict:
    """The part made to go around or into something, in one entry: ``240 × 160`` with 0.5 all round."""
    keys = FITTED[part["shape"]["kind"]]
    sizes = fit_over(text, way, clearance, "fit", lambda size: _with_unit(size, units, part["units"], "fit"))
    part = copy.deepcopy(part)
    part["shape"] |= dict(zip(keys, sizes, strict=True))
    return part


SCALED = {"legs", "length", "width", "height", "lap", "x", "y", "start", "end", "outline", "line", "along", "up",
          "across", "around", "into"}
"""What grows with a part; gaps, clearances, holes' diameters and radii stay what they are."""


def rescale(part: dict, named: str, measured: str, units: str) -> dict:
    """The part as large as a sample on which one size was measured."""
    sizes = sizes_of(figures(part).part.shape)
    if named not in sizes:
        raise Refusal("rescale", "must name a size of the part: " + ", ".join(sizes))
    factor = positive(read_length(measured, units, "rescale"), "rescale") / sizes[named]
    if not 0.05 <= factor <= 20:
        raise Refusal("rescale", f"would make the part {factor:.3g} times as large: from 1/20 to 20 times is taken")
    part = copy.deepcopy(part)
    part["shape"] = _scaled(part["shape"], factor, part["units"])
    return part


def _scaled(value, factor, units, grows=False):
    if isinstance(value, dict):
        return {key: _scaled(item, factor, units, key in SCALED) for key, item in value.items()}
    if isinstance(value, list):
        return [_scaled(item, factor, units, grows) for item in value]
    if not grows or isinstance(value, bool):
        return value
    return f"{round(read_length(value, units) * factor, 4):.10g} mm"


def tool_radius(part: dict) -> dict:
    """Leave the radius to the tool."""
    part = copy.deepcopy(part)
    part.pop("inside_radius", None)
    return part


def add_bend(part: dict) -> dict:
    """One more leg at the end, bent up 90°."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    shape["bends"].append({"angle": 90, "direction": "up"})
    shape["legs"].append(begun(30, part["units"]))
    return part


def remove_line(part: dict, index: int) -> dict:
    """Take a line of a drawing for no bend."""
    part = copy.deepcopy(part)
    lines = part["shape"].get("bends", [])
    if not 0 <= index < len(lines):
        raise Refusal("shape.bends", "there is no such line")
    del lines[index]
    return part


def add_jog(part: dict, text: str, units: str) -> dict:
    """A step of this height at the end, in one entry: two opposite bends of 90° and a leg beyond."""
    height = read_length(text, units, "jog")
    if height <= 0:
        raise Refusal("jog", "must be greater than 0: how high the step is, outside to outside")
    part = copy.deepcopy(part)
    shape = part["shape"]
    shape["bends"] += [{"angle": 90, "direction": "up"}, {"angle": 90, "direction": "down"}]
    shape["legs"] += [{"length": f"{height:.10g} mm", "dims": "outside"}, begun(30, part["units"])]
    return part


def remove_bend(part: dict, index: int) -> dict:
    """Take out a bend and the leg after it."""
    part = copy.deepcopy(part)
    shape = part["shape"]
    if not 0 <= index < len(shape["bends"]):
        raise Refusal("shape.bends", "there is no such bend")
    del shape["bends"][index], shape["legs"][index + 1]
    return part


def toggle_hem(part: dict, end: str) -> dict:
    """Add a closed hem at an end, or take it off."""
    if end not in ("start_hem", "end_hem"):
        raise Refusal("shape", "a hem is at the start or at the end")
    part = copy.deepcopy(part)
    if part["shape"].pop(end, None) is None:
        part["shape"][end] = {"length": begun(10, part["units"]), "gap": 0, "direction": "up"}
    return part


def _drawn(mm: float, units: str) -> str:
    """A leg as it was drawn: on the tape where it lies on a mark, to a hundredth of a millimetre elsewhere."""
    mark = to_fraction(mm, 64)
    return f"{mark} in" if units == "in" and not mark.left_over else f"{round(mm, 2):g} mm"


def from_points(part: dict, points: list) -> dict:
    """Legs and bends from a line drawn point to point, taken as the outside of the part.

    ``points`` are (x, y) in mm, y up. The side the line turns to is up.
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
    part = copy.deepcopy(part)
    part["shape"]["legs"] = [_drawn(leg, part["units"]) for leg in kept]
    part["shape"]["bends"] = bends
    part["shape"]["dims"] = "outside"
    return part

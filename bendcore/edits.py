"""Changes to a part file, one at a time: a field set as it was typed, a thing that comes or goes.

A file is never changed in place: every function gives a new one, which shares with the old what lies off the way to the
change. Fields are named by their path; what may be set and how it is read is declared with the fields
(:mod:`.part_file`), what else changes with a thing that comes or goes with its family
(:class:`.families.family.Family`). Whether the part so described can be made is for :func:`.part.read_part` to say.
"""

import copy
import re
from collections.abc import Callable, Iterator
from itertools import product
from typing import Any

from .errors import Refusal
from .families import FAMILIES
from .families.common import positive
from .families.family import Family, Now
from .families.panels.opened import as_panels, in_file_units, with_collars
from .fields import Choice, Drawn, Field, Group, Many, Place, Steps, Typing, leaves, steps
from .part import Part
from .part_file import field_at
from .sizes import begun, fit_over, with_unit
from .units import MM_PER, read_angle, read_length

BEGUN_IN = {"mm": ("1.5 mm", "1.5 mm"), "in": ("16 ga", "1/16 in")}
"""Thickness and radius that a new part begins with, by its units; its metal is mild steel."""
BESIDE = (1.25, 1.6, 2.5, 4.0)
"""A copy stands so many times its size beside what it is of."""
MOST_QUICK = 12
"""So many legs are typed in a line at most."""


def is_begun_stock(stock: dict) -> bool:
    """Whether a stock is still what a new part begins with."""
    return stock.get("material") == "mild-steel" and stock.get("thickness") in [own for own, _ in BEGUN_IN.values()]


def new_part(name: str, units: str, family: str = "profile") -> dict:
    """A plain part of a family, an angle unless said otherwise, in round sizes of ``units``."""
    thickness, radius = BEGUN_IN[units]
    start = FAMILIES[family].start if family in FAMILIES else None
    shape = (start or FAMILIES["profile"].start)(lambda mm: begun(mm, units))
    return {"format": "dorvan-part", "version": 1, "name": name, "units": str(units),
            "stock": {"material": "mild-steel", "thickness": thickness},
            "inside_radius": radius, "allowance": {"method": "generic"}, "shape": shape}


def quick_strip(name: str, legs: str, bends: str, width: str, units: str) -> dict:
    """A strip from a line of outside lengths and a line of angles between them, semicolons or spaces between; an angle
    with a minus goes down. Refuses, at ``legs``, ``bends`` or ``width``, what cannot be read or does not go together.

    >>> quick_strip("U", "20; 40; 20", "90; 90", "100", "mm")["shape"]["legs"]
    [20.0, 40.0, 20.0]
    """
    sizes = [positive(read_length(one, units, "legs"), "legs") / MM_PER[units] for one in _listed(legs, "legs")]
    angles = [(one.strip().removeprefix("-").removeprefix("−"), one.strip()[:1] in "-−")
              for one in _listed(bends, "bends")]
    if len(angles) != len(sizes) - 1:
        raise Refusal("bends", f"must be {len(sizes) - 1}: one between each two lengths")
    part = new_part(name, units)
    made = [{"angle": read_angle(angle, "bends", units), "direction": "down" if down else "up"}
            for angle, down in angles]
    return part | {"shape": part["shape"] | {"legs": sizes, "bends": made, "dims": "outside",
                                             "width": positive(read_length(width, units, "width"), "width")
                                             / MM_PER[units]}}


def _listed(text: str, path: str) -> list[str]:
    """Sizes in a line: by semicolons where there are any (fractions have spaces), else by spaces."""
    found = [one for one in (text.split(";") if ";" in text else text.split()) if one.strip()]
    if not 1 <= len(found) <= MOST_QUICK:
        raise Refusal(path, f"must be 1 to {MOST_QUICK}, with semicolons between")
    return found


def set_field(part: dict, path: str, text: str, units: str) -> dict:
    """The part with one field set from what was typed, in the reader's ``units``."""
    place = _declared(part, path)
    if not place.is_typed:
        raise Refusal(path[:60], "is not a field of a part")
    if isinstance(place.field, Drawn):
        mm = positive(read_length(text, units, path), path)
        return part | {"shape": place.field.put(part["shape"], _places(path), mm, part["units"])}
    part, holders = _opened(part, place)
    holder, key = holders[-1], steps(path)[-1]
    before = holder.get(key) if isinstance(holder, dict) else _there(holder, key, path)
    how = Typing(units, part["units"], part["shape"].get("dims", "outside"), before)
    value = place.field.read(text, path, how)
    if value is None:
        holder.pop(key, None)
    else:
        holder[key] = value
        _bring(place, holder, key, value, part["units"])
    _let_vanish(place, holders, part["units"])
    return part


def toggled(part: dict, path: str, now: Now) -> dict:
    """The part with a group of fields, such as ``shape.walls.left.lip``, come or gone."""
    place = _declared(part, path)
    if not (isinstance(place.field, Group) and place.field.extra):
        raise Refusal(path[:60], "does not come and go")
    part, holders = _opened(copy.deepcopy(part), place)
    holder, key = holders[-1], steps(path)[-1]
    if holder.pop(key, None) is None:
        holder[key] = _begun(part, path, place.field, now, _places(path))
    return part


def added(part: dict, path: str, now: Now, at: int | None = None) -> dict:
    """The part with one thing more in a list, such as ``shape.holes``; ``at`` is the edge, counted from 0, that it is
    put on, where one was picked."""
    place = _declared(part, path)
    if not (isinstance(place.field, Many) and place.field.extra):
        raise Refusal(path[:60], "takes nothing more")
    part, holders = _opened(copy.deepcopy(part), place)
    items = holders[-1].setdefault(steps(path)[-1], [])
    picked = () if at is None else (at,)
    if picked and at >= _most_places(part, path, items):
        raise Refusal(path, "has no such place")
    block = _begun(part, path, place.field.item, now, _places(path) + picked)
    if block:
        items += block if isinstance(block, list) else [block]
    _follow(part, path, _family(part).comes, _places(path) + picked)
    return part


def removed(part: dict, path: str) -> dict:
    """The part without one thing of a list, such as ``shape.holes[0]``, or without a field that may be left out."""
    place = _declared(part, path)
    holds = place.within[-1]
    if not (isinstance(holds, Many) and holds.extra) and (place.field.needed or not place.is_typed):
        raise Refusal(path[:60], "cannot be taken out")
    part, holders = _opened(copy.deepcopy(part), place)
    holder, key = holders[-1], steps(path)[-1]
    if isinstance(holder, dict):
        holder.pop(key, None)
        return part
    where = path.rpartition("[")[0]
    _there(holder, key, where)
    if holds.least and len(holder) <= holds.least:
        raise Refusal(where, f"needs at least {holds.least}")
    del holder[key]
    _follow(part, where, _family(part).goes, _places(path))
    return part


def copied(part: dict, path: str, fits: Callable[[dict], bool]) -> dict:
    """The part with an opening of a list, such as ``shape.holes[0]``, twice: the second beside the first, to the right,
    above, to the left or below, wherever that ``fits`` the part. Refuses where it has no room."""
    place = _declared(part, path)
    if not (isinstance(place.field, Group) and isinstance(place.within[-1], Many) and place.within[-1].extra
            and {"x", "y"} <= set(place.field.fields)):
        raise Refusal(path[:60], "cannot be copied")
    where, own = path.rpartition("[")[0], part["units"]
    found, holders = _opened(copy.deepcopy(part), place)
    items, block = holders[-1], _there(holders[-1], steps(path)[-1], where)
    wide, high = (read_length(block[side if side in block else "diameter"], own, path) for side in ("length", "width"))
    items.append(None)
    for share, (key, by) in product(BESIDE, (("x", wide), ("y", high), ("x", -wide), ("y", -high))):
        items[-1] = copy.deepcopy(block) | {key: f"{read_length(block[key], own, path) + share * by:.7g} mm"}
        if fits(found):
            return found
    raise Refusal(path, "has no room for another beside it")


def fit(part: dict, text: str, way: str, clearance: str, units: str) -> dict:
    """The part made to go around or into something, in one entry: ``240 × 160`` with 0.5 all round."""
    keys = _family(part).fits
    if keys is None:
        raise Refusal("fit", f"does not belong to a {part['shape']['kind']}")
    sizes = fit_over(text, way, clearance, "fit", lambda size: with_unit(size, units, part["units"], "fit"))
    return part | {"shape": part["shape"] | dict(zip(keys, sizes, strict=True))}


def rescaled(part: dict, named: str, measured: str, units: str, now: Now) -> dict:
    """The part as large as a sample on which one size was measured; gaps, clearances, holes' diameters and radii stay
    what they are."""
    sizes = now().mate_sizes()
    if named not in sizes:
        raise Refusal("rescale", "must name a size of the part: " + ", ".join(sizes))
    factor = positive(read_length(measured, units, "rescale"), "rescale") / sizes[named]
    if not 0.05 <= factor <= 20:
        raise Refusal("rescale", f"would make the part {factor:.3g} times as large: from 1/20 to 20 times is taken")
    shape = copy.deepcopy(part["shape"])
    for one, path, value in list(leaves(_family(part).fields, shape)):
        if one.grows:
            _put(shape, steps(path), _grown(value, factor, part["units"]))
    return part | {"shape": shape}


def as_panels_part(part: dict, now: Callable[[], Part]) -> dict:
    """The part told as panels on panels, with the same faces, bends and openings: nothing of its family binds it any
    more. Refuses what panels cannot say."""
    read = now()
    shape = read.shape
    for what, there in (("is none that can be opened as panels", not shape.opens_as_panels),
                        ("has cross-breaks, which panels do not know: take them off first", shape.cross_breaks)):
        if there:
            raise Refusal("shape", what)
    told = with_collars(as_panels(shape.sheet(), read.inside_radius), shape.collars)
    return part | {"shape": in_file_units(told, part["units"])}


def standing(part: dict) -> frozenset[tuple[str, int]]:
    """What stands on a part and how many: (path, how many of it) of its lists and of groups that come and go. Where two
    parts have the same, a path means the same thing on both."""
    return frozenset(_standing(_family(part).fields, part["shape"], "shape"))


def _standing(one: Field, value: Any, path: str) -> Iterator[tuple[str, int]]:
    if isinstance(one, Group) and isinstance(value, dict):
        if one.extra:
            yield path, 1
        for key in value.keys() & one.fields.keys():
            yield from _standing(one.fields[key], value[key], f"{path}.{key}")
    elif isinstance(one, Many) and isinstance(value, list):
        yield path, len(value)
        if isinstance(one.item, Group):
            for i, inner in enumerate(value):
                yield from _standing(one.item, inner, f"{path}[{i}]")


def _grown(value: Any, factor: float, own: str) -> Any:
    if isinstance(value, dict):
        return value | {key: _grown(value[key], factor, own) for key in ("length", "around", "into") if key in value}
    return f"{round(read_length(value, own) * factor, 4):.10g} mm"


def _put(holder: Any, way: Steps, value: Any) -> None:
    for step in way[:-1]:
        holder = holder[step]
    holder[way[-1]] = value


def _family(part: dict) -> Family:
    return FAMILIES[part["shape"]["kind"]]


def _declared(part: dict, path: str) -> Place:
    place = field_at(path, part["shape"]["kind"])
    if place is None:
        raise Refusal(path[:60], "is not a field of a part")
    return place


def _most_places(part: dict, path: str, items: list) -> int:
    """In how many places one more thing of a list may come."""
    family, shape = _family(part), part["shape"]
    if family.edges and path != "shape.outline":
        return family.edges(shape)
    return len(shape.get("outline", items))


def _places(path: str) -> tuple[int, ...]:
    """The places in lists on the way."""
    return tuple(step for step in steps(path) if isinstance(step, int))


def _there(items: list, at: int, path: str) -> Any:
    if at >= len(items):
        raise Refusal(path, "is not on this part" if path.endswith("]") else "has no such place")
    return items[at]


def _opened(part: dict, place: Place) -> tuple[dict, list]:
    """The part with what lies on the way to a field copied, so that it can be set, and the copies, from the part on.
    Groups of which nothing is needed come on the way; refuses what is not on this part."""
    holders = [dict(part)]
    for i, step in enumerate(steps(place.path)[:-1]):
        holder, one = holders[-1], place.within[i + 1]
        known = step in holder if isinstance(holder, dict) else step < len(holder)
        if not known and not (isinstance(holder, dict) and isinstance(one, Group) and _comes_by_itself(one)):
            raise Refusal(place.path, "is not on this part")
        holder[step] = copy.copy(holder[step]) if known else {}
        holders.append(holder[step])
    return holders[0], holders


def _comes_by_itself(one: Group) -> bool:
    return one.vanishes or not (one.extra or any(inner.needed for inner in one.fields.values()))


def _bring(place: Place, holder: dict, key: str | int, value: object, own: str) -> None:
    """What comes and goes beside a field with its new value."""
    group = place.within[-1]
    if isinstance(place.field, Choice):
        gone, come = place.field.beside(str(value))
        for name in gone:
            holder.pop(name, None)
        for name in come:
            holder.setdefault(name, group.fields[name].begin(own))
    if isinstance(group, Group) and group.vanishes:
        for name, one in group.fields.items():
            if one.needed:
                holder.setdefault(name, value)


def _let_vanish(place: Place, holders: list, own: str) -> None:
    """Groups of lengths that are nothing by now go out of the file."""
    for i in range(len(holders) - 1, 0, -1):
        one = place.within[i]
        if not (isinstance(one, Group) and one.vanishes):
            return
        if any(isinstance(value, dict) or read_length(value, own) for value in holders[i].values()):
            return
        del holders[i - 1][steps(place.path)[i - 1]]


def _begun(part: dict, path: str, one: Field, now: Now, places: tuple[int, ...]) -> Any:
    """What a thing begins with, by its family or by the starts of its fields."""
    hook = _family(part).begins.get(_pattern(path))
    return hook(part["shape"], places, part["units"], now) if hook else one.begin(part["units"])


def _follow(part: dict, path: str, hooks: Any, places: tuple[int, ...]) -> None:
    hook = hooks.get(_pattern(path))
    if hook:
        hook(part["shape"], places, part["units"])


def _pattern(path: str) -> str:
    return re.sub(r"\[\d+\]", "[]", path.removeprefix("shape."))



"""A brake file that is made of measured sizes, and one of them changed.

The sizes are kept in the file (``measured``), those taken only: what is not there stands at its start value, and is
said to. A section that was drawn by points stays as it was drawn (``measured.drawn``) until its sizes are to make it
again.
"""

import copy
import math
from collections.abc import Mapping
from dataclasses import dataclass

from ...errors import Refusal
from ...said import Mm, Said
from ...units import MM_PER, read_angle, read_force, read_length
from ..brake import read_brake
from ..drawn import NAMES
from .bars import BARS, TONGS, VICE
from .finger import FINGER
from .leaf import LEAF
from .measure import Kind, Measure, Sizes, Unit
from .press import PRESS
from .tools import ACUTE, FLATTENER, OFFSET, STRAIGHT, UEE, VEE, begun_tool

KINDS: Mapping[str, Kind] = {kind.name: kind for kind in (PRESS, LEAF, FINGER, BARS, VICE, TONGS)}
"""Of brakes, as they are chosen."""
TOOLS: Mapping[str, Kind] = {kind.name: kind for kind in (STRAIGHT, ACUTE, OFFSET, VEE, UEE, FLATTENER)}
"""Of a press brake's tools."""
OWNED = ("fingers", "punches", "dies")
"""What a brake has beside its sizes; begun once and then its own."""
GIVES_WAY = (1.1, 0.9, 1.25, 0.8, 1.5, 0.65, 2.0, 0.5, 3.0, 0.33, 5.0, 0.2, 9.0, 0.1, 0.0, 1e9)
"""Shares of a start value that are tried where it does not go with what was measured; the last are its limits."""
KEPT_WITHIN = 1e-4
"""What is lost as a size is written in the file's units, mm."""
MOST_TURNS = 40
NO_STOP = "none"
STOP_MOVES: Mapping[str, float] = {"number": 3.0, "hand": 25.0, NO_STOP: 0.0}
"""How a stop is moved: by a number typed in, by hand and rule, not at all; and the seconds that takes (*start*)."""
NEAREST = 1e-3
"""As far as a stop that is not there reaches; no sheet is so narrow."""
RACKS = ("punches", "dies")
"""Of a press brake's file."""
MOST_TOOLS = 40
SWING = 15
"""What swinging a long side costs on a hand brake until the shop says otherwise, seconds for each metre it reaches."""
LAST = "is the last of the {} that is up: put up another first"


@dataclass(frozen=True)
class Taken:
    """A size and its value, mm, degrees or kN; whether it was measured."""

    measure: Measure
    value: float
    is_measured: bool


def begun(kind: Kind, name: str, units: str) -> dict:
    """A brake file of a kind, all its sizes at their start values.

    >>> begun(BARS, "Bars", "in")["length"]
    23.622047
    """
    sizes = {one.name: one.start for one in kind.measures}
    return {"format": "dorvan-brake", "version": 1, "units": units, "name": name,
            **_in_units(kind.made(sizes), units), "measured": {"as": kind.name, "sizes": {}},
            **({} if kind is PRESS else {"costs": {"swing": SWING}})}


def with_tool(data: dict, kind: Kind, name: str) -> tuple[dict, int]:
    """The press brake's file with a tool of start sizes more on the rack, and its number there; refuses a name that
    the rack has."""
    tool = _in_units(begun_tool(kind, name), data["units"])
    return _with_tool(data, kind.rack, tool)


def copied(data: dict, rack: str, number: int, name: str) -> tuple[dict, int]:
    """The file with a copy of a tool, under another name, and its number."""
    return _with_tool(data, rack, copy.deepcopy(tool_at(data, rack, number)) | {"name": name})


def another_opening(data: dict, rack: str, number: int, name: str) -> tuple[dict, int]:
    """The file with one more V of the block that this die is cut in, and its number: of the block's height, lengths and
    load, its opening still to be measured. Each V of a block is a die of its own, told by where its faces lie from
    it."""
    tool = tool_at(data, rack, number)
    kind = kind_of(tool)
    if kind not in (VEE, UEE):
        raise Refusal("what", "goes for a die with an opening that was described by its sizes")
    known = tool["measured"]["sizes"].get("height")
    made, at = _with_tool(data, rack, _in_units(begun_tool(kind, name), data["units"]) | {
        key: copy.deepcopy(tool[key]) for key in ("lengths", "max_kn_per_m", "turnable") if key in tool})
    if known is None:
        return made, at
    return with_size(made, "height", f"{known} {data['units']}", data["units"], (rack, at)), at


def _with_tool(data, rack, tool) -> tuple[dict, int]:
    if not tool["name"] or any(one["name"].casefold() == tool["name"].casefold() for one in data[rack]):
        raise Refusal("name", "must be given, and be another than those on the rack")
    if len(data[rack]) >= MOST_TOOLS:
        raise Refusal("name", f"would be the {MOST_TOOLS + 1}st of these tools; a rack has at most {MOST_TOOLS}")
    return data | {rack: [*data[rack], tool]}, len(data[rack])


def lent(data: dict, rack: str, number: int, other: dict) -> dict:
    """Another press brake's file with this tool on its rack too, of the same sizes; refuses a name that it has."""
    per = MM_PER[data["units"]] / MM_PER[other["units"]]
    tool = copy.deepcopy(tool_at(data, rack, number))
    if per != 1:
        for key in ("tip_radius", "v", "shoulder_radius"):
            if key in tool:
                tool[key] = _other(tool[key], data["units"], other["units"])
        tool["section"] = [[round(y * per, 6), round(z * per, 6)] for y, z in tool["section"]]
        tool["lengths"] = [_other(length, data["units"], other["units"]) for length in tool["lengths"]]
        if "measured" in tool:
            kind = TOOLS[tool["measured"]["as"]]
            tool["measured"]["sizes"] = {
                name: _other(value, data["units"], other["units"]) if kind.measure(name).unit is Unit.LENGTH else value
                for name, value in tool["measured"]["sizes"].items()}
    return _with_tool(other, rack, tool)[0]


def _other(value, units, others) -> float:
    return round(read_length(value, units, "lengths") / MM_PER[others], 6)


def without(data: dict, rack: str, number: int) -> dict:
    """The file with a tool taken off the rack; refuses the last, for a press brake has one of each at least."""
    if not tool_at(data, rack, number).get("retired") and sum(not one.get("retired") for one in data[rack]) == 1:
        raise Refusal("tool", LAST.format(rack))
    return data | {rack: [tool for n, tool in enumerate(data[rack]) if n != number]}


def renamed(data: dict, rack: str, number: int, name: str) -> dict:
    """The file with a tool under another name; refuses one that another tool of the rack has."""
    others = data | {rack: [tool for n, tool in enumerate(data[rack]) if n != number]}
    tool = _with_tool(others, rack, tool_at(data, rack, number) | {"name": name})[0][rack][-1]
    return data | {rack: [tool if n == number else one for n, one in enumerate(data[rack])]}


def retired(data: dict, rack: str, number: int, is_retired: bool) -> dict:
    """The file with a tool put away, which keeps its figures but is offered to no order, or put up again; refuses to
    put away the last."""
    tool = {key: value for key, value in tool_at(data, rack, number).items() if key != "retired"}
    if is_retired and sum(not one.get("retired") for one in data[rack]) == 1:
        raise Refusal("tool", LAST.format(rack))
    tool |= {"retired": True} if is_retired else {}
    return data | {rack: [tool if n == number else one for n, one in enumerate(data[rack])]}


def tool_at(data: dict, rack: str, number: int) -> dict:
    """A tool by its rack and its number there; refuses one that there is not."""
    if rack not in RACKS or not 0 <= number < len(data.get(rack, ())):
        raise Refusal("tool", "is not on this rack")
    return data[rack][number]


def kind_of(block: dict) -> Kind | None:
    """The kind that a brake or a tool was described as; None for one that was drawn."""
    name = block.get("measured", {}).get("as")
    return (KINDS | TOOLS).get(name)


def taken(block: dict, units: str) -> list[Taken]:
    """Every size of a brake or a tool that was described by sizes, in the order in which they are taken; nothing of
    one that was drawn. Raises Refusal for a kept size that cannot be read."""
    kind = kind_of(block)
    if kind is None:
        return []
    kept = block["measured"]["sizes"]
    own = {one.name: _kept(one, kept[one.name], units) for one in kind.measures if one.name in kept}
    found = settled(kind, own)
    return [Taken(one, found[one.name], one.name in own) for one in kind.measures]


def settled(kind: Kind, own: Sizes) -> Sizes:
    """All the sizes of a kind: those measured as they are, the others at start values that give way until all go
    together, as little as does. Where what was measured contradicts itself rules are broken still.

    A start value is a guess at this machine: a long finger says that its beam lies high, though nobody measured that.
    """
    sizes = {one.name: own.get(one.name, one.start) for one in kind.measures}
    for _ in range(MOST_TURNS):
        broken = kind.broken(sizes)
        tried = [sizes | {name: value} for rule in broken[:1] for share in GIVES_WAY
                 for name, value in _given(kind, rule, sizes, own, share)]
        tried = [one for one in tried if broken[0].holds(one)]
        if not tried:
            break
        sizes = min(tried, key=lambda one: len(kind.broken(one)))
    return sizes


def _given(kind, rule, sizes, own, share):
    """Every size a rule is about that was not measured, and its value times ``share``, within its limits."""
    for name in rule.about:
        if name not in own:
            one = kind.measure(name)
            yield name, min(max(sizes[name] * share, one.least), one.most)


def _kept(one, value, units) -> float:
    """A size that the file keeps; refuses one that could not have been taken."""
    try:
        found = read_length(value, units, one.name) if one.unit is Unit.LENGTH else float(value)
    except ValueError:
        found = math.nan
    if not one.least - KEPT_WITHIN <= found <= one.most + KEPT_WITHIN:
        raise Refusal(f"measured.sizes.{one.name}", "is no such size as is taken there")
    return found


def refuse_unsound(data: dict) -> None:
    """Refuse a brake file that keeps sizes nobody could have taken, of the brake or of a tool."""
    for block in (data, *(tool for rack in RACKS for tool in data.get(rack, ()))):
        taken(block, data["units"])


def values(rows: list[Taken]) -> Sizes:
    """The sizes by name."""
    return {row.measure.name: row.value for row in rows}


def not_measured(data: dict) -> list[str]:
    """What of a brake still stands at its start value, by its title; tools by their names."""
    units = data["units"]
    own = [row.measure.title for row in taken(data, units) if not row.is_measured]
    tools = [tool["name"] for rack in RACKS for tool in data.get(rack, ())
             if any(not row.is_measured for row in taken(tool, units))]
    return own + tools


def read_size(one: Measure, text: str, units: str) -> float:
    """A size as typed by a reader of ``units``: mm, degrees or kN; refuses what is none, or no such size."""
    if one.unit is Unit.LENGTH:
        value = read_length(text, units, one.name)
    elif one.unit is Unit.FORCE:
        value = read_force(text, units, one.name)
    else:
        value = read_angle(text, one.name, units if one.unit is Unit.BEND else str(units))
    if not one.least <= value <= one.most:
        low, high = ((Mm(one.least), Mm(one.most)) if one.unit is Unit.LENGTH else
                     (f"{one.least:g}{SIGN[one.unit]}", f"{one.most:g}{SIGN[one.unit]}"))
        raise Refusal(one.name, Said("must be from {low} to {high}", low=low, high=high))
    return value


SIGN = {Unit.ANGLE: "°", Unit.BEND: "°", Unit.FORCE: " kN"}


def with_size(data: dict, name: str, text: str, units: str, tool: tuple[str, int] | None = None) -> dict:
    """The brake file with one size as measured, typed by a reader of ``units``; of a ``tool`` (rack, number) where one
    is named. An empty text goes back to the start value. Sections follow, those that were drawn excepted.

    Raises Refusal at the size's name for what is no such size, or does not go with the others.
    """
    found = copy.deepcopy(data)
    block = tool_at(found, *tool) if tool else found
    kind = kind_of(block)
    one = kind.measure(name) if kind else None
    if one is None:
        raise Refusal(name or "size", "is no size that is taken here")
    sizes = block["measured"]["sizes"]
    if text.strip():
        value = read_size(one, text, units)
        sizes[name] = round(value / MM_PER[data["units"]], 6) if one.unit is Unit.LENGTH else value
    else:
        sizes.pop(name, None)
    block |= remade(block, kind, data["units"], name)
    _refuse_unread(found, name)
    return found


def with_stop_moved(data: dict, how: str) -> dict:
    """The press brake's file with how its stop is moved, which is what a move of it costs; one that has none locates
    at lines alone."""
    if how not in STOP_MOVES or kind_of(data) is not PRESS:
        raise Refusal("stop_moved", "must be one of " + ", ".join(STOP_MOVES))
    found = copy.deepcopy(data)
    found["measured"]["stop_moved"] = how
    found["costs"] = found.get("costs", {}) | {"stop_move": STOP_MOVES[how]}
    return found | remade(found, PRESS, data["units"])


def made_again(data: dict, place: str) -> dict:
    """The file with a section that had been drawn made of the sizes once more."""
    found = copy.deepcopy(data)
    kind = kind_of(found)
    if kind is None or place not in found["measured"].get("drawn", ()):
        raise Refusal("place", "was not drawn by hand")
    found["measured"]["drawn"].remove(place)
    return found | remade(found, kind, data["units"])


def remade(block: dict, kind: Kind, units: str, name: str = "") -> dict:
    """What of a brake or tool follows from its sizes, in the file's units; refuses sizes that do not go together, at
    the one called ``name`` where it is among them."""
    rows = taken(block, units)
    sizes = values(rows)
    for rule in kind.broken(sizes):
        about = [kind.measure(name).title for name in rule.others]
        raise Refusal(name if name in rule.about else rule.field,
                      f"{kind.measure(rule.field).title} {rule.words}" + (f" ({', '.join(about)})" if about else ""))
    drawn = block["measured"].get("drawn", ())
    own = {key: value for key, value in _in_units(kind.made(sizes), units).items()
           if key not in OWNED and key not in drawn}
    if block["measured"].get("stop_moved") == NO_STOP:
        kept = {key: value for key, value in block["stops"].items() if key != "section"}
        own["stops"] = kept | {"min": 0.0, "max": NEAREST}
    elif "stops" in own:
        keys = ("min", "max") if "stops.section" in drawn else ("min", "max", "section")
        own["stops"] = block["stops"] | {key: own["stops"][key] for key in keys}
    return own


def _refuse_unread(data, name) -> None:
    """What the rules between sizes let pass must be a brake."""
    try:
        read_brake(data)
    except Refusal as refusal:
        where = NAMES.get(refusal.path.partition("[")[0], "what follows from it")
        raise Refusal(name, Said("does not go with the other sizes: {where} {why}", where=where,
                                 why=refusal.message)) from None


def _in_units(made: object, units: str) -> object:
    """What a kind made, its lengths in the file's units instead of mm."""
    per = MM_PER[units]
    if isinstance(made, Mm):
        return round(float(made) / per, 6)
    if isinstance(made, dict):
        return {key: [[round(y / per, 6), round(z / per, 6)] for y, z in value] if key.endswith("section")
                else _in_units(value, units) for key, value in made.items()}
    return [_in_units(value, units) for value in made] if isinstance(made, list) else made

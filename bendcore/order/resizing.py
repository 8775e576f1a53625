"""Ways out by size: legs shorter or longer, walls lower, bases wider, as far as something works, and no farther than it
was tried.
"""

import math
from collections.abc import Iterator

from ..said import Mm, Said
from .plan import Plan, Remedy
from .trying import LEG_STEPS, Tried, largest

SHORTER, LONGER, LOWER, WIDER, LENGTHS = "shorter-leg", "longer-leg", "lower-wall", "wider-base", "in-lengths"
LEGS_TRIED = 3
MORE = 80.0
"""A leg is made longer by so much at most, mm: the shortest leg of the widest usual die."""
WALLS = ("left", "right", "front", "back")


def shorter_legs(tried: Tried, plan: Plan) -> Iterator[Remedy]:
    """Legs of a strip that meet something, shorter."""
    legs = {leg.id: (i, leg) for i, leg in enumerate(tried.part.shape.legs)}
    met = [legs[face] for face in dict.fromkeys(hit.face for hit in plan.hits) if face in legs]
    for index, leg in met[:LEGS_TRIED]:
        found = tried.most(leg.size, leg.size - leg.flat, ("legs", index))
        if found is not None:
            low, most = found
            message = Said("Shorten {leg} from {now} to {most}; tried down to {low}.", leg=leg.id, now=Mm(leg.size),
                           most=Mm(most), low=Mm(low))
            yield Remedy(SHORTER, message, legs=((leg.id, most),), cost=tried.cost({("legs", index): most}))


def longer_legs(tried: Tried) -> Iterator[Remedy]:
    """Edges as long as die or clamp ask, to be cut back after bending where the part must stay as drawn: those that end
    free one by one, then all that are as short, each to the next half millimetre above the shortest that works."""
    shape, found = tried.part.shape, False
    free = [leg for leg in shape.legs if None in leg.ends and _path(tried.data["shape"], leg.id) is not None]
    least = min((leg.flat for leg in free), default=0.0)
    alike = [leg for leg in free if leg.flat <= 2 * least]
    for group in [*([leg] for leg in free), *([alike] if len(alike) > 1 else [])]:
        if len(group) > 1 and found:
            break
        sizes = {_path(tried.data["shape"], leg.id): leg.size for leg in group}
        more = tried.least(sizes, MORE)
        if more is None:
            continue
        found = True
        words = " and ".join(f"{{name{n}}} {{size{n}}}" for n in range(len(group)))
        values: dict[str, object] = {}
        for n, leg in enumerate(group):
            values |= {f"name{n}": shape.called(leg.id), f"size{n}": Mm(leg.size + more)}
        message = Said(f"Make {words} long: bend it so, and cut {{more}} off after where the part must stay as drawn.",
                       more=Mm(more), **values)
        wanted = {path: size + more for path, size in sizes.items()}
        of_strip = all(path[0] == "legs" for path in wanted)
        yield Remedy(LONGER, message, legs=tuple((leg.id, leg.size + more) for leg in group) if of_strip else (),
                     sizes=() if of_strip else tuple((field_of(path), mm) for path, mm in wanted.items()),
                     cost=tried.cost(wanted))


LAP = 50.0
"""Lengths of a strip that is made in several are lapped by so much, mm (*start*)."""


def in_lengths(tried: Tried) -> Iterator[Remedy]:
    """A strip that is longer than the brake, in as few equal lengths as it takes, lapped."""
    whole, most = tried.part.shape.longest_bend, max(brake.length for brake in tried.brakes)
    if whole <= most:
        return
    count = math.ceil((whole - LAP) / (most - LAP) - 1e-9)
    size = (whole + (count - 1) * LAP) / count
    if tried.works({("width",): size}):
        join = "riveted and sealed" if tried.part.stock.is_coated else "riveted, welded or sealed"
        yield Remedy(LENGTHS, Said("Make it in {count} lengths of {size}, lapped by {lap} and {join}.", count=count,
                                   size=Mm(size), lap=Mm(LAP), join=join), sizes=(("width", size),),
                     cost=tried.cost({("width",): size}))


def _path(shape: dict, leg: str) -> tuple | None:
    """Where a leg's size stands below ``shape``; None where no one field holds it."""
    if isinstance(shape.get("legs"), list):
        return ("legs", int(leg[1:]) - 1)
    if leg in shape.get("walls", {}):
        return ("walls", leg, "height")
    flanges = shape.get("flanges", ())
    at = next((n for n, one in enumerate(flanges) if one.get("id", f"F{n + 1}") == leg), None)
    return None if at is None else ("flanges", at, "length")


def field_of(path: tuple) -> str:
    """A path below ``shape`` as it is written."""
    return "".join(f"[{key}]" if isinstance(key, int) else f".{key}" for key in path).lstrip(".")


def lower_walls(tried: Tried) -> Iterator[Remedy]:
    """All walls of a tray at most so high."""
    shape, legs = tried.data["shape"], {leg.id: leg for leg in tried.part.shape.legs}
    walls = [side for side in WALLS if side in shape.get("walls", {}) and side in legs]
    if not walls:
        return
    now = max(legs[side].size for side in walls)
    least = max(legs[side].size - legs[side].flat for side in walls)

    def sizes(size):
        return {("walls", side, "height"): min(size, legs[side].size) for side in walls}

    def works(size):
        return tried.works(sizes(size))

    low = least + (now - least) / LEG_STEPS
    if works(low):
        most = largest(works, low, now, least)
        yield Remedy(LOWER, Said("Make the walls {most} high; tried down to {low}.", most=Mm(most), low=Mm(low)),
                     sizes=tuple((f"walls.{side}.height", most) for side in walls if legs[side].size > most),
                     cost=tried.cost(sizes(most)))


def wider_base(tried: Tried) -> Iterator[Remedy]:
    """A tray's base longer or wider."""
    for key in ("length", "width"):
        leg = next((leg for leg in tried.part.shape.legs if leg.id == key), None)
        if key in tried.data["shape"] and leg is not None:
            yield from _more(tried, (key,), leg.size, f"the {key}")


def _more(tried: Tried, path: tuple, size: float, called: str) -> Iterator[Remedy]:
    more = tried.least({path: size}, MORE)
    if more is not None:
        yield Remedy(WIDER, Said("Make {what} {size}; tried up to {most}.", what=called, size=Mm(size + more),
                                 most=Mm(size + MORE)), sizes=((field_of(path), size + more),),
                     cost=tried.cost({path: size + more}))


def other_sizes(tried: Tried, kind: str) -> Iterator[Remedy]:
    """One size of a part that is no strip and no tray, smaller or larger."""
    legs = {leg.id: leg for leg in tried.part.shape.legs}
    for path, leg, called in _fields(tried.data["shape"], legs):
        if kind == WIDER:
            yield from _more(tried, path, leg.size, called)
            continue
        found = tried.most(leg.size, leg.size - leg.flat, path)
        if found is not None:
            low, most = found
            yield Remedy(LOWER, Said("Make {what} {most}; tried down to {low}.", what=called, most=Mm(most),
                                     low=Mm(low)), sizes=((field_of(path), most),), cost=tried.cost({path: most}))


def _fields(shape: dict, legs: dict) -> Iterator[tuple]:
    """(path below ``shape``, leg, what it is called) of the sizes tried on guards, sleeves and plates."""
    for key in ("length", "width", "height"):
        leg = legs.get({"length": "long", "width": "across"}.get(key, key), legs.get(key))
        if key in shape and leg:
            yield (key,), leg, f"the {key}"
    for side in ("front", "back", "start_flange", "end_flange"):
        leg = legs.get(f"{side}-edge") or legs.get(side.removesuffix("_flange"))
        if isinstance(shape.get(side), dict) and "width" in shape[side] and leg:
            yield (side, "width"), leg, f"the {side.replace('_', ' ')}'s width"
    for i, flange in enumerate(shape.get("flanges", ())):
        leg = legs.get(flange.get("id", f"F{i + 1}"))
        if leg and "length" in flange:
            yield ("flanges", i, "length"), leg, f"flange {leg.id}"

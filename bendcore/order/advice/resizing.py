"""Ways out by size: legs shorter or longer, walls lower, bases wider, as far as something works, and no farther than it
was tried.
"""

import math
from collections.abc import Iterator

from ...families.shape import Resize
from ...fields import Steps, path_of
from ...said import Mm, Said
from ..plan import Plan, Remedy
from .trying import LEG_STEPS, Tried, largest

SHORTER, LONGER, LOWER, WIDER, LENGTHS = "shorter-leg", "longer-leg", "lower-wall", "wider-base", "in-lengths"
LEGS_TRIED = 3
MORE = 80.0
"""A leg is made longer by so much at most, mm: the shortest leg of the widest usual die."""


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
    free = [leg for leg in shape.legs if None in leg.ends and shape.size_path(leg.id) is not None]
    least = min((leg.flat for leg in free), default=0.0)
    alike = [leg for leg in free if leg.flat <= 2 * least]
    for group in [*([leg] for leg in free), *([alike] if len(alike) > 1 else [])]:
        if len(group) > 1 and found:
            break
        sizes = {shape.size_path(leg.id): leg.size for leg in group}
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
        of_strip = shape.is_strip
        yield Remedy(LONGER, message, legs=tuple((leg.id, leg.size + more) for leg in group) if of_strip else (),
                     sizes=() if of_strip else tuple((path_of(path), mm) for path, mm in wanted.items()),
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


def smaller(tried: Tried) -> Iterator[Remedy]:
    """Sizes of a part that is no strip, smaller: each as far as something works, several together at most so large."""
    for one in tried.part.shape.resized():
        if not one.less or not one.legs:
            continue
        found = _held(tried, one) if len(one.legs) > 1 else _run(tried, one)
        if found is not None:
            low, most = found
            sizes = _capped(one, most)
            yield Remedy(LOWER, Said(f"{one.said}; tried down to {{low}}.", size=Mm(most), low=Mm(low)),
                         sizes=tuple((path_of(path), most) for path, leg in zip(one.paths, one.legs, strict=True)
                                     if leg.size > most), cost=tried.cost(sizes))


def _run(tried: Tried, one: Resize) -> tuple[float, float] | None:
    """(from, to) of the sizes of one leg that work."""
    (leg,), (path,) = one.legs, one.paths
    return tried.most(leg.size, leg.size - leg.flat, path)


def _held(tried: Tried, one: Resize) -> tuple[float, float] | None:
    """(what was tried, the most that works) where no leg is larger."""
    now = max(leg.size for leg in one.legs)
    least = max(leg.size - leg.flat for leg in one.legs)
    low = least + (now - least) / LEG_STEPS

    def works(size):
        return tried.works(_capped(one, size))
    return (low, largest(works, low, now, least)) if works(low) else None


def _capped(one: Resize, size: float) -> dict[Steps, float]:
    return {path: min(size, leg.size) for path, leg in zip(one.paths, one.legs, strict=True)}


def larger(tried: Tried) -> Iterator[Remedy]:
    """Sizes of a part that is no strip, one by one larger."""
    for one in tried.part.shape.resized():
        if not one.more:
            continue
        (leg,), (path,) = one.legs, one.paths
        more = tried.least({path: leg.size}, MORE)
        if more is not None:
            yield Remedy(WIDER, Said(f"{one.said}; tried up to {{most}}.", size=Mm(leg.size + more),
                                     most=Mm(leg.size + MORE)), sizes=((path_of(path), leg.size + more),),
                         cost=tried.cost({path: leg.size + more}))

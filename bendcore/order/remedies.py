"""What would free a part that cannot be bent. Every remedy here was simulated, and they are ranked by what they cost.

Tried, as far as they belong to the brake and the part: the best order instead of the one named; other tools from the
rack; the fingers of the whole brake; every size of the part that what hits belongs to, smaller or larger, to the half
millimetre: a leg shorter, a leg longer and cut back after, a wall at most so high, a base at least so wide.
"""

import copy
from collections.abc import Callable, Iterator, Sequence

from ..brakes.brake import Brake
from ..brakes.press import PressBrake
from ..errors import Refusal
from ..part import Part, read_part
from ..said import Mm, Said
from .moves import Job
from .patience import ENDLESS, Patience
from .plan import Plan, Remedy
from .proof import Prover
from .search import find
from .walk import furthest

OTHER_ORDER, OTHER_TOOL, SHORTER, LONGER, LOWER, WIDER = (
    "other-order", "other-tool", "shorter-leg", "longer-leg", "lower-wall", "wider-base")
WORDS = {OTHER_ORDER: "Bend in the order {order} instead.", OTHER_TOOL: "Other tools from the rack do it: {tools}."}
LEGS_TRIED = 3
LEG_STEPS = 5
MORE = 80.0
"""A leg is made longer by so much at most, mm: the shortest leg of the widest usual die."""
FINENESS = 0.5
"""A size is given to the next half millimetre on the side that works."""
WALLS = ("left", "right", "front", "back")


class _Tried:
    """Sizes of a part file tried on brakes."""

    def __init__(self, data: dict, brakes: Sequence[Brake], patience: Patience):
        self.data, self.brakes, self.patience = data, tuple(brakes), patience
        self.part: Part = read_part(data)

    def works(self, sizes: dict[tuple, float]) -> bool:
        """Whether an order exists with these fields below ``shape`` at other sizes, mm; no where the patience is
        over."""
        if self.patience():
            return False
        trial = copy.deepcopy(self.data)
        for path, mm in sizes.items():
            _set(trial["shape"], path, f"{mm!r} mm")
        try:
            job = Job.of(read_part(trial), *self.brakes)
        except Refusal:
            return False
        return furthest(Prover(job), patience=self.patience)[0] == job.made

    def most(self, now: float, least: float, path: tuple) -> float | None:
        """The largest size below ``now`` with which an order exists."""
        works, bad = None, now
        for n in range(LEG_STEPS - 1, 0, -1):
            size = least + (now - least) * n / LEG_STEPS
            if self.works({path: size}):
                works = size
                break
            bad = size
        return None if works is None else _largest(lambda size: self.works({path: size}), works, bad, least)

    def least(self, sizes: dict[tuple, float], more: float) -> float | None:
        """By how much these sizes must be larger, at most ``more``, for an order to exist."""
        def works(extra):
            return self.works({path: mm + extra for path, mm in sizes.items()})

        low, high = 0.0, more
        if not works(high):
            return None
        while high - low > FINENESS:
            middle = FINENESS * round((low + high) / 2 / FINENESS)
            low, high = (low, middle) if works(middle) else (middle, high)
        return high


def _largest(works: Callable[[float], bool], good: float, bad: float, least: float) -> float:
    """The largest size that works between one that does and one that does not, rounded down if it may be."""
    while bad - good > FINENESS:
        middle = (good + bad) / 2
        good, bad = (middle, bad) if works(middle) else (good, middle)
    rounded = good - good % FINENESS
    return rounded if rounded > least and works(rounded) else good


def _set(shape: dict, path: tuple, value: str) -> None:
    for key in path[:-1]:
        shape = shape[key]
    here = shape[path[-1]]
    shape[path[-1]] = here | {"length": value} if isinstance(here, dict) and "length" in here else value


def find_remedies(data: dict, racks: Brake | Sequence[Brake], mounted: Brake | Sequence[Brake], plan: Plan,
                  named: bool = False, patience: Patience = ENDLESS) -> Plan:
    """The plan with its remedies, cheapest first, and what kinds were tried.

    ``mounted`` are the brakes with the tools chosen, ``racks`` with all of theirs; ``plan`` says what is in the way,
    ``named`` that an order was tried, not searched. What is not found while there is ``patience`` is not told.
    """
    racks, mounted = (tuple(b) if isinstance(b, list | tuple) else (b,) for b in (racks, mounted))
    found: list[Remedy] = []
    tried: list[str] = []
    for kind, look in _kinds(data, racks, mounted, (plan, named, patience)):
        tried.append(kind)
        found += look()
        if found and kind in (OTHER_ORDER, OTHER_TOOL):
            break
    found.sort(key=lambda remedy: (remedy.cost is None, remedy.cost or 0.0))
    return plan.with_remedies(found, tuple(tried))


def _kinds(data, racks, mounted, asked) -> Iterator[tuple]:
    """Kinds of remedy with what looks for them, those that leave the part as it is first."""
    plan, named, patience = asked
    if named:
        yield OTHER_ORDER, lambda: _by_search(data, mounted, OTHER_ORDER, patience)
    if any(isinstance(rack, PressBrake) and len(rack.punches) + len(rack.dies) > len(kept.punches) + len(kept.dies)
           for rack, kept in zip(racks, mounted, strict=True)):
        yield OTHER_TOOL, lambda: _by_search(data, racks, OTHER_TOOL, patience)
    tried = _Tried(data, racks, patience)
    if data["shape"]["kind"] == "profile":
        yield SHORTER, lambda: _shorter_legs(tried, plan)
        if any(reason.code in ("short-leg", "short-hold", "short-flange") for reason in plan.reasons):
            yield LONGER, lambda: _longer_legs(tried)
    if data["shape"]["kind"] == "tray":
        yield LOWER, lambda: _lower_walls(tried)
        yield WIDER, lambda: _wider_base(tried)


def _by_search(data: dict, brakes: Sequence[Brake], kind: str, patience: Patience) -> list[Remedy]:
    prover = Prover(Job.of(read_part(data), *brakes))
    best = find(prover, patience=patience)
    if not best.complete:
        return []
    order = [prover.job.body.bends[i].id for step in best.steps for i in step.move.bends]
    tools: dict[str, None] = {}
    for step in best.steps:
        on = prover.job.brakes[step.move.on]
        mount = on.mounts[prover.mountings.all[step.mounting][0].mount]
        tools[" with ".join(filter(None, getattr(mount, "key", ()))) or on.name] = None
    message = WORDS[kind].format(order=", ".join(order), tools="; then ".join(tools))
    return [Remedy(kind, message, tuple(order), tuple(tools), cost=best.cost)]


def _shorter_legs(tried: _Tried, plan: Plan) -> list[Remedy]:
    legs = {leg.id: (i, leg) for i, leg in enumerate(tried.part.shape.legs)}
    met = [legs[face] for face in dict.fromkeys(hit.face for hit in plan.hits) if face in legs]
    found = []
    for index, leg in met[:LEGS_TRIED]:
        most = tried.most(leg.size, leg.size - leg.flat, ("legs", index))
        if most is not None:
            message = Said("Shorten {leg} from {now} to {most} or less.", leg=leg.id, now=Mm(leg.size), most=Mm(most))
            found.append(Remedy(SHORTER, message, legs=((leg.id, most),)))
    return found


def _longer_legs(tried: _Tried) -> list[Remedy]:
    """Legs as long as die or clamp ask, to be cut back after bending where the part must stay as drawn: the end legs
    one by one, then both, each to the next half millimetre above the shortest that works."""
    shape = tried.part.shape
    last, found = len(shape.legs) - 1, []
    for ends in ((0,), (last,), (0, last)):
        if len(ends) > 1 and found:
            break
        least = tried.least({("legs", i): shape.legs[i].size for i in ends}, MORE)
        if least is None:
            continue
        legs = [shape.legs[i] for i in ends]
        words = " and ".join(f"{leg.id} {{{leg.id}}}" for leg in legs)
        longer = {leg.id: leg.size + least for leg in legs}
        message = Said(f"Make {words} long or more: bend it so, and cut {{least}} off after where the part must stay "
                       "as drawn.", least=Mm(least), **{name: Mm(size) for name, size in longer.items()})
        found.append(Remedy(LONGER, message, legs=tuple(longer.items())))
    return found


def _lower_walls(tried: _Tried) -> list[Remedy]:
    """All walls of a tray at most so high."""
    shape, legs = tried.data["shape"], {leg.id: leg for leg in tried.part.shape.legs}
    walls = [side for side in WALLS if side in shape.get("walls", {}) and side in legs]
    if not walls:
        return []
    now = max(legs[side].size for side in walls)
    least = max(legs[side].size - legs[side].flat for side in walls)

    def works(size):
        return tried.works({("walls", side, "height"): min(size, legs[side].size) for side in walls})

    low = least + (now - least) / LEG_STEPS
    if not works(low):
        return []
    most = _largest(works, low, now, least)
    return [Remedy(LOWER, Said("Make the walls {most} high or less.", most=Mm(most)),
                   sizes=tuple((f"walls.{side}.height", most) for side in walls if legs[side].size > most))]


def _wider_base(tried: _Tried) -> list[Remedy]:
    """A tray's base at least so long or wide."""
    found, shape = [], tried.part.shape
    for key in ("length", "width"):
        value = tried.data["shape"].get(key)
        leg = next((leg for leg in shape.legs if leg.id == key), None)
        if value is None or leg is None:
            continue
        more = tried.least({(key,): leg.size}, MORE)
        if more is not None:
            found.append(Remedy(WIDER, Said(f"Make the {key} {{size}} or more.", size=Mm(leg.size + more)),
                                sizes=((key, leg.size + more),)))
    return found

"""What would free a part that cannot be bent. Every remedy here was simulated, and they are ranked by what they cost.

Tried, as far as they belong to the brake and the part: the best order instead of the one named; other tools from the
rack; another brake of the shop, or this one and then that; one finger more; a lip turned the other way; every size of
the part that what hits belongs to, smaller or larger, to the half millimetre: a leg shorter, a leg longer and cut back
after, a wall at most so high, a base at least so wide; an angle left open for a while; a bend creased and closed by
hand; the part split and welded.
"""

import copy
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from itertools import islice

from ..brakes.brake import Brake
from ..brakes.leaf import LeafBrake
from ..brakes.press import PressBrake
from ..errors import Refusal
from ..part import Part, read_part
from ..said import Mm, Said
from .handwork import creased, left_open, split
from .moves import Job
from .patience import ENDLESS, Patience, Turn
from .plan import Plan, Remedy
from .proof import Prover
from .search import find
from .walk import can_be_bent
from .why import cannot_be_together

OTHER_ORDER, OTHER_TOOL, SHORTER, LONGER, LOWER, WIDER = (
    "other-order", "other-tool", "shorter-leg", "longer-leg", "lower-wall", "wider-base")
OTHER_BRAKE, OTHER_FINGERS, TURN, OPEN_ANGLE, CREASE, SPLIT = (
    "other-brake", "other-fingers", "turn", "open-angle", "crease-and-return", "split")
WORDS = {OTHER_ORDER: "Bend in the order {order} instead.", OTHER_TOOL: "Other tools from the rack do it: {tools}."}
LEGS_TRIED = 3
BEST = 2
"""Of one kind of handwork so many are told."""
SHARE = 0.2
"""Of the time there is, each kind has so much."""
LEG_STEPS = 5
MORE = 80.0
"""A leg is made longer by so much at most, mm: the shortest leg of the widest usual die."""
FINENESS = 0.5
"""A size is given to the next half millimetre on the side that works."""
WALLS = ("left", "right", "front", "back")
FINGERS_TRIED = (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 65.0, 80.0, 100.0, 130.0, 160.0, 200.0)
"""Widths of one finger more, mm."""
SHORT = ("short-leg", "short-hold", "short-flange")


class _Tried:
    """Sizes of a part file tried on brakes."""

    def __init__(self, data: dict, brakes: Sequence[Brake], patience: Patience):
        self.data, self.brakes, self.patience = data, tuple(brakes), patience
        self.part: Part = read_part(data)

    def works(self, sizes: dict[tuple, float]) -> bool:
        """Whether an order exists with these fields below ``shape`` at other sizes, mm; no where the patience is
        over."""
        job = None if self.patience() else self._job(sizes)
        return bool(job) and can_be_bent(Prover(job), self.patience)

    def cost(self, sizes: dict[tuple, float]) -> float:
        """Of the best order with sizes that work, seconds."""
        return float(find(Prover(self._job(sizes)), patience=self.patience).cost)

    def _job(self, sizes) -> Job | None:
        trial = copy.deepcopy(self.data)
        for path, mm in sizes.items():
            _set(trial["shape"], path, f"{mm!r} mm")
        try:
            return Job.of(read_part(trial), *self.brakes)
        except Refusal:
            return None

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
                  named: bool = False, patience: Patience = ENDLESS, others: Sequence[Brake] = ()) -> Plan:
    """The plan with its remedies, cheapest first, what kinds were tried, and which bends cannot be together.

    ``mounted`` are the brakes with the tools chosen, ``racks`` with all of theirs, ``others`` what the shop has beside;
    ``plan`` says what is in the way, ``named`` that an order was tried, not searched. What is not found while there is
    ``patience`` is not told.
    """
    racks, mounted = (tuple(b) if isinstance(b, list | tuple) else (b,) for b in (racks, mounted))
    found: list[Remedy] = []
    tried: list[str] = []
    turn = Turn(patience.seconds * SHARE, whole=patience)
    together = () if named else cannot_be_together(Prover(Job.of(read_part(data), *mounted)), turn)
    for kind, look in _kinds(data, racks, mounted, (plan, named, turn, others)):
        tried.append(kind)
        turn.renew()
        found += look()
        if found and kind in (OTHER_ORDER, OTHER_TOOL):
            break
    found.sort(key=lambda remedy: (remedy.cost is None, remedy.cost or 0.0))
    return replace(plan, remedies=tuple(found), tried=tuple(tried), together=together)


def _kinds(data, racks, mounted, asked) -> Iterator[tuple]:
    """Kinds of remedy with what looks for them, those that leave the part as it is first."""
    plan, named, patience, others = asked
    if named:
        yield OTHER_ORDER, lambda: _by_search(data, mounted, OTHER_ORDER, patience)
    if any(isinstance(rack, PressBrake) and len(rack.punches) + len(rack.dies) > len(kept.punches) + len(kept.dies)
           for rack, kept in zip(racks, mounted, strict=True)):
        yield OTHER_TOOL, lambda: _by_search(data, racks, OTHER_TOOL, patience)
    tried = _Tried(data, racks, patience)
    if others:
        yield OTHER_BRAKE, lambda: _on_others(data, racks, others, patience)
    if any(isinstance(rack, LeafBrake) and rack.fingers for rack in racks):
        yield OTHER_FINGERS, lambda: _with_finger(data, racks, patience)
    short = any(reason.code in SHORT for reason in plan.reasons)
    if data["shape"]["kind"] == "profile":
        yield SHORTER, lambda: _shorter_legs(tried, plan)
        if short:
            yield LONGER, lambda: _longer_legs(tried)
    elif data["shape"]["kind"] == "tray":
        if any("lip" in wall for wall in data["shape"].get("walls", {}).values()):
            yield TURN, lambda: _turned_lips(data, racks, patience)
        yield LOWER, lambda: _lower_walls(tried)
        yield WIDER, lambda: _wider_base(tried)
    else:
        yield LOWER, lambda: _other_sizes(tried, LOWER)
        yield WIDER, lambda: _other_sizes(tried, WIDER)
    if not short:
        yield OPEN_ANGLE, lambda: _left_open(tried)
        yield CREASE, lambda: _by_hand(tried, plan)
    yield SPLIT, lambda: _in_two(tried)


def _on_others(data, racks, others, patience) -> list[Remedy]:
    """Another brake alone, else this one and then another."""
    part, found = read_part(data), []
    for several in ([(other,) for other in others], [(*racks, other) for other in others]):
        for brakes in several:
            best = find(Prover(Job.of(part, *brakes)), patience=patience) if not patience() else None
            if best and best.complete:
                names = " and ".join(brake.name for brake in brakes)
                words = "{names} can bend it." if len(brakes) == 1 else "{names} together can bend it."
                found.append(Remedy(OTHER_BRAKE, Said(words, names=names), cost=float(best.cost), brake=names))
        if found:
            break
    return found


def _with_finger(data, racks, patience) -> list[Remedy]:
    """The narrowest finger that would do, beside those owned."""
    part = read_part(data)
    for width in FINGERS_TRIED:
        more = [replace(rack, fingers=tuple(sorted((*rack.fingers, width), reverse=True)))
                if isinstance(rack, LeafBrake) and rack.fingers else rack for rack in racks]
        prover = Prover(Job.of(part, *more))
        if not patience() and can_be_bent(prover, patience):
            best = find(prover, patience=patience)
            return [Remedy(OTHER_FINGERS, Said("One finger more, {width} wide, and it can be bent.", width=Mm(width)),
                           sizes=(("finger", width),), cost=float(best.cost))]
    return []


def _turned_lips(data, racks, patience) -> list[Remedy]:
    """All lips out that go in, or in that go out."""
    found = []
    for way, other in (("in", "out"), ("out", "in")):
        trial = copy.deepcopy(data)
        lips = [wall["lip"] for wall in trial["shape"]["walls"].values() if wall.get("lip", {}).get("direction") == way]
        for lip in lips:
            lip["direction"] = other
        try:
            prover = Prover(Job.of(read_part(trial), *racks)) if lips else None
        except Refusal:
            continue
        if prover and can_be_bent(prover, patience):
            best = find(prover, patience=patience)
            found.append(Remedy(TURN, f"Turn the lips {other} instead of {way}.", cost=float(best.cost)))
    return found


def _other_sizes(tried: _Tried, kind: str) -> list[Remedy]:
    """One size of a part that is no strip and no tray, smaller or larger."""
    found, legs = [], {leg.id: leg for leg in tried.part.shape.legs}
    for path, leg, called in _fields(tried.data["shape"], legs):
        if kind == LOWER:
            size = tried.most(leg.size, leg.size - leg.flat, path)
            words = "Make {what} {size} or less."
        else:
            more = tried.least({path: leg.size}, MORE)
            size, words = None if more is None else leg.size + more, "Make {what} {size} or more."
        if size is not None:
            field = "".join(f"[{key}]" if isinstance(key, int) else f".{key}" for key in path).lstrip(".")
            found.append(Remedy(kind, Said(words, what=called, size=Mm(size)), sizes=((field, size),),
                                cost=tried.cost({path: size})))
    return found


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


def _left_open(tried: _Tried) -> list[Remedy]:
    """A bend made half of the way, and struck to its angle at last."""
    called = tried.part.shape.called
    rows = sorted(islice(left_open(tried.part, tried.brakes, tried.patience), BEST), key=lambda row: row[1])
    return [Remedy(OPEN_ANGLE, Said("Leave {bend} open at half its angle, make the others, and strike it to its angle "
                                    "at last.", bend=called(bend)), order=(bend,), cost=cost) for bend, cost in rows]


def _by_hand(tried: _Tried, plan: Plan) -> list[Remedy]:
    """Bends creased, and closed by hand at last."""
    likely = [name for hit in plan.hits for name in (hit.bend, hit.face)] + [why.bend for why in plan.reasons]
    ends = {b.id for b in tried.part.sheet.bends if {b.parent, b.child} & set(likely)} | set(likely)
    found = list(islice(creased(tried.part, tried.brakes, sorted(ends), tried.patience), 2 * BEST))
    called = tried.part.shape.called
    return [Remedy(CREASE, Said("Crease {names} half of the way only, make the others, and close {them} by hand on the "
                                "crease.", names=" and ".join(map(called, names)),
                                them="it" if len(names) == 1 else "them"), order=names, cost=cost)
            for names, cost in sorted(found, key=lambda row: row[1])[:BEST]]


def _in_two(tried: _Tried) -> list[Remedy]:
    """The part cut along a bend and welded there."""
    called = tried.part.shape.called
    rows = sorted(split(tried.part, tried.brakes, tried.patience), key=lambda row: row[-1])[:BEST]
    return [Remedy(SPLIT, Said("Split it at {bend}: {faces} by itself, welded on at the corner by a qualified person.",
                               bend=called(bend), faces=", ".join(map(called, faces[:3])) + (
                                   " and what hangs on it" if len(faces) > 3 else "")),
                   order=(bend,), cost=cost) for bend, faces, cost in rows]


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
            found.append(Remedy(SHORTER, message, legs=((leg.id, most),), cost=tried.cost({("legs", index): most})))
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
        cost = tried.cost({("legs", i): longer[leg.id] for i, leg in zip(ends, legs, strict=True)})
        found.append(Remedy(LONGER, message, legs=tuple(longer.items()), cost=cost))
    return found


def _lower_walls(tried: _Tried) -> list[Remedy]:
    """All walls of a tray at most so high."""
    shape, legs = tried.data["shape"], {leg.id: leg for leg in tried.part.shape.legs}
    walls = [side for side in WALLS if side in shape.get("walls", {}) and side in legs]
    if not walls:
        return []
    now = max(legs[side].size for side in walls)
    least = max(legs[side].size - legs[side].flat for side in walls)

    def sizes(size):
        return {("walls", side, "height"): min(size, legs[side].size) for side in walls}

    def works(size):
        return tried.works(sizes(size))

    low = least + (now - least) / LEG_STEPS
    if not works(low):
        return []
    most = _largest(works, low, now, least)
    return [Remedy(LOWER, Said("Make the walls {most} high or less.", most=Mm(most)),
                   sizes=tuple((f"walls.{side}.height", most) for side in walls if legs[side].size > most),
                   cost=tried.cost(sizes(most)))]


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
                                sizes=((key, leg.size + more),), cost=tried.cost({(key,): leg.size + more})))
    return found

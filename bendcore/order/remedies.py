"""What would free a part that cannot be bent. Every remedy here was simulated.

Four are tried: the best order instead of the one named, other tools from the
rack, a shorter leg, looked for among the faces that hit, and, where a leg is too short
for the die, a longer one to be cut back after.
"""

import copy

from ..brakes.press import PressBrake
from ..errors import Refusal
from ..part import Part, read_part
from ..said import Mm, Said
from .moves import Job
from .plan import Met, Plan, Remedy
from .proof import Prover
from .search import find, furthest

LEGS_TRIED = 3
LEG_STEPS = 5
LONGER = 80.0
"""A leg is made longer by so much at most, mm: the shortest leg of the widest usual die."""
LEG_FINENESS = 0.5
"""A shorter leg is given to the next half millimetre below the longest that works."""


def find_remedies(data: dict, rack: PressBrake, mounted: PressBrake, plan: Plan, named: bool = False) -> list[Remedy]:
    """Remedies for a part file on a brake.

    ``mounted`` is the brake with the tools chosen, ``rack`` with all of its tools; ``plan`` says what is in the way,
    ``named`` that an order was tried, not searched.
    """
    found: list[Remedy] = []
    if named:
        found += _by_search(data, mounted, "other-order", "Bend in the order {order} instead.")
    if not found and len(rack.punches) + len(rack.dies) > len(mounted.punches) + len(mounted.dies):
        found += _by_search(data, rack, "other-tool", "Other tools from the rack do it: {tools}.")
    if not found:
        found += _shorter_legs(data, rack, plan.hits)
    if not found and any(reason.code == "short-leg" for reason in plan.reasons):
        found += _longer_legs(data, rack)
    return found


def _by_search(data: dict, brake: PressBrake, kind: str, words: str) -> list[Remedy]:
    prover = Prover(Job.of(read_part(data), brake))
    best = find(prover)
    if not best.complete:
        return []
    order = [prover.job.strip.bends[s.move.bend].id for s in best.steps]
    tools = dict.fromkeys(" with ".join(filter(None, s.move.tools.key)) for s in best.steps)
    message = words.format(order=", ".join(order), tools="; then ".join(tools))
    return [Remedy(kind, message, tuple(order), tuple(tools), cost=best.cost)]


def _shorter_legs(data: dict, brake: PressBrake, hits: tuple[Met, ...]) -> list[Remedy]:
    legs = {leg.id: (i, leg) for i, leg in enumerate(read_part(data).shape.legs)}
    met = [legs[face] for face in dict.fromkeys(hit.face for hit in hits) if face in legs]
    found = []
    for index, leg in met[:LEGS_TRIED]:
        most = _longest_that_works(data, brake, index)
        if most is not None:
            message = Said("Shorten {leg} from {now} to {most} or less.", leg=leg.id, now=Mm(leg.size), most=Mm(most))
            found.append(Remedy("shorter-leg", message, legs=((leg.id, most),)))
    return found


def _longer_legs(data: dict, brake: PressBrake) -> list[Remedy]:
    """Legs as long as the die asks, to be cut back after bending where the part must stay as drawn: the end legs
    one by one, then both, each to the next half millimetre above the shortest that works."""
    part = read_part(data)
    last, found = len(part.shape.legs) - 1, []
    for ends in ((0,), (last,), (0, last)):
        if len(ends) > 1 and found:
            break
        least = _shortest_that_works(data, brake, part, ends)
        if least is None:
            continue
        legs = [part.shape.legs[i] for i in ends]
        words = " and ".join(f"{leg.id} {{{leg.id}}}" for leg in legs)
        longer = {leg.id: leg.size + least for leg in legs}
        message = Said(f"Make {words} long or more: bend it so, and cut {{least}} off after where the part must stay "
                       "as drawn.", least=Mm(least), **{name: Mm(size) for name, size in longer.items()})
        found.append(Remedy("longer-leg", message, legs=tuple(longer.items())))
    return found


def _shortest_that_works(data: dict, brake: PressBrake, part: Part, ends: tuple[int, ...]) -> float | None:
    """By how much these legs must be longer for an order to exist, to the half millimetre; None within the limit."""
    def works(more: float) -> bool:
        return _feasible(data, brake, {i: part.shape.legs[i].size + more for i in ends})

    low, high = 0.0, LONGER
    if not works(high):
        return None
    while high - low > LEG_FINENESS:
        middle = LEG_FINENESS * round((low + high) / 2 / LEG_FINENESS)
        low, high = (low, middle) if works(middle) else (middle, high)
    return high


def _longest_that_works(data: dict, brake: PressBrake, index: int) -> float | None:
    """The longest size in mm of one leg, shorter than now, with which an order exists."""
    part = read_part(data)
    leg = part.shape.legs[index]
    least = leg.size - leg.flat
    works = None
    bad = leg.size
    for n in range(LEG_STEPS - 1, 0, -1):
        size = least + leg.flat * n / LEG_STEPS
        if _feasible(data, brake, {index: size}):
            works = size
            break
        bad = size
    if works is None:
        return None
    while bad - works > LEG_FINENESS:
        middle = (bad + works) / 2
        if _feasible(data, brake, {index: middle}):
            works = middle
        else:
            bad = middle
    rounded = works - works % LEG_FINENESS
    return rounded if rounded > least and _feasible(data, brake, {index: rounded}) else works


def _feasible(data: dict, brake: PressBrake, sizes: dict[int, float]) -> bool:
    """Whether an order exists with these legs, by index, of other sizes, mm."""
    trial = copy.deepcopy(data)
    legs = trial["shape"]["legs"]
    for index, size in sizes.items():
        text = f"{size!r} mm"
        leg = legs[index]
        legs[index] = leg | {"length": text} if isinstance(leg, dict) and "length" in leg else text
    try:
        job = Job.of(read_part(trial), brake)
    except Refusal:
        return False
    return furthest(Prover(job, eager=False)) == job.progress(job.made)

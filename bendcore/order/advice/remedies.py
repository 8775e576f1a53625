"""What would free a part that cannot be bent. Every remedy here was simulated, and they are ranked by what they cost.

Tried, as far as they belong to the brake and the part: the best order instead of the one named; other tools from the
rack; another brake of the shop, or this one and then that; one finger more; a narrower V under short legs; a lip turned
the other way; a hem as a strip of its own; a larger inside radius; fields that the family says may be tried, singly and
in twos (:mod:`.variants`); every size of the part that what hits belongs to, smaller or larger, to the half millimetre
(:mod:`.resizing`); an angle left open for a while; a bend creased and closed by hand; tools that the shop does not own
(:mod:`.tooling`); the part split and joined.

Each kind has its turn, counted in steps of the search, so that the answer is the same on any machine; a kind that was
cut off, by that or by the clock, is told as not tried to its end, and never as one that does not work.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from functools import reduce
from itertools import chain, islice

from ...brakes.brake import Brake
from ...brakes.leaf import LeafBrake
from ...brakes.press import Die, PressBrake
from ...errors import Refusal
from ...families import FAMILIES
from ...families.declared import IN_OUT
from ...part import read_part
from ...patience import ENDLESS, Counted, Patience, Turn
from ...said import Mm, Said
from ..explain.why import cannot_be_together
from ..plan import Plan, Remedy
from ..proof.prover import Prover
from ..search.finding import find
from ..states.moves import Job
from .handwork import creased, left_open, split
from .resizing import (
    LENGTHS,
    LONGER,
    LOWER,
    SHORTER,
    WIDER,
    in_lengths,
    larger,
    longer_legs,
    shorter_legs,
    smaller,
)
from .tooling import radii, scaled, to_buy
from .trying import Spent, Tried, bent, cost_of, lacking
from .variants import Variant, across, apart, in_twos, sizes_otherwise, value_at, variants

OTHER_ORDER, OTHER_TOOL = "other-order", "other-tool"
OTHER_BRAKE, OTHER_FINGERS, TURN, OPEN_ANGLE, CREASE, SPLIT, OTHER_FIELD, NARROWER = (
    "other-brake", "other-fingers", "turn", "open-angle", "crease-and-return", "split", "other-field", "narrower-v")
APART, RADIUS, TO_BUY, TWO = "apart", "bigger-radius", "tool-to-buy", "two-changes"
ENOUGH = (OTHER_ORDER, OTHER_TOOL, SPLIT)
"""After these nothing more is tried where something was found."""
WORDS = {OTHER_ORDER: "Bend in the order {order} instead.", OTHER_TOOL: "Other tools from the rack do it: {tools}."}
BEST = 2
"""Of one kind of handwork so many are told."""
STEPS = 6000
"""So many steps of the search each kind has."""
FAIR, MANY = 1.25, 4
"""Of the time that is left each kind has so many even shares at most: the first may not use up all of it. Fields one by
one, and two changes, count as so many kinds."""
OPENINGS = (4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 32.0, 40.0, 50.0)
"""V openings as they are sold, mm."""
FIELDS_TOLD = 3
"""So many ways by another field are told."""
FINGERS_TRIED = (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 65.0, 80.0, 100.0, 130.0, 160.0, 200.0)
"""Widths of one finger more, mm."""
SHORT = ("short-leg", "short-hold", "short-flange")


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
    cut: list[str] = []
    share = Turn(patience.seconds, whole=patience)
    turn = Counted(STEPS, share)
    together = () if named else cannot_be_together(Prover(Job.of(read_part(data), *mounted)), turn)
    kinds = list(_kinds(data, racks, mounted, (plan, named, turn, others)))
    for n, (kind, look) in enumerate(kinds, 1):
        share.seconds = FAIR * patience.left() * _weight(kind) / sum(_weight(one) for one, _ in kinds[n - 1:])
        share.renew()
        turn.renew()
        patience.note(kind=kind, turn=n, of=len(kinds), found=len(found))
        try:
            for remedy in look():
                found.append(remedy)
        except Spent:
            cut.append(kind)
        else:
            (cut if turn() else tried).append(kind)
        if found and kind in ENOUGH:
            break
    found.sort(key=lambda remedy: (remedy.cost is None, remedy.cost or 0.0))
    return replace(plan, remedies=tuple(found), tried=tuple(tried), unfinished=tuple(cut), together=together)


def _weight(kind: str) -> int:
    """How many even shares of the time a kind has: those that try most have most."""
    return MANY if kind in (OTHER_FIELD, TWO) else 1


def _kinds(data, racks, mounted, asked) -> Iterator[tuple]:
    """Kinds of remedy with what looks for them, those that leave the part as it is first."""
    plan, named, patience, others = asked
    if named:
        yield OTHER_ORDER, lambda: _by_search(data, mounted, OTHER_ORDER, patience)
    if any(isinstance(rack, PressBrake) and len(rack.punches) + len(rack.dies) > len(kept.punches) + len(kept.dies)
           for rack, kept in zip(racks, mounted, strict=True)):
        yield OTHER_TOOL, lambda: _by_search(data, racks, OTHER_TOOL, patience)
    tried = Tried(data, racks, patience, len(plan.names))
    if others:
        yield OTHER_BRAKE, lambda: _on_others(data, racks, others, patience)
    if any(isinstance(rack, LeafBrake) and rack.fingers for rack in racks):
        yield OTHER_FINGERS, lambda: _with_finger(data, racks, patience)
    short = any(reason.code in SHORT for reason in plan.reasons)
    if short:
        yield NARROWER, lambda: _narrower(data, mounted, patience)
        yield LONGER, lambda: longer_legs(tried)
    yield OTHER_FIELD, lambda: _otherwise(tried)
    if any(FAMILIES[data["shape"]["kind"]].alike(data["shape"]).values()):
        yield TURN, lambda: _turned(tried)
    if hems := apart(data, tried.part.stock.is_coated):
        yield APART, lambda: _apart(tried, hems)
    if _radii(tried):
        yield RADIUS, lambda: _rounder(tried)
    if tried.part.shape.is_strip:
        yield LENGTHS, lambda: in_lengths(tried)
        yield SHORTER, lambda: shorter_legs(tried, plan)
    else:
        yield LOWER, lambda: smaller(tried)
        yield WIDER, lambda: larger(tried)
    if not short:
        yield OPEN_ANGLE, lambda: _left_open(tried)
        yield CREASE, lambda: _by_hand(tried, plan)
    if plan.hits:
        yield TO_BUY, lambda: _bought(tried, plan)
    yield SPLIT, lambda: _in_two(tried)
    yield TWO, lambda: _two_changes(tried)


def _on_others(data, racks, others, patience) -> Iterator[Remedy]:
    """Another brake alone, else this one and then another."""
    part, one_does = read_part(data), False
    for several in ([(other,) for other in others], [(*racks, other) for other in others]):
        for brakes in several:
            job = Job.of(part, *brakes)
            if bent(job, patience):
                one_does, names = True, " and ".join(brake.name for brake in brakes)
                words = "{names} can bend it." if len(brakes) == 1 else "{names} together can bend it."
                yield Remedy(OTHER_BRAKE, Said(words, names=names), cost=cost_of(job, patience), brake=names)
        if one_does:
            return


def _with_finger(data, racks, patience) -> Iterator[Remedy]:
    """The narrowest finger that would do, beside those owned; none is looked for where all of them would not."""
    part = read_part(data)

    def with_more(*widths: float) -> Job:
        return Job.of(part, *(replace(rack, fingers=tuple(sorted((*rack.fingers, *widths), reverse=True)))
                              if isinstance(rack, LeafBrake) and rack.fingers else rack for rack in racks))

    if not bent(with_more(*FINGERS_TRIED), patience):
        return
    for width in FINGERS_TRIED:
        job = with_more(width)
        if bent(job, patience):
            yield Remedy(OTHER_FINGERS, Said("One finger more, {width} wide, and it can be bent.", width=Mm(width)),
                         sizes=(("finger", width),), cost=cost_of(job, patience))
            return


def _narrower(data, mounted, patience) -> Iterator[Remedy]:
    """The widest usual V, narrower than those mounted, over which the short legs reach; its block is drawn smaller in
    the same proportion."""
    part = read_part(data)
    for n, brake in enumerate(mounted):
        if not isinstance(brake, PressBrake):
            continue
        dies = [die for die in brake.dies if die.kind == "v"]
        narrowest = min((die.v for die in dies), default=0.0)
        for v in (v for v in reversed(OPENINGS) if v < narrowest):
            own = [_scaled(die, v / die.v) for die in dies if die.v == narrowest]
            job = Job.of(part, *mounted[:n], replace(brake, dies=(*brake.dies, *own)), *mounted[n + 1:])
            if bent(job, patience):
                yield Remedy(NARROWER, Said("A V of {v} does it; the narrowest mounted is {now}.", v=Mm(v),
                                            now=Mm(narrowest)), cost=cost_of(job, patience))
                return


def _scaled(die: Die, share: float) -> Die:
    return replace(die, name=f"V {die.v * share:g}", v=die.v * share, shoulder_radius=die.shoulder_radius * share,
                   section=scaled(die.section, share))


def _freed(kind: str, several: Iterable[Variant], tried: Tried) -> Iterator[Remedy]:
    """Those of several variants of which an order exists; of others in one thing it is kept what they lack."""
    for variant in several:
        try:
            job = Job.of(read_part(variant.of(tried.data)), *tried.brakes)
        except Refusal:
            continue
        if variant.is_single:
            tried.lacks[variant] = lacking(job, tried.patience)
            frees = not tried.lacks[variant]
        else:
            frees = bent(job, tried.patience)
        if frees:
            yield Remedy(kind, variant.said, cost=cost_of(job, tried.patience), fields=variant.changes,
                         radius=variant.radius)


def _by_hope(pairs: Iterable[tuple[Variant, Variant]], tried: Tried) -> Iterator[Variant]:
    """Two changes together, first those that lack least alone: what gets nowhere by itself seldom frees another. What
    was not tried alone lacks as much as the part as it is drawn."""
    def lack(pair):
        return sum(tried.lacks.get(one, tried.lacking) for one in pair)
    return (one.with_(other) for one, other in sorted(pairs, key=lack))


def _otherwise(tried: Tried) -> Iterator[Remedy]:
    """Fields that may be tried, one otherwise, else two."""
    single, found = variants(tried.data), False
    for several in (lambda: single, lambda: _by_hope(in_twos(single), tried)):
        for way in islice(_freed(OTHER_FIELD, several(), tried), FIELDS_TOLD):
            found = True
            yield way
        if found:
            return


def _turned(tried: Tried) -> Iterator[Remedy]:
    """What may be turned together: all out that goes in, or in that goes out."""
    shape, turns = tried.data["shape"], []
    for called, paths in FAMILIES[shape["kind"]].alike(shape).items():
        for way, other in (IN_OUT, IN_OUT[::-1]):
            changes = tuple((path, other) for path in paths if value_at(shape, path) == way)
            if changes:
                turns.append(Variant(changes, Said("Turn the {what} {other} instead of {way}.", what=called,
                                                   other=other, way=way)))
    return _freed(TURN, turns, tried)


def _apart(tried: Tried, hems: Sequence[Variant]) -> Iterator[Remedy]:
    """A hem left off, to be made by itself and joined on; all of them where one alone does not do."""
    together = [reduce(Variant.with_, hems)] if len(hems) > 1 else []
    return islice(_freed(APART, (*hems, *together), tried), 1)


def _rounder(tried: Tried) -> Iterator[Remedy]:
    """The least inside radius, larger than asked for, that the brake can make it with."""
    return islice(_freed(RADIUS, _radii(tried), tried), 1)


def _radii(tried: Tried) -> list[Variant]:
    """The part with a larger inside radius, the least first; none where its bends have radii of their own only."""
    now = tried.part.inside_radius
    return [Variant((), Said("Make the inside radius {radius} instead of {now}.", radius=Mm(radius),
                             now=Mm(now)), radius) for radius in radii(tried.brakes, now)
            ] if "inside_radius" in tried.data else []


def _bought(tried: Tried, plan: Plan) -> Iterator[Remedy]:
    """The least that would have to be bought, by what the part meets; of a press a punch and a die."""
    met, punches = {hit.tool for hit in plan.hits}, {hit.punch for hit in plan.hits}
    for n, rack in enumerate(tried.brakes):
        told: set[str] = set()
        for bought in to_buy(rack, met, punches):
            job = Job.of(tried.part, *tried.brakes[:n], bought.brake, *tried.brakes[n + 1:])
            if bought.tool not in told and bent(job, tried.patience):
                told.add(bought.tool)
                yield Remedy(TO_BUY, bought.said, cost=cost_of(job, tried.patience))


def _two_changes(tried: Tried) -> Iterator[Remedy]:
    """Two changes together, sizes and the radius among them; of different things."""
    fields = [*variants(tried.data), *apart(tried.data, tried.part.stock.is_coated)]
    sizes, rounder = list(sizes_otherwise(tried.part.shape)), _radii(tried)
    pairs = chain(in_twos(fields), across(rounder, fields), across(fields, sizes), across(rounder, sizes),
                  in_twos(sizes))
    return islice(_freed(TWO, _by_hope(pairs, tried), tried), 1)


def _left_open(tried: Tried) -> list[Remedy]:
    """A bend made half of the way, and struck to its angle at last."""
    called = tried.part.shape.called
    rows = sorted(islice(left_open(tried.part, tried.brakes, tried.patience), BEST), key=lambda row: row[1])
    return [Remedy(OPEN_ANGLE, Said("Leave {bend} open at half its angle, make the others, and strike it to its angle "
                                    "at last.", bend=called(bend)), order=(bend,), cost=cost) for bend, cost in rows]


def _by_hand(tried: Tried, plan: Plan) -> list[Remedy]:
    """Bends creased, and closed by hand at last."""
    likely = [name for hit in plan.hits for name in (hit.bend, hit.face)] + [why.bend for why in plan.reasons
                                                                             if why.bend]
    ends = {b.id for b in tried.part.sheet.bends if {b.parent, b.child} & set(likely)} | set(likely)
    found = list(islice(creased(tried.part, tried.brakes, sorted(ends), tried.patience), 2 * BEST))
    called = tried.part.shape.called
    return [Remedy(CREASE, Said("Crease {names} half of the way only, make the others, and close {them} by hand on the "
                                "crease.", names=" and ".join(map(called, names)),
                                them="it" if len(names) == 1 else "them"), order=names, cost=cost)
            for names, cost in sorted(found, key=lambda row: row[1])[:BEST]]


def _in_two(tried: Tried) -> list[Remedy]:
    """The part cut along a bend and joined there."""
    called, coated = tried.part.shape.called, tried.part.stock.is_coated
    how = "a lap added there and riveted: coated sheet is not welded" if coated else (
        "welded on at the corner by a qualified person")
    rows = sorted(split(tried.part, tried.brakes, tried.patience), key=lambda row: row[-1])[:BEST]
    return [Remedy(SPLIT, Said("Split it at {bend}: {faces} by itself, {how}.", how=how,
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

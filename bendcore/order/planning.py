"""From the moves found to the order people are told: steps, hits, and what is in the way."""

from collections.abc import Sequence
from dataclasses import replace

from ..brakes.brake import Brake
from ..brakes.pieces import place, sets_for
from ..brakes.setting import OnBrake
from ..brakes.travel import daylight
from ..part import Part
from ..patience import ENDLESS, Patience
from ..said import Mm, Said
from .contact.spans import blocks
from .explain.examine import Hit, Trial, best_trial, clearance
from .explain.spent import spent
from .plan import TURNS, Cause, Met, Placed, Plan, Step, Tooling
from .proof.gauge import LINE
from .proof.prover import Prover
from .search.asked import bound_to
from .search.astar import Found, Taken
from .search.finding import find
from .search.walk import Sequence as Named
from .search.walk import candidates, read_sequence
from .states.moves import Job, Move

MOST_TOLD = 8
"""Of so many bends at most it is said what stops them."""
TELLING = 0.5
CLEAR_OF = {"tools": "Change the tools.", "fingers": "Change the fingers."}


def plan_order(part: Part, brakes: Brake | Sequence[Brake], names: Sequence[str] | None = None,
               patience: Patience = ENDLESS, important: Sequence[str] = (), whole: bool = True) -> Plan:
    """The best order of a part on a brake, or on any of several, or the one of the bends named, without remedies; where
    those need not be the ``whole``, the best that begins with them.

    Raises :class:`~bendcore.errors.Refusal` for more bends than are looked for, and for names that leave out a bend.
    What is ``important``, legs to be gauged directly and :data:`.plan.WISHES`, is kept to where there is an order that
    does (:mod:`.search.asked`).
    When the ``patience`` is over the best found by then is told, and half of it once more is spent on saying why.
    """
    several = tuple(brakes) if isinstance(brakes, list | tuple) else (brakes,)
    prover = Prover(Job.of(part, *several))
    sequence = read_sequence(prover.job, list(names), whole) if names is not None else None
    bound = bound_to(prover, find(prover, sequence, patience), important, sequence, patience.again())
    return replace(told(prover, bound.found, sequence, patience.again(TELLING)), important=bound.told)


def told(prover: Prover, found: Found, sequence: Named | None = None, patience: Patience = ENDLESS) -> Plan:
    """What was found, looked at closely step by step."""
    steps = tuple(_step(prover, taken, before)
                  for taken, before in zip(found.steps, [None, *found.steps], strict=False))
    trials = [] if found.complete else _blocked(prover, found, sequence, patience)
    hits = tuple(_met(prover, found, trial, hit) for trial in trials for hit in trial.hits)
    reasons = tuple(Cause(len(found.steps) + 1, _bend_of(prover.job, trial.move), why.code, why.message)
                    for trial in trials for why in trial.reasons)
    if found.none_last:
        reasons = (Cause(prover.job.progress(prover.job.made), "", "last", Said(
            "No bend can be the last: with all others made, each of the {n} runs into a tool or into the part.",
            n=str(prover.job.count))), *reasons)
    named = dict.fromkeys(step.brake for step in steps) or dict.fromkeys(on.name for on in prover.job.brakes)
    return Plan(", then ".join(named) if len(named) > 1 else next(iter(named)), found.complete, found.cost, steps, hits,
                reasons, _blocked_step(prover, found, trials[0]) if trials else None, optimal=found.proven,
                bound=found.bound, brakes=tuple(on.name for on in prover.job.brakes))


def _bend_of(job: Job, move: Move) -> str:
    return job.body.bends[move.bends[0]].id


def _step(prover: Prover, taken: Taken, before: Taken | None) -> Step:
    job, move, on = prover.job, taken.move, prover.job.brakes[taken.move.on]
    stroke, bend = job.stroke(move.bends, move.to), job.body.bends[move.bends[0]]
    need = _first(on, prover.mountings.all[taken.mounting], stroke)
    return Step(tuple(job.body.bends[i].id for i in move.bends), stroke.angle,
                job.body.face_at(move.bends[0], move.side), taken.gauge, _tooling(prover, taken, need), on.name,
                stroke.bend_to,
                "top" if bend.sign > 0 else "bottom", clearance(prover, taken.before, move, need.mount),
                tuple(_notes(prover, taken, before, need.mount)), taken.cost,
                on.sight(stroke), taken.change, spent(job, taken, before))


def _first(on: OnBrake, needs, stroke):
    """The need served: by the mount that is usual for the sheet."""
    order = {mount: n for n, mount in enumerate(on.mounts_for(stroke))}
    return min(needs, key=lambda need: order.get(need.mount, len(order)))


def _tooling(prover: Prover, taken: Taken, need) -> Tooling:
    """What is mounted, with the pieces that serve every step until they are changed, placed for this one."""
    job, on, move = prover.job, prover.job.brakes[taken.move.on], taken.move
    mount, owned, pieces = on.mounts[need.mount], on.pieces(need.mount), []
    barred = prover.barred_for(taken.before, move, need.mount)
    for group, asks in need.groups:
        if group in owned:
            way = job.way(move)  # from the operator's left to his right the pieces stay as they are
            here = blocks(barred.get(group, ()), job.lines(move.bends))[::way]
            placed = [piece for block, taken_set in zip(here, sets_for(owned[group], asks), strict=True)
                      for piece in place(block, taken_set[::way])]
            pieces.append((group, tuple(sorted(placed, key=lambda piece: piece.start))))
    return Tooling(*_pair(mount), tuple(pieces))


def _pair(mount) -> tuple[str | None, str | None]:
    """Punch and die by name; neither on a hand brake."""
    return getattr(mount, "key", (None, None))


def _notes(prover: Prover, taken: Taken, before: Taken | None, mount: int) -> list[str]:
    job, move, on = prover.job, taken.move, prover.job.brakes[taken.move.on]
    bend, notes = job.body.bends[move.bends[0]], []
    if taken.change:
        notes.append(CLEAR_OF.get(taken.change) or f"Go on at {on.name}.")
    if before and taken.change != "move":
        over, round_ = before.lie.face != taken.lie.face, before.lie.heading != taken.lie.heading
        half = abs((before.lie.heading - taken.lie.heading + 180) % 360 - 180) > 179
        if over or round_:
            notes.append(TURNS[over, ("end for end" if half else "round") if round_ else ""])
    if bend.is_hem:
        notes.append("Close the hem." if job.is_closing(move.bends[0], move.to) else "Crease the hem.")
    if len(move.bends) > 1:
        notes.append(f"{len(move.bends)} bends lie in one line: make them in one stroke.")
    if taken.gauge.kind == LINE and on.stops:
        notes.append("Work to a scribed line; no stop reaches.")
    if on.stops and on.mounts[mount].punch:
        if prover.leaves_by(taken.before, move, mount) == "along":
            notes.append("Slide the part off the end of the tools: it stands round the punch.")
        short = daylight(on.brake, on.mounts[mount].punch, on.mounts[mount].die) - on.brake.stroke
        if short > 0:
            notes.append(Said("The stroke ends {short} short with the ram's seat as drawn: pack the tools or set the "
                              "ram lower.", short=Mm(short)))
    if not on.stops:
        notes += _way_out_note(prover, taken, mount)
    return notes


def _way_out_note(prover, taken, mount) -> list[str]:
    way = prover.leaves_by(taken.before, taken.move, mount)
    words = {"along": "Slide it out past the end of the clamp.", "forwards": "Draw it out forwards under the clamp.",
             "drawn": "Draw it forward from under the nose before the clamp goes up."}
    return [words[way]] if way in words else []


def _blocked(prover: Prover, found: Found, sequence: Named | None, patience: Patience) -> list[Trial]:
    """What stops each bend that might come next, by the holding that fails least; least bad first."""
    job = prover.job
    trials: list[Trial] = []
    for i, to in candidates(job, found.levels, sequence)[:MOST_TOLD]:
        if not (trials and patience()):
            trials.append(min((best_trial(prover, found.levels, (i, to), on, patience)
                               for on in range(len(job.brakes))), key=lambda t: t.badness))
    return sorted(trials, key=lambda t: t.badness)


def _blocked_step(prover: Prover, found: Found, trial: Trial) -> Placed | None:
    """The step that cannot be made, as far as it can be shown; None without tools for it."""
    job, move, on = prover.job, trial.move, prover.job.brakes[trial.move.on]
    if trial.mount is None:
        return None
    gauge, _ = prover.gauge(found.levels, move)
    return Placed((_bend_of(job, move),), job.angle(move.bends[0], move.to), job.body.face_at(move.bends[0], move.side),
                  gauge, Tooling(*_pair(on.mounts[trial.mount])), on.name)


def _met(prover: Prover, found: Found, trial: Trial, hit: Hit) -> Met:
    job, move, on = prover.job, trial.move, prover.job.brakes[trial.move.on]
    return Met(len(found.steps) + 1, _bend_of(job, move), hit.phase, hit.face, hit.tool, hit.depth, hit.at_angle,
               hit.from_angle, job.body.face_at(move.bends[0], move.side), *_pair(on.mounts[trial.mount]), on.name)

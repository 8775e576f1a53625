"""From the moves found to the order people are told: steps, hits, and what is in the way."""

from collections.abc import Sequence

from ..brakes.press import PressBrake, choose_lengths
from ..part import Part
from ..said import Mm, Said
from .explain import Hit, Trial, best_trial, examine
from .gauge import LINE, natural_gauge
from .moves import Job, Move, Tools
from .plan import Cause, Met, Placed, Plan, Step, Tooling
from .poses import daylight
from .proof import Prover
from .search import Found, Taken, candidates, find, read_sequence


def plan_order(part: Part, brake: PressBrake, names: Sequence[str] | None = None) -> Plan:
    """The best order of a part on a brake, or the one of the bends named, without remedies.

    Raises :class:`~bendcore.errors.Refusal` for a part that is no strip, for more bends than the search is exact for,
    and for names that leave out a bend.
    """
    prover = Prover(Job.of(part, brake), eager=names is None)
    return told(prover, find(prover, names), names)


def told(prover: Prover, found: Found, names: Sequence[str] | None = None) -> Plan:
    """What was found, looked at closely step by step."""
    steps = tuple(_step(prover, taken, before)
                  for taken, before in zip(found.steps, [None, *found.steps], strict=False))
    trials = [] if found.complete else _blocked(prover, found, names)
    hits = tuple(_met(prover.job, found, trial, hit) for trial in trials for hit in trial.hits)
    reasons = tuple(Cause(len(found.steps) + 1, _bend_of(prover.job, trial.move), why.code, why.message)
                    for trial in trials for why in trial.reasons)
    return Plan(prover.job.brake.name, found.complete, found.cost, steps, hits, reasons,
                _blocked_step(prover, found, trials[0]) if trials else None)


def _bend_of(job: Job, move: Move) -> str:
    return job.strip.bends[move.bend].id


def _step(prover: Prover, taken: Taken, before: Taken | None) -> Step:
    job, move = prover.job, taken.move
    bend = job.strip.bends[move.bend]
    trial = examine(prover, taken.before, move)
    angle = job.angle(move.bend, move.to)
    bend_to = angle if prover.closing(move.bend, move.to) else job.overbent(angle)
    return Step((bend.id,), angle, move.held, taken.gauge, _tooling(job, move.tools), bend_to,
                "top" if bend.sign > 0 else "bottom", trial.clearance,
                tuple(_notes(prover, taken, before, trial.wraps)), taken.cost)


def _tooling(job: Job, tools: Tools) -> Tooling:
    punch, die = tools.punch, tools.die
    lengths = (choose_lengths(tool.lengths, job.strip.width) or () if tool else () for tool in (punch, die))
    return Tooling(punch.name if punch else None, die.name, *lengths)


def _notes(prover: Prover, taken: Taken, before: Taken | None, wraps: bool) -> list[str]:
    job, move, tools = prover.job, taken.move, taken.move.tools
    bend = job.strip.bends[move.bend]
    notes = []
    if before:
        flipped = job.strip.bends[before.move.bend].sign != bend.sign
        turned = before.move.held != move.held
        words = {(True, True): "Turn the sheet over and end for end.", (True, False): "Turn the sheet over.",
                 (False, True): "Turn the sheet end for end."}
        notes += [words[flipped, turned]] if flipped or turned else []
        if before.move.tools.key != tools.key:
            notes.append("Change the tools.")
    if bend.is_hem:
        notes.append("Close the hem." if prover.closing(move.bend, move.to) else "Crease the hem.")
    if taken.gauge.kind == LINE:
        notes.append("Work to a scribed line; no stop reaches.")
    if tools.punch:
        if wraps:
            notes.append("Slide the part off the end of the tools: it stands round the punch.")
        short = daylight(job.brake, tools.punch, tools.die) - job.brake.stroke
        if short > 0:
            notes.append(Said("The stroke ends {short} short with the ram's seat as drawn: pack the tools or set the "
                              "ram lower.", short=Mm(short)))
    return notes


def _blocked(prover: Prover, found: Found, names: Sequence[str] | None) -> list[Trial]:
    """What stops each bend that might come next, by the holding that fails least; least bad first."""
    job = prover.job
    sequence = read_sequence(job, names) if names is not None else None
    trials = [best_trial(prover, found.levels, i, to) for i, to in candidates(job, found.levels, sequence)]
    return sorted(trials, key=lambda t: t.badness)


def _blocked_step(prover: Prover, found: Found, trial: Trial) -> Placed | None:
    """The step that cannot be made, as far as it can be shown; None without tools for it."""
    job, move = prover.job, trial.move
    if move.tools is None:
        return None
    gauge = natural_gauge(job, found.levels, move.bend, move.held)
    return Placed((_bend_of(job, move),), job.angle(move.bend, move.to), move.held, gauge, _tooling(job, move.tools))


def _met(job: Job, found: Found, trial: Trial, hit: Hit) -> Met:
    move = trial.move
    punch, die = move.tools.key
    return Met(len(found.steps) + 1, _bend_of(job, move), hit.phase, hit.face, hit.tool, hit.depth, hit.at_angle,
               hit.from_angle, move.held, punch, die)

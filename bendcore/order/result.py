"""The order as data: steps, hits, and what would free it."""

from ..brakes.press import PressBrake, choose_lengths
from ..part import Part
from ..said import Mm, Said, in_units
from .explain import Trial, best_trial, examine
from .gauge import LINE, natural_gauge
from .moves import Job, Move
from .poses import daylight
from .proof import Prover
from .search import Plan, Step, candidates, plan, read_sequence


def order_result(part: Part, brake: PressBrake, names: list[str] | None = None) -> dict:
    """Find the best order (or try the one named) and report it, without remedies."""
    prover = Prover(Job.of(part, brake), eager=names is None)
    return report(prover, plan(prover, names), names)


def report(prover: Prover, found: Plan, names: list[str] | None = None) -> dict:
    job = prover.job
    steps = [step_row(prover, step, before) for step, before in zip(found.steps, [None, *found.steps], strict=False)]
    trials = [] if found.complete else _blocked(prover, found, names)
    hits = [_where(job, found, t) | _hit_row(job, t, hit) for t in trials for hit in t.hits]
    reasons = [_where(job, found, t) | {"code": r.code, "message": in_units(
        r.message, job.part.units)} for t in trials for r in t.reasons]
    return {"format": "dorvan-order", "version": 1, "units": job.part.units,
            "feasible": found.complete, "optimal": found.complete, "cost_seconds": found.cost,
            "brake": job.brake.name, "steps": steps, "hits": hits, "reasons": reasons, "remedies": [],
            "blocked": _blocked_step(prover, found, trials[0]) if trials else None}


def step_row(prover: Prover, step: Step, before: Step | None) -> dict:
    job, move, per = prover.job, step.move, prover.job.part.per_unit
    bend = job.strip.bends[move.bend]
    trial = examine(prover, step.before, move)
    angle = job.angle(move.bend, move.to)
    closing = prover.closing(move.bend, move.to)
    gauge = {"from": step.gauge.kind, "of": step.gauge.of,
             "stop": None if step.gauge.stop is None else step.gauge.stop / per}
    return {
        "bends": [bend.id], "angle": angle, "bend_to": angle if closing else job.overbent(angle),
        "face_up": "top" if bend.sign > 0 else "bottom", "held": move.held, "gauge": gauge,
        "clearance": None if trial.clearance is None else trial.clearance / per,
        "tools": _tools(job, move), "notes": _notes(prover, step, before, trial.wraps), "cost_seconds": step.cost,
    }


def _tools(job: Job, move: Move) -> dict:
    width, per = job.strip.width, job.part.per_unit
    row = {}
    for key, tool in (("punch", move.tools.punch), ("die", move.tools.die)):
        if tool:
            row[key] = tool.name
            row[f"{key}_lengths"] = [v / per for v in choose_lengths(tool.lengths, width) or ()]
    return row


def _notes(prover: Prover, step: Step, before: Step | None, wraps: bool) -> list[str]:
    job, move, tools = prover.job, step.move, step.move.tools
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
    if step.gauge.kind == LINE:
        notes.append("Work to a scribed line; no stop reaches.")
    if tools.punch:
        if wraps:
            notes.append("Slide the part off the end of the tools: it stands round the punch.")
        short = daylight(job.brake, tools.punch, tools.die) - job.brake.stroke
        if short > 0:
            notes.append(Said("The stroke ends {short} short with the ram's seat as drawn: pack the tools or set the "
                              "ram lower.", short=Mm(short)))
    return [in_units(note, job.part.units) for note in notes]


def _blocked(prover: Prover, found: Plan, names) -> list[Trial]:
    """What stops each bend that might come next, by the holding that fails least; least bad first."""
    job = prover.job
    sequence = read_sequence(job, names) if names is not None else None
    trials = [best_trial(prover, found.levels, i, to) for i, to in candidates(job, found.levels, sequence)]
    return sorted(trials, key=lambda t: t.badness)


def _blocked_step(prover: Prover, found: Plan, trial: Trial) -> dict | None:
    """The step that cannot be made, as far as it can be shown; None without tools for it."""
    job, move = prover.job, trial.move
    if move.tools is None:
        return None
    gauge = natural_gauge(job, found.levels, move.bend, move.held)
    return {"bends": [job.strip.bends[move.bend].id], "angle": job.angle(move.bend, move.to), "held": move.held,
            "gauge": {"from": gauge.kind, "of": gauge.of, "stop": gauge.stop / job.part.per_unit},
            "tools": _tools(job, move)}


def _where(job: Job, found: Plan, trial: Trial) -> dict:
    return {"step": len(found.steps) + 1, "bend": job.strip.bends[trial.move.bend].id}


def _hit_row(job: Job, trial: Trial, hit) -> dict:
    tools = trial.move.tools
    return {"phase": hit.phase, "face": hit.face, "tool": hit.tool, "depth": hit.depth / job.part.per_unit,
            "at_angle": hit.at_angle, "from_angle": hit.from_angle, "held": trial.move.held,
            "punch": tools.punch.name if tools.punch else None, "die": tools.die.name}


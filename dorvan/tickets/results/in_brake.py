"""Steps of an order in the brake, in frames and in space: text in, nothing of the web application, so that a desk's
process can draw them too."""

from collections.abc import Sequence
from functools import lru_cache

from bendcore.order.explain.frames import instants, step_frames
from bendcore.order.explain.scene import Solid, solids
from bendcore.order.explain.turning import Turning, turning
from bendcore.order.plan import Placed
from bendcore.order.proof.prover import Prover
from bendcore.order.states.moves import SIDES, Job, Move, advanced

from .files import brake_of, part_of
from .text import canonical

VIEWS = {"before": 0, "after": -1}
"""Which frame of a step shows it, before the stroke and after it with the tool open again."""


@lru_cache(maxsize=6)
def _prover(part: str, brake_files: tuple[str, ...]) -> Prover:
    return Prover(Job.of(part_of(part), *map(brake_of, brake_files)))


def _at(part: str, brake_files: tuple[str, ...], step: Placed, done: tuple[tuple[str, ...], ...]) -> tuple:
    """(prover, levels, move, mount) of one step of an order; ``done`` are the bends made before it, by stroke."""
    prover = _prover(part, brake_files)
    job, body = prover.job, prover.job.body
    levels = job.flat
    for names in done:  # a hem is named twice, once a stage
        bends = tuple(body.index[name] for name in names)
        levels = advanced(levels, bends, job.next_stage(levels, bends[0]))
    bends = tuple(body.index[name] for name in step.bends)
    side = next(s for s in SIDES if step.held == body.face_at(bends[0], s))
    at = next((n for n, on in enumerate(job.brakes) if on.name == step.brake), 0)
    on = job.brakes[at]
    mount = next((m for m, tools in enumerate(on.mounts) if getattr(tools, "key", None) == step.tools.key), 0)
    return prover, levels, Move(at, bends, job.next_stage(levels, bends[0]), side), mount


@lru_cache(maxsize=512)
def _frames(part: str, brake_files: tuple[str, ...], step: Placed, done: tuple[tuple[str, ...], ...]) -> dict:
    return step_frames(*_at(part, brake_files, step, done), step)


@lru_cache(maxsize=256)
def _solids(part: str, brake_files: tuple[str, ...], step: Placed, done: tuple, frame: int | None) -> list[Solid]:
    prover, levels, move, mount = _at(part, brake_files, step, done)
    shown = instants(prover.job.stroke(move.bends, move.to))
    at = shown[frame] if frame is not None else [one for one in shown if one.phase == "during"][-1]
    return solids(prover, levels, move, mount, step, at)


def scene(part: dict, brake_files: tuple[str, ...], steps: Sequence[Placed], index: int,
          frame: int | None = None) -> list[Solid]:
    """Step ``index`` (from 0) of an order in space, at one of its frames, else bent."""
    return _solids(canonical(part), brake_files, steps[index], tuple(step.bends for step in steps[:index]), frame)


def turned(part: dict, brake_files: tuple[str, ...], steps: Sequence[Placed],
           index: int) -> tuple[list[Solid], Turning] | None:
    """(the part as the stroke before left it, how it is turned before step ``index``); None where it is not."""
    if not 0 < index < len(steps) or steps[index].brake != steps[index - 1].brake:
        return None
    lay, lies = (scene(part, brake_files, steps, n, VIEWS[when])
                 for n, when in ((index - 1, "after"), (index, "before")))
    found = turning(lay, lies)
    return found and (lay, found)


def frames(part: dict, brake_files: tuple[str, ...], steps: Sequence[Placed], index: int) -> dict:
    """Frames of step ``index`` (from 0) of an order."""
    done = tuple(step.bends for step in steps[:index])
    return _frames(canonical(part), brake_files, steps[index], done)

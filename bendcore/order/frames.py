"""A step as pictures: part and tools through before, swing and after.

Pages only draw these outlines. Coordinates are machine (y, z) in mm.
"""

import numpy as np

from .moves import Levels, Move, other
from .proof import Prover, signature

SWING_FRAMES = 14


def part_outlines(prover: Prover, levels: Levels, move: Move, angle: float) -> list[dict]:
    """The part in the machine with the bend being made at ``angle``."""
    job, scene = prover.job, prover.scene(move.bend, move.tools)
    pose = scene.stroke.pose(angle)
    bend = job.strip.bends[move.bend]
    rows = [{"id": bend.id, "points": _rounded(_zone(scene.stroke, job, bend, angle))}]
    for end, side in ((move.held, 1), (other(move.held), -1)):
        own = signature(job, levels, move.bend, end)
        angles = [job.angle(j, v) for j, v in zip(job.strip.outward(move.bend, end), own, strict=True)]
        rows += [{"id": p.id, "points": _rounded(pose.place(p.outline, side))}
                 for p in job.strip.half(move.bend, end, angles)]
    return rows


def _zone(stroke, job, bend, angle):
    """The bend zone itself, between the two halves' origins."""
    t = job.strip.thickness
    rear = stroke.pose(angle).place(np.array([[0.0, 0.0], [0.0, -t]]), 1)
    if angle < 1:
        return np.array([rear[1], rear[0], rear[0] * (-1, 1), rear[1] * (-1, 1)])
    h = np.radians(angle) / 2
    inner = max(bend.figures.radius_at(angle), 0.0)
    centre = rear[0] + inner * np.array([-np.sin(h), np.cos(h)])
    turn = np.linspace(-h, h, 13)[:, None]
    spoke = np.concatenate([np.sin(turn), -np.cos(turn)], axis=1)
    return np.concatenate([centre + (inner + t) * spoke, (centre + inner * spoke)[::-1]])


def step_frames(prover: Prover, levels: Levels, move: Move, stop: float | None) -> dict:
    """Frames of one step: the sheet in place, punch down, the swing, punch up."""
    job, scene = prover.job, prover.scene(move.bend, move.tools)
    closing = prover.closing(move.bend, move.to)
    full = 0.0 if closing else job.overbent(job.angle(move.bend, move.to))
    rest = 0.0 if closing else job.angle(move.bend, move.to)
    top = scene.open
    frames = [("before", 0.0, scene.closed_at(0.0) + gap * (top - scene.closed_at(0.0))) for gap in (1.0, 0.5, 0.0)]
    frames += [("during", a, scene.closed_at(a)) for a in np.linspace(0, full, SWING_FRAMES)[1:]]
    frames += [("after", rest, scene.closed_at(rest) + gap * (top - scene.closed_at(rest))) for gap in (0.0, 0.5, 1.0)]
    still = {name: _rounded(p.exterior.coords) for name, p in scene.lower.items()}
    section = job.brake.stops.section
    if section and stop is not None:
        still["stop"] = _rounded(np.asarray(section) + (stop, 0.0))
    return {
        "still": still,
        "moving": {name: _rounded(p.exterior.coords) for name, p in scene.upper.items()},
        "frames": [{"phase": phase, "angle": round(float(a), 1), "lift": round(float(lift), 2),
                    "part": part_outlines(prover, levels, move, float(a))} for phase, a, lift in frames],
    }


def _rounded(points) -> list[list[float]]:
    return [[round(float(y), 2), round(float(z), 2)] for y, z in points]

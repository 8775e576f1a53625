"""A step as pictures: part and tools through before, swing and after, looking along the bend.

Pages only draw these outlines. Coordinates are machine (y, z) in mm.
"""

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
import shapely

from ...brakes.setting import FRAME, OnBrake, Stroke, Tool
from ..contact.collide import beside
from ..contact.spans import outline
from ..plan import Placed
from ..proof.prover import Prover
from ..states.body import rings_in
from ..states.moves import Levels, Move

SWING_FRAMES = 14
RISE = 120.0
"""How far a clamp is drawn open where it may open without limit, mm."""
SLICE = 0.5
"""The section is that of so thin a slice at the middle of the bend, half of it to each side, mm."""


def part_outlines(prover: Prover, levels: Levels, move: Move, mount: int, angle: float) -> list[dict]:
    """The part in the machine with the bend being made at ``angle``: ``cut`` what lies at the middle of the bend, the
    rest behind it."""
    job, on = prover.job, prover.job.brakes[move.on]
    stroke = job.stroke(move.bends, move.to)
    middle = sum(job.line_of(move.bends, move.bends[0])) / 2
    behind, cut = [], []
    for side, path, (half, own) in zip((1, -1), on.machine(stroke, mount), prover.sides(levels, move), strict=True):
        y, z, h = (float(v) for v in path(np.array(float(angle))))
        for node, _, pose in prover.halves.poses(half, own):
            behind += [(node.face, beside(ring, side, y, z, h)) for ring in pose.rings]
            slice_ = outline(pose, middle - SLICE, middle + SLICE)
            cut += [(node.face, beside(ring, side, y, z, h)) for ring in rings_in(shapely.get_parts(slice_))]
    zone = [] if stroke.closing else [(job.body.bends[move.bends[0]].id, _zone(on, stroke, mount, angle))]
    return [{"id": name, "cut": False, "points": _rounded(ring)} for name, ring in behind] + [
        {"id": name, "cut": True, "points": _rounded(ring)} for name, ring in [*zone, *cut]]


def _zone(on: OnBrake, stroke: Stroke, mount: int, angle: float) -> np.ndarray:
    """The bend zone itself, between the two halves' origins."""
    t, ends = stroke.thickness, []
    for side, path in zip((1, -1), on.machine(stroke, mount), strict=True):
        y, z, h = (float(v) for v in path(np.array(float(angle))))
        ends.append(beside(np.array([[0.0, 0.0], [0.0, -t]]), side, y, z, h))
    (a, b), (c, d) = ends
    if angle < 1:
        return np.array([b, a, c, d])
    along = math.radians(angle)
    chord = np.linalg.norm(a - c)
    inner = chord / (2 * math.sin(along / 2)) if math.sin(along / 2) > 1e-6 else 0.0
    up = (a - b) / t
    centre = a + inner * up
    start = math.atan2(*(a - centre)[::-1]) if inner > 1e-9 else math.atan2(*(-up)[::-1])
    turn = start - np.linspace(0.0, along, 13)
    spoke = np.column_stack([np.cos(turn), np.sin(turn)])
    return np.concatenate([centre + (inner + t) * spoke, (centre + inner * spoke)[::-1]])


def step_frames(prover: Prover, levels: Levels, move: Move, mount: int, step: Placed) -> dict:
    """Frames of one step: the sheet in place, tool down, the swing, tool up."""
    job, on = prover.job, prover.job.brakes[move.on]
    stroke = job.stroke(move.bends, move.to)
    beyond = on.stops and prover.beyond_frames(on, *prover.sides(levels, move))
    tools = [tool for tool in on.tools(stroke, mount) if tool.reach != FRAME or beyond]
    still = {tool.name: _rounded(tool.shape.exterior.coords) for tool in tools if not moves_with(on, tool)}
    stop = step.gauge.stop
    if on.stops and on.brake.stops.section and stop is not None:
        still["stop"] = _rounded(np.asarray(on.brake.stops.section) + (stop, 0.0))
    moving = {tool.name: _rounded(tool.shape.exterior.coords) for tool in tools if moves_with(on, tool)}
    return {"still": still, "moving": moving, "kind": on.kind,
            "frames": [{"phase": at.phase, "angle": round(at.angle, 1),
                        "shifts": {tool.name: shift_of(on, stroke, mount, tool, at)
                                   for tool in tools if moves_with(on, tool)},
                        "part": part_outlines(prover, levels, move, mount, at.angle)} for at in instants(stroke)]}


class Instant(NamedTuple):
    """``before``, ``during`` or ``after`` the bend, its angle, and how far the tools stand open, 0 to 1."""

    phase: str
    angle: float
    gap: float


def instants(stroke: Stroke) -> list[Instant]:
    """What of a step is drawn."""
    full = 0.0 if stroke.closing else stroke.bend_to
    rest = 0.0 if stroke.closing else stroke.angle
    return [*(Instant("before", 0.0, gap) for gap in (1.0, 0.5, 0.0)),
            *(Instant("during", float(a), 0.0) for a in np.linspace(0, full, SWING_FRAMES)[1:]),
            *(Instant("after", rest, gap) for gap in (0.0, 0.5, 1.0))]


def moves_with(on: OnBrake, tool: Tool) -> bool:
    """Whether a tool moves through a step."""
    return bool(tool.moves) or (not on.stops and tool.name in on.upper)


def turned(points: Iterable, shift: Sequence[float]) -> np.ndarray:
    """A section (k, 2) shifted as :func:`shift_of` says."""
    right, up, degrees = shift
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.asarray(points) @ np.array([[c, s], [-s, c]]) + (right, up)


def shift_of(on: OnBrake, stroke: Stroke, mount: int, tool: Tool, at: Instant) -> list[float]:
    """(right, up, turned counter-clockwise in degrees about the origin) of a tool at an instant."""
    phase, angle, gap = at
    if on.stops:
        low = on.closed_at(stroke, mount, angle)
        return [0.0, round(low + gap * (on.open_at(mount) - low), 2), 0.0]
    if tool.moves == "leaf":
        return _turned(on, stroke, angle if phase == "during" else 0.0)
    most = min(on.brake.opening or RISE, RISE)
    return [0.0, round(gap * most, 2), 0.0]


def _turned(on, stroke, angle) -> list[float]:
    """The leaf turned about its pivot with the bend, lagging where the face it carries asks for that."""
    a, (py, pz) = math.radians(angle), on.brake.pivot
    c, d, lag = math.cos(a), math.sin(a), float(on.leaf_lags(stroke, angle))
    dy, dz = py - (py * c + pz * d), pz - (-py * d + pz * c)
    return [round(dy - lag * d, 2), round(dz - lag * c, 2), round(-angle, 2)]


def _rounded(points) -> list[list[float]]:
    return [[round(float(y), 2), round(float(z), 2)] for y, z in points]


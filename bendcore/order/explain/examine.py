"""What goes wrong in a move: which face meets which tool, when, and how deep; or what else is in the way."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from ...brakes.on_leaf import BELOW
from ...brakes.pieces import sets_for
from ...brakes.setting import FRAME, FREE, HELD, PIECES, Reason, Tool
from ...brakes.shapes import inset
from ...patience import ENDLESS, Patience
from ...said import Mm, Said
from ..contact.collide import Nodes, deepest, least_distance
from ..contact.halves import LAPPED, OWN
from ..contact.spans import blocks, outline
from ..proof.needs import asked
from ..proof.prover import Prover
from ..states.moves import SIDES, Levels, Move

BEFORE, DURING = "before", "during"
STEP_DEGREES = 1.0
LEAST = 0.06
"""A hit less deep is one only by how finely it was looked at, mm."""
PART = "part"
"""What a face meets that runs into the part itself."""
IN_THE_WAY = ("pieces", "past-end", "no-way-out", "fold")
"""Reasons that come of what stands around the bend …"""
AS_DEEP = 5.0
"""… and count like a hit so deep, mm."""
FAR_OFF = ("ram", "table", "beam")
"""Of a half that is flat, its clearance is that from these."""


@dataclass(frozen=True)
class Hit:
    """``depth`` is the deepest of the phase, met at ``at_angle``; ``from_angle`` is where it begins."""

    phase: str
    face: str
    tool: str
    depth: float
    at_angle: float
    from_angle: float


@dataclass(frozen=True)
class Trial:
    """One move looked at closely with one mount (None where none is fit for it)."""

    move: Move
    mount: int | None
    reasons: tuple[Reason, ...]
    hits: tuple[Hit, ...]

    @property
    def badness(self) -> tuple:
        """What to sort by: what no other holding would change first, then how deep it meets and what else is in the
        way."""
        soft = [why for why in self.reasons if why.code in IN_THE_WAY]
        return (len(self.reasons) - len(soft), sum(h.depth for h in self.hits) + AS_DEEP * len(soft))


def examine(prover: Prover, levels: Levels, move: Move, mount: int) -> Trial:
    """Limits and hits of a move."""
    job, on = prover.job, prover.job.brakes[move.on]
    stroke, sides = job.stroke(move.bends, move.to), prover.sides(levels, move)
    reasons = _limits(prover, on, stroke, mount, move, sides)
    found = [hit for hits in _by_tool(prover, levels, move, mount, _hits) for hit in hits]
    if not (found or reasons):
        reasons += _without_hit(prover, on, stroke, mount, move, sides)
        met = None if reasons or stroke.closing else prover.itself.worst(levels, move)
        if met:
            found.append(Hit(DURING, met[0], PART, *met[2:]))
    return Trial(move, mount, tuple(reasons), _worst(found))


def clearance(prover: Prover, levels: Levels, move: Move, mount: int) -> float | None:
    """The least distance a move keeps between the tools and the faces not being bent, mm; None where nothing swings."""
    if prover.job.stroke(move.bends, move.to).closing:
        return None
    least = min(_by_tool(prover, levels, move, mount, _clearance), default=math.inf)
    return None if math.isinf(least) else least


def _by_tool(prover: Prover, levels: Levels, move: Move, mount: int, ask: Callable) -> Iterator:
    """What ``ask`` says of each half with each tool; known by the tool, for every pair that is part of."""
    on, stroke = prover.job.brakes[move.on], prover.job.stroke(move.bends, move.to)
    sides = prover.sides(levels, move)
    for tool in on.tools(stroke, mount):
        if tool.reach == FRAME and not prover.beyond_frames(on, *sides):
            continue
        for which, (half, own_levels) in zip((HELD, FREE), sides, strict=True):
            key = (move.on, move.to, which, half.made, half.side, own_levels, tool.name, on.depends(tool.name, mount),
                   ask)
            if key not in prover.kept:
                prover.kept[key] = ask(prover, tool, which, (half, own_levels), (on, stroke))
            yield prover.kept[key]


def _limits(prover, on, stroke, mount, move, sides) -> list[Reason]:
    """What has nothing to do with what stands around."""
    found = [*on.reasons(stroke, mount), *prover.short_pieces(on, mount, move.bends)]
    for which, (half, levels) in zip((HELD, FREE), sides, strict=True):
        have, need = prover.flats.depth(half, levels), on.need(stroke, mount, which)
        if have < need - 1e-9:
            where = (prover.job.body.bends[move.bends[0]].id, half.nodes[0].face)
            found.append(_short(on, mount, which, where, (have, need), stroke.figures.allowance / 2))
    deepest_held = on.deepest
    if deepest_held is not None:
        reach = prover.flats.deepest(*sides[0]) + on.brake.nose_radius
        if reach > deepest_held + 1e-6:
            found.append(Reason("clamp-depth", Said("{reach} would lie behind the bar's front, where {most} fit",
                                                    reach=Mm(reach), most=Mm(deepest_held))))
    return found


def _short(on, mount, which, where, lengths, middle) -> Reason:
    """``where`` is (bend, face), ``lengths`` what lies flat from the tangent line and what is needed."""
    (bend, face), (have, need) = where, lengths
    if on.stops:
        return Reason("short-leg", Said("{have} lie flat on {face} from the line of {bend}; {die} needs {need}",
                                        have=Mm(have + middle), face=face, bend=bend, die=on.mounts[mount].die.name,
                                        need=Mm(need + middle)))
    code, words = ("short-hold", "to be clamped") if which == HELD else ("short-flange", "for the leaf")
    return Reason(code, Said(f"{{have}} lie flat on {{face}}; {{brake}} needs {{need}} {words}", have=Mm(have),
                             face=face, brake=on.name, need=Mm(need)))


def _there(prover, tool: Tool, half, levels) -> list[tuple]:
    """(node, kind, shape) of a half, of each what lies along the bend where the tool is that asks."""
    nodes = prover.halves.poses(half, levels)
    if tool.reach != PIECES:
        return [(node, kind, pose.shape) for node, kind, pose in nodes]
    cut = [(node, kind, outline(pose, *prover.job.reach(half.made))) for node, kind, pose in nodes]
    return [row for row in cut if row[-1]]


def _swing(tool: Tool, which, stroke) -> tuple[Callable, np.ndarray]:
    """The path of a half past a tool, and the angles at which it is looked at."""
    end = 0.0 if stroke.closing else stroke.bend_to
    angles = np.append(np.arange(0.0, end, STEP_DEGREES), end) if end else np.zeros(1)
    return tool.held if which == HELD else tool.free, angles


def _nodes(there, which) -> Nodes:
    return Nodes.made([shape for *_, shape in there], 1 if which == HELD else -1)


def _clearance(prover, tool: Tool, which, side, asked) -> float:
    """The least distance of the faces of one half not being bent from a tool through the swing; of a half that is flat,
    from what is far off."""
    flat = all(kind == OWN for _, kind, _ in prover.halves.poses(*side))
    there = [(node, kind, shape) for node, kind, shape in _there(prover, tool, *side)
             if (flat and tool.name in FAR_OFF if kind == OWN else not (kind == LAPPED and tool.name in BELOW))]
    return least_distance(_nodes(there, which), tool.shape, *_swing(tool, which, asked[1])) if there else math.inf


def _hits(prover, tool: Tool, which, side, asked) -> list[Hit]:
    """Hits of one half with one tool through the swing."""
    (on, stroke), there = asked, _there(prover, tool, *side)
    if not there:
        return []
    path, angles = _swing(tool, which, stroke)
    count = len(there)
    placed = _nodes(there, which).placed(np.tile(np.arange(count), len(angles)),
                                         *(np.repeat(v, count) for v in path(angles))).reshape(-1, count)
    found = []
    whole = inset(tool.shape)
    bare = whole.difference(tool.spared)
    shapely.prepare([whole, bare])
    for column, (node, kind, _) in enumerate(there):
        own, lapped = kind == OWN, kind == LAPPED and tool.name in BELOW
        if lapped or (own and (stroke.closing or _carried(tool, which))):
            continue
        at = np.flatnonzero(shapely.intersects(bare if own else whole, placed[:, column]))
        if own and not on.stops:
            at = at[angles[at] <= stroke.angle + 1e-9]
        for phase, rows in ((BEFORE, at[at == 0]), (DURING, at[at > 0])):
            if len(rows):
                deep, worst = deepest(placed[rows, column], tool.shape)
                if deep > LEAST:
                    found.append(Hit(phase, node.face, tool.name, deep, float(angles[rows[worst]]),
                                     float(angles[rows[0]])))
    return found


def _carried(tool, which) -> bool:
    """Whether it is the leaf and the face it carries."""
    return tool.moves == "leaf" and which == FREE


def _without_hit(prover, on, stroke, mount, move, sides) -> list[Reason]:
    """Why a move that meets nothing at its bend cannot be made all the same."""
    if stroke.closing and not on.stops and not prover.holds_flap(move):
        return [Reason("fold", "a hem is closed with its flap under the clamp")]
    if prover.needs(move, sides, mount):
        return []
    swing = prover.barred(on, move, sides, on.swing(stroke, mount), whole=True)
    if swing is None:
        return [Reason("past-end",
                       "faces stand beyond both ends of the bend, in the way of what is as long as the brake")]
    for group, owned in on.pieces(mount).items():
        asks = blocks(swing.get(group, ()), prover.job.lines(move.bends))
        if asks is None:
            return [Reason("pieces", Said("a wall stands where {tool} must reach the end of the bend",
                                          tool="the fingers" if group == "finger" else f"the {group}"))]
        if sets_for(owned, asked(asks)) is None:
            (need, room) = asked(asks)[0]
            return [Reason("pieces", Said("no set of those owned is from {need} to {room} long", need=Mm(need),
                                          room=Mm(room)))]
    return [Reason("no-way-out", "the part cannot go in or come out past the tools")]


def _worst(hits: list[Hit]) -> tuple[Hit, ...]:
    """The deepest hit of each face with each tool; a hit before the swing hides the same during it."""
    best: dict[tuple, Hit] = {}
    for hit in hits:
        key = (hit.phase, hit.face, hit.tool)
        if key not in best or hit.depth > best[key].depth:
            best[key] = hit
    kept = [h for h in best.values() if not (h.phase == DURING and (BEFORE, h.face, h.tool) in best)]
    return tuple(sorted(kept, key=lambda h: -h.depth))


def best_trial(prover: Prover, levels: Levels, stage: tuple[int, int], on: int = 0,
               patience: Patience = ENDLESS) -> Trial:
    """Of every mount and holding for a (bend, level), the one that fails least; mounts fit for the bend before those
    that are not; of those looked at while there is ``patience``."""
    (i, to), job = stage, prover.job
    bends = (i,)
    stroke, brake = job.stroke(bends, to), job.brakes[on]
    mounts = prover.fits(on, bends, to) or brake.mounts_for(stroke)
    trials: list[Trial] = []
    for mount, side in ((mount, side) for mount in mounts for side in SIDES):
        if not (trials and patience()):
            trials.append(examine(prover, levels, Move(on, bends, to, side), mount))
    if not trials:
        none = Reason("flattener", "there is no flattener on the rack")
        return Trial(Move(on, bends, to, SIDES[0]), None, (none,), ())
    return min(trials, key=lambda t: t.badness)

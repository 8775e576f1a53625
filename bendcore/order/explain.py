"""What goes wrong in a move: which face meets which tool, when, and how deep."""

from dataclasses import dataclass

import numpy as np
import shapely

from ..sheet.section import Piece
from .collide import Nodes, deepest
from .limits import Reason, short_leg, tool_reasons
from .moves import Levels, Move, other
from .proof import LOWER, UPPER, Prover, signature
from .scene import Scene

BEFORE, DURING, AFTER = "before", "during", "after"
STEP_DEGREES = 1.0
GAPS = 24


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
    """One move looked at closely. ``clearance`` is the least distance kept between
    the tools and the faces not being bent, in mm (None when it cannot swing);
    ``wraps`` whether the part stands in the way of the ram going up."""

    move: Move
    reasons: tuple[Reason, ...]
    hits: tuple[Hit, ...]
    clearance: float | None = None
    wraps: bool = False

    @property
    def badness(self) -> tuple:
        """What to sort by: reasons first, then how deep it meets."""
        return (len(self.reasons), sum(h.depth for h in self.hits))


def examine(prover: Prover, levels: Levels, move: Move) -> Trial:
    """Limits, hits and clearance of a move."""
    job = prover.job
    i, to, tools = move.bend, move.to, move.tools
    reasons = list(tool_reasons(job, i, to, tools))
    for end in (move.held, other(move.held)):
        short = short_leg(job, signature(job, levels, i, end), i, to, end, tools)
        reasons += [short] if short else []
    if prover.closing(i, to):
        if not reasons and not prover.mask(levels, i, to, move.held) >> job.mounts.index(tools) & 1:
            reasons.append(Reason("flattener", f"the part does not lie flat between the bars of {tools.die.name}"))
        return Trial(move, tuple(reasons), ())
    scene = prover.scene(i, tools)
    found, clear, leaving = [], [], []
    for end, side in ((move.held, 1), (other(move.held), -1)):
        half = _Half(prover, levels, i, end, side, scene)
        swing, least = half.swing(job.overbent(job.angle(i, to)))
        found += swing + half.opening(0.0, BEFORE)
        clear.append(least)
        leaving += half.opening(job.angle(i, to), AFTER)
    stuck = not (prover.slides_off(tools) or prover.draws_out(levels, i, to, move.held, tools))
    hits = _worst(found + leaving if stuck else found)
    if stuck and not hits:
        reasons.append(Reason("no-way-out", "the part cannot be drawn out forwards or off the tools' end"))
    return Trial(move, tuple(reasons), hits, min(clear), bool(leaving))


class _Half:
    """One half of the strip beside one bend, piece by piece. What it meets of the ram's tools depends on the punch
    alone, what it meets of the table's on the die; both are kept with the prover, for every pair they are part of."""

    def __init__(self, prover, levels, i, end, side, scene: Scene):
        job, own = prover.job, signature(prover.job, levels, i, end)
        self.kept = prover.kept.setdefault((i, end, side, own), {})
        if not self.kept:
            order = job.strip.outward(i, end)
            angles = [job.angle(j, level) for j, level in zip(order, own, strict=True)]
            self.kept["pieces"] = job.strip.half(i, end, angles)
            self.kept["nodes"] = Nodes.of([[p.outline] for p in self.kept["pieces"]],
                                          np.zeros(len(self.kept["pieces"])))
        self.pieces: list[Piece] = self.kept["pieces"]
        straight = next((n for n, level in enumerate(own) if level), len(own))
        self.own = np.arange(len(self.pieces)) <= 2 * straight
        self.nodes, self.side, self.scene = self.kept["nodes"], side, scene
        punch = scene.tools.punch
        self.names = {UPPER: punch.name if punch else f"over {scene.tools.die.name}", LOWER: scene.tools.die.name}

    def _placed(self, group, angles, lift=None):
        """Pieces in the group's frame, (angles, pieces)."""
        y, z, h = self.scene.path(group)(angles)
        z = z - lift if lift is not None else z
        n = len(self.pieces)
        which = np.tile(np.arange(n), len(angles))
        return self.nodes.placed(which, self.side, np.repeat(y, n), np.repeat(z, n),
                                 np.repeat(h, n)).reshape(len(angles), n)

    def swing(self, end):
        """Hits through the swing, and the least clearance of the faces not being bent."""
        parts = [self._kept(("swing", group, self.names[group], end), lambda g=group: self._swing(g, end))
                 for group in (UPPER, LOWER)]
        return [hit for found, _ in parts for hit in found], min(least for _, least in parts)

    def _kept(self, key, make):
        if key not in self.kept:
            self.kept[key] = make()
        return self.kept[key]

    def _swing(self, group, end):
        angles = np.append(np.arange(0.0, end, STEP_DEGREES), end)
        found, least, placed = [], np.inf, self._placed(group, angles)
        full = self.scene.upper if group == UPPER else self.scene.lower
        for name, tool in full.items():
            if (~self.own).any():
                least = min(least, shapely.distance(placed[:, ~self.own], tool).min())
            elif name in ("ram", "table"):
                least = min(least, shapely.distance(placed, tool).min())
            found += self._hits(placed, name, group, tool, angles, lambda k: BEFORE if k == 0 else DURING)
        return found, float(least)

    def opening(self, angle, phase):
        """Hits of what hangs from the ram on its way between touch and the top."""
        way = max(0.0, self.scene.open - self.scene.closed_at(angle))
        return self._kept(("opening", self.names[UPPER], angle, phase, round(way, 3)),
                          lambda: self._opening(angle, phase, way))

    def _opening(self, angle, phase, way):
        gaps = np.linspace(0.0, way, GAPS)
        angles = np.full(len(gaps), angle)
        placed = self._placed(UPPER, angles, gaps)
        found = []
        for name, tool in self.scene.upper.items():
            found += self._hits(placed, name, UPPER, tool, angles, lambda k: phase)
        return found

    def _hits(self, placed, name, group, tool, angles, phase_of):
        found = []
        for own in (False, True):
            inset_tool = self.scene.tools_of(group, own).get(name)
            if inset_tool is None:
                continue
            columns = np.flatnonzero(self.own == own)
            touching = shapely.intersects(placed[:, columns], inset_tool)
            for c, column in enumerate(columns):
                at = np.flatnonzero(touching[:, c])
                for phase in dict.fromkeys(phase_of(k) for k in at):
                    rows = [k for k in at if phase_of(k) == phase]
                    deep, k = deepest(placed[rows, column], tool)
                    found.append(Hit(phase, self.pieces[column].id, name, deep, float(angles[rows[k]]),
                                     float(angles[rows[0]])))
        return found


def _worst(hits: list[Hit]) -> tuple[Hit, ...]:
    """The deepest hit of each face with each tool; a hit before the swing hides the same during it."""
    best: dict[tuple, Hit] = {}
    for hit in hits:
        key = (hit.phase, hit.face, hit.tool)
        if key not in best or hit.depth > best[key].depth:
            best[key] = hit
    kept = [h for h in best.values() if not (h.phase == DURING and (BEFORE, h.face, h.tool) in best)]
    return tuple(sorted(kept, key=lambda h: -h.depth))


def best_trial(prover: Prover, levels: Levels, i: int, to: int) -> Trial:
    """Of every tool and holding, the one that fails least; tools fit for the bend before those that are not."""
    job = prover.job
    tools = job.tools_for(i, to)
    fitting = [t for t in tools if prover.fits(i, to) >> job.mounts.index(t) & 1]
    trials = [examine(prover, levels, Move(i, to, held, t)) for t in fitting or tools for held in ("end", "start")]
    if not trials:
        return Trial(Move(i, to, "end", None), (Reason("flattener", "there is no flattener on the rack"),), ())
    return min(trials, key=lambda t: t.badness)

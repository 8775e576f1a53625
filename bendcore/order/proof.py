"""Which tools can make this move from this state?

The two halves of a strip move as rigid bodies that know nothing of each other, and
where a leg stands depends only on the bends between it and the bend being made. So
every node (a bend zone and the leg beyond it) is tested once for each state of the
bends before it, and the answer serves every state that shares them; and what hangs
from the ram is tested apart from what stands on the table, so that four punches and
six dies cost ten tables, not twenty-four. Answers are bit masks over
:attr:`Job.mounts`, the pairs of tools.
"""

import math
from collections.abc import Iterator
from itertools import product

import numpy as np
import shapely
from shapely import union_all
from shapely.affinity import affine_transform, translate

from ..brakes.press import choose_lengths
from .collide import Nodes, inset, swept, swing_hits
from .gauge import EDGE, Gauge, contact_run
from .limits import short_leg, tool_reasons
from .moves import FLAT, MADE, Job, Levels, Tools, other
from .poses import daylight
from .scene import Scene

LIFTS = (0.0, 0.15, 0.3, 0.45, 0.6, 0.75, 0.9)
"""Part lifted by this share of the daylight before it is drawn out forwards."""
UPPER, LOWER, OPENING, STOP, LEG = "upper", "lower", "opening", "stop", "leg"


def signature(job: Job, levels: Levels, i: int, end: str) -> Levels:
    """The levels of the bends on one side of bend ``i``, nearest first."""
    return tuple(levels[j] for j in job.strip.outward(i, end))


class Prover:
    """Proves moves of one :class:`Job`. ``eager`` works out whole tables at a time,
    which pays when most states will be asked for."""

    def __init__(self, job: Job, eager: bool = True):
        self.job, self.eager = job, eager
        self._tables: dict[tuple, dict[Levels, bool]] = {}
        self._nodes: dict[tuple, Nodes] = {}
        self._scenes: dict[tuple, Scene] = {}
        self._masks: dict[tuple, int] = {}
        self._fits: dict[tuple, int] = {}
        self._sides: dict[tuple, int] = {}
        self._stretches: dict[tuple, tuple] = {}
        self._ends: dict[tuple, tuple] = {}
        self._contacts: dict[tuple, float] = {}
        self._stops: dict[tuple, dict[int, bool]] = {}
        self.kept: dict[tuple, dict] = {}
        """What :mod:`.explain` found of a half, for the pairs of tools that share it."""
        self._groups = {test: self._sharing(test) for test in (LEG, LOWER, UPPER, OPENING, STOP)}
        self._rooms = sum(1 << m for m, tools in enumerate(job.mounts) if self._has_room(tools))

    # --- the questions asked by the search -------------------------------------

    def mask(self, levels: Levels, i: int, to: int, held: str) -> int:
        """The mounts that make this move: limits, before, swing and withdrawal; the stop left aside."""
        key = (levels, i, to, held)
        if key not in self._masks:
            self._masks[key] = self._mask(*key)
        return self._masks[key]

    def _mask(self, levels, i, to, held):
        mask = self.fits(i, to)
        for end, side in ((held, 1), (other(held), -1)):
            mask = mask and mask & self._side_mask(i, to, end, side, signature(self.job, levels, i, end))
        for m in bits(mask & ~self._rooms):
            if not self.draws_out(levels, i, to, held, self.job.mounts[m]):
                mask &= ~(1 << m)
        return mask

    def _side_mask(self, i, to, end, side, own):
        """The mounts on which one half lies long enough, goes in, and swings without a hit."""
        key = (i, to, end, side, own)
        if key not in self._sides:
            mask = self.fits(i, to)
            for test, groups in self._groups.items():
                for group in groups:
                    if test != STOP and mask & group and not self._passes(i, to, end, side, own, test, mask & group):
                        mask &= ~group
            self._sides[key] = mask
        return self._sides[key]

    def _passes(self, i, to, end, side, own, test, group) -> bool:
        """One test of one half, for mounts that share its answer."""
        tools = self.job.mounts[next(bits(group))]
        if test == LEG:
            return short_leg(self.job, own, i, to, end, tools) is None
        return self._half(i, to, end, side, own, test, tools)

    def fits(self, i: int, to: int) -> int:
        """The mounts whose limits allow this bend in some state."""
        key = (i, to)
        if key not in self._fits:
            allowed = self.job.tools_for(i, to)
            self._fits[key] = sum(1 << m for m, tools in enumerate(self.job.mounts)
                                  if tools in allowed and not tool_reasons(self.job, i, to, tools))
        return self._fits[key]

    def stop_mask(self, levels: Levels, i: int, to: int, held: str, gauge: Gauge, mask: int) -> int:
        """Of ``mask``, the mounts on which the part swings clear of the stop it lies against."""
        if self.job.brake.stops.section is None or gauge.kind == EDGE:
            return mask  # a plain edge only rises along the stop's face
        own = signature(self.job, levels, i, held)
        key = (i, to, held, own)
        if key not in self._stops:
            self._stops[key] = {}
        for group in self._groups[STOP]:
            if mask & group:
                if group not in self._stops[key]:
                    self._stops[key][group] = self._passes(i, to, held, 1, own, STOP, group)
                if not self._stops[key][group]:
                    mask &= ~group
        return mask

    def slides_off(self, tools: Tools) -> bool:
        """Room to slide the part off the tools' end, between the side frames."""
        return bool(self._rooms >> self.job.mounts.index(tools) & 1)

    def draws_out(self, levels: Levels, i: int, to: int, held: str, tools: Tools) -> bool:
        """The ram goes up and the part comes straight up and then forwards."""
        sides = [(held, 1, signature(self.job, levels, i, held)),
                 (other(held), -1, signature(self.job, levels, i, other(held)))]
        return any(all(self._half(i, to, *side, share, tools) for side in sides) for share in LIFTS)

    # --- tables of halves ---------------------------------------------------------

    def scene(self, i: int, tools: Tools) -> Scene:
        """The tools about one bend, made once."""
        key = (self.job.strip.bends[i].figures, tools.key)
        if key not in self._scenes:
            self._scenes[key] = Scene(self.job, self.job.strip.bends[i].figures, tools)
        return self._scenes[key]

    def closing(self, i: int, to: int) -> bool:
        """Whether this stroke closes a hem."""
        return self.job.strip.bends[i].is_hem and to == MADE

    def _half(self, i, to, end, side, own, test, tools) -> bool:
        """Whether one half passes one test."""
        if self.closing(i, to) and not own and test != STOP:
            return True  # the hem's own flap lies between the flattening bars
        if test == LOWER and self.scene(i, tools).even:
            side = 1  # the same either way round
        table = self._tables.setdefault((i, to, end, side, test, self._depends(test, tools)), {})
        if own not in table:
            prefixes = [own[:n] for n in range(len(own) + 1)]
            wanted = self._prefixes(i, end) if self.eager else prefixes
            new = [p for p in wanted if p not in table]
            self._fill(table, new, (i, to, end, side), test, tools)
            for p in new:  # shortest first: what hits once hits however the strip goes on
                table[p] = bool(table[p] or (p and table[p[:-1]]))
        return not table[own]

    def _depends(self, test, tools):
        """What a test's answer depends on: tools that share it share one table."""
        if test in (LOWER, STOP, LEG):
            return tools.die.name
        if tools.punch and test == UPPER:
            return tools.punch.name
        if tools.punch and test == OPENING:
            return (tools.punch.name, round(daylight(self.job.brake, tools.punch, tools.die), 3))
        return tools.key

    def _sharing(self, test) -> list[int]:
        """The mounts as groups that share a test's answer."""
        groups: dict = {}
        for m, tools in enumerate(self.job.mounts):
            key = self._depends(test, tools)
            groups[key] = groups.get(key, 0) | 1 << m
        return list(groups.values())

    def _prefixes(self, i, end):
        order = self.job.strip.outward(i, end)
        choices = [(FLAT, *self.job.stages(self.job.strip.bends[j])) for j in order]
        return [p for n in range(len(order) + 1) for p in product(*choices[:n])]

    def tip(self, i: int, end: str, prefix: Levels) -> list[np.ndarray]:
        """Outlines of the last zone and flat of a half whose bends stand at ``prefix``."""
        if not prefix:
            return [self.job.strip.half(i, end, ())[0].outline]
        (y, z), turn = self._reached(i, end, prefix[:-1])
        spin = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
        outlines, _, _ = self._stretch(i, end, prefix)
        return [outline @ spin + (y, z) for outline in outlines]

    def _stretch(self, i, end, prefix):
        j = self.job.strip.outward(i, end)[len(prefix) - 1]
        key = (i, j, prefix[-1])
        if key not in self._stretches:
            self._stretches[key] = self.job.strip.stretch(i, j, self.job.angle(j, prefix[-1]))
        return self._stretches[key]

    def _reached(self, i, end, prefix):
        """Where the inner surface stands and how it has turned after ``prefix``."""
        key = (i, end, prefix)
        if key not in self._ends:
            if not prefix:
                self._ends[key] = (self.job.strip.half(i, end, ())[0].outline[2], 0.0)
            else:
                (y, z), turn = self._reached(i, end, prefix[:-1])
                _, (dy, dz), more = self._stretch(i, end, prefix)
                c, s = math.cos(turn), math.sin(turn)
                self._ends[key] = (np.array([y + dy * c - dz * s, z + dy * s + dz * c]), turn + more)
        return self._ends[key]

    def nodes(self, i: int, end: str, prefixes: list[Levels], back: tuple[float, ...] = ()) -> Nodes:
        """Nodes for these states of a half, each moved forward by its entry in ``back``."""
        key = (i, end, tuple(prefixes), back)
        if key not in self._nodes:
            self._nodes[key] = Nodes.of([self.tip(i, end, p) for p in prefixes],
                                        np.array(back or (0.0,) * len(prefixes)))
        return self._nodes[key]

    def _contact(self, i, end, prefix):
        """:func:`contact_run`, remembered by the first made bend, which decides it."""
        first = prefix[:next(n for n, level in enumerate(prefix) if level) + 1]
        key = (i, end, first)
        if key not in self._contacts:
            self._contacts[key] = contact_run(self.job, i, end, first)
        return self._contacts[key]

    def _stop_hits(self, i, to, end, prefixes, tools):
        """A half against the stop it lies against. The first made bend says where that is;
        until there is one the sheet's plain edge lies there, and only rises."""
        made = [p for p in prefixes if any(p)]
        if not made:
            return {}
        back = tuple(self._contact(i, end, p) for p in made)
        angle = 1e-6 if self.closing(i, to) else self.job.overbent(self.job.angle(i, to))
        hits = swing_hits(self.nodes(i, end, made, back), inset(self.job.brake.stops.polygon),
                          self.scene(i, tools).path(LOWER), 1, angle)
        return dict(zip(made, ~np.isnan(hits), strict=True))

    def _fill(self, table, prefixes, half, test, tools):
        i, to, end, side = half
        if test == STOP:
            table.update(dict.fromkeys(prefixes, False) | self._stop_hits(i, to, end, prefixes, tools))
            return
        for own in (True, False):
            some = [p for p in prefixes if (not any(p)) == own]
            if some:
                hits = self._test(i, to, side, test, tools, own, self.nodes(i, end, some))
                table.update(zip(some, hits, strict=True))

    def _test(self, i, to, side, test, tools, own, nodes):
        scene = self.scene(i, tools)
        if self.closing(i, to):
            region = translate(self._closing_region(scene, test), side * self.flap(i), 0.0)
            return self._meets(nodes, region, scene.stroke.pose(0.0), side)
        full = self.job.angle(i, to)
        if test == LOWER and own and scene.inset_group(LOWER, True).bounds[3] <= 0:
            return np.zeros(len(nodes.shapes), bool)  # a straight leg rises from the shoulders and all else lies lower
        if test in (UPPER, LOWER):
            witness = swing_hits(nodes, scene.inset_group(test, own),
                                 scene.path(test), side, self.job.overbent(full))
            return ~np.isnan(witness)
        if test == OPENING:
            return self._meets(nodes, scene.column(0.0, own), scene.stroke.pose(0.0), side)
        return self._meets(nodes, self._way_out(scene, full, test, own), scene.stroke.pose(full), side)

    def flap(self, i: int) -> float:
        """Half the hem's flap: the flap is centred on the flattening bars."""
        return self.job.strip.flats[0 if i == 0 else -1][1] / 2

    def _closing_region(self, scene, test):
        if test == LOWER:
            return scene.inset_group(LOWER, False)
        if test in (UPPER, OPENING):
            return scene.column(0.0, False)
        return self._way_out(scene, 0.0, test, False)

    def _way_out(self, scene, angle, share, own):
        """Where tools would be met: ram going up, part up by a share, then forwards."""
        up = share * scene.open
        lower = scene.inset_group(LOWER, own)
        top = translate(scene.inset_group(UPPER, False), 0.0, scene.open)
        away = self.job.strip.length + 500.0
        return union_all([scene.column(angle, own), swept(lower, 0.0, -up), swept(top, 0.0, -up),
                          swept(translate(lower, 0.0, -up), away, 0.0),
                          swept(translate(top, 0.0, -up), away, 0.0)])

    @staticmethod
    def _meets(nodes, region, pose, side) -> np.ndarray:
        placed = affine_transform(region, pose.matrix_into_half(side))
        shapely.prepare(placed)
        return shapely.intersects(placed, nodes.shapes)

    def _has_room(self, tools):
        width = self.job.strip.width
        stacks = [sum(choose_lengths(t.lengths, width) or t.lengths) for t in (tools.punch, tools.die) if t]
        return max(stacks) + width <= self.job.brake.between_frames + 1e-9


def bits(mask: int) -> Iterator[int]:
    """The places of the ones in a mask, lowest first."""
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


"""Where the stop stands: against a cut edge, a formed face, or a scribed line.

Distances run from the bend line to the stop's face. To a cut edge it is the flat distance; to a formed flange the
outside leg − OSSB + BA/2 of this bend; against one bent past 90° its outermost tangent; below 90° the contact at the
stop's height. An edge or flange serves that runs along the bend and is long enough for two stops; of several the one
farthest from the bend, where the stop is met first.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ...bending.bend import BendFigures
from ...brakes.setting import OnBrake
from ...sheet.edges import BEARING, PARALLEL
from ..states.body import Half
from ..states.moves import FLAT, OPEN, Job

EDGE, FACE, LINE = "edge", "face", "line"
ALONG = math.sin(math.radians(PARALLEL))


@dataclass(frozen=True)
class Gauge:
    """What the sheet is located by: ``of`` a face, its cut edge, or the bend whose line is scribed. ``stop`` is None
    for a scribed line; ``over`` is the formed bend that a face at the stop hangs on."""

    kind: str
    of: str
    stop: float | None = None
    over: int | None = None


def natural_gauge(job: Job, half: Half, levels: tuple[int, ...], contact_height: float) -> Gauge | None:
    """The first thing a stop meets on a half whose bends stand at ``levels`` (in the half's order); None where nothing
    bears on it."""
    return max(bearing(job, half, levels, contact_height), key=lambda gauge: gauge.stop, default=None)


def in_reach(on: OnBrake, gauge: Gauge | None) -> Gauge | None:
    """The same where the stop comes so far; None where it does not, and where there is nothing to bear on it."""
    stops = on.brake.stops
    return gauge if gauge and stops.min - 1e-9 <= gauge.stop <= stops.max + 1e-9 else None


def seen(half: Half, levels: Sequence[int]) -> tuple[int, ...]:
    """The levels of a half's bends with those left open that lie behind a bent one: what bears on a stop does not hang
    on them."""
    level = dict(zip(half.bends, levels, strict=True))
    hidden = {node.via for node in half.nodes if any(level[j] != FLAT for j in node.path[:-1])}
    return tuple(OPEN if j in hidden else level[j] for j in half.bends)


def bearing(job: Job, half: Half, levels: tuple[int, ...], height: float) -> Iterator[Gauge]:
    """Everything a stop could bear on there, its contact face so high, mm."""
    level, bent = dict(zip(half.bends, levels, strict=True)), []
    for n, node in enumerate(half.nodes):
        behind, own = node.before >= 0 and bent[node.before], FLAT if node.via is None else level[node.via]
        bent.append(behind or own != FLAT)
        if not behind:
            yield from _borne(job, half, n, own, height)


def bearing_ever(job: Job, half: Half, height: float) -> Iterator[Gauge]:
    """Everything a stop could bear on in any state: each node with all before it flat, its own bend at each level."""
    for n, node in enumerate(half.nodes):
        for own in (FLAT,) if node.via is None else (FLAT, *job.stages(node.via)):
            yield from _borne(job, half, n, own, height)


def _borne(job, half, n, level, height) -> tuple[Gauge, ...]:
    key = (half.made, half.side, n, level, height)
    if key not in job.bears:
        job.bears[key] = tuple(_bears(job, half, n, level, height))
    return job.bears[key]


def _bears(job, half, n, level, height) -> Iterator[Gauge]:
    """What of a node all before which is flat, its own bend at a level, a stop could bear on."""
    low, high = job.reach(half.made)
    node, body, least = half.nodes[n], job.body, min(BEARING, (high - low) / 2)
    if level != FLAT:
        gauge = _formed(job, half, n, level, least, height)
        if gauge:
            yield gauge
        return
    allowance = body.bends[half.made[0]].figures.allowance
    frame = body.frame(half, n, (0.0,) * len(node.path))
    for one, other in _free_edges(body, body.sheet.face[node.face]):
        (s0, x0), (s1, x1) = ((frame @ [*p, 0.0, 1.0])[[0, 2]] for p in (one, other))
        long = math.hypot(s1 - s0, x1 - x0)
        if long >= least and abs(s1 - s0) <= ALONG * long and min(s0, s1) > 1e-6:
            yield Gauge(EDGE, node.face, float((s0 + s1) / 2 + allowance / 2))


def _free_edges(body, face):
    """Edges of a face's outline on which no bend lies."""
    bends = [body.bends[i].edge_in(face.id) for i, _, _ in body.beside[face.id]]
    for one, other in zip(face.outline, (*face.outline[1:], face.outline[0]), strict=True):
        middle = ((one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
        if not any(_on(middle, *edge) for edge in bends):
            yield one, other


def _on(point, a, b) -> bool:
    (dx, dy), long = (b[0] - a[0], b[1] - a[1]), math.dist(a, b)
    px, py = point[0] - a[0], point[1] - a[1]
    return abs(px * dy - py * dx) <= 1e-4 * long and -1e-6 <= (px * dx + py * dy) / long <= long + 1e-6


def _formed(job, half, n, level, least, height) -> Gauge | None:
    """The flange beyond a made bend, if it lies along the bend being made."""
    body, node = job.body, half.nodes[n]
    j = node.path[-1]
    bend = body.bends[j]
    before = body.frame(half, node.before, (0.0,) * (len(node.path) - 1))
    edge = bend.parent_edge if node.outwards else bend.child_edge
    (s0, x0), (s1, x1) = ((before @ [*p, 0.0, 1.0])[[0, 2]] for p in edge)
    long = math.hypot(s1 - s0, x1 - x0)
    if long < least or abs(s1 - s0) > ALONG * long or min(s0, s1) <= 1e-6:
        return None
    up = bend.sign == body.bends[half.made[0]].sign
    flange = body.depth_of(node.face, bend.child_edge if node.outwards else bend.parent_edge)
    run = (s0 + s1) / 2 + body.bends[half.made[0]].figures.allowance / 2
    touches = contact(bend.figures, job.angle(j, level), up, flange, height, body.thickness)
    return Gauge(FACE, node.face, float(run + touches), j)


def contact(figures: BendFigures, angle: float, up: bool, flange: float, height: float, t: float) -> float:
    """From a made bend's near tangent line to where the stop, its face ``height`` high, touches the ``flange`` beyond
    it, all in mm; ``angle`` as it stands, ``up`` where it is bent the way of the bend being made."""
    radius = max(figures.radius_at(angle), 0.0)
    if angle >= 90:
        return radius + t
    a = math.radians(angle)
    apex = (radius + t) * math.tan(a / 2)
    if up:
        reach = min(height / math.sin(a), apex + flange)
        return apex + reach * math.cos(a)
    if (radius + t) * math.cos(a) > radius:
        return min(apex + t / math.tan(a), apex + (apex + flange) * math.cos(a))
    return math.sqrt((radius + t) ** 2 - radius ** 2)

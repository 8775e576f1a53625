"""Along the bend: where tools may stand, and what is met there.

A tool put together of pieces may not stand where some face would meet its section. :func:`within` finds from where to
where along the bend a face does, by cutting it closer from both ends; :func:`blocks` says what is left for the pieces.
"""

from collections.abc import Callable, Iterable, Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ...brakes.pieces import BESIDE, ENDS, MOST_GAP, Block
from ..states.body import Pose, flattened, silhouettes

Span = tuple[float, float]
Meets = Callable[[Sequence[BaseGeometry]], np.ndarray]
"""For each of several silhouettes, whether it meets the tool."""
THIN = 1.0
"""What reaches no further along the bend is not cut closer, mm."""
CUTS = 32
FINE = 0.1
"""Cut so closely, mm."""


def joined(spans: Iterable[Span]) -> tuple[Span, ...]:
    """Spans in order, those that touch made one."""
    found: list[list[float]] = []
    for low, high in sorted(spans):
        if found and low <= found[-1][1]:
            found[-1][1] = max(found[-1][1], high)
        else:
            found.append([low, high])
    return tuple((low, high) for low, high in found)


def clipped(points: np.ndarray, low: float, high: float) -> np.ndarray:
    """A convex body (k, 3) cut to a stretch of the bend; empty where nothing of it is there."""
    for bound, sign in ((low, 1.0), (high, -1.0)):
        over = sign * (points[:, 2] - bound)
        kept, cut = points[over >= 0], points[over < 0]
        if len(cut) and len(kept):
            a, b = kept[:, None], cut[None]
            share = ((bound - a[..., 2]) / (b[..., 2] - a[..., 2]))[..., None]
            points = np.concatenate([kept, (a + share * (b - a)).reshape(-1, 3)])
        else:
            points = kept
        if not len(points):
            break
    return points


def outline(pose: Pose, low: float, high: float) -> BaseGeometry | None:
    """The silhouette of what lies on a stretch of the bend; None where nothing does."""
    if (low, high) not in pose.cuts:
        pose.cuts[low, high] = _outline(pose, low, high)
    return pose.cuts[low, high]


def _outline(pose, low, high):
    if low <= pose.span[0] and high >= pose.span[1]:
        return pose.shape
    parts = [part for part in (clipped(body, low, high) for body in pose.bodies) if len(part)]
    found = silhouettes(*flattened(parts))[1] if parts else ()
    return shapely.multipolygons(found) if len(found) else None


def within(pose: Pose, line: Span, meets: Meets) -> Span:
    """From where to where along the bend a node that meets a tool does so. ``line`` is the bend without its ends, at
    both of which tools must stand."""
    low, high = pose.span
    if pose.even or high <= line[0] or low >= line[1]:  # beside the bend it is kept off altogether
        return low, high
    ends = [outline(pose, at - ENDS, at) if at < line[1] else outline(pose, at, at + ENDS) for at in line]
    if all(ends) and meets(ends).all():
        return line[0] - ENDS, line[1] + ENDS
    bodies = [body for body, met in zip(pose.bodies, _each(pose, meets), strict=True) if met]
    if not bodies:  # the outline of a zone meets by less than its facets show
        return pose.span
    low, high = (float(some([some(body[:, 2]) for body in bodies])) for some in (np.min, np.max))
    if high - low <= THIN:
        return low, high
    longest = max(range(len(bodies)), key=lambda k: np.ptp(bodies[k][:, 2]))
    main, rest = bodies[longest], [body for k, body in enumerate(bodies) if k != longest]
    bottom, top = float(main[:, 2].min()), float(main[:, 2].max())
    first = _edge([main], bottom, top, meets, upwards=True)
    last = max(first, _edge([main], first, top, meets, upwards=False))
    if _meet(rest, low, first, meets):  # seldom: what is smaller reaches no further
        first = _edge(rest, low, first, meets, upwards=True)
    if _meet(rest, last, high, meets):
        last = _edge(rest, last, high, meets, upwards=False)
    return first, last


def _meet(bodies, low, high, meets) -> bool:
    """Whether bodies meet the tool on a stretch of the bend."""
    parts = [part for part in (clipped(body, low, high) for body in bodies) if len(part)] if high > low else []
    found = silhouettes(*flattened(parts))[1] if parts else ()
    return bool(len(found)) and bool(meets([shapely.multipolygons(found)])[0])


def _each(pose, meets) -> np.ndarray:
    """Which of its bodies meet the tool."""
    there, hulls = silhouettes(*flattened(pose.bodies))
    found = np.zeros(len(pose.bodies), bool)
    found[there] = meets(hulls)
    return found


def coarsely(pose: Pose, line: Span, meets: Meets) -> Span:
    """The same as far as it matters for tools as long as the brake: whether a node meets them beyond one end of the
    bend, beyond the other, or anywhere between."""
    low, high = pose.span
    middle = max(low, line[0]), min(high, line[1])
    if high <= line[0] or low >= line[1] or (low >= line[0] and high <= line[1]):
        return low, high

    def met(cut) -> bool:
        part = outline(pose, *cut) if cut[0] < cut[1] else None
        return part is not None and bool(meets([part])[0])

    if met(middle):
        return middle
    spans = [cut for cut in ((low, middle[0]), (middle[1], high)) if met(cut)]
    return (min(a for a, _ in spans), max(b for _, b in spans)) if spans else (low, high)


def _edge(bodies, low, high, meets, upwards) -> float:
    """Where bodies begin to be met, looked for from one end."""
    at, to = (low, high) if upwards else (high, low)
    while abs(to - at) > FINE:
        cuts = np.linspace(at, to, CUTS + 2)[1:-1]
        points, of = (np.concatenate(rows) for rows in
                      zip(*(_cut_off(body, cuts, upwards, n) for n, body in enumerate(bodies)), strict=True))
        which, hulls = silhouettes(points, of)
        met = np.zeros(CUTS, bool)
        if len(hulls):
            which = which % CUTS
            order = np.argsort(which, kind="stable")
            there, index = np.unique(which[order], return_inverse=True)
            met[there] = meets(shapely.multipolygons(hulls[order], indices=index))
        first = int(met.argmax()) if met.any() else CUTS
        at, to = (cuts[first - 1] if first else at), (cuts[first] if first < CUTS else to)
    return float(at)


def _cut_off(body, cuts, below, n) -> tuple[np.ndarray, np.ndarray]:
    """What of the convex body ``n`` lies below each of several places along the bend, or above it: corners (k, 2) and
    of which cut they are, counted on from body to body."""
    one, other = np.triu_indices(len(body), 1)
    a, b = body[one], body[other]
    run = b[:, 2] - a[:, 2]
    share = np.divide(cuts[:, None] - a[:, 2], run, out=np.full((len(cuts), len(one)), -1.0), where=run != 0)
    cut, pair = np.nonzero((share > 0) & (share < 1))
    whole, corner = np.nonzero((body[:, 2] <= cuts[:, None]) if below else (body[:, 2] >= cuts[:, None]))
    crossing = a[pair, :2] + share[cut, pair][:, None] * (b - a)[pair, :2]
    of = np.concatenate([cut, whole])
    order = np.argsort(of, kind="stable")
    return np.concatenate([crossing, body[corner, :2]])[order], of[order] + n * len(cuts)


def blocks(barred: Sequence[Span], lines: Sequence[Span]) -> tuple[Block, ...] | None:
    """The blocks of pieces that bends along ``lines`` ask for where nothing may stand within ``barred``; None where
    they cannot be had."""
    found: list[Block] = []
    for low, high in _merged(lines, barred):
        inner = [span for span in barred if span[1] > low and span[0] < high]
        before = max((end for _, end in barred if end <= low), default=-np.inf)
        after = min((start for start, _ in barred if start >= high), default=np.inf)
        start, latest = before, low + ENDS
        for one, other in _close(inner):
            if one <= low + ENDS:
                start, latest = max(start, other), low + ENDS
                if other > low + ENDS:
                    return None
                continue
            if other >= high - ENDS:
                if one < high - ENDS:
                    return None
                after = min(after, one)
                continue
            found.append(Block(start, latest, one - BESIDE, one))
            start, latest = other, other + BESIDE
        found.append(Block(start, latest, high - ENDS, after))
    if any(block.room <= 0 or block.latest < block.start or block.earliest > block.end for block in found):
        return None
    return tuple(found)


def _merged(lines, barred):
    """Lines with nothing in the way between them are covered in one run."""
    found: list[list[float]] = []
    for low, high in sorted(lines):
        if found and not any(start < low and end > found[-1][1] for start, end in barred):
            found[-1][1] = max(high, found[-1][1])
        else:
            found.append([low, high])
    return found


def _close(spans):
    """Spans between which no piece need stand are passed as one."""
    found: list[list[float]] = []
    for low, high in spans:
        if found and low - found[-1][1] <= MOST_GAP:
            found[-1][1] = max(found[-1][1], high)
        else:
            found.append([low, high])
    return found

"""Along the bend: where tools may stand, and what is met there.

A tool put together of pieces may not stand where some face would meet its section. :func:`within` finds from where to
where along the bend a face does, by cutting it closer from both ends; :func:`blocks` says what is left for the pieces.
"""

from collections.abc import Callable, Iterable, Sequence

import numpy as np

from ..brakes.pieces import BESIDE, ENDS, MOST_GAP, Block
from .body import Pose, hulls, is_even

Span = tuple[float, float]
THIN = 1.0
"""What reaches no further along the bend is not cut closer, mm."""
CUTS = 8
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


def rings_of(pose: Pose, low: float, high: float) -> list[np.ndarray]:
    """The silhouette of what lies on a stretch of the bend."""
    return hulls([part for part in (clipped(body, low, high) for body in pose.bodies) if len(part)])


def within(pose: Pose, line: Span, meets: Callable[[list[list[np.ndarray]]], np.ndarray]) -> Span:
    """From where to where along the bend a node that meets a tool does so. ``meets`` answers for several silhouettes
    at once; ``line`` is the bend without its ends, at both of which tools must stand."""
    low, high = pose.span
    if pose.even or high <= line[0] or low >= line[1]:  # beside the bend it is kept off altogether
        return low, high
    ends = [rings_of(pose, at - ENDS, at) if at < line[1] else rings_of(pose, at, at + ENDS) for at in line]
    if all(ends) and meets(ends).all():
        return line[0] - ENDS, line[1] + ENDS
    met = np.flatnonzero(meets([[hull] for hull in pose.hulls]))
    if not len(met):  # the outline of a zone meets by less than its facets show
        return pose.span
    spans = [_of_body(pose.bodies[k], meets) for k in met]
    return min(low for low, _ in spans), max(high for _, high in spans)


def coarsely(pose: Pose, line: Span, meets: Callable[[list[list[np.ndarray]]], np.ndarray]) -> Span:
    """The same as far as it matters for tools as long as the brake: whether a node meets them beyond one end of the
    bend, beyond the other, or anywhere between."""
    low, high = pose.span
    middle = max(low, line[0]), min(high, line[1])
    if high <= line[0] or low >= line[1] or (low >= line[0] and high <= line[1]):
        return low, high
    if middle[0] < middle[1] and (rings := rings_of(pose, *middle)) and meets([rings])[0]:
        return middle
    cuts = [cut for cut in ((low, middle[0]), (middle[1], high)) if cut[0] < cut[1]]
    spans = [cut for cut in cuts if (rings := rings_of(pose, *cut)) and meets([rings])[0]]
    return (min(a for a, _ in spans), max(b for _, b in spans)) if spans else (low, high)


def _of_body(body, meets) -> Span:
    """The same of one convex body."""
    low, high = float(body[:, 2].min()), float(body[:, 2].max())
    if high - low <= THIN or is_even(body):
        return low, high
    first = _edge(body, low, high, meets, upwards=True)
    return first, max(first, _edge(body, first, high, meets, upwards=False))


def _edge(body, low, high, meets, upwards) -> float:
    """Where a body begins to be met, looked for from one end."""
    at, to = (low, high) if upwards else (high, low)
    while abs(to - at) > FINE:
        cuts = np.linspace(at, to, CUTS + 2)[1:-1]
        rings = [hulls([part]) if len(part) else [] for part in
                 (clipped(body, low, cut) if upwards else clipped(body, cut, high) for cut in cuts)]
        there = np.array([n for n, ring in enumerate(rings) if ring], int)
        met = np.zeros(CUTS, bool)
        if len(there):
            met[there] = meets([rings[n] for n in there])
        first = int(met.argmax()) if met.any() else CUTS
        at, to = (cuts[first - 1] if first else at), (cuts[first] if first < CUTS else to)
    return float(at)


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

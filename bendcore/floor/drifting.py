"""A dimension from piece to piece: whether it wanders off, before any piece is out of tolerance.

The slope is Theil and Sen's, the median of those between all pairs of pieces, so that one bad reading does not make
one (Sen, 1968); it counts where Mann and Kendall's test says in 95 % that there is one (Mann, 1945).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from statistics import median

FEWEST, LATEST = 5, 12
"""So many readings are needed at least; so many count."""
SURE = 1.96
"""Standard deviations, 95 % to either side."""
AHEAD = 20
"""Nothing is said of what is further off than so many pieces."""


@dataclass(frozen=True)
class Drift:
    """``slope`` in the dimension's unit for each piece; ``out_in`` pieces until it is out of tolerance, None where that
    is far off; ``over`` whether it leaves by its upper limit."""

    slope: float
    out_in: int | None
    over: bool


def drift_of(pieces: Sequence[int], off: Sequence[float], tolerance: float) -> Drift | None:
    """What a dimension does that was read so far ``off`` its nominal on these pieces; None where it stays, or too few
    were read.

    >>> drift_of([1, 2, 3, 4, 5], [0.0, 0.21, 0.4, 0.58, 0.8], 1.0)
    Drift(slope=0.198333, out_in=2, over=True)
    >>> drift_of([1, 2, 3, 4, 5], [0.0, 0.2, -0.2, 0.1, 0.0], 1.0) is None
    True
    """
    x, y = pieces[-LATEST:], off[-LATEST:]
    if len(set(x)) < FEWEST:
        return None
    slopes = [(y1 - y0) / (x1 - x0) for (x0, y0), (x1, y1) in combinations(zip(x, y, strict=True), 2) if x1 != x0]
    score, n = sum((slope > 0) - (slope < 0) for slope in slopes), len(x)
    if abs(score) - 1 < SURE * math.sqrt(n * (n - 1) * (2 * n + 5) / 18):
        return None
    slope = median(slopes)
    now = median(off - slope * piece for piece, off in zip(x, y, strict=True)) + slope * x[-1]
    room = tolerance - now if slope > 0 else tolerance + now
    out_in = max(0, int(room / abs(slope)) + 1)
    return Drift(round(slope, 6), out_in if out_in <= AHEAD else None, slope > 0)

"""Where the stop stands: against a cut edge, a formed face, or a scribed line.

Distances run from the bend line to the stop's face. To a cut edge it is the flat
distance; to a formed flange the outside leg − OSSB + BA/2 of this bend; against one
bent past 90° its outermost tangent; below 90° the contact at the stop's height.
"""

import math
from dataclasses import dataclass

from ..sheet.section import START
from .moves import FLAT, Job, Levels

EDGE, FACE, LINE = "edge", "face", "line"


@dataclass(frozen=True)
class Gauge:
    """``stop`` is None for a scribed line."""

    kind: str
    of: str
    stop: float | None = None


def natural_gauge(job: Job, levels: Levels, i: int, held: str) -> Gauge:
    """The first thing a stop meets on the held side of bend ``i``."""
    strip, order = job.strip, job.strip.outward(i, held)
    step = 0 if held == START else 1
    made = next((n for n, j in enumerate(order) if levels[j] != FLAT), None)
    if made is None:
        return Gauge(EDGE, held, flat_to(job, i, held, len(order)))
    own = tuple(levels[j] for j in order[:made + 1])
    return Gauge(FACE, strip.flats[order[made] + step][0], contact_run(job, i, held, own))


def flat_to(job: Job, i: int, held: str, passed: int) -> float:
    """Flat from bend line ``i`` over ``passed`` unmade bends to the next tangent line or the edge."""
    strip, step = job.strip, 0 if held == START else 1
    run = strip.bends[i].figures.allowance / 2 + strip.flats[i + step][1]
    return run + sum(strip.bends[j].figures.allowance + strip.flats[j + step][1]
                     for j in strip.outward(i, held)[:passed])


def contact_run(job: Job, i: int, held: str, own: Levels) -> float:
    """From bend line ``i`` to the flange of the first made bend; ``own`` are the levels
    on the held side, nearest first, one of them made."""
    strip, step = job.strip, 0 if held == START else 1
    n = next(n for n, level in enumerate(own) if level)
    j = strip.outward(i, held)[n]
    up = strip.bends[j].sign == strip.bends[i].sign
    return flat_to(job, i, held, n) + _contact(job, j, own[n], up, strip.flats[j + step][1])


def _contact(job: Job, j: int, level: int, up: bool, flange: float) -> float:
    """From a made bend's near tangent line to where the stop touches its flange."""
    figures, angle, t = job.strip.bends[j].figures, job.angle(j, level), job.strip.thickness
    radius = max(figures.radius_at(angle), 0.0)
    if angle >= 90:
        return radius + t
    a = math.radians(angle)
    apex = (radius + t) * math.tan(a / 2)
    if up:
        reach = min(job.brake.stops.contact_height / math.sin(a), apex + flange)
        return apex + reach * math.cos(a)
    if (radius + t) * math.cos(a) > radius:
        return min(apex + t / math.tan(a), apex + (apex + flange) * math.cos(a))
    return math.sqrt((radius + t) ** 2 - radius ** 2)


def within_reach(job: Job, gauge: Gauge) -> bool:
    """Whether the stop can stand there."""
    stops = job.brake.stops
    return gauge.stop is not None and stops.min - 1e-9 <= gauge.stop <= stops.max + 1e-9

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
    strip = job.strip
    step = 0 if held == START else 1
    run = strip.bends[i].figures.allowance / 2 + strip.flats[i + step][1]
    for j in strip.outward(i, held):
        if levels[j] != FLAT:
            up = strip.bends[j].sign == strip.bends[i].sign
            contact = _contact(job, j, levels[j], up, strip.flats[j + step][1])
            return Gauge(FACE, strip.flats[j + step][0], run + contact)
        run += strip.bends[j].figures.allowance + strip.flats[j + step][1]
    return Gauge(EDGE, held, run)


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
    stops = job.brake.stops
    return gauge.stop is not None and stops.min - 1e-9 <= gauge.stop <= stops.max + 1e-9

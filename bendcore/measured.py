"""A radius that follows what is there: measured on an existing curve by a chord and its rise, or by points along it.

``300 rise 22`` is a chord and how far the curve rises from its middle: R = (c²/4 + h²)/2h. ``0,0 150,22 300,0`` are
points, as many as were measured or traced, to the left of a start and up: three give their circle, more the one that
lies nearest to all (least squares in the algebraic distance of I. Kåsa, 1976, then one step of Gauss and Newton in the
true one).
"""

import math
import re
from collections.abc import Callable

import numpy as np

from .errors import Refusal
from .said import Mm, Said

_RISE = re.compile(r"^\s*(?:chord\s+)?(.+?)\s+rise\s+(.+?)\s*$", re.IGNORECASE)
_POINT = re.compile(r"^([^,;]+),([^,;]+)$")
FLATTEST = 1000.0
"""A rise of less than this part of the chord is no curve that a rule can measure."""
LIES_OFF = 0.01
"""Points that lie further off their circle than this part of its radius are not of one circle."""


def is_measured(value: object) -> bool:
    """Whether a radius is told by what was measured."""
    return isinstance(value, str) and bool(_RISE.match(value) or "," in value and len(_points(value)) > 1)


def radius_of(value: str, length: Callable[[str], float], path: str = "") -> float:
    """The radius in mm; refuses what is no curve. ``length`` reads one length in mm."""
    rise = _RISE.match(value)
    if rise:
        chord, high = length(rise[1]), length(rise[2])
        if chord <= 0 or high <= 0:
            raise Refusal(path, "needs a chord and a rise of more than 0")
        if high > chord / 2:
            raise Refusal(path, Said("rises by {high}, more than half its chord of {chord}: measure a shorter one",
                                     high=Mm(high), chord=Mm(chord)))
        if high < chord / FLATTEST:
            raise Refusal(path, "is as good as straight: measure a longer chord")
        return (chord ** 2 / 4 + high ** 2) / 2 / high
    points = _points(value)
    if len(points) < 3:
        raise Refusal(path, "needs three points at least, such as 0,0 150,22 300,0")
    return _circle(np.array([[length(x), length(y)] for x, y in points]), path)


def named(value: str, name: Callable[[str], str]) -> str:
    """The same with every length as ``name`` writes it."""
    rise = _RISE.match(value)
    if rise:
        return f"{name(rise[1])} rise {name(rise[2])}"
    return "; ".join(f"{name(x)},{name(y)}" for x, y in _points(value))


def _points(value: str) -> list[tuple[str, str]]:
    parts = value.split(";") if ";" in value else value.split()
    found = [_POINT.match(part.strip()) for part in parts if part.strip()]
    return [(match[1].strip(), match[2].strip()) for match in found] if all(found) else []


def _circle(points: np.ndarray, path: str) -> float:
    spread = float(np.ptp(points, axis=0).max())
    moved = points - points.mean(axis=0)
    (a, b, c), _, rank, _ = np.linalg.lstsq(np.column_stack([2 * moved, np.ones(len(moved))]),
                                            (moved ** 2).sum(axis=1), rcond=1e-12)
    radius = math.sqrt(max(c + a * a + b * b, 0.0)) if rank == 3 else math.inf
    if not radius < spread * FLATTEST / 8:
        raise Refusal(path, "has points in one line: they lie on no circle")
    off = np.hypot(*(moved - (a, b)).T)
    ways = (moved - (a, b)) / off[:, None]
    step, *_ = np.linalg.lstsq(np.column_stack([-ways, -np.ones(len(moved))]), radius - off, rcond=None)
    radius = radius + float(step[2]) if len(points) > 3 else radius
    worst = float(np.abs(off - radius).max())
    if worst > max(LIES_OFF * radius, 0.5):
        raise Refusal(path, Said("has a point {worst} off the circle through the others: measure again, or lay the "
                                 "curve out in parts", worst=Mm(worst)))
    return radius

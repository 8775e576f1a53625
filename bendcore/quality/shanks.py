"""Measuring an inside radius with drill shanks tried downwards.

A shank too big for the bend bridges it and lets light through under the middle; one
that fits or is smaller sits down and shows none. So the radius lies between half
the largest shank without light and half the smallest with it. The shank to try next
comes down from just above the radius expected, then halves what is left.

Number and letter drills by the customary inch sizes; fractional by 1/64 in; metric
by 0.1 mm.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass

from ..errors import Refusal
from ..units import MM_PER, to_fraction

_NUMBER = (
    "228 221 213 209 2055 204 201 199 196 1935 191 189 185 182 180 177 173 1695 166 161 159 157 154 152 1495 147 144 "
    "1405 136 1285 120 116 113 111 110 1065 104 1015 0995 098 096 0935 089 086 082 081 0785 076 073 070 067 0635 0595 "
    "055 052 0465 043 042 041 040 039 038 037 036 035 033 032 031 0292 028 026 025 024 0225 021 020 018 016 0145 0135")
_LETTER = ("234 238 242 246 250 257 261 266 272 277 281 290 295 302 316 323 332 339 348 358 368 377 386 397 404 413")
FRACTIONAL, NUMBER, LETTER, METRIC = SETS = ("fractional", "number", "letter", "metric")


@dataclass(frozen=True, order=True)
class Shank:
    """``diameter`` in mm; ``name`` as stamped: ``5/32``, ``#21``, ``F`` or ``3.4 mm``."""

    diameter: float
    name: str

    @property
    def radius(self) -> float:
        """Half its diameter, mm."""
        return self.diameter / 2


def _inches(digits: str) -> float:
    return float(f"0.{digits}") * MM_PER["in"]


def drills(sets: Iterable[str] = SETS) -> list[Shank]:
    """Every shank of the named sets, smallest first; of equal sizes the first named."""
    known = {
        FRACTIONAL: lambda: [Shank(n * MM_PER["in"] / 64, str(to_fraction(n * MM_PER["in"] / 64, 64)))
                             for n in range(2, 65)],
        NUMBER: lambda: [Shank(_inches(d), f"#{n}") for n, d in enumerate(_NUMBER.split(), 1)],
        LETTER: lambda: [Shank(_inches(d), chr(65 + n)) for n, d in enumerate(_LETTER.split())],
        METRIC: lambda: [Shank(n / 10, f"{n / 10:g} mm") for n in range(5, 201)],
    }
    found: dict[float, Shank] = {}
    for name in sets:
        if name not in known:
            raise Refusal("sets", "must be of " + ", ".join(SETS))
        for shank in known[name]():
            found.setdefault(round(shank.diameter, 3), shank)
    return sorted(found.values())


@dataclass(frozen=True)
class Search:
    """Where a search stands. ``light`` holds (shank, whether light showed).

    ``fits`` is the largest without light, ``bridges`` the smallest with it, ``next``
    the shank to try, None when no owned shank lies between.
    """

    light: tuple[tuple[Shank, bool], ...]
    fits: Shank | None
    bridges: Shank | None
    next: Shank | None

    @property
    def bracket(self) -> tuple[float, float | None]:
        """The radius lies between these, mm; the upper end is None while unknown."""
        return (self.fits.radius if self.fits else 0.0, self.bridges.radius if self.bridges else None)

    @property
    def done(self) -> bool:
        """Whether two neighbours bridge the radius."""
        return self.next is None and self.bridges is not None

    @property
    def radius(self) -> float | None:
        """Middle of the bracket: either end alone would lean to one side."""
        low, high = self.bracket
        return None if high is None else (low + high) / 2

    @property
    def uncertainty(self) -> float | None:
        """Standard uncertainty of a value known only to lie in the bracket: width/√12."""
        low, high = self.bracket
        return None if high is None else (high - low) / math.sqrt(12)


def search(owned: list[Shank], light: Iterable[tuple[str, bool]], expected: float) -> Search:
    """The search after the tries ``light`` (shank name, light seen), in any order.

    ``expected`` is the radius the tool should give, mm: it only chooses where to begin.
    Refuses a shank that is not owned, and tries that contradict each other.
    """
    by_name = {shank.name: shank for shank in owned}
    if not owned:
        raise Refusal("sets", "choose at least one set of drills")
    tried = []
    for name, seen in light:
        if name not in by_name:
            raise Refusal("shank", f"“{name[:12]}” is not in the sets chosen")
        tried.append((by_name[name], seen))
    fits = max((s for s, seen in tried if not seen), default=None)
    bridges = min((s for s, seen in tried if seen), default=None)
    if fits and bridges and fits >= bridges:
        raise Refusal("shank", f"light under {bridges.name} but none under {fits.name}, which is bigger: "
                               "try both again")
    return Search(tuple(tried), fits, bridges, _next(owned, fits, bridges, expected))


def _next(owned, fits, bridges, expected):
    between = [s for s in owned if (not fits or s > fits) and (not bridges or s < bridges)]
    if not between:
        return None
    if fits and bridges:
        middle = (fits.diameter + bridges.diameter) / 2
    elif bridges:
        middle = min(2 * expected, 0.85 * bridges.diameter)
    else:
        middle = max(2.3 * expected, 1.15 * fits.diameter if fits else 0.0)
    return min(between, key=lambda s: abs(s.diameter - middle))

"""What a wrong piece came from: the likely causes, how sure that is, and the exact correction.

Each cause alone is fitted by least squares to all that was measured (both ends of a leg, an angle in three places, the
blank), weighed by how each reading spreads when nothing is wrong: instruments and what is drawn anew for every piece
(handbook, *Tolerances follow the order* and *Checking the finished part*). Causes are weighed against each other, and
against none at all, by Bayes' rule with a wide normal prior for their size (H. Jeffreys 1939; the prior is A.
Zellner's of 1986). Causes whose patterns the readings cannot tell apart are named together, with the reading that
would.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..quality.spreads import SPRINGBACK, STOP_OFFSET, K
from .corrections import Instruments
from .rows import from_far_end
from .ties import OWN_ANGLE, OWN_LINE, Ties

BLANK, SKEW, BOW = "blank", "skew", "bow"
WIDE = 7.0
"""A cause worth naming is taken to be so many spreads of its own estimate large, one standard deviation."""
NOTHING = 0.5
"""How likely it is that nothing is wrong, before anything was measured."""
APART = 3.0
"""Two causes are told apart when what each would leave in the readings differs by so many of their spreads."""
SURE = 0.6
"""Together so likely must causes be to be named."""

MIDDLE, END, OTHER = "middle", "end", "other end"
"""Where a reading was taken: an angle in the middle, or at either end, where legs are measured."""
Place = tuple[str, str]
"""A dimension by name, and where along the bend."""


@dataclass(frozen=True)
class Readings:
    """A finished piece as measured: by dimension and place how far off its nominal, mm or degrees; by the first leg of
    its row how much longer a ``blank`` was than drawn, mm. What was corrected before counts as right."""

    off: Mapping[Place, float]
    blank: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Cause:
    """Something that may be wrong, by ``kind`` and ``which``; ``size`` and its ``spread`` in the unit of the kind: mm,
    degrees, or K itself."""

    kind: str
    which: object
    size: float
    spread: float

    @property
    def key(self) -> tuple[str, object]:
        """What it is."""
        return self.kind, self.which


@dataclass(frozen=True)
class Verdict:
    """The ``causes`` named, likeliest first, empty where nothing stands out; ``certainty`` that one of them it is;
    ``explained`` the share of the errors' square that the first explains; the reading that would tell them apart
    (``separate``, None where they are one or nothing would)."""

    causes: tuple[Cause, ...]
    certainty: float
    explained: float = 0.0
    separate: Place | None = None


class Diagnosis:
    """Of one part in one order: the patterns that causes leave in readings."""

    def __init__(self, ties: Ties, instruments: Instruments = Instruments()):  # noqa: B008 - frozen
        self.ties, self.instruments = ties, instruments
        self.angles = {name: bend for bend in ties.bent if (name := ties.angle_of(bend))}
        self.names = [name for name, one in ties.dimensions.items() if name in self.angles or name in self._legs]
        self.places: list[Place] = [(name, place) for name in self.names for place in (
            (END, MIDDLE, OTHER) if name in self.angles else (END, OTHER))]
        self.places += [(row.legs[0], BLANK) for row in ties.rows if row.legs[0]]
        self.causes = self._causes()
        """By (kind, which): what one unit of it leaves in each place, (places,)."""

    @property
    def _legs(self) -> set[str]:
        return {leg for row in self.ties.rows for leg in row.legs if leg}

    def _causes(self) -> dict[tuple[str, object], np.ndarray]:
        found = {}
        for source in self.ties.lasting:
            if source[0] in (STOP_OFFSET, K, SPRINGBACK, OWN_ANGLE, OWN_LINE):
                found[source] = np.array([self._effect(place, source) for place in self.places])
        for row in self.ties.rows:
            far = from_far_end(row, self.ties.steps)
            moves = {leg: float(b) - float(a) for leg, a, b in zip(row.legs, far, far[1:], strict=False)}
            found[BLANK, row.legs[0]] = np.array([1.0 if at == BLANK and name == row.legs[0] else 0.0 if at == BLANK
                                                  else moves.get(name, 0.0) for name, at in self.places])
        found[SKEW, None] = np.array([self._skewed(*place) for place in self.places])
        found[BOW, None] = np.array([{MIDDLE: -0.5, END: 0.5, OTHER: 0.5}[at] if name in self.angles else 0.0
                                     for name, at in self.places])
        return {key: pattern for key, pattern in found.items() if np.abs(pattern).max() > 1e-6}

    def _effect(self, place, source) -> float:
        return 0.0 if place[1] == BLANK else self.ties.effect(place[0], source)

    def _skewed(self, name, at) -> float:
        """What a mm from end to end of the stops leaves in a leg, half of it at either end."""
        if at == BLANK or name in self.angles:
            return 0.0
        whole = sum(self.ties.effect(name, source) for source in self.ties.lasting if source[0] == STOP_OFFSET)
        return whole * {END: -0.5, OTHER: 0.5}[at]

    def _noise(self, places) -> np.ndarray:
        """(places, places): how readings spread together when nothing is wrong."""
        anew = np.array([[self._effect(place, source) for source in self.ties.passing] for place in places]).reshape(
            len(places), len(self.ties.passing))
        own = [self.instruments.angle if name in self.angles and at != BLANK else self.instruments.length
               for name, at in places]
        return (anew * np.square(list(self.ties.passing.values()))) @ anew.T + np.diag(np.square(own))

    def of(self, readings: Readings) -> Verdict:
        """The verdict on a piece."""
        taken = [place for place in self.places if place in readings.off
                 or (place[1] == BLANK and place[0] in readings.blank)]
        if not taken:
            return Verdict((), 0.0)
        at = [self.places.index(place) for place in taken]
        off = np.array([readings.blank[name] if where == BLANK else readings.off[name, where] for name, where in taken])
        root = np.linalg.inv(np.linalg.cholesky(self._noise(taken)))
        seen, white = {key: root @ pattern[at] for key, pattern in self.causes.items()}, root @ off
        fits = {key: _fitted(pattern, white) for key, pattern in seen.items() if pattern @ pattern > 1e-9}
        if not fits:
            return Verdict((), 0.0)
        likely = self._likely(fits)
        best = max(likely, key=likely.get)
        alike = [key for key in sorted(likely, key=likely.get, reverse=True) if key == best or (
            fits[key][1] and np.linalg.norm(seen[key] * fits[key][0] - seen[best] * fits[best][0]) < APART)]
        certainty = sum(likely[key] for key in alike)
        if certainty < SURE:
            return Verdict((), float(certainty))
        causes = tuple(Cause(*key, float(fits[key][0]), float(fits[key][1])) for key in alike)
        left = white - seen[best] * fits[best][0]
        return Verdict(causes, float(certainty), float(1 - left @ left / (white @ white)),
                       self._separate(causes, taken) if len(causes) > 1 else None)

    def spreads(self) -> dict[tuple[str, object], float]:
        """By cause the spread of its estimate when everything was measured and it alone is wrong."""
        root = np.linalg.inv(np.linalg.cholesky(self._noise(self.places)))
        return {key: float(1 / np.linalg.norm(root @ pattern)) for key, pattern in self.causes.items()}

    def _likely(self, fits) -> dict:
        """By cause how likely it is the one, after the readings."""
        shrunk = 1 / (1 + WIDE ** 2)
        prior = (1 - NOTHING) / len(fits)
        logs = {key: math.log(prior) + 0.5 * math.log(shrunk) + 0.5 * (1 - shrunk) * (size / spread) ** 2
                for key, (size, spread) in fits.items()}
        top = max(*logs.values(), math.log(NOTHING))
        whole = sum(math.exp(log - top) for log in logs.values()) + math.exp(math.log(NOTHING) - top)
        return {key: math.exp(log - top) / whole for key, log in logs.items()}

    def _separate(self, causes: Sequence[Cause], taken) -> Place | None:
        """Of the readings not taken the one in which two causes differ most; None where none would tell them apart."""
        one, other = (self.causes[cause.key] * cause.size for cause in causes[:2])
        open_ = [n for n, place in enumerate(self.places) if place not in taken]
        spread = {n: self._noise([self.places[n]])[0, 0] ** 0.5 for n in open_}
        best = max(open_, key=lambda n: abs(one[n] - other[n]) / spread[n], default=None)
        return self.places[best] if best is not None and abs(one[best] - other[best]) > spread[best] else None


def _fitted(pattern, white) -> tuple[float, float]:
    """(size, its spread) of one cause alone, by least squares in readings of spread 1."""
    weight = pattern @ pattern
    return float(pattern @ white / weight), float(weight ** -0.5)

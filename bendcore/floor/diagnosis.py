"""What a wrong piece came from: the likely causes, how sure that is, and the exact correction.

Held against each other are: nothing is wrong; one cause (a stop, K, the blank …); one reading that contradicts the
others; one cause, and such a reading or a blank cut wrong besides. Each is what it would leave in all that was measured
(both ends of a leg, an angle in three places, the blank), its size unknown with a normal prior as wide as such things
are in a shop. How likely each is follows by Bayes' rule in closed form (linear normal models; H. Jeffreys 1939),
readings weighed by how they spread when nothing is wrong: instruments and what is drawn anew for every piece (handbook,
*Tolerances follow the order*, *Checking the finished part*, *Slips of reading*). What the readings cannot tell apart is
named together, with the reading that would.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..quality.spreads import SPRINGBACK, STOP_OFFSET, K
from .corrections import Instruments
from .rows import from_far_end
from .ties import OWN_ANGLE, OWN_LINE, Bent, Settings, Ties

BLANK, SKEW, BOW, MISREAD = "blank", "skew", "bow", "misread"
USUAL = {STOP_OFFSET: 0.5, K: 0.03, SPRINGBACK: 1.5, BLANK: 1.0, SKEW: 0.4, BOW: 0.6, OWN_ANGLE: 1.5, OWN_LINE: 0.5}
"""How large causes are where there are any, one standard deviation, in the unit of each (*start*)."""
WIDE = 7.0
"""A cause is taken to be no smaller than would show: so many spreads of its own estimate at least."""
SLIP = 6.0
"""How far off a misread reading is, one standard deviation, mm or degrees (*start*)."""
NOTHING, ONE, SLIPPED, BOTH = 0.35, 0.5, 0.08, 0.07
"""How likely before anything was measured: nothing wrong, one cause, one reading misread, both (*start*)."""
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
    its row how much longer a ``blank`` was than drawn, mm. What was corrected before counts as right. ``sure`` are
    dimensions that were measured again and found so."""

    off: Mapping[Place, float]
    blank: Mapping[str, float] = field(default_factory=dict)
    sure: frozenset[str] = frozenset()


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
    (``separate``, None where they are one or nothing would). ``besides`` is a reading that contradicts the others
    whatever else it is."""

    causes: tuple[Cause, ...]
    certainty: float
    explained: float = 0.0
    separate: Place | None = None
    besides: Cause | None = None

    @property
    def doubtful(self) -> tuple[Place, ...]:
        """Readings to be taken again before anything is set by them."""
        named = (*self.causes, self.besides) if self.besides else self.causes
        return tuple(cause.which for cause in named if cause.kind == MISREAD)


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
        taken, off = self._taken(readings)
        if not taken:
            return Verdict((), 0.0)
        at = [self.places.index(place) for place in taken]
        root = np.linalg.inv(np.linalg.cholesky(self._noise(taken)))
        white = root @ off
        seen = {key: root @ pattern[at] for key, pattern in self.causes.items()}
        seen = {key: pattern for key, pattern in seen.items() if pattern @ pattern > 1e-9}
        seen |= {(MISREAD, place): root[:, n] for n, place in enumerate(taken) if place[0] not in readings.sure}
        found = _weighed(seen, white)
        best = max(found, key=lambda one: one.likely)
        if not best.keys:
            return Verdict((), best.likely)
        alike = [one for one in sorted(found, key=lambda one: -one.likely) if one.keys and (
            one is best or len(one.keys) == len(best.keys) and one.keys[1:] == best.keys[1:] and one.likely > NEGLIGIBLE
            and np.linalg.norm(one.leaves(seen) - best.leaves(seen)) < APART)]
        named = {one.keys[0] for one in alike}
        certainty = sum(one.likely for one in found if named & set(one.keys))
        if certainty < SURE:
            return Verdict((), float(certainty))
        certainty = 1 - (1 - min(certainty, 1.0)) * WRONG
        causes = tuple(Cause(*one.keys[0], one.sizes[0], one.spreads[0]) for one in alike)
        besides = Cause(*best.keys[1], best.sizes[1], best.spreads[1]) if len(best.keys) > 1 else None
        left = white - best.leaves(seen)
        return Verdict(causes, float(certainty), float(1 - left @ left / (white @ white)),
                       self._separate(causes, taken) if len(causes) > 1 else None, besides)

    def _taken(self, readings: Readings) -> tuple[list[Place], np.ndarray]:
        """Where was measured, and how far off."""
        taken = [place for place in self.places if place in readings.off
                 or (place[1] == BLANK and place[0] in readings.blank)]
        return taken, np.array([readings.blank[name] if where == BLANK else readings.off[name, where]
                                for name, where in taken])

    def left(self, readings: Readings, verdict: Verdict) -> dict[str, float]:
        """By dimension how far it is off, the mean of its readings, when all is taken out that is of this piece alone:
        its blank as measured, or as the verdict has it, stops that are not square, a bow, readings that are doubtful.
        What lasts can be learnt from that."""
        off = {place: value for place, value in readings.off.items() if place in self.places
               and place not in verdict.doubtful}
        sizes = {(BLANK, leg): by for leg, by in readings.blank.items() if (leg, BLANK) not in verdict.doubtful}
        if all(cause.kind in (BLANK, SKEW, BOW, MISREAD) for cause in verdict.causes):  # else it may be what lasts
            sizes = {cause.key: cause.size for cause in verdict.causes[:1] if cause.kind != MISREAD} | sizes
        else:  # where it may be the blank, which nobody measured, its legs teach nothing
            guessed = [cause.key for cause in verdict.causes if cause.kind == BLANK and cause.key not in sizes]
            off = {place: value for place, value in off.items() if not any(
                self.causes[key][self.places.index(place)] for key in guessed)}
        if verdict.besides and verdict.besides.kind == BLANK:
            sizes = {verdict.besides.key: verdict.besides.size} | sizes
        for key, size in sizes.items():
            pattern = self.causes.get(key)
            if pattern is not None:
                off = {place: value - float(pattern[self.places.index(place)]) * size for place, value in off.items()}
        names = dict.fromkeys(name for name, _ in off)
        return {name: float(np.mean([value for place, value in off.items() if place[0] == name])) for name in names}

    def learnt(self, settings: Settings, readings: Readings) -> Bent:
        """A finished piece as something to learn from: what one diagnosis explains is taken out before anything else
        is asked of it."""
        return Bent(settings, self.left(readings, self.of(readings)), readings.sure)

    def spreads(self) -> dict[tuple[str, object], float]:
        """By cause the spread of its estimate when everything was measured and it alone is wrong."""
        root = np.linalg.inv(np.linalg.cholesky(self._noise(self.places)))
        return {key: float(1 / np.linalg.norm(root @ pattern)) for key, pattern in self.causes.items()}

    def _separate(self, causes: Sequence[Cause], taken) -> Place | None:
        """Of the readings not taken the one in which two causes differ most; None where none would tell them apart."""
        one, other = (self._pattern(cause) * cause.size for cause in causes[:2])
        open_ = [n for n, place in enumerate(self.places) if place not in taken]
        spread = {n: self._noise([self.places[n]])[0, 0] ** 0.5 for n in open_}
        best = max(open_, key=lambda n: abs(one[n] - other[n]) / spread[n], default=None)
        return self.places[best] if best is not None and abs(one[best] - other[best]) > spread[best] else None

    def _pattern(self, cause: Cause) -> np.ndarray:
        if cause.kind == MISREAD:
            return np.array([float(place == cause.which) for place in self.places])
        return self.causes[cause.key]


WRONG = 0.55
"""Of verdicts that might be wrong by the model so many are, over thousands of simulated pieces (``make bench``): causes
worth naming are seldom so small as a normal prior allows."""
NEGLIGIBLE = 1e-4
"""What is less likely is not named beside others."""


@dataclass(frozen=True, eq=False)
class _Guess:
    """That these causes are at work and no others, by their ``keys``, with the ``sizes`` and ``spreads`` they would
    have."""

    keys: tuple[tuple[str, object], ...]
    likely: float
    sizes: tuple[float, ...] = ()
    spreads: tuple[float, ...] = ()

    def leaves(self, seen: Mapping[tuple[str, object], np.ndarray]) -> np.ndarray:
        """What it leaves in the readings."""
        return sum(seen[key] * size for key, size in zip(self.keys, self.sizes, strict=True))


def agreeing(pieces: Sequence[Readings], instruments: Instruments = Instruments()) -> list[Readings]:  # noqa: B008
    """The same, dimensions ``sure`` that two pieces read alike: two that agree stand against one slip."""
    angles = 4 * instruments.angle
    found = []
    for n, one in enumerate(pieces):
        same = {name for (name, place), off in one.off.items() for m, other in enumerate(pieces) if m != n
                and abs(other.off.get((name, place), math.inf) - off) <= angles}
        found.append(replace(one, sure=one.sure | same))
    return found


def _weighed(seen: Mapping[tuple[str, object], np.ndarray], white: np.ndarray) -> list[_Guess]:
    """Every guess with how likely it is; readings of spread 1."""
    keys = list(seen)
    patterns = np.array([seen[key] for key in keys])
    lengths, along = (patterns ** 2).sum(axis=1), patterns @ white
    wide = np.array([SLIP if key[0] == MISREAD else max(USUAL[key[0]], WIDE * weight ** -0.5)
                     for key, weight in zip(keys, lengths, strict=True)])
    slips = np.array([key[0] == MISREAD for key in keys], dtype=bool)
    a, b = lengths * wide ** 2, along * wide
    prior = np.where(slips, SLIPPED / max(slips.sum(), 1), ONE / max((~slips).sum(), 1))
    singles = np.log(prior) - 0.5 * np.log1p(a) + 0.5 * b ** 2 / (1 + a)
    beside = slips | np.array([key[0] == BLANK for key in keys], dtype=bool)
    one, two = (axis.ravel() for axis in np.meshgrid(np.flatnonzero(~slips), np.flatnonzero(beside), indexing="ij"))
    one, two = one[one != two], two[one != two]
    cross = (patterns @ patterns.T)[one, two] * wide[one] * wide[two]
    det = (1 + a[one]) * (1 + a[two]) - cross ** 2
    gain = (b[one] ** 2 * (1 + a[two]) - 2 * b[one] * b[two] * cross + b[two] ** 2 * (1 + a[one])) / det
    pairs = math.log(BOTH / max(len(one), 1)) - 0.5 * np.log(det) + 0.5 * gain
    logs = np.concatenate([[math.log(NOTHING)], singles, pairs])
    likely = np.exp(logs - logs.max())
    likely /= likely.sum()
    found = [_Guess((), float(likely[0]))]
    for n, key in enumerate(keys):
        size, spread = float(along[n] / lengths[n]), float(lengths[n] ** -0.5)
        found.append(_Guess((key,), float(likely[1 + n]), (size,), (spread,)))
    for n in np.flatnonzero(likely[1 + len(keys):] > NEGLIGIBLE):
        i, j = one[n], two[n]
        both = np.linalg.inv(np.array([[lengths[i], patterns[i] @ patterns[j]],
                                       [patterns[i] @ patterns[j], lengths[j]]]) + np.diag([1e-9, 1e-9]))
        sizes = both @ (along[i], along[j])
        found.append(_Guess((keys[i], keys[j]), float(likely[1 + len(keys) + n]), tuple(map(float, sizes)),
                            tuple(map(float, np.sqrt(np.diag(both))))))
    return found

"""What the readings say is off, and what to set next.

What lasts from piece to piece is estimated from all readings together, each with the settings it was taken under: the
mean of a normal distribution given linear readings (Gauss 1823; as R. E. Kalman has it, 1960). So a reading moves a
setting as far as it is to be trusted: a stop's offset seen on three legs by all of it, a scribed line's error hardly.
Next is set what brings every angle and every gauged leg to its nominal (handbook, *Springback and depth*, *Gauge
stop*).
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..quality.spreads import K
from .ties import Bent, Settings, Source, Ties

BELIEVED = 3.5
"""A reading so many standard deviations from what is expected is taken again before anything is set by it …"""
LEAST_MM, LEAST_DEGREES = 1.0, 3.0
"""… unless it is nearer than this."""
SMALLEST_DEGREES, SMALLEST_MM = 0.05, 0.02
"""Less than this is not asked of anybody."""


@dataclass(frozen=True)
class Instruments:
    """How far what is read spreads: ``angle`` of a protractor, degrees, ``length`` of a caliper, mm (*start*)."""

    angle: float = 0.1
    length: float = 0.03

    def of(self, unit: str) -> float:
        """By the unit of what is read."""
        return self.length if unit == "mm" else self.angle


@dataclass(frozen=True)
class Estimate:
    """What lasts, by source: ``mean`` (n,) and ``spread`` (n, n), its covariance. Units are those of the sources."""

    sources: tuple[Source, ...] = ()
    mean: np.ndarray = field(default_factory=lambda: np.zeros(0))
    spread: np.ndarray = field(default_factory=lambda: np.zeros((0, 0)))

    def of(self, source: Source) -> tuple[float, float]:
        """(mean, standard deviation) of one; nothing is known of what it does not hold."""
        if source not in self.sources:
            return 0.0, float("inf")
        at = self.sources.index(source)
        return float(self.mean[at]), float(self.spread[at, at] ** 0.5)

    def told(self, source: Source, value: float, sigma: float) -> "Estimate":
        """The same when a source is known otherwise, from a ledger or a caliper."""
        at = self.sources.index(source)
        gain = self.spread[:, at] / (self.spread[at, at] + sigma ** 2)
        return replace(self, mean=self.mean + gain * (value - self.mean[at]),
                       spread=self.spread - np.outer(gain, self.spread[at]))

    def moved(self, source: Source, amount: float) -> "Estimate":
        """The same after what is reckoned with took over so much of a source."""
        mean = self.mean.copy()
        mean[self.sources.index(source)] -= amount
        return replace(self, mean=mean)

    def only(self, looser: Mapping[Source, float]) -> "Estimate":
        """What is known of these sources alone, each ``looser`` by so much, one standard deviation: what a run leaves
        for the next."""
        kept = [source for source in self.sources if source in looser]
        at = [self.sources.index(source) for source in kept]
        more = np.diag([looser[source] ** 2 for source in kept]) if kept else np.zeros((0, 0))
        return Estimate(tuple(kept), self.mean[at], self.spread[np.ix_(at, at)] + more)

    def over(self, sources: Mapping[Source, float]) -> "Estimate":
        """The same over more sources, of which nothing is known yet but their standard deviations."""
        new = [source for source in sources if source not in self.sources]
        old, count = len(self.sources), len(self.sources) + len(new)
        spread = np.zeros((count, count))
        spread[:old, :old] = self.spread
        spread[range(old, count), range(old, count)] = [sources[source] ** 2 for source in new]
        return Estimate((*self.sources, *new), np.concatenate([self.mean, np.zeros(len(new))]), spread)

    def after(self, ties: Ties, piece: Bent, instruments: Instruments = Instruments()) -> "Estimate":
        """What is known after a piece was measured, as far as its dimensions hang on anything."""
        known = self.over(ties.lasting)
        doubted = known.doubted(ties, piece, instruments)
        names = [name for name in piece.measured if name in ties.dimensions and name not in doubted]
        if not names:
            return known
        effect, anew = ties.effects(names, known.sources), ties.effects(names, ties.passing)
        noise = (anew * np.square(list(ties.passing.values()))) @ anew.T + np.diag(
            [instruments.of(ties.dimensions[name].unit) ** 2 for name in names])
        off = np.array([piece.measured[name] - ties.set_by(name, piece.settings) for name in names])
        gain = known.spread @ effect.T @ np.linalg.inv(effect @ known.spread @ effect.T + noise)
        return Estimate(known.sources, known.mean + gain @ (off - effect @ known.mean),
                        known.spread - gain @ effect @ known.spread)

    def doubted(self, ties: Ties, piece: Bent, instruments: Instruments = Instruments()) -> frozenset[str]:
        """Readings of a piece too far from what is expected to set anything by before they are taken again."""
        return frozenset(name for name, off in piece.measured.items()
                         if name in ties.dimensions and name not in piece.sure and abs(
                             off - self.expected(ties, name, piece.settings)) > self.believed(ties, name, instruments))

    def believed(self, ties: Ties, name: str, instruments: Instruments = Instruments()) -> float:
        """How far from what is expected a reading is believed at once, mm or degrees."""
        known = self.over(ties.lasting)
        effect, anew = ties.effects([name], known.sources)[0], ties.effects([name], ties.passing)[0]
        unit = ties.dimensions[name].unit
        spread = effect @ known.spread @ effect + (anew ** 2) @ np.square(list(ties.passing.values()))
        return max(BELIEVED * float(spread + instruments.of(unit) ** 2) ** 0.5,
                   LEAST_MM if unit == "mm" else LEAST_DEGREES)

    def expected(self, ties: Ties, name: str, settings: Settings) -> float:
        """How far a dimension of the next piece is expected off its nominal, under these settings."""
        known = self.over(ties.lasting)
        return ties.set_by(name, settings) + float(ties.effects([name], known.sources)[0] @ known.mean)


def estimate(ties: Ties, pieces: Sequence[Bent], instruments: Instruments = Instruments(),
             before: Estimate = Estimate()) -> Estimate:
    """What lasts, after these pieces of one part; ``before`` them from elsewhere."""
    found = before.over(ties.lasting)
    for piece in pieces:
        found = found.after(ties, piece, instruments)
    return found


def next_settings(ties: Ties, known: Estimate) -> Settings:
    """What brings every angle, and then every gauged leg, to its nominal."""
    further = {}
    for bend in ties.bent:
        name = ties.angle_of(bend)
        if name:
            further[bend] = -known.expected(ties, name, Settings()) / ties.further(name, bend)
    settings = Settings(further)
    return Settings(further, _held(ties, lambda leg: known.expected(ties, leg, settings)))


def _held(ties, off: Callable[[str], float]) -> dict[int, float]:
    """By step how far stop or line must go back for every gauged leg to be at its nominal, that is ``off`` by so
    much."""
    if not ties.gauged:
        return {}
    moves = np.array([[ties.back(leg, n) for n in ties.gauged] for leg in ties.gauged.values()])
    back = np.linalg.lstsq(moves, -np.array([off(leg) for leg in ties.gauged.values()]), rcond=None)[0]
    return dict(zip(ties.gauged, back.tolist(), strict=True))


def as_set(settings: Settings) -> Settings:
    """Without what is too little to be asked of anybody."""
    return Settings({bend: by for bend, by in settings.further.items() if abs(by) >= SMALLEST_DEGREES},
                    {n: by for n, by in settings.back.items() if abs(by) >= SMALLEST_MM})


def k_for_blank(ties: Ties, known: Estimate) -> float:
    """By how much K should differ for the next blank, so that the legs that close come out at their nominal; thickness
    and all else that makes them long or short is taken up by it."""
    if not ties.closes_on:
        return 0.0
    settings = next_settings(ties, known)
    off = np.array([known.expected(ties, leg, settings) for leg in ties.closes_on])
    per_k = np.array([_closing(ties, leg, (K, None)) for leg in ties.closes_on])
    return float(off @ per_k / (per_k @ per_k)) if per_k.any() else 0.0


def _closing(ties, leg, source) -> float:
    """How much a leg that closes grows for one unit of a source, when all gauged legs are held to their nominal."""
    back = _held(ties, lambda own: ties.effect(own, source))
    return ties.effect(leg, source) + sum(ties.back(leg, n) * mm for n, mm in back.items())


def in_words(degrees: float) -> str:
    """``"bend 2.5° further"``, never a bare signed number.

    >>> in_words(2.5), in_words(-1)
    ('bend 2.5° further', 'bend 1° less')
    """
    if not degrees:
        return "as set"
    return f"bend {abs(degrees):.2g}° {'further' if degrees > 0 else 'less'}"


def stop_in_words(shift: float, show: Callable[[float], str]) -> str:
    """``"stop 0.4 mm further back"``; ``show(mm)`` writes a length with its unit."""
    if not shift:
        return "as set"
    return f"stop {show(abs(shift))} {'further back' if shift > 0 else 'nearer the bend'}"

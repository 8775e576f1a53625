"""A robust fit of one figure (K, or springback) to readings of which some are wrong.

Each reading x of stated uncertainty u is either *right*, and then normal about the
shop's figure with variance u² + τ², or *wrong*, and then normal about it with a
spread :data:`WILD` times as wide. τ is the scatter that the readings' own
uncertainties do not explain: bends really differ. Nobody knows τ nor how many
readings are wrong, so both are averaged over: τ with a half-normal prior whose
``scale`` is the order of magnitude usual for the figure, the wrong share ε over
:data:`WRONG_SHARES`. The figure itself has a flat prior, or a wide one where the trade
knows its order (:data:`K_BOOK`: it matters only when most readings are wrong alike).
The posterior is worked out on a grid that is narrowed to where the chances are; it
starts with a point at every reading, so that none is overlooked however far apart.

The model is the two-component contaminated normal of J. W. Tukey (1960), "A survey
of sampling from contaminated distributions"; averaging over the scatter follows
A. Gelman (2006), "Prior distributions for variance parameters in hierarchical
models". The mean is that of a weighted least squares in which a reading weighs as
much as it is likely to be right.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import Refusal

WILD = 8.0
WRONG_SHARES = (0.02, 0.05, 0.1, 0.2)
POINTS, SCATTERS = 161, 10
PASSES, TAIL, ENOUGH = 12, 1e-7, 0.3
"""The grid is narrowed until the figure's chances, less their tails, fill enough of it."""
MANY, STEPS = 120, 8
"""Beyond so many readings those are taken together that differ by no more than this part of the usual scatter."""
PROPOSE_AT = 0.5
"""A reading more likely wrong than right is proposed as an outlier."""
K_SCATTER, SPRINGBACK_SCATTER = 0.015, 0.3
"""Usual order of real scatter from bend to bend: of K, and of degrees at 90°."""
K_BOOK = (0.42, 0.1)
"""Where the neutral fibre lies in any sheet, about, and how far shops differ."""


@dataclass(frozen=True)
class Fit:
    """``value`` with standard uncertainty ``u`` and 95 % range ``low`` to ``high``, widened where that leaves it out.

    ``wrong`` is each reading's chance of being wrong, ``weights`` its share in the
    value (they sum to 1), ``scatter`` the spread not explained by the readings.
    """

    value: float
    u: float
    low: float
    high: float
    scatter: float
    wrong: tuple[float, ...]
    weights: tuple[float, ...]

    @property
    def n(self) -> int:
        """How many samples it rests on."""
        return len(self.wrong)

    @property
    def outliers(self) -> tuple[int, ...]:
        """Places of the readings proposed as outliers. Only a person drops one."""
        return tuple(i for i, chance in enumerate(self.wrong) if chance > PROPOSE_AT)


def fit(readings: Sequence[float], uncertainties: Sequence[float], scale: float = K_SCATTER,
        book: tuple[float, float] | None = None) -> Fit:
    """Fit one figure to ``readings`` with standard ``uncertainties`` (same unit as ``scale``).

    ``book`` is a (mean, spread) known beforehand, or None.
    """
    x, u = np.asarray(readings, float), np.asarray(uncertainties, float)
    if not len(x) or len(x) != len(u):
        raise Refusal("readings", "at least one reading is needed, each with its uncertainty")
    if not (np.isfinite(x).all() and np.isfinite(u).all() and (u >= 0).all()):
        raise Refusal("readings", "must be finite, with uncertainties that are not negative")
    u = np.maximum(u, scale / 100)
    reach = 3 * np.hypot(u, 2 * scale)
    low, high = float((x - reach).min()), float((x + reach).max())
    own, of, count = _alike(x, u, scale)
    near = own[0][:: max(1, len(own[0]) // MANY)]
    near = [*near, book[0]] if book else near
    for _ in range(PASSES):
        at = np.unique([*np.linspace(low, high, POINTS), *near])
        chance, right, spread = _posterior(*own, count, scale, book, at)
        first, last = np.searchsorted(np.cumsum(chance), (TAIL, 1 - TAIL))
        if last - first > ENOUGH * len(at):
            break
        low, high, near = at[max(first - 1, 0)], at[min(last + 1, len(at) - 1)], ()
    right, below = right[of], np.cumsum(chance) - chance / 2
    value = float(chance @ at)
    weights = right / (u ** 2 + spread ** 2)
    low, high = (float(np.interp(part, below, at)) for part in (0.025, 0.975))
    low, high = min(low, value), max(high, value)  # few chances far off may draw the mean out of the middle 95 %
    return Fit(value, float(np.sqrt(chance @ (at - value) ** 2)), low, high, spread,
               tuple((1 - right).tolist()), tuple((weights / weights.sum()).tolist()))


def _alike(x, u, scale):
    """((readings, uncertainties), for every reading given its place among them, how often each stands): of many those
    that are the same, as near as it can matter, once."""
    if len(x) <= MANY:
        return (x, u), np.arange(len(x)), np.ones(len(x))
    keys = np.stack([np.round(x / (scale / STEPS)), np.round(np.log(u) * 5)], axis=1)
    _, of, count = np.unique(keys, axis=0, return_inverse=True, return_counts=True)
    of = of.reshape(-1)
    means = [np.bincount(of, weights=values) / count for values in (x, u)]
    return tuple(means), of, count.astype(float)


def _posterior(x, u, count, scale, book, at):
    """Of the figure at each of ``at``: chances, each reading's chance of being right, mean τ; a reading counts as often
    as it stands."""
    tau = np.linspace(0, 3 * scale, SCATTERS)
    variance = u ** 2 + tau[:, None] ** 2                                   # (τ, reading)
    distance = (x - at[:, None]) ** 2                                       # (figure, reading)
    squares = distance[:, None, :] / variance / 2                           # (figure, τ, reading)
    right = np.exp(-squares) / np.sqrt(variance)
    wrong = np.exp(-squares / WILD ** 2) / np.sqrt(variance) / WILD
    prior = -(tau / scale) ** 2 / 2
    share = np.array(WRONG_SHARES)[:, None, None, None]
    mixed = (1 - share) * right + share * wrong                             # (ε, figure, τ, reading)
    logs = (np.log(np.maximum(mixed, 1e-300)) * count).sum(-1) + prior + np.log(np.gradient(at))[:, None]
    if book:
        logs -= ((at - book[0]) / book[1])[:, None] ** 2 / 2
    chance = np.exp(logs - logs.max())
    chance /= chance.sum()
    good = ((1 - share) * right / np.maximum(mixed, 1e-300) * chance[..., None]).sum((0, 1, 2))
    return chance.sum((0, 2)), good, float((chance.sum((0, 1)) * tau).sum())

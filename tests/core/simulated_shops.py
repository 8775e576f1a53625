"""Shops with a secret K and springback, and the proof bends they would measure.

The noise model of the tests and the bench; the fit knows none of it. Strips are bent
by geometry and then misread; one proof in ten is off by 5 to 15 times its own u_K.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from bendcore.bending.bend import BendFigures, allowance_from_k
from bendcore.quality.fit import K_BOOK, SPRINGBACK_SCATTER, fit
from bendcore.quality.proof import ProofBend, Uncertainty, springback, u_springback

SCATTER, WRONG, LEAST_OFF, MOST_OFF = 0.01, 0.1, 5, 15
SPREAD = Uncertainty(strip=0.03, leg_a=0.03, leg_b=0.03, angle=0.1, inside_radius=0.05, thickness=0.01)


def strip_of(k: float, angle: float, radius: float, thickness: float) -> ProofBend:
    """A strip of 100 mm bent to ``angle`` with this K, measured without error."""
    bent = BendFigures(angle, radius, thickness, allowance_from_k(angle, radius, thickness, k))
    return ProofBend(100.0, 45.0, 55.0 + bent.deduction, angle, radius, thickness, u=SPREAD)


def misread(rng, proof: ProofBend) -> ProofBend:
    """The same strip as someone reads it, each reading with its own spread."""
    return replace(proof, **{name: getattr(proof, name) + rng.normal(0, spread)
                             for name, spread in vars(SPREAD).items()})


@dataclass(frozen=True)
class Shop:
    k: float
    springback: float
    readings: tuple[ProofBend, ...]
    held: tuple[float, ...]
    off: tuple[bool, ...]

    @property
    def ideal(self) -> float | None:
        """The weighted mean of one who knows which proofs are off and how K scatters."""
        weights = [0 if off else 1 / (p.u_k ** 2 + SCATTER ** 2)
                   for p, off in zip(self.readings, self.off, strict=True)]
        if not any(weights):
            return None
        return sum(w * p.k for w, p in zip(weights, self.readings, strict=True)) / sum(weights)


def simulated_shop(rng, proofs: int = 8) -> Shop:
    thickness = float(rng.choice([0.7, 1.0, 1.2, 1.5, 2.0, 3.0, 4.0]))
    radius, k, opens = thickness * rng.uniform(0.8, 2.5), rng.uniform(0.3, 0.5), rng.uniform(0.5, 4)
    readings, held, wrong = [], [], []
    for _ in range(proofs):
        angle = 90 + rng.normal(0, 0.7)
        proof = misread(rng, strip_of(k + rng.normal(0, SCATTER), angle, radius, thickness))
        off = bool(rng.random() < WRONG)
        if off:  # a leg misread by as much as moves K so far
            shift = rng.choice([-1, 1]) * rng.uniform(LEAST_OFF, MOST_OFF) * proof.u_k
            proof = replace(proof, leg_a=proof.leg_a + shift / proof.slopes["leg_a"])
        readings.append(proof)
        held.append(angle * (1 + (opens + rng.normal(0, 0.2)) / 90) + rng.normal(0, SPREAD.angle))
        wrong.append(off)
    return Shop(k, opens, tuple(readings), tuple(held), tuple(wrong))


def fitted(shop: Shop):
    return fit([p.k for p in shop.readings], [p.u_k for p in shop.readings], book=K_BOOK)


@dataclass(frozen=True)
class Verdict:
    """``ratio`` of root mean square errors to the ideal's, and shares from 0 to 1."""

    ratio: float
    covered: float
    found: float
    blamed: float
    springback_covered: float


def verdict(shops: int, seed: int = 7) -> Verdict:
    """How the fit does over this many shops."""
    rng = np.random.default_rng(seed)
    ours, ideal, covered, springs = [], [], [], []
    tally = {True: [0, 0], False: [0, 0]}
    for shop in (simulated_shop(rng) for _ in range(shops)):
        result = fitted(shop)
        for i, off in enumerate(shop.off):
            tally[off][0] += i in result.outliers
            tally[off][1] += 1
        if shop.ideal is not None:
            ours.append(result.value - shop.k)
            ideal.append(shop.ideal - shop.k)
        covered.append(result.low <= shop.k <= result.high)
        opened = fit([springback(h, p.angle) for h, p in zip(shop.held, shop.readings, strict=True)],
                     [u_springback(h, p.angle, 0.1) for h, p in zip(shop.held, shop.readings, strict=True)],
                     SPRINGBACK_SCATTER)
        springs.append(opened.low <= shop.springback <= opened.high)
    rms = [math.sqrt(np.mean(np.square(errors))) for errors in (ours, ideal)]
    return Verdict(rms[0] / rms[1], float(np.mean(covered)), *(n / of for n, of in (tally[True], tally[False])),
                   float(np.mean(springs)))


def simulated_u_k(proof: ProofBend, tries: int, seed: int = 11) -> float:
    """The spread of K over many readings of one strip."""
    rng = np.random.default_rng(seed)
    return float(np.std([misread(rng, proof).k for _ in range(tries)]))



"""What a shop's proof bends say together: K and springback of one stock under one tool.

A sample is one measured strip, or a finished part with a measured blank. Samples a
person dropped are left out; those the fit finds more likely wrong than right are
only *proposed*, with the reason in words.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import Refusal
from ..schools.school import CLOSED_HEM_K, aircraft, din6935, generic, handbook
from .fit import K_BOOK, SPRINGBACK_SCATTER, Fit, fit
from .proof import ProofBend, springback, u_springback

ENOUGH = 5
"""Samples a fit needs before it is preferred to a book's school (*start*)."""
HEM_BOOK = (CLOSED_HEM_K, 0.2)
RATIOS = (0.2, 0.4, 0.6, 0.8, 0.999, *(n / 10 for n in range(10, 31, 2)), 3.001, *(n / 10 for n in range(32, 62, 2)))
"""r/t at which the books' curves are drawn."""


@dataclass(frozen=True)
class Sample:
    """One strip; ``held`` is the angle under load in degrees, None when not read."""

    proof: ProofBend
    held: float | None = None

    @property
    def springback(self) -> float | None:
        """Of 90°, degrees; None where the held angle was not read."""
        return None if self.held is None else springback(self.held, self.proof.angle)

    @property
    def u_springback(self) -> float | None:
        """Standard uncertainty of the springback, degrees."""
        return None if self.held is None else u_springback(self.held, self.proof.angle, self.proof.u.angle)


@dataclass(frozen=True)
class Learnt:
    """The fits, and for every sample given the chance that it is wrong, in order."""

    k: Fit
    springback: Fit | None
    reasons: tuple[str, ...]
    """Why a sample is proposed as an outlier; empty for the others."""

    @property
    def good(self) -> int:
        """How many samples are no outliers."""
        return sum(1 for reason in self.reasons if not reason)


def learn(samples: Sequence[Sample], hem: bool = False) -> Learnt:
    """Fit the samples of one stock and tool; refuses none at all."""
    proofs = [s.proof for s in samples]
    k = fit([p.k for p in proofs], [p.u_k for p in proofs], book=HEM_BOOK if hem else K_BOOK)
    opened = [s for s in samples if s.held is not None]
    back = fit([s.springback for s in opened], [s.u_springback for s in opened], SPRINGBACK_SCATTER) if opened else None
    odd = {opened[i]: back for i in back.outliers} if back else {}
    reasons = []
    for i, sample in enumerate(samples):
        why = []
        if i in k.outliers:
            off = (sample.proof.k - k.value) / max(sample.proof.u_k, 1e-9)
            why.append(f"K {sample.proof.k:.3f} lies {abs(off):.1f} of its own uncertainties "
                       f"{'above' if off > 0 else 'below'} the others ({k.value:.3f}); "
                       f"{100 * k.wrong[i]:.0f} % likely misread")
        if sample in odd:
            why.append(f"springback {sample.springback:.1f}° is far from the others' {odd[sample].value:.1f}°")
        reasons.append("; ".join(why))
    return Learnt(k, back, tuple(reasons))


def book_curves(thickness: float = 1.0, group: str = "medium") -> dict[str, list[tuple[float, float]]]:
    """K against r/t by the books, for a 90° bend: school → [(r/t, K), …] where it holds."""
    curves = {}
    for school in (generic(), din6935(), aircraft(), handbook(group)):
        points = []
        for ratio in RATIOS:
            try:
                points.append((ratio, school.figures(90, ratio * thickness, thickness).k))
            except Refusal:
                continue
        curves[school.title] = points
    return curves

"""Rolled surfaces laid flat: the cone and the tube, their ends cut by planes.

Angles round the axis are counted from the generator at 0°, to the left seen from above; the axis is z, the large end
of a cone or the start of a tube at the bottom. A tilt turns an end plane about the diameter from 90° to 270° and,
positive, makes the generator at 0° longer at that end. All is told on the neutral surface, whose lengths rolling leaves
alone.

Of a cone of half angle α, an end plane that crosses the axis h from the apex cuts the generator at φ so far from it:

    s = h / (cos α ∓ sin α·cos φ·tan tilt)       − at the large end, + at the small one

and laid flat φ turns by φ·sin α about the apex. A tube of radius R is cut at z = z₀ ± R·cos φ·tan tilt, and laid flat
as wide as R·φ. Plain geometry of the developable surfaces.
"""

import math
from dataclasses import dataclass

import numpy as np

FINE = 0.005
"""How far a chord of a blank's outline may lie off its curve, mm."""
MOST = 1440


@dataclass(frozen=True)
class Cone:
    """``large`` and ``small`` are the neutral diameters where the axis meets the end planes, ``height`` between these,
    mm; tilts in degrees, towards the generator ``at`` so many."""

    large: float
    small: float
    height: float
    large_tilt: float = 0.0
    small_tilt: float = 0.0
    large_at: float = 0.0
    small_at: float = 0.0

    @property
    def half_angle(self) -> float:
        """α, radians."""
        return math.atan((self.large - self.small) / 2 / self.height)

    @property
    def radii(self) -> tuple[float, float]:
        """(outer, inner) from the apex along the untilted cone, mm."""
        return self.large / 2 / math.sin(self.half_angle), self.small / 2 / math.sin(self.half_angle)

    @property
    def sector(self) -> float:
        """What the whole round turns by in the flat, radians."""
        return 2 * math.pi * math.sin(self.half_angle)

    def span(self, phi: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """(from, to) along generators, mm from the apex: the small end first."""
        c, s = math.cos(self.half_angle), math.sin(self.half_angle)
        outer, inner = (radius * c for radius in self.radii)
        return (inner / (c + s * _lean(phi, self.small_tilt, self.small_at)),
                outer / (c - s * _lean(phi, self.large_tilt, self.large_at)))

    def flat(self, phi: np.ndarray, s: np.ndarray) -> np.ndarray:
        """(…, 2): the apex at the origin, the generator at φ = 0 straight down, seen from outside."""
        turned = phi * math.sin(self.half_angle)
        return np.stack([s * np.sin(turned), -s * np.cos(turned)], axis=-1)

    def space(self, phi: np.ndarray, s: np.ndarray, off: float = 0.0) -> np.ndarray:
        """(…, 3): ``off`` outwards, square to the wall; z = 0 where the axis meets the large end."""
        c, sn = math.cos(self.half_angle), math.sin(self.half_angle)
        radius = s * sn + off * c
        top = self.radii[0] * c
        return np.stack([radius * np.cos(phi), radius * np.sin(phi), top - s * c + off * sn], axis=-1)


@dataclass(frozen=True)
class Tube:
    """``diameter`` is neutral, ``length`` along the axis, mm; tilts in degrees, towards the generator ``at`` so
    many."""

    diameter: float
    length: float
    start_tilt: float = 0.0
    end_tilt: float = 0.0
    start_at: float = 0.0
    end_at: float = 0.0

    @property
    def girth(self) -> float:
        """Once round, mm."""
        return math.pi * self.diameter

    def span(self, phi: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """(from, to) along generators, mm up from where the axis meets the start."""
        radius = self.diameter / 2
        return (-radius * _lean(phi, self.start_tilt, self.start_at),
                self.length + radius * _lean(phi, self.end_tilt, self.end_at))

    def flat(self, phi: np.ndarray, s: np.ndarray) -> np.ndarray:
        """(…, 2): the generator at φ = 0 straight up, seen from outside."""
        return np.stack([phi * self.diameter / 2, s + 0 * phi], axis=-1)

    def space(self, phi: np.ndarray, s: np.ndarray, off: float = 0.0) -> np.ndarray:
        """(…, 3): ``off`` outwards."""
        radius = self.diameter / 2 + off
        return np.stack([radius * np.cos(phi), radius * np.sin(phi), s + 0 * phi], axis=-1)


Surface = Cone | Tube


def _lean(phi: np.ndarray, tilt: float, at: float) -> np.ndarray:
    """How much longer generators are for each mm of radius."""
    return np.cos(phi - math.radians(at)) * math.tan(math.radians(tilt))


def rounds(surface: Surface, start: float) -> np.ndarray:
    """Angles once round from ``start`` on, radians, so close that chords of the blank lie near their curves."""
    phi = np.linspace(start, start + 2 * math.pi, 181)
    while len(phi) < MOST:
        between = (phi[:-1] + phi[1:]) / 2
        off = 0.0
        for end in (0, 1):
            at = surface.flat(phi, surface.span(phi)[end])
            off = max(off, np.abs(surface.flat(between, surface.span(between)[end]) - (at[:-1] + at[1:]) / 2).max())
        if off <= FINE:
            break
        phi = np.linspace(start, start + 2 * math.pi, 2 * len(phi) - 1)
    return phi


def least(surface: Surface) -> float:
    """The shortest generator, mm; nothing or less where the ends meet."""
    low, high = surface.span(np.linspace(0, 2 * math.pi, 721))
    return float((high - low).min())


def edge_length(surface: Surface, end: int) -> float:
    """Once round an end (0 the first of :meth:`span`) on the neutral surface, by the flat's curve, mm."""
    phi = np.linspace(0, 2 * math.pi, 20001)
    return float(np.linalg.norm(np.diff(surface.flat(phi, surface.span(phi)[end]), axis=0), axis=1).sum())

"""Distance and angle between two faces of the folded part, as a square and a caliper would find them."""

import math
from dataclasses import dataclass

import numpy as np

from ..errors import Refusal
from .fold import Folded

PARALLEL = 1e-6
"""Planes are parallel when the sine between them is below this."""


@dataclass(frozen=True)
class Between:
    """``angle`` is the one enclosed by the two planes, 0 to 90, degrees. Of parallel faces
    ``outside`` and ``inside`` are the greatest and least distance between their
    surfaces, mm (``inside`` is 0 for faces lying on each other); None otherwise."""

    angle: float
    outside: float | None = None
    inside: float | None = None


def between(folded: Folded, one: str, other: str) -> Between:
    """What lies between two faces, each with its thickness; refuses unknown names."""
    faces = {face.id: face for face in folded.faces}
    for path, name in (("one", one), ("other", other)):
        if name not in faces:
            raise Refusal(path, "must be one of " + ", ".join(faces))
    a, b = faces[one], faces[other]
    sine = float(np.linalg.norm(np.cross(a.normal, b.normal)))
    angle = math.degrees(math.asin(min(1.0, sine)))
    if sine > PARALLEL:
        return Between(angle)
    t = folded.thickness
    near = [0.0, -t]
    apart = float((b.corners[0] - a.corners[0]) @ a.normal)
    way = 1.0 if a.normal @ b.normal > 0 else -1.0
    far = [apart, apart - way * t]
    gaps = [abs(p - q) for p in near for q in far]
    crossing = min(far) <= max(near) and min(near) <= max(far)
    return Between(0.0, max(gaps), 0.0 if crossing else min(gaps))

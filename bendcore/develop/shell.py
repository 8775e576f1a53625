"""A rolled surface as a closed solid with its thickness, for pictures and other programs."""

import math

import numpy as np

from ..sheet.solid import BENEATH, TOP, Mesh
from .rolled import Surface

SLIT = 0.02
"""The seam stands so far open, mm: a solid that touches itself is none."""
NAME = "blank"


def shell(surface: Surface, thickness: float, k: float, seam: float, facet: float) -> Mesh:
    """The wall once round from the ``seam`` (radians), ``facet`` degrees to a facet; the neutral surface lies
    ``k`` thicknesses from the inside."""
    slit = SLIT / max(float(surface.space(np.zeros(1), surface.span(np.zeros(1))[0])[0, 0]), SLIT)
    phi = np.linspace(seam + slit, seam + 2 * math.pi - slit, max(13, math.ceil(360 / facet) + 1))
    low, high = surface.span(phi)
    a, b, c, d = (surface.space(phi, s, off * thickness) for off in (1 - k, -k) for s in (low, high))
    way = 1 if float(np.dot(np.cross(a[1] - a[0], b[0] - a[0]), [math.cos(phi[0]), math.sin(phi[0]), 0])) > 0 else -1
    sides = [_strip(a, b), _strip(d, c), _strip(c, a), _strip(b, d)]
    ends = [np.array([[a[0], b[0], d[0]], [a[0], d[0], c[0]]]),
            np.array([[b[-1], a[-1], c[-1]], [b[-1], c[-1], d[-1]]])]
    triangles = np.concatenate([*sides, *ends])
    side = np.repeat([TOP, BENEATH, 0], [len(sides[0]), len(sides[1]), len(triangles) - 2 * len(sides[0])])
    lines = [np.stack([line[:-1], line[1:]], axis=1) for line in (a, b, c, d)]
    lines.append(np.array([[a[0], b[0]], [a[-1], b[-1]], [c[0], d[0]], [c[-1], d[-1]]]))
    return Mesh(triangles[:, ::way], np.concatenate(lines), ((NAME, len(triangles)),), frozenset(),
                side.astype(np.int8))


def _strip(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Triangles between two lines of as many points."""
    return np.concatenate([np.stack([one[:-1], one[1:], other[1:]], axis=1),
                           np.stack([one[:-1], other[1:], other[:-1]], axis=1)])

"""A transition's pattern proved with a block: a wooden form rolled over paper, edge by edge, its corners pricked.

The form is two boards of the sizes of the ends, held at their distance, one over the other as the part asks; where
panels are split it is covered along the same diagonals. What is to be found on the paper are distances between corners:
along every edge and across every four-sided panel, the same on the form and on the paper, since rolling leaves them
alone (handbook, *Rolled and hammered work*).
"""

import math
from collections.abc import Sequence

import numpy as np

from ..facetted import Panel
from ..woodform import Found, WoodForm
from .sizes import Sizes

SAME = 1e-6
"""Corners nearer than this are one, mm."""


def wood_form(sizes: Sizes, chain: Sequence[Panel]) -> WoodForm:
    """The form of a transition of these ``sizes``, or of the piece of one in two that the panels of ``chain`` are."""
    names, found, told = _names(sizes, chain), [], set()
    laid = _rolled(chain)
    for panel, _ in laid:
        corners = [(names[_key(p)], p) for p in panel.facet.corners]
        pairs = [(i, (i + 1) % len(corners), False) for i in range(len(corners))]
        pairs += [(0, 2, True), (1, 3, True)] if len(corners) == 4 else []
        for i, j, across in pairs:
            pair = tuple(sorted((corners[i][0], corners[j][0])))
            if pair not in told:
                told.add(pair)
                found.append(Found(*pair, float(np.linalg.norm(corners[i][1] - corners[j][1])), across))
    paper: dict[str, tuple[float, float]] = {}
    for panel, points in laid:
        for corner, at in zip(panel.facet.corners, points, strict=True):
            name, place = names[_key(corner)], (float(at[0]), float(at[1]))
            again = name in paper and math.dist(paper[name], place) > 1e-3
            paper[f"{name} again" if again else name] = place
    return WoodForm(tuple((end.capitalize(), *sizes.ends[end]) for end in ("bottom", "top")), sizes.height,
                    tuple(sizes.offset), sizes.turn, tuple(found),
                    tuple((name, *at) for name, at in paper.items()))


def _key(corner: np.ndarray) -> tuple[float, ...]:
    return tuple(np.round(corner, 5) + 0.0)


def _names(sizes: Sizes, chain: Sequence[Panel]) -> dict[tuple[float, ...], str]:
    """Every corner by the end it belongs to and its number round that, from the left front one on."""
    found = {}
    corners = {_key(p): p for panel in chain for p in panel.facet.corners}
    middle = (min(p[2] for p in corners.values()) + max(p[2] for p in corners.values())) / 2
    for mark, above in (("B", False), ("T", True)):
        own = [(key, p) for key, p in corners.items() if (p[2] > middle) == above]
        centre = np.array(sizes.offset) * above
        turned = math.radians(sizes.turn * above)
        for key, p in own:
            around = math.atan2(p[1] - centre[1], p[0] - centre[0]) - turned
            quarter = int(((around + math.pi) % (2 * math.pi)) // (math.pi / 2))
            found[key] = f"{mark}{quarter + 1}"
    return found


def _rolled(chain: Sequence[Panel]) -> list:
    """(panel, its corners on the paper) in the order they are rolled."""
    laid = []
    for panel in chain:
        own = np.asarray(panel.facet.flat(panel.facet.corners))
        shared = [(i, at) for before, points in laid for i, p in enumerate(panel.facet.corners)
                  for q, at in zip(before.facet.corners, points, strict=True) if np.linalg.norm(p - q) < SAME]
        if not shared:
            laid.append((panel, own - own.min(axis=0)))
            continue
        (i, a), (j, b) = shared[0], next(one for one in shared if one[0] != shared[0][0])
        have, want = own[j] - own[i], b - a
        angle = math.atan2(want[1], want[0]) - math.atan2(have[1], have[0])
        c, s = math.cos(angle), math.sin(angle)
        laid.append((panel, (own - own[i]) @ np.array([[c, s], [-s, c]]) + a))
    return laid

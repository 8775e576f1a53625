"""Where a fold-up paper model is glued: free edges that come together when the part is folded.

Two edges of different faces are a joint when, folded, they run along each other closely
enough for paper: within a few thicknesses and the corner's gap. One of them gets a tab,
the one whose tab lies clear of the rest of the blank.
"""

import math
from dataclasses import dataclass
from itertools import product

import numpy as np
from shapely import Polygon

from ..families.rolled import BUTT
from ..families.shape import ROLLS
from ..part import Part
from ..sheet import fold

NARROWER = (1.0, 0.6, 0.35, 0.2)
"""A tab that lies on the rest of the blank is tried narrower."""
ALONG, SHARE = math.cos(math.radians(8)), 0.6
"""Edges are parallel within 8°, and lie beside each other over so much of the shorter."""


@dataclass(frozen=True)
class Tab:
    """``outline`` on the blank, mm; ``letter`` names the joint on both of its edges, ``mate`` is the
    middle of the other edge on the blank; ``faces`` are the tab's own and the one it is glued to."""

    letter: str
    outline: tuple[tuple[float, float], ...]
    mate: tuple[float, float]
    faces: tuple[str, str]


@dataclass(frozen=True)
class _Edge:
    face: str
    flat: tuple[tuple[float, float], tuple[float, float]]
    space: np.ndarray

    @property
    def middle(self):
        return tuple((a + b) / 2 for a, b in zip(*self.flat, strict=True))


def glue_tabs(part: Part, depth: float) -> list[Tab]:
    """A tab up to ``depth`` mm deep on the blank for every joint; of a rolled piece one along its seam, unless a lap
    is there already."""
    if part.shape.making:
        return _seam_tab(part, depth) if part.shape.making == ROLLS and part.shape.seam.kind == BUTT else []
    edges = _free_edges(part)
    reach = _reach(part)
    joined = {frozenset((joint.parent, joint.child)) for joint in part.sheet.bends}
    space = np.array([edge.space for edge in edges]).reshape(-1, 2, 3)
    pairs = sorted((float(gaps[j]), i, j) for i, a in enumerate(edges) for gaps in [_apart(space[i], space[:i])]
                   for j in np.flatnonzero(gaps <= reach).tolist()
                   if a.face != edges[j].face and frozenset((a.face, edges[j].face)) not in joined)
    blank, used, found = part.flat.blank, set(), []
    for _, i, j in pairs:
        if used & {i, j}:
            continue
        for share, own, other in product(NARROWER, (i, j), (i, j)):
            if own == other:
                continue
            outline = _tab(edges[own], depth * share)
            lies = Polygon(outline)
            if lies.buffer(-0.05).intersects(blank) or any(lies.intersects(Polygon(t.outline)) for t in found):
                continue
            found.append(Tab(_letter(len(found)), outline, edges[other].middle, (edges[own].face, edges[other].face)))
            used |= {i, j}
            break
    return found


def _letter(n: int) -> str:
    return ("" if n < 26 else _letter(n // 26 - 1)) + chr(ord("a") + n % 26)


def _reach(part) -> float:
    """How far apart edges of a corner may be: its gap, and what thickness and radius keep between them."""
    radius = max((b.figures.inside_radius for b in part.sheet.bends), default=0.0)
    return 2.5 * (part.stock.thickness + radius) + 3.0


def _seam_tab(part: Part, depth: float) -> list[Tab]:
    """Outwards of the seam's second edge, eased in at both ends."""
    dx, dy = part.flat.shift
    (a, b), (c, d) = (tuple(np.array(end) + (dx, dy) for end in edge) for edge in part.shape.seam_edges())
    along = (b - a) / np.linalg.norm(b - a)
    out = np.array([along[1], -along[0]])
    if float(out @ (a - np.mean(part.flat.outline, axis=0))) < 0:
        out = -out
    ease = along * min(depth, float(np.linalg.norm(b - a)) / 4)
    ring = tuple(tuple(point.tolist()) for point in (a, a + out * depth + ease, b + out * depth - ease, b))
    name = part.sheet.root
    return [Tab("A", ring, tuple(((c + d) / 2).tolist()), (name, name))]


def _free_edges(part) -> list[_Edge]:
    folded = {f.id: f.corners for f in fold(part.sheet, flat=part.flat).faces}
    bent = {}
    for joint in part.sheet.bends:
        bent.setdefault(joint.parent, []).append(joint.parent_edge)
        bent.setdefault(joint.child, []).append(joint.child_edge)
    found = []
    for face in part.sheet.faces:
        ring, n = face.outline, len(face.outline)
        for i in range(n):
            a, b = ring[i], ring[(i + 1) % n]
            if math.dist(a, b) < 4.0 or any(_on(a, b, edge) for edge in bent.get(face.id, ())):
                continue
            flat = part.flat.faces[face.id]
            found.append(_Edge(face.id, (flat[i], flat[(i + 1) % n]), folded[face.id][[i, (i + 1) % n]]))
    return found


def _on(a, b, edge) -> bool:
    """Whether an edge lies along a bend."""
    (x0, y0), (x1, y1) = edge
    long = math.dist(*edge)
    off = [abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) / long for x, y in (a, b)]
    along = sorted(((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / long for x, y in (a, b))
    return max(off) < 0.05 and along[1] > 0.05 and along[0] < long - 0.05


def _apart(edge: np.ndarray, others: np.ndarray) -> np.ndarray:
    """How far edges (n, 2, 3) run from one (2, 3); infinite where they do not run along each other."""
    if not len(others):
        return np.empty(0)
    long, far = np.linalg.norm(edge[1] - edge[0]), np.linalg.norm(others[:, 1] - others[:, 0], axis=1)
    u = (edge[1] - edge[0]) / long
    parallel = np.abs((others[:, 1] - others[:, 0]) @ u) >= ALONG * far
    from_start = others - edge[0]
    spots = np.sort(from_start @ u, axis=1)
    beside = np.minimum(long, spots[:, 1]) - np.maximum(0.0, spots[:, 0])
    off = np.linalg.norm(from_start - (from_start @ u)[..., None] * u, axis=2).max(axis=1)
    return np.where(parallel & (beside >= SHARE * np.minimum(long, far)), off, np.inf)


def _tab(edge: _Edge, depth: float):
    """A tab on an edge's outer side, its ends cut at 45°."""
    (x0, y0), (x1, y1) = edge.flat
    long = math.dist(*edge.flat)
    ux, uy = (x1 - x0) / long, (y1 - y0) / long
    slant = min(depth, long / 3)
    return ((x0, y0), (x0 + ux * slant + uy * depth, y0 + uy * slant - ux * depth),
            (x1 - ux * slant + uy * depth, y1 - uy * slant - ux * depth), (x1, y1))

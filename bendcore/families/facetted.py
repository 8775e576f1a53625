"""Panels round an axis, each a flat facet, and the bends from each to the next: transitions, square to round."""

import math
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from types import MappingProxyType
from typing import Any

import numpy as np

from ..develop.facets import FLATTEST, Facet, Outline, drawn_in, meeting, setback, snip
from ..errors import Refusal
from ..said import Deg, Said
from ..sheet.model import Bend, Edge
from ..units import in_mm
from .common import Given, read_bend
from .joint import WELD, Joint
from .legs import ShapeBend

BOTTOM, TOP, SIDE, DIAGONAL = "bottom", "top", "side", "diagonal"


@dataclass(frozen=True)
class Panel:
    """A facet and what each of its mould edges is: ``bottom``, ``top``, ``side`` with the number of its corner, or a
    ``diagonal`` of its panel."""

    facet: Facet
    number: int
    edges: tuple[tuple[str, int], ...]

    def ends(self, n: int) -> tuple[np.ndarray, np.ndarray]:
        """Of mould edge ``n`` in space."""
        return self.facet.corners[n], self.facet.corners[(n + 1) % len(self.facet.corners)]

    def edge(self, kind: str, number: int) -> int | None:
        """Which of its edges that is."""
        return self.edges.index((kind, number)) if (kind, number) in self.edges else None


@dataclass(frozen=True)
class PanelBend:
    """A bend between two panels: mould edge ``at`` of the ``parent``, ``to`` of the ``child``."""

    bend: ShapeBend
    parent: Panel
    at: int
    child: Panel
    to: int

    @property
    def long(self) -> float:
        """Of the mould edge, mm."""
        a, b = self.parent.ends(self.at)
        return float(np.linalg.norm(b - a))

    def made(self, outlines: dict[str, Outline], bent: Collection[tuple[str, int]]) -> Bend:
        """The bend of the sheet, between the flats that it leaves. Where these end at unlike places along it the zone
        tapers to an edge that is cut; where another bend (of ``bent``, by facet and edge) comes to the same corner it
        ends with the shorter of them, which leaves a relief."""
        edges = [outlines[self.parent.facet.id].edge(self.at), outlines[self.child.facet.id].edge(self.to)[::-1]]
        far, near = self.parent.ends(self.at)
        way = (far - near) / np.linalg.norm(far - near)
        along = [[float((place - near) @ way) for place in panel.facet.space(points)]
                 for points, panel in zip(edges, (self.parent, self.child), strict=True)]
        for end, least in ((0, max), (1, min)):
            if self._meets(end, bent):
                stop = least(row[end] for row in along)
                for k, edge in enumerate(edges):
                    edges[k] = _ended(edge, end, stop - along[k][end])
                    along[k][end] = stop
        taper = (along[1][0] - along[0][0], along[1][1] - along[0][1])
        return Bend(self.bend.id, self.parent.facet.id, self.child.facet.id, *edges, self.bend.direction,
                    self.bend.figures, taper)

    def _meets(self, end: int, bent) -> bool:
        """Whether another bend comes to this end of it."""
        sides = ((self.parent, self.at, 1 - end), (self.child, self.to, end))
        return any((panel.facet.id, (n + (1 if after else -1)) % len(panel.edges)) in bent for panel, n, after in sides)


def _ended(edge: Edge, end: int, by: float) -> Edge:
    """An edge with one of its ends moved along it."""
    one, other = np.array(edge[0]), np.array(edge[1])
    way = (other - one) / np.linalg.norm(other - one)
    moved = edge[end] + by * way
    return (tuple(moved.tolist()), edge[1]) if end == 0 else (edge[0], tuple(moved.tolist()))


def panel_bends_of(chain: Sequence[Panel], given: Given, name: Callable[[str, int], str], path: str) -> list[PanelBend]:
    """The bends from each facet to the next, called as ``name(kind, number)`` of the edge they share; refuses at the
    ``path`` two that lie in one plane."""
    found = []
    for one, other in zip(chain, chain[1:], strict=False):
        kind, number = next(edge for edge in one.edges if edge in other.edges)
        at, to = one.edge(kind, number), other.edge(kind, number)
        angle, direction = meeting(one.facet, other.facet, one.ends(at))
        called = name(kind, number)
        if angle < FLATTEST:
            raise Refusal(path, Said("lays two panels into one plane at {name}, {angle} apart: change it a little",
                                     name=called, angle=Deg(angle)))
        found.append(PanelBend(read_bend(called, {}, direction, "inside_radius", given, angle), one, at, other, to))
    return found


def bent_edges(panel_bends: Sequence[PanelBend]) -> set[tuple[str, int]]:
    """By facet and edge where a bend between two panels is."""
    return {(panel.facet.id, n) for bend in panel_bends for panel, n in ((bend.parent, bend.at), (bend.child, bend.to))}


def outline_of(panel: Panel, back: Mapping[tuple[str, int], float], free: Callable[[str, int], float], path: str,
               snips: Mapping[int, float] = MappingProxyType({})) -> Outline:
    """What stays flat of a panel: each edge drawn in ``back``, by facet and edge, or by how much ``free(kind, number)``
    says; ``snips`` how deep corners are cut away. Refused at the ``path`` where nothing is left."""
    found = drawn_in(panel.facet, [back[panel.facet.id, n] if (panel.facet.id, n) in back else free(kind, number)
                                   for n, (kind, number) in enumerate(panel.edges)])
    if found is None:
        raise Refusal(path, f"leaves nothing flat of panel {panel.facet.id} between its bends: make it, or the ends, "
                            "larger, or bend it sharper")
    return Outline.of(found, [snip(panel.facet, found, n, snips[n]) if n in snips else None
                              for n in range(len(found))])


def setbacks(panel_bends: Sequence[PanelBend], is_outside: bool) -> dict[tuple[str, int], float]:
    """By facet and edge how far its flat ends from the mould edge, mm."""
    found = {}
    for bend in panel_bends:
        off = setback(bend.bend.figures, bend.bend.direction, is_outside)
        found |= {(bend.parent.facet.id, bend.at): off, (bend.child.facet.id, bend.to): off}
    return found


def seams(chain: Sequence[Panel]) -> Iterator[Joint]:
    """The edges of the first and the last panel at which no bend is: welded."""
    bent = {edge for one, other in pairwise(chain) for edge in {*one.edges} & {*other.edges}}
    free = {number: math.dist(*panel.ends(at)) for panel in (chain[0], chain[-1])
            for at, (kind, number) in enumerate(panel.edges) if kind == SIDE and (kind, number) not in bent}
    for number, length in sorted(free.items()):
        yield Joint(f"seam:{abs(number)}", f"seam {abs(number)}", length, WELD, closes=True)


def mirror_offset(end: dict, length: Callable[[Any], float]) -> None:
    """An end of a file's ``shape`` that stands off the middle, to the other side of it."""
    if "offset" in end:
        end["offset"][0] = in_mm(-length(end["offset"][0]))

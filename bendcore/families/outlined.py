"""A part told by the outline of its root face, which runs over the outside of what is bent at its edges."""

import math
from collections.abc import Mapping
from typing import TYPE_CHECKING, ClassVar

import numpy as np

from ..sheet.model import Edge, Point
from .outlines import extent
from .propagation import Propagation, edge_error
from .shape import Shape


class Outlined(Shape):
    """Edge n runs from corner n to the next as they were given. A family gives ``outline`` (counter-clockwise, mm),
    whether it was ``turned`` to be so, what is bent at its edges (``bent_at``) and how they are called."""

    if TYPE_CHECKING:
        @property
        def outline(self) -> tuple[Point, ...]:
            """Corners counter-clockwise, mm."""
            ...

        @property
        def turned(self) -> bool:
            """Whether they were given clockwise, so that edges are counted the other way."""
            ...

        def bent_at(self) -> Mapping[int, str]:
            """By edge, as it lies in the outline, the bend that its size moves with."""
            ...

    edge_title: ClassVar[str] = "Edge {n}"
    """An edge of the finished part on the check sheet."""

    def numbered(self) -> list[tuple[int, Edge]]:
        """(number as given, (corner, corner)) of every edge."""
        n = len(self.outline)
        edges = list(zip(self.outline, (*self.outline[1:], self.outline[0]), strict=True))
        return [((n - 2 - i) % n + 1 if self.turned else i + 1, edge) for i, edge in enumerate(edges)]

    def counted_edges(self) -> list[tuple[int, Edge]]:
        """Clockwise where the corners were given so."""
        return [(n, edge[::-1] if self.turned else edge) for n, edge in self.numbered()]

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of the finished outline's edges."""
        return [(f"edge-{n}", self.edge_title.format(n=n), math.dist(*edge)) for n, edge in sorted(self.numbered())]

    def edges(self) -> dict[str, Edge]:
        """Of the finished outline."""
        return {f"edge-{n}": edge for n, edge in self.numbered()}

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """An edge is as much longer as what is bent beside it stands further out."""
        numbers = {f"edge-{n}": i for i, (n, _) in enumerate(self.numbered())}
        bends = {edge: self.sheet().bend[bend] for edge, bend in self.bent_at().items()}
        return edge_error(self.outline, numbers[name], bends, errors) if name in numbers else None

    def mate_sizes(self) -> dict[str, float]:
        """Its legs, the outline over all, and its holes."""
        return super().mate_sizes() | extent(self.outline)

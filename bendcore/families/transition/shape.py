"""A transition: from one rectangle to another, offset and turned, with flanges that lie in its end planes.

Every facet is flat and they are joined at bends of their true angle, so that it is a sheet like any other. Faces are
the panels ``P1`` (front) to ``P4``, split ones ``P1a`` and ``P1b``; bends the corners ``C1`` to ``C4``, the diagonals
``D1`` to ``D4``, and those of the flanges, called as these: ``P1-bottom`` …

The tree is cut at a seam. In one piece that is the shortest corner. In two, each is two panels, and cut are the two
opposite corners that leave the lesser openings.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from ...bending.bend import APEX
from ...develop.facets import Outline
from ...notices import NOTE, Notice
from ...said import Mm, Said
from ...sheet.model import Face, Sheet
from ..facetted import Panel, PanelBend, bent_edges, seams
from ..joint import Joint
from ..legs import Leg, Run, ShapeBend
from ..mates import written
from ..shape import Mate, Shape
from ..woodform import WoodForm
from .fields import FIELDS
from .flanges import Flange, shared_end
from .panels import corners
from .sizes import ENDS, Sizes
from .woodform import wood_form

SEEN = 0.05
"""What stands open, or is short, by more than this is told, mm."""


@dataclass(frozen=True)
class OpenCorner:
    """Two flanges of an ``end`` at a corner: how ``wide`` their free corners stand apart, mm."""

    end: str
    corner: int
    wide: float


@dataclass(frozen=True)
class Transition(Shape):
    """One piece of a transition, read: the panels of its ``chain`` and the bends between, the ``outlines`` left flat of
    each, its flanges."""

    sizes: Sizes
    pieces: int
    piece: int
    chain: tuple[Panel, ...]
    panel_bends: tuple[PanelBend, ...]
    outlines: dict[str, Outline]
    trims: dict[str, float]
    """By open end what is left on to trim, mm: less than was asked where the blank has no room."""
    flanges: tuple[Flange, ...] = ()
    seam: int = 0
    """The corner it was told to be cut at; 0 where that was left to Dorvan."""

    kind = "transition"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()

    @property
    def thickness(self) -> float:
        """Of its sheet, mm."""
        return self.sizes.thickness

    @property
    def dims(self) -> str:
        """How its ends are measured."""
        return self.sizes.dims

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Corners and diagonals in their order, then those of the flanges."""
        return (*(bend.bend for bend in self.panel_bends), *(flange.rim.bend for flange in self.flanges))

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The flanges."""
        return tuple(flange.leg for flange in self.flanges)

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max(bend.long for bend in (*self.panel_bends, *self.flanges))

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured at the finished ends and between them."""
        found = [(f"{end}-{key}", f"{end.capitalize()}, {key} {self.dims}", size) for end in ENDS
                 for key, size in zip(("length", "width"), self.sizes.ends[end], strict=True)]
        return [*(found if self.pieces == 1 else []), ("height", "Height between the ends' planes", self.sizes.height)]

    def rings(self) -> tuple[np.ndarray, np.ndarray]:
        """The rectangles of both ends, as they are given."""
        own = self.sizes
        return corners(*own.ends["bottom"]), corners(*own.ends["top"], own.offset, own.turn, own.height)

    @property
    def open_corners(self) -> list[OpenCorner]:
        """How the free corners of its flanges stand, at the corners that stay joined."""
        found = []
        for end in ENDS:
            own = [flange for flange in self.flanges if flange.rim.end == end]
            for one, other in zip(own, own[1:], strict=False):
                first = shared_end(end)
                apart = np.linalg.norm(one.free_corners[first] - other.free_corners[1 - first])
                found.append(OpenCorner(end, other.rim.panel.number, float(apart)))
        return found

    def notices(self, coated: bool) -> Iterator[Notice]:
        """Corners of its flanges that the blank leaves open, and less left on to trim than was asked."""
        for corner in self.open_corners:
            if corner.wide > self.sizes.gap + SEEN:
                close = "close it with sealant" if coated else "weld a filler in, or close it with sealant"
                yield Notice("open-corner", NOTE, f"C{corner.corner}",
                             Said("the flanges at the {end} stand {wide} apart at corner C{corner}: the blank has no "
                                  "metal there", end=corner.end, wide=Mm(corner.wide), corner=corner.corner),
                             (*(("make it in two pieces: cut corners close",) if self.pieces == 1 else ()), close,
                              "turn the flange inwards"))
        for end, left in self.trims.items():
            if left < self.sizes.trim - SEEN:
                yield Notice("trim", NOTE, "",
                             Said("only {left} is left on at the {end} to trim: the blank has no room for more beside "
                                  "its corners", left=Mm(left), end=end), ("make it in two pieces",))

    def wood_form(self) -> WoodForm:
        """Its ends as boards, rolled over paper."""
        return wood_form(self.sizes, self.chain)

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """The seams of its piece."""
        if self.piece % 2:  # the seams of a second piece are those of its neighbours
            yield from seams(self.chain)

    def mates(self) -> tuple[Mate, ...]:
        """The other piece of one in two."""
        return (Mate("half", "Second piece", 1, 0.0),) if (self.pieces, self.piece) == (2, 1) else ()

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """The other piece."""
        own = self.sizes
        ends = {end: {"length": written(length), "width": written(width)} for end, (length, width) in own.ends.items()}
        ends["top"] |= {"offset": [written(value) for value in own.offset], "turn": own.turn}
        flanges = {f"{end}_flange": {"width": written(width), "direction": way}
                   for end, (width, way) in own.flanges.items()}
        return {"kind": "transition", "dims": own.dims, **ends, "height": written(own.height), "pieces": 2, "piece": 2,
                "gap": written(own.gap), "trim": written(own.trim)} | flanges | (
                    {"seam": self.seam} if self.seam else {})

    def place(self, name: str) -> str:
        """The flange's field, or the height."""
        end = next((flange.rim.end for flange in self.flanges if flange.id == name), "")
        return f"{end}_flange" if end else "height"

    def _called(self, name: str) -> str:
        """*Panel P1*, *corner C2*, *diagonal D1*, *flange at the top, P3*."""
        flange = next((flange for flange in self.flanges if flange.id == name), None)
        if flange:
            return f"Flange at the {flange.rim.end}, {flange.rim.panel.facet.id}"
        return {"P": "Panel", "C": "Corner", "D": "Diagonal"}[name[0]] + f" {name}"

    def short(self, name: str) -> str:
        """A flange by its end."""
        return next((flange.rim.end for flange in self.flanges if flange.id == name), name)

    def _sheet(self) -> Sheet:
        faces = [Face(panel.facet.id, self.outlines[panel.facet.id].points) for panel in self.chain]
        faces += [flange.face for flange in self.flanges]
        bent = bent_edges(self.panel_bends) | {(flange.rim.panel.facet.id, flange.rim.at) for flange in self.flanges}
        bends = [bend.made(self.outlines, bent) for bend in self.panel_bends]
        bends += [flange.bend for flange in self.flanges]
        return Sheet(self.thickness, self.chain[0].facet.id, tuple(faces), tuple(bends))

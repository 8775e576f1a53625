"""A square to round: four flat triangles, and a fan of facets from each corner of the square to a quarter of the round.

Seen from above the round's quarters stand towards the middles of the sides. The seam runs up the middle of the front
triangle, where it is flat and shortest to weld; in two pieces another up the middle of the back one, in four up every
one. Faces are the halves ``T1b`` and ``T1a`` of a triangle that is parted, the triangles ``T2`` to ``T4``, and the
facets ``F1.1`` … of corner 1 (front right) and on; bends ``B1`` … from a piece's first seam round, counter-clockwise
from above. A fan's facets are chords of the round: n of them stand off it by
e = R·(1 − cos(45°/n)), from which n follows unless it is given.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

import numpy as np
from shapely import Polygon

from ...bending.bend import APEX
from ...develop.facets import Facet, Outline, opened
from ...errors import Refusal
from ...sheet.model import Face, Sheet
from ...sheet.unfold import unfold
from ..common import Given
from ..facetted import BOTTOM, SIDE, TOP, Panel, PanelBend, bent_edges, outline_of, panel_bends_of, seams, setbacks
from ..joint import Joint
from ..legs import OUTSIDE, Leg, Run, ShapeBend
from ..mates import other_pieces, piece_named
from ..shape import Mate, Shape
from .fields import FIELDS, ROUND, SQUARE

MOST = 24
RELIEFS = (3.0, 4.5, 6.0, 8.0, 11.0)
"""Where all bends of a corner come together so many thicknesses and the radius are cut out: the least that parts the
flat triangles there in the blank."""
PIECES = (1, 2, 4)
APART = 1.0
"""They are parted when they stand so far from each other, mm."""


@dataclass(frozen=True)
class SquareToRound(Shape):
    """One piece of a square to round, read: ``square`` (length, width) and ``diameter`` of the whole as given under
    ``dims``, mm; ``facets`` at each corner; which ``piece`` of how many ``pieces``."""

    thickness: float
    dims: str
    square: tuple[float, float]
    diameter: float
    height: float
    facets: int
    chain: tuple[Panel, ...]
    panel_bends: tuple[PanelBend, ...]
    outlines: dict[str, Outline]
    pieces: int = 1
    piece: int = 1
    described: Mapping[str, object] = field(default_factory=dict, compare=False)
    offset: tuple[float, float] = (0.0, 0.0)
    """Of the round's middle from the square's, mm."""

    kind = "square-to-round"
    fields = FIELDS
    convention = APEX
    runs: tuple[Run, ...] = ()
    legs: tuple[Leg, ...] = ()

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """From the seam round."""
        return tuple(bend.bend for bend in self.panel_bends)

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max(bend.long for bend in self.panel_bends)

    @property
    def facet_error(self) -> float:
        """How far a facet stands off the round, mm."""
        return self.diameter / 2 * (1 - math.cos(math.pi / 4 / self.facets))

    def rings(self) -> tuple[np.ndarray, np.ndarray]:
        """The square and the round, as they are given."""
        whole = _Whole(self.square, self.diameter / 2, list(self.offset), self.height, 0, 0.0)
        return (np.array([whole.corner(n) for n in range(4)]),
                np.array([whole.at(degrees) for degrees in range(0, 360, 5)]))

    @property
    def corners_clear(self) -> bool:
        """Whether neighbouring triangles stand clear of each other in the blank."""
        flats = unfold(self._built).faces
        names = [panel.facet.id for panel in self.chain if panel.facet.id[0] == "T"]
        return all(Polygon(flats[one]).distance(Polygon(flats[other])) > APART
                   for one, other in zip(names, names[1:], strict=False))

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """The seams of its piece."""
        if self.piece % 2:  # the seams of a second piece are those of its neighbours
            yield from seams(self.chain)

    def mates(self) -> tuple[Mate, ...]:
        """Of the first its other pieces."""
        return other_pieces(self.pieces) if self.piece == 1 else ()

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """Another piece."""
        return self.of_piece(piece_named(role))

    def of_piece(self, number: int) -> dict:
        """The ``shape`` of another of its pieces."""
        return dict(self.described) | {"piece": number}

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured at the finished ends and between them."""
        height = ("height", "Height between the ends' planes", self.height)
        if self.pieces > 1:
            return [height]
        sides = zip(("length", "width"), self.square, strict=True)
        return [*((f"square-{key}", f"Square, {key} {self.dims}", size) for key, size in sides),
                ("round", f"Round, diameter {self.dims}", self.diameter),
                height]

    def place(self, name: str) -> str:
        """The height: the whole."""
        return "height"

    def _called(self, name: str) -> str:
        """*Triangle T2*, *facet F1.3*, *bend B4*."""
        return {"T": "Triangle", "F": "Facet", "B": "Bend"}[name[0]] + f" {name}"

    def _sheet(self) -> Sheet:
        faces = tuple(Face(panel.facet.id, self.outlines[panel.facet.id].points) for panel in self.chain)
        bent = bent_edges(self.panel_bends)
        bends = tuple(bend.made(self.outlines, bent) for bend in self.panel_bends)
        return Sheet(self.thickness, faces[0].id, faces, bends)


def read_square_to_round(shape: dict, given: Given) -> SquareToRound:
    """A square to round from the part file's ``shape``; refusals name the field below ``shape``."""
    dims, t = shape.get("dims", OUTSIDE), given.thickness
    square = tuple(SQUARE.mm(shape["square"], key, "square", given.length) for key in ("length", "width"))
    diameter = ROUND.mm(shape["round"], "diameter", "round", given.length)
    offset = [given.length(value, f"round.offset[{i}]") for i, value in enumerate(shape["round"].get("offset", (0, 0)))]
    height, gap, error = (FIELDS.mm(shape, key, "", given.length) for key in ("height", "gap", "error"))
    count, (pieces, piece) = shape.get("facets") or facets_for(diameter / 2, error), _which(shape)
    whole = _Whole(square, diameter / 2, offset, height, count, t if dims == OUTSIDE else 0.0)
    chain = whole.chain(pieces, piece)
    panel_bends = panel_bends_of(chain, given, lambda _, number: f"B{number}", "round.offset[0]")
    back = setbacks(panel_bends, dims == OUTSIDE)

    def free(kind, number):
        return opened(0.0, "up", dims == OUTSIDE, t, gap) if kind == SIDE else 0.0

    for relief in RELIEFS:
        depth = relief * t + panel_bends[0].bend.figures.inside_radius
        outlines = {panel.facet.id: outline_of(panel, back, free, "facets" if panel.facet.id[0] == "F" else "height",
                                               dict.fromkeys(_pointed(panel, count), depth)) for panel in chain}
        found = SquareToRound(t, dims, square, diameter, height, count, tuple(chain), tuple(panel_bends), outlines,
                              pieces, piece, shape, tuple(offset))
        if found.corners_clear:
            break
    return found


def _pointed(panel: Panel, count: int) -> list[int]:
    """Which of its corners are cut out: a flat triangle's at the corners of the square; of a single facet, bent sharply
    at both sides, those at the round."""
    if panel.facet.id[0] != "T":
        return [1, 2] if count == 1 else []
    return {"b": [1], "a": [0]}.get(panel.facet.id[-1], [0, 1])


def _which(shape: dict) -> tuple[int, int]:
    """(how many pieces, which of them)."""
    pieces, piece = shape.get("pieces", 1), shape.get("piece", 1)
    if pieces not in PIECES:
        raise Refusal("pieces", "must be 1, 2 or 4: it is parted up the middles of its flat triangles")
    if piece > pieces:
        raise Refusal("piece", f"is of more pieces than there are: {pieces}")
    return pieces, piece


def facets_for(radius: float, error: float) -> int:
    """How many facets at each corner keep within an error of the round; refuses more than can be made."""
    if error >= radius * (1 - math.cos(math.pi / 4)):
        return 1
    count = math.ceil(math.pi / 4 / math.acos(1 - error / radius) - 1e-9)
    if count > MOST:
        raise Refusal("error", f"asks for {count} facets at each corner, more than {MOST}: allow more, or roll them")
    return count


@dataclass(frozen=True)
class _Whole:
    """All of it, to be parted: half sides ``square`` / 2 round the middle, the round of ``radius`` off it by ``offset``
    and ``height`` above; ``mould`` as facets are given."""

    square: tuple[float, float]
    radius: float
    offset: list[float]
    height: float
    count: int
    mould: float

    def corner(self, n: int) -> np.ndarray:
        """Of the square, from 0 at the front right, counter-clockwise."""
        x, y = self.square[0] / 2, self.square[1] / 2
        return np.array([*((x, -y), (x, y), (-x, y), (-x, -y))[n % 4], 0.0])

    def at(self, degrees: float) -> np.ndarray:
        """A point of the round."""
        a = math.radians(degrees)
        return np.array([self.offset[0] + self.radius * math.cos(a), self.offset[1] + self.radius * math.sin(a),
                         self.height])

    def middle(self, n: int) -> np.ndarray:
        """Of the side before corner ``n``, where its triangle is parted."""
        return (self.corner(n - 1) + self.corner(n)) / 2

    def chain(self, pieces: int, piece: int) -> list[Panel]:
        """The facets of a piece from seam to seam; edges between them are numbered, a seam is number 0."""
        first, last = ((piece - 1 + step) * 4 // pieces for step in (0, 1))
        start = np.array([self.middle(first), self.corner(first), self.at(-90 + 90 * first)])
        found = [Panel(Facet(f"T{first + 1}b", start, self.mould), 0, ((BOTTOM, first + 1), (SIDE, 1), (SIDE, 0)))]
        number = 1
        for n in range(first, last):
            corner = self.corner(n)
            for k in range(self.count):
                a, b = (self.at(-90 + 90 * n + 90 * (k + step) / self.count) for step in (0, 1))
                edges = ((SIDE, number + 1), (TOP, 100 * (n + 1) + k), (SIDE, number))
                found.append(Panel(Facet(f"F{n + 1}.{k + 1}", np.array([corner, b, a]), self.mould), number, edges))
                number += 1
            ends = n + 1 == last
            points = np.array([corner, self.middle(n + 1) if ends else self.corner(n + 1), self.at(90 * n)])
            name = f"T{(n + 1) % 4 + 1}" + ("a" if ends else "")
            seam = -last if pieces > 1 else 0
            edges = ((BOTTOM, n + 2), (SIDE, seam if ends else number + 1), (SIDE, number))
            found.append(Panel(Facet(name, points, self.mould), number, edges))
            number += not ends
        return found

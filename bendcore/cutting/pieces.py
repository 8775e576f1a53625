"""What is to be cut and from what. Sheets and pieces lie with their length along x; lengths in mm."""

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from shapely import Polygon

from ..errors import Refusal
from ..part import Part
from ..said import Mm, Said
from ..sheet.model import DOWN, Point

ALONG, ACROSS, FREE = "along", "across", ""
"""How a piece's length lies to the grain, where it matters."""
LENGTH, WIDTH, UNKNOWN = "length", "width", "unknown"
"""Along which side of a sheet its grain runs."""
KERFS = {"shear": 0.0, "snips": 0.0, "band saw": 1.0, "plasma": 1.5, "laser": 0.2, "water": 1.0}
"""What a cut takes, mm (*start*; handbook, *Cutting*)."""
KEPT = (200.0, 100.0)
"""A leftover at least so long and wide is kept, mm (*start*: longer than two hands and wider than one)."""


@dataclass(frozen=True)
class Piece:
    """A blank as it is cut, ``outline`` from its lower-left corner, ``holes`` the rings cut out of it; ``tied`` says
    how its length lies to the grain."""

    id: str
    name: str
    length: float
    width: float
    outline: tuple[Point, ...] = ()
    tied: str = FREE
    holes: tuple[tuple[Point, ...], ...] = ()

    @property
    def area(self) -> float:
        """Of the rectangle it is cut from, mm²."""
        return self.length * self.width

    def sides(self, turned: bool) -> tuple[float, float]:
        """(along a sheet, across it) as it lies, or turned by 90°, mm."""
        return (self.width, self.length) if turned else (self.length, self.width)

    @property
    def ring(self) -> tuple[Point, ...]:
        """Its outline, a rectangle where none is given."""
        return self.outline or ((0, 0), (self.length, 0), (self.length, self.width), (0, self.width))

    @cached_property
    def shape(self) -> Polygon:
        """Its true outline with its holes."""
        return Polygon(self.ring, self.holes)

    def ways(self, sheet: "Stock") -> tuple[bool, ...]:
        """Whether it may lie as it is (False) and turned by 90° (True) on a sheet. Its good side stays
        up."""
        if self.tied == FREE:
            return (False, True)
        return ((self.tied == ACROSS) != (sheet.grain == WIDTH),)


@dataclass(frozen=True)
class Stock:
    """Sheets alike, or a leftover: how many there are, and along which side the ``grain`` runs; where that is not known
    it is taken as along the length."""

    id: str
    length: float
    width: float
    count: int = 1
    grain: str = LENGTH
    leftover: bool = False

    def left_over(self, long: float, wide: float) -> "Stock":
        """What is left of one, ``long`` along it and ``wide`` across: lying with its longer side along, its grain still
        the sheet's."""
        if long >= wide:
            return replace(self, length=long, width=wide, count=1, leftover=True)
        grain = {LENGTH: WIDTH, WIDTH: LENGTH}.get(self.grain, self.grain)
        return replace(self, length=wide, width=long, count=1, grain=grain, leftover=True)


@dataclass(frozen=True)
class Placed:
    """A piece on sheet number ``sheet`` of a plan: its lower-left corner after it was ``turned`` by so many degrees."""

    piece: Piece
    sheet: int
    x: float
    y: float
    turned: float = 0.0

    @cached_property
    def move(self) -> Callable[[Point], Point]:
        """Where a place of the piece comes to lie on the sheet."""
        return _laid(self.piece.ring, self.x, self.y, self.turned)

    @property
    def ring(self) -> list[Point]:
        """Its outline on the sheet."""
        return [self.move(point) for point in self.piece.ring]

    @property
    def shape(self) -> Polygon:
        """Its outline on the sheet, its holes cut out."""
        return Polygon(self.ring, [[self.move(point) for point in hole] for hole in self.piece.holes])

    @property
    def size(self) -> tuple[float, float]:
        """(along the sheet, across it) of the box about it, mm."""
        (x0, x1), (y0, y1) = ((min(axis), max(axis)) for axis in zip(*self.ring, strict=True))
        return x1 - x0, y1 - y0


def _laid(ring: Sequence[Point], x: float, y: float, turned: float) -> Callable[[Point], Point]:
    """Turned by ``turned`` degrees, then moved so that the box about ``ring`` has its lower-left corner at (x, y)."""
    c, s = (round(f(math.radians(turned)), 15) for f in (math.cos, math.sin))
    left, low = min(a * c - b * s for a, b in ring), min(a * s + b * c for a, b in ring)
    return lambda point: (point[0] * c - point[1] * s - left + x, point[0] * s + point[1] * c - low + y)


def pieces_of(part: Part, id: str, count: int) -> Iterator[Piece]:
    """So many blanks of a part with their good side up, tied by what its stock says of the grain
    (:mod:`bendcore.layout.marks`)."""
    tied = {"across": ALONG, "along": ACROSS}.get(part.stock.grain, FREE)
    length, width = part.flat.size
    outline, *holes = part.flat.outline, *(hole.outline() for hole in part.flat.holes)
    if lies_over(part):
        outline, *holes = ([(length - x, y) for x, y in reversed(ring)] for ring in (outline, *holes))
    for n in range(1, count + 1):
        yield Piece(f"{id}-{n}", part.name, length, width, tuple(outline), tied, tuple(map(tuple, holes)))


def lies_over(part: Part) -> bool:
    """Whether a part's blank lies turned over on the sheet: sheets lie with their good side up, and its flat is drawn
    with that side down."""
    return part.stock.good == DOWN


def refuse_too_large(pieces: Iterable[Piece], stock: Sequence[Stock], margin: float) -> None:
    """Refuse the first piece that no sheet holds, as it may lie."""
    for piece in pieces:
        if not any(fits(piece, sheet, margin, turned) for sheet in stock for turned in piece.ways(sheet)):
            grain = " as the grain asks" if piece.tied else ""
            raise Refusal("stock", Said("has no sheet for {name}: its blank is {length} × {width}{grain}, with "
                                        "{margin} left all round", name=piece.name, length=Mm(piece.length),
                                        width=Mm(piece.width), grain=grain, margin=Mm(margin)))


def fits(piece: Piece, sheet: Stock, margin: float, turned: bool) -> bool:
    """Whether a sheet holds it, with a margin all round."""
    return all(side <= room - 2 * margin + 1e-6
               for side, room in zip(piece.sides(turned), (sheet.length, sheet.width), strict=True))

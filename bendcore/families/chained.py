"""What chains and elbows share: rolled pieces one after another, of which a part file describes one.

Each piece is a ticket of its own in the kit that the first one leads, since each has its own blank. Pieces are numbered
from the first end; seams stand on opposite sides in turn.
"""

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..develop.chains import Piece, Station, pieces, slopes
from ..develop.rolled import Cone, edge_length, least
from ..errors import Refusal
from ..fields import Count
from ..said import Mm, Said
from ..sheet.solid import Mesh
from ..units import in_mm
from .common import Given
from .joint import WELD, Joint
from .mates import other_pieces, piece_named
from .rolled import HALF, INSIDE, NEUTRAL, OUTSIDE, SEEN_AT, Rolled, Seam, read_seam
from .shape import Mate, Running

Where = Callable[[int, str], str]
"""(number of a piece from 0, ``length`` or ``turn``) → the field to refuse at."""


TACKED = 4
"""Pieces tacked together before groups are joined (*start*)."""
LITRE = 1e6
GROUP = Count("group", label="Tacked together in groups of", low=1, high=64, default=TACKED, rare=True)


@dataclass(frozen=True)
class Chained(Rolled):
    """One piece of a chain, read: its ``number`` among ``whole``, from 1; ``lengths_along`` are the
    centre line's from station to station, ``group`` is how many are tacked together first, ``described`` the chain as
    its file tells it; lengths in mm."""

    whole: tuple[Piece, ...] = ()
    number: int = 1
    lengths_along: tuple[float, ...] = ()
    group: int = TACKED
    described: dict = field(default_factory=dict, compare=False, hash=False)

    def rings(self) -> tuple[np.ndarray, ...]:
        """Both ends of the chain and its joints, on the neutral surface."""
        return (*(piece.space(SEEN_AT, 0) for piece in self.whole), self.whole[-1].space(SEEN_AT, 1))

    def of_piece(self, number: int) -> dict:
        """The ``shape`` of a file that describes another of its pieces."""
        return self.described | {"piece": number}

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Its seam, and of the first piece every joint of the chain."""
        yield from super().joints(mates)
        rows = self.cut_edges() if self.number == 1 else []
        for n, (_, end) in enumerate(rows[:-1], 1):
            yield Joint(f"joint:{n}", f"joint of pieces {n} and {n + 1}", end, WELD)

    def mates(self) -> tuple[Mate, ...]:
        """Of the first its other pieces."""
        return other_pieces(len(self.whole)) if self.number == 1 else ()

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """Another piece."""
        return self.of_piece(piece_named(role))

    def cut_edges(self) -> list[tuple[float, float]]:
        """Of every piece the lengths of its cut edges, first and last, mm."""
        return [(edge_length(piece.surface, piece.cut(0)), edge_length(piece.surface, piece.cut(1)))
                for piece in self.whole]

    def running(self) -> list[Running]:
        """Piece by piece how far it is along the centre line and how much the chain holds so far."""
        lengths, held, along, found = self.lengths_along, 0.0, 0.0, []
        for n, piece in enumerate(self.whole, 1):
            along, held = along + lengths[n - 1], held + piece.holds(self.k * self.thickness) / LITRE
            found.append(Running(n, along, held, (n - 1) // self.group + 1))
        return found

    def development(self, per: float) -> dict:
        """Of every piece the lengths of its cut edges, and of this one what it is laid out by."""
        rows = [{"id": str(n), "start_edge": start / per, "end_edge": end / per}
                for n, (start, end) in enumerate(self.cut_edges(), 1)]
        for row, at in zip(rows, self.running(), strict=True):
            row |= {"along": at.along / per, "holds_litres": at.holds, "group": at.group}
        return {"kind": "chain", "pieces": rows, "piece": str(self.number), "layout": super().development(per)}

    def shell(self, facet: float) -> Mesh:
        """Of the first the whole chain, of the others the piece itself."""
        if self.number > 1:
            return super().shell(facet)
        meshes = []
        for n, piece in enumerate(self.whole):
            own = Rolled.shell(self.other_piece(n + 1), facet)
            move = piece.matrix
            meshes.append(Mesh(*(points @ move[:3, :3].T + move[:3, 3] for points in (own.triangles, own.edges)),
                               own.owners, own.flats, own.sides))
        return Mesh(np.concatenate([m.triangles for m in meshes]), np.concatenate([m.edges for m in meshes]),
                    sum((m.owners for m in meshes), ()), frozenset(), np.concatenate([m.sides for m in meshes]))

    def other_piece(self, number: int) -> "Chained":
        """Another of its pieces; what is measured of it is not worked out."""
        seam = turned(self.seam, number - self.number)
        return replace(self, surface=self.whole[number - 1].surface, seam=seam, number=number, sizes=())

    @property
    def along(self) -> float:
        """The centre line's length, mm."""
        return sum(self.lengths_along)

    @property
    def label(self) -> str:
        """What is written on the piece: its number, and which end comes first."""
        above = self.whole[self.number - 1].flipped
        return f"{self.number} of {len(self.whole)}, first end {'above' if above else 'below'}"


@dataclass(frozen=True)
class Line:
    """A centre line by its ``stations``, and the ``pieces`` along it, for diameters measured so (``dims``) and this
    K."""

    stations: list[Station]
    pieces: list[Piece]
    dims: str
    k: float


def piece_of(made: type[Chained], line: Line, number: int, shape: dict, given: Given,
             sizes: Sequence[tuple[str, str, float]], described: dict) -> Chained:
    """The piece of this number; ``described`` is what its own family tells of the chain, lengths in mm."""
    seam = read_seam(shape, given)
    block = {"kind": seam.kind, "at": seam.at} | ({"width": in_mm(seam.width)} if seam.width else {})
    return made(line.pieces[number - 1].surface, given.thickness, line.k, line.dims, turned(seam, number - 1),
                tuple(sizes), whole=tuple(line.pieces), number=number,
                lengths_along=tuple(station.length for station in line.stations[1:]), group=shape.get("group", TACKED),
                described=described | {"kind": made.kind, "dims": line.dims, "k": line.k, "seam": block,
                                       "group": shape.get("group", TACKED)})


def turned(seam: Seam, n: int) -> Seam:
    """The seam of piece ``n``, from 0: on the other side of every second."""
    return replace(seam, at=seam.at + 180 * (n % 2))


def chain_of(stations: list[Station], shape: dict, given: Given, where: Where) -> Line:
    """The pieces; refuses a piece that touches no two spheres, one whose cuts meet in it, and a turn that leaves no
    cut."""
    t, dims, k = given.thickness, shape.get("dims", OUTSIDE), float(shape.get("k", HALF))
    inward = {OUTSIDE: (1 - k) * t, INSIDE: -k * t, NEUTRAL: 0.0}[dims]
    for n, station in enumerate(stations):
        if station.radius - inward <= t / 2:
            raise Refusal(where(n, "diameter"), Said("leaves nothing within the wall of {t}: make it larger", t=Mm(t)))
    for n, slope in enumerate(slopes(stations)):
        if slope is None:
            raise Refusal(where(n, "length"), Said(
                "is too short: no cone touches both its ends' spheres unless it is more than {least}",
                least=Mm(abs(stations[n + 1].radius - stations[n].radius))))
    found = pieces(stations, inward)
    for n, piece in enumerate(found):
        surface = piece.surface
        tilts = (surface.large_tilt, surface.small_tilt) if isinstance(surface, Cone) else (
            surface.start_tilt, surface.end_tilt)
        steepest = 90 - math.degrees(surface.half_angle) if isinstance(surface, Cone) else 90
        if max(tilts) >= steepest - 0.5 or least(surface) <= t:
            raise Refusal(where(n, "length"), "is too short for the turns at its ends: its cuts meet within the piece; "
                                              "make it longer, turn less, or make it narrower")
    return Line(stations, found, dims, k)

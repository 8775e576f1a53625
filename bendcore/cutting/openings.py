"""Small pieces in the openings of large ones, and in what is left free: true outlines, place by place.

A place worth trying is one in which a corner of the piece lies on a corner of what is free (bottom-left, after B.
Baker, E. Coffman, R. Rivest 1980); the lowest that holds it is taken. Pieces in an opening go with the piece they lie
in, and are cut before it.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from .pieces import Piece, Placed

FINE = 0.2
"""Outlines are simplified by no more than this before places are tried, mm; a place is looked over in true outlines."""
TURNS = (0.0, 90.0, 180.0, 270.0)
MOST_TRIED = 60_000
MOST_LARGE = 40
"""Of one piece so many openings are tried, the largest."""


@dataclass(frozen=True)
class Host:
    """A ``piece`` with ``guests`` in its openings, placed as if it lay unturned in the corner."""

    piece: Piece
    guests: tuple[Placed, ...] = ()

    def laid(self, at: Placed) -> Iterable[Placed]:
        """It and its guests, where it lies."""
        yield at
        for guest in self.guests:
            ring = [at.move(point) for point in guest.ring]
            yield Placed(guest.piece, at.sheet, min(x for x, _ in ring), min(y for _, y in ring),
                         (guest.turned + at.turned) % 360)


def seated(pieces: Sequence[Piece], kerf: float) -> list[Host]:
    """Every piece, in the opening of another or by itself. Grain is kept: a tied piece goes into one that is tied."""
    hosts: dict[str, list[Placed]] = {}
    guests: set[str] = set()
    for piece in sorted(pieces, key=lambda p: -p.area):
        if piece.id in guests:
            continue
        rooms = sorted((Polygon(hole) for hole in piece.holes), key=lambda r: -r.area)[:MOST_LARGE]
        own = hosts.setdefault(piece.id, [])
        for room in rooms:
            smaller = [p for p in pieces if p.id != piece.id and p.id not in guests and not hosts.get(p.id)
                       and p.shape.area < room.area and p.area < piece.area]
            found, _ = places(room.buffer(-kerf), sorted(smaller, key=lambda p: -p.shape.area), kerf,
                              lambda guest, host=piece: _turns(guest, host))
            own += found
            guests |= {one.piece.id for one in found}
    return [Host(piece, tuple(hosts.get(piece.id, ()))) for piece in pieces if piece.id not in guests]


def _turns(guest: Piece, host: Piece) -> Sequence[float]:
    if not guest.tied:
        return TURNS
    return () if not host.tied else TURNS[::2] if guest.tied == host.tied else TURNS[1::2]


def places(room: BaseGeometry, pieces: Iterable[Piece], kerf: float,
           turns: Callable[[Piece], Sequence[float]]) -> tuple[list[Placed], BaseGeometry]:
    """(places found for some of the pieces in what is free, what is free then); ``turns(piece)`` are the degrees it may
    be turned by."""
    found: list[Placed] = []
    failed: set[tuple] = set()
    for piece in pieces:
        kind = (piece.ring, piece.tied)
        if kind in failed or room.is_empty:
            continue
        options = [place for turned in turns(piece) if (place := _lowest(room, piece, turned)) is not None]
        best = min(options, key=lambda one: (round(one.y, 3), one.x), default=None)
        if best is None:
            failed.add(kind)
            continue
        found.append(best)
        room = room.difference(Polygon(best.ring).buffer(kerf))
    return found, room


def _lowest(room: BaseGeometry, piece: Piece, turned: float) -> Placed | None:
    """The lowest place found; None where none holds it."""
    true = Polygon(Placed(piece, 0, 0.0, 0.0, turned).ring)
    left, low, right, high = room.bounds
    if right - left < true.bounds[2] - 1e-6 or high - low < true.bounds[3] - 1e-6:
        return None
    corners = np.array(true.simplify(FINE).exterior.coords[:-1])
    free = shapely.get_coordinates(room.simplify(FINE))
    if len(corners) * len(free) > MOST_TRIED:
        corners = np.array(true.envelope.exterior.coords[:-1])
        free = free[::max(1, len(free) * len(corners) // MOST_TRIED)]
    tried = np.unique(np.round((free[:, None, :] - corners[None, :, :]).reshape(-1, 2), 4), axis=0)
    size = np.array(true.bounds[2:])
    inside = ((tried >= (left - 1e-6, low - 1e-6)) & (tried + size <= (right + 1e-6, high + 1e-6))).all(axis=1)
    tried = tried[inside]
    tried = tried[np.lexsort((tried[:, 0], tried[:, 1]))]
    grown = room.buffer(1e-6)
    shapely.prepare(grown)
    for x, y in tried:
        if grown.contains(translate(true, x, y)):
            return Placed(piece, 0, float(x), float(y), turned)
    return None

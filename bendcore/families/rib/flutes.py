"""Where flutes and rivets stand along a rib's flanges.

Rivets stand in the middle of a flange's flat, as far from its ends as asked and no further apart than their pitch; a
flute stands between two of them. Every curve that sticks out takes up its own excess by as many flutes as it is asked
for, or as few as keep them no deeper than a third of their width.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ...develop.curves import Edge
from ...develop.hammered import LITTLE, Section, flute_depth, flutes_needed
from ...errors import Refusal
from ...said import Mm, Said
from ...sheet.model import Point
from .blank import Strip
from .sides import Side

HEAD = 2.0
"""A rivet's head or its tool takes so many diameters (*start*)."""
NARROWEST = 3.0
"""So many thicknesses wide a flute is at least: a third as deep, its crest then has an inside radius of nothing
(``b ≥ 2π²/3·t/2``; *start*)."""
MOST_FLUTES, MOST_RIVETS = 200, 500
"""On one rib."""


@dataclass(frozen=True)
class Rivets:
    """``pitch`` is at most how far apart they stand, ``end`` how far from a flange's ends, mm."""

    pitch: float
    diameter: float
    end: float


@dataclass(frozen=True)
class Flute:
    """At ``share`` of ``edge``; ``width`` and ``depth`` at the free edge, mm."""

    edge: Edge
    share: float
    width: float
    depth: float


@dataclass(frozen=True)
class Curve:
    """One curved side with a flange: its ``excess`` (less than nothing where it stretches) in mm, the ``strain`` of its
    free edge if nothing takes that up, its ``flutes``."""

    side: Side
    edge: Edge
    excess: float
    strain: float
    flutes: tuple[Flute, ...]


def check_width(width: float, thickness: float) -> None:
    """Refuse flutes too narrow to be bent, mm."""
    if width < NARROWEST * thickness - 1e-9:
        raise Refusal("flutes.width", Said("is too narrow for this sheet: at least {least}, three thicknesses",
                                           least=Mm(NARROWEST * thickness)))


def check_flutes(count: int) -> None:
    """Refuse more flutes than anybody lays."""
    if count > MOST_FLUTES:
        raise Refusal("flutes.width", Said("takes {count} flutes, more than {most}: make them wider", count=str(count),
                                           most=str(MOST_FLUTES)))


def check_rivets(rivets: Rivets, along: float) -> None:
    """Refuse rivets whose heads stand on each other, or more of them than anybody sets over a length ``along``, mm."""
    if rivets.pitch < HEAD * rivets.diameter - 1e-9:
        raise Refusal("rivets.pitch", Said("sets their heads on each other: at least {least}, two diameters",
                                           least=Mm(HEAD * rivets.diameter)))
    if along > rivets.pitch * MOST_RIVETS:
        raise Refusal("rivets.pitch", Said("makes more than {most} of them: at least {least}",
                                           most=str(MOST_RIVETS), least=Mm(along / MOST_RIVETS)))


def rivets_along(strip: Strip, rivets: Rivets) -> Iterator[tuple[Edge, float]]:
    """(edge, share) of every rivet along a strip."""
    total = sum(edge.length for _, edge in strip.edges)
    span = total - 2 * rivets.end
    if span <= 0:
        return
    gaps = max(1, math.ceil(span / rivets.pitch - 1e-9))
    wanted, before = [rivets.end + span * n / gaps for n in range(gaps + 1)], 0.0
    for _, edge in strip.edges:
        while wanted and wanted[0] <= before + edge.length + 1e-9:
            yield edge, (wanted.pop(0) - before) / edge.length
        before += edge.length


def curves_of(strip: Strip, width: float | None, rivets: Rivets | None) -> Iterator[Curve]:
    """Every curve of a strip; ``width`` of a flute, None where none are laid. Refuses flutes for which there is no
    room."""
    section, places = strip.section, list(rivets_along(strip, rivets)) if rivets else []
    for side, edge in strip.edges:
        if not edge.sweep:
            continue
        excess, flutes = section.excess(edge), ()
        if width and excess > LITTLE:
            taken = [share * edge.length for one, share in places if one is edge]
            flutes = tuple(_laid(side, edge, section, excess, width, taken, rivets))
        yield Curve(side, edge, excess, section.strain(edge), flutes)


def _laid(side: Side, edge: Edge, section: Section, excess, width, taken, rivets) -> Iterator[Flute]:
    radius = edge.radius + section.edge
    count = flutes_needed(excess, width, radius) if side.flutes is None else side.flutes
    along = _free(edge.length, taken, width, rivets)
    room = len(along) if taken else math.floor(edge.length / width)
    if side.flutes is None:
        count = min(count, room)
    if count > room:
        raise Refusal(f"{side.path}.flutes", Said("are more than {side} has room for: {room} of {width}",
                                                  side=side.title, width=Mm(width), room=str(room)))
    if not count:
        return
    if taken:
        at = [along[math.floor((n + 0.5) * len(along) / count)] for n in range(count)]
    else:
        at = [edge.length * (n + 0.5) / count for n in range(count)]
    depth = flute_depth(excess / count, width * radius / edge.radius, radius)
    for place in at:
        yield Flute(edge, place / edge.length, width, depth)


def _free(length: float, taken: list[float], width: float, rivets: Rivets | None) -> list[float]:
    """The middles between neighbouring rivets, and between the ends of the curve and the rivets beside them, where a
    flute has room."""
    head = HEAD * rivets.diameter if rivets else 0.0
    bounds = [-head / 2, *taken, length + head / 2]
    return [(a + b) / 2 for a, b in zip(bounds, bounds[1:], strict=False) if b - a >= width + head - 1e-9]


def place_on(edge: Edge, share: float, off: float) -> Point:
    """A point so far outwards of an edge, mm."""
    x, y = edge.at(share)
    dx, dy = edge.outward(share)
    return (x + dx * off, y + dy * off)

"""Plans for a cutter: true outlines nested into each other, small pieces in the openings of large ones.

What fits in an opening goes with the piece it lies in (:mod:`.openings`). *spyrrow* nests outlines into a strip as wide
as the sheet and as short as it finds: what of it lies on the sheet stays there, gaps are filled, and the rest goes to
the next sheet. What is left when the time is up is laid as rectangles. Pieces tied by grain are turned by half a turn
at most.
"""

import time
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace

import spyrrow
from shapely import Polygon, box, union_all
from shapely.affinity import rotate

from ..patience import Patience, Turn
from .anyplace import saw_plan
from .bound import by_metal
from .guillotine import LONGER, Job, anew
from .openings import TURNS, Host, places, seated
from .pieces import Piece, Placed, Stock, fits, refuse_too_large
from .plan import Plan, faults
from .wish import SHEETS, shelves

FINE = 0.2
"""Outlines are simplified outwards by no more than this before they are nested, mm."""
FULLEST = 0.92
"""No more outline than this share of a sheet is tried on it at once."""
NESTING = 0.75
"""This share of the time is for true shapes, the rest for rectangles."""
TRIES = 2
"""So often a sheet is nested, each time without what did not go on it."""


def cutter_plan(pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float = 0.0, margin: float = 0.0,
                turn: Turn | None = None, seed: int = 1, wish: str = SHEETS) -> Plan:
    """The best of nested plans and one of rectangles, found in the seconds of its ``turn`` or until the whole of that
    is over; refuses a piece that no sheet holds."""
    refuse_too_large(pieces, stock, margin)
    own, least = anew(turn, 2.0 if turn is None else 1.0), by_metal(pieces, stock)
    hosts = {host.piece.id: host for host in seated(pieces, kerf)}
    outer = [host.piece for host in hosts.values()]
    job, best = Job(stock, kerf, margin, wish), None
    for n, shelf in enumerate(shelves(stock, wish) * LONGER):
        took, most = time.monotonic() - own.since, own.seconds * NESTING
        if own.whole() or best and (best.is_best(wish) or took > most * (LONGER if best.unplaced else 1)):
            break
        spell = Turn(max(most / 2, most - took), whole=own.whole)
        sheets, placed, left = _nested_on(outer, shelf, kerf, margin, spell, seed + n)
        if left:
            counts = Counter(sheet.id for sheet in sheets)
            rest = [replace(s, count=s.count - counts[s.id]) for s in stock if s.count > counts[s.id]]
            left, never = _sorted_out(left, rest, margin)
            more = Plan.uncut((), (), least)
            if left:
                more = _boxed(left, replace(job, stock=rest), Turn(1.0, whole=own.whole), seed, {})
            placed += [replace(one, sheet=one.sheet + len(sheets)) for one in more.placed]
            sheets, left = [*sheets, *more.sheets], [*more.unplaced, *never]
        found = _with_guests(Plan.uncut(tuple(sheets), tuple(placed), least, tuple(left)), hosts)
        better = best is None or found.cost(wish) < best.cost(wish)
        if better and not faults(found.sheets, found.placed, kerf, margin):
            best = found
            own.whole.note(**least.far(best.sheets, best.unplaced))
    if best is None or not best.is_best(wish):
        last = Turn(max(1.0, own.seconds * (1 - NESTING)), whole=own.whole)
        boxed = replace(_boxed(outer, job, last, seed, hosts), least=least)
        best = boxed if best is None or boxed.cost(wish) < best.cost(wish) else best
    return best


def _boxed(pieces, job: Job, turn: Turn, seed: int, hosts: dict[str, Host]) -> Plan:
    found = saw_plan(pieces, job.stock, job.kerf, job.margin, turn, seed, job.wish)
    return _with_guests(found, hosts)


def _sorted_out(pieces: Iterable[Piece], stock: Sequence[Stock], margin: float) -> tuple[list[Piece], list[Piece]]:
    """(pieces that some sheet holds, others)."""
    goes = {p.id: any(fits(p, s, margin, way) for s in stock for way in p.ways(s)) for p in pieces}
    return [p for p in pieces if goes[p.id]], [p for p in pieces if not goes[p.id]]


def _with_guests(plan: Plan, hosts: dict[str, Host]) -> Plan:
    """The same with the pieces that lie in openings."""
    placed = [one for at in plan.placed for one in (hosts[at.piece.id].laid(at) if at.piece.id in hosts else (at,))]
    out = [piece for host in plan.unplaced for piece in (host, *(
        guest.piece for guest in (hosts[host.id].guests if host.id in hosts else ())))]
    return replace(plan, placed=tuple(placed), unplaced=tuple(out))


def _nested_on(pieces, shelf, kerf, margin, spell: Patience, seed) -> tuple[list[Stock], list[Placed], list[Piece]]:
    """(sheets, places, pieces left), sheet by sheet until the time is up."""
    left = sorted(pieces, key=lambda p: -Polygon(p.ring).area)
    sheets: list[Stock] = []
    placed: list[Placed] = []
    for stock in shelf:
        for _ in range(stock.count):
            if not left or spell():
                return sheets, placed, left
            found = _filled(left, stock, kerf, margin, max(1.0, spell.left() / 4), seed)
            if not found:
                break  # nothing goes on such a sheet
            placed += [replace(one, sheet=len(sheets)) for one in found]
            done = {one.piece.id for one in found}
            left = [piece for piece in left if piece.id not in done]
            sheets.append(stock)
    return sheets, placed, left


def _filled(left: list[Piece], sheet: Stock, kerf, margin, seconds, seed) -> list[Placed]:
    """As many of the pieces as go on the sheet, most metal first; what is free after nesting is filled place by
    place."""
    room = (sheet.length - 2 * margin) * (sheet.width - 2 * margin) * FULLEST
    tried, area = [], 0.0
    for piece in left:
        own = Polygon(piece.ring).area
        if any(fits(piece, sheet, margin, way) for way in piece.ways(sheet)) and area + own <= room:
            tried.append(piece)
            area += own
    best: list[Placed] = []
    for _ in range(TRIES):
        found = _nested(tried, sheet, kerf, margin, seconds, seed) if tried else []
        if _metal(found) > _metal(best):
            best = found
        if len(found) == len(tried):
            break
        on = {one.piece.id for one in found}
        out = [piece for piece in tried if piece.id not in on]
        tried = [piece for piece in tried if piece.id in on] + out[1:]
    free = box(margin, margin, sheet.length - margin, sheet.width - margin)
    if best:
        free = free.difference(union_all([Polygon(one.ring).buffer(kerf) for one in best]))
    on = {one.piece.id for one in best}
    rest = [piece for piece in left if piece.id not in on]
    more, _ = places(free, rest, kerf, lambda piece: _turns(piece, sheet))
    return best + more


def _metal(found: Iterable[Placed]) -> float:
    return sum(Polygon(one.piece.ring).area for one in found)


def _turns(piece: Piece, sheet: Stock) -> list[float]:
    if not piece.tied:
        return list(TURNS)
    quarter = 90.0 if piece.ways(sheet)[0] else 0.0
    return [quarter, quarter + 180.0]


def _nested(pieces, sheet, kerf, margin, seconds, seed) -> list[Placed]:
    """Places of those that lie on the sheet, of all nested in a strip."""
    items, own = [], {piece.id: piece for piece in pieces}
    for piece in pieces:
        outer = Polygon(piece.ring).buffer(FINE / 2, join_style="mitre").simplify(FINE / 2)
        items.append(spyrrow.Item(piece.id, list(outer.exterior.coords), demand=1,
                                  allowed_orientations=_turns(piece, sheet)))
    strip = spyrrow.StripPackingInstance("sheet", strip_height=sheet.width - 2 * margin, items=items)
    config = spyrrow.StripPackingConfig(early_termination=True, total_computation_time=max(1, round(seconds)),
                                        seed=seed, num_workers=1, min_items_separation=kerf or None)
    try:
        solved = strip.solve(config)
    except BaseException as error:  # the package's own panics are no Exception
        if isinstance(error, KeyboardInterrupt | SystemExit):
            raise
        return []
    found = []
    for one in solved.placed_items:
        left, low, right, _ = rotate(Polygon(own[one.id].ring), one.rotation, origin=(0, 0)).bounds
        if right + one.translation[0] <= sheet.length - 2 * margin + 1e-6:
            found.append(Placed(own[one.id], 0, left + one.translation[0] + margin, low + one.translation[1] + margin,
                                one.rotation % 360))
    return found

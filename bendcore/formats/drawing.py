"""A flat from a drawing: outline, openings, and the lines to be bent, with a report.

``dxf_in`` and ``svg_in`` turn a file into :class:`Strokes`; what they mean is worked out
here. Ends nearer than 0.05 mm are joined. The largest closed contour is the outline;
circles, slots and other contours in it are openings. Lines are bends when their layer says
so (bend or fold in its name) or when they run alone from edge to edge inside the outline.
Direction comes from the layer (up or down), angle and radius from a label as Dorvan writes
it; what is not said is asked for, with 90° up to begin with.
"""

import math
import re
from collections import defaultdict
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from shapely import LineString, Point, Polygon
from shapely.validation import explain_validity

from ..edits import new_part
from ..errors import Refusal
from ..said import Mm, Said, at

MOST_BYTES, MOST_ENTITIES, MOST_POINTS = 5_000_000, 8_000, 60_000
MOST_CORNERS, MOST_INSIDE = 2_000, 8_000
"""Of the outline and of all cut-outs together, once what lies on a line is left out."""
MOST_LABELS, MOST_BENDS, MOST_MEETING, FARTHEST = 1000, 200, 20, 1e6
MOST_DRAWN = 4000
"""Points of a refused drawing that are shown again."""
JOIN, SAME, SAGITTA = 0.05, 1e-6, 0.01
LARGEST, SMALLEST = 5000.0, 5.0
_BEND = re.compile(r"bend|fold", re.IGNORECASE)
LABEL = re.compile(r"^(\S+) (up|down) (\d{1,3}(?:\.\d+)?) R(\d{1,6}(?:\.\d+)?(?:e-?\d{1,2})?)$", re.ASCII)
SKIPPED_LAYERS = {"TANGENT", "MARK", "TEXT"}


@dataclass(frozen=True)
class Drawing:
    """``shape`` as a part file has it, lengths in mm; ``report`` says what was done and left out; ``part`` is what else
    of the part file is told. Of an assembly it is needed ``count`` times, and there are ``others``."""

    shape: dict
    report: tuple[str, ...]
    part: dict = field(default_factory=dict)
    count: int = 1
    others: tuple["Drawing", ...] = ()

    def as_part(self, name: str) -> dict:
        """A part file of it, begun as any new part where nothing is told."""
        begun = new_part(name, "mm")
        return begun | self.part | {"stock": begun["stock"] | self.part.get("stock", {}), "shape": self.shape}


class Unreadable(Refusal):
    """A drawing that cannot be a flat: ``places`` (x, y) in mm are where, ``lines`` what was read so far. Of a solid
    (its ``path`` says so) both are as it is seen, and ``told`` says where the places are in space."""

    def __init__(self, message: str | Said, *places: tuple[float, float], what: str = "drawing"):
        super().__init__(what, message)
        self.places, self.lines, self.told = places, (), ()

    def __reduce__(self):
        return _refused, (self.message, self.places, self.lines, self.path, self.told)


@contextmanager
def refusing(name: str, kind: str) -> Iterator[None]:
    """One refusal for whatever a bent file makes a library raise, assertions among it."""
    try:
        yield
    except Refusal:
        raise
    except Exception:
        raise Refusal(name, f"is not {kind} that can be read") from None


def _refused(message, places, lines, what, told):
    """The refusal as it comes from another process."""
    found = Unreadable(message, *places, what=what)
    found.lines, found.told = lines, told
    return found


@dataclass
class Chain:
    """A run of points on a layer."""

    points: list
    layer: str


@dataclass
class Strokes:
    """What a file draws, in mm with y up: runs of points, round holes and slots, labels of bends."""

    chains: list[Chain] = field(default_factory=list)
    openings: list[dict] = field(default_factory=list)
    labels: list[tuple[tuple[float, float], re.Match]] = field(default_factory=list)
    report: list[str] = field(default_factory=list)
    per: float = 1.0
    """mm to a unit of the file."""
    points: int = 0

    def add(self, run: Iterable[tuple[float, float]], layer: str) -> None:
        """One more run of points, counted as they come; refuses a file that holds too many."""
        taken = []
        for point in run:
            self.count(1)
            taken.append(point)
        if len(taken) > 1:
            self.chains.append(Chain(taken, layer))

    def count(self, points: int) -> None:
        """So many more points are to come; refuses a file that holds too many."""
        self.points += points
        if self.points > MOST_POINTS:
            raise Unreadable(f"has more than {MOST_POINTS} points")

    def label(self, place: tuple[float, float], text: str) -> bool:
        """Whether the text is a bend's label."""
        match = LABEL.match(text[:60])
        if match:
            if len(self.labels) >= MOST_LABELS:
                raise Unreadable(f"has more than {MOST_LABELS} labels of bends", place)
            self.labels.append((place, match))
        return bool(match)


def within(kind: str, values: Iterable[float]) -> None:
    """Refuse what lies farther out than any sheet, mm: flattening it would have no end."""
    if not all(abs(v) <= FARTHEST for v in values):  # a value that is not a number is not within either
        raise Unreadable(f"has a {kind} farther than {FARTHEST / 1e6:g} km from its origin")


def understand(strokes: Strokes) -> Drawing:
    """Outline, openings and bends of what was drawn; refuses, with the place, what cannot be a flat."""
    report = list(strokes.report)
    try:
        outline, loops, open_chains = _contours(strokes.chains, report)
        openings = strokes.openings + _openings(loops, report)
        bends = _bends(open_chains, outline, strokes, report)
    except Unreadable as refusal:
        refusal.lines = _shown(strokes.chains)
        raise
    inside = sum(len(opening.get("outline", ())) for opening in openings)
    for what, corners, most in (("an outline", len(outline), MOST_CORNERS), ("cut-outs", inside, MOST_INSIDE)):
        if corners > most:
            raise Unreadable(f"has {what} of {corners} corners; at most {most} are taken. Draw curves as arcs")
    _suspect(outline, report)
    shape = {"kind": "flat", "outline": [[x, y] for x, y in outline], "holes": openings, "bends": bends}
    return Drawing(shape, tuple(report))


def _shown(chains):
    """The runs of a refused drawing, as many as can be shown."""
    found, left = [], MOST_DRAWN
    for chain in chains:
        left -= len(chain.points)
        if left < 0:
            break
        found.append(tuple(chain.points))
    return tuple(found)


def _contours(chains, report):
    """(outline, other closed contours, open chains) after joining ends."""
    bends = [c for c in chains if _BEND.search(c.layer)]
    loops, left, healed = [], [], 0
    for points, layer, mended in _joined([c for c in chains if not _BEND.search(c.layer)]):
        gap = math.dist(points[0], points[-1])
        healed += mended
        if gap <= JOIN and len(points) > 3:
            healed += gap > SAME
            loops.append(points[:-1])
        else:
            left.append(Chain(points, layer))
    if healed:
        report.append(Said("Gaps under {join} closed: {count}.", join=Mm(JOIN), count=healed))
    if not loops:
        where = Said(": one ends at {end}", end=at(left[0].points[-1])) if left else ""
        raise Unreadable(Said("has no closed contour{where}", where=where),
                         *(p for c in left[:20] for p in (c.points[0], c.points[-1])))
    if max(map(len, loops)) > 10 * MOST_CORNERS:  # leaving out what lies on a line takes the square of it
        raise Unreadable(f"has a contour of {max(map(len, loops))} points; draw its curves as arcs")
    loops.sort(key=lambda ring: -Polygon(ring).area)
    outline = Polygon(loops[0])
    if not outline.is_valid:
        raise Unreadable("has an outline that crosses itself", *_crossing(outline))
    outline = outline.simplify(1e-6)
    return list(outline.exterior.coords)[:-1], loops[1:], [*bends, *left]


def _joined(chains):
    """(points, layer, gaps mended) of every run of chains that meet end to end; closed ones stay as they are."""
    ends, free = defaultdict(set), {}  # free keeps the order drawn
    for i, chain in enumerate(chains):
        if math.dist(chain.points[0], chain.points[-1]) <= JOIN and len(chain.points) > 3:
            yield chain.points, chain.layer, 0
            continue
        free[i] = chain
        for end in (chain.points[0], chain.points[-1]):
            ends[_cell(end)].add(i)
    while free:
        first = free.pop(next(iter(free)))
        points, mended = list(first.points), 0
        for _ in range(2):  # on from its end, then on from its start
            while math.dist(points[0], points[-1]) > JOIN and (found := _next(points[-1], ends, free)):
                i, theirs = found
                del free[i]
                exact = math.dist(points[-1], theirs[0]) <= SAME
                mended += not exact
                points += theirs[1:] if exact else theirs
            points.reverse()
        yield points, first.layer, mended


def _next(end, ends, free):
    """(number, points from here on) of the free chain whose end is nearest, within JOIN."""
    column, row = _cell(end)
    near = {i for dx in (-1, 0, 1) for dy in (-1, 0, 1) for i in ends.get((column + dx, row + dy), ()) if i in free}
    if len(near) > MOST_MEETING:
        raise Unreadable(Said("has more than {most} lines that meet at {end}", most=MOST_MEETING, end=at(end)), end)
    found = [(math.dist(end, run[0]), i, run) for i in near for run in (free[i].points, free[i].points[::-1])]
    gap, i, run = min(found, default=(math.inf, None, None))
    return (i, run) if gap <= JOIN else None


def _cell(point):
    return math.floor(point[0] / JOIN), math.floor(point[1] / JOIN)


def _crossing(outline):
    """Where an outline crosses itself, from shapely's own words."""
    match = re.search(r"\[([-\d.e]+) ([-\d.e]+)\]", explain_validity(outline))
    return ((float(match[1]), float(match[2])),) if match else ()


def _openings(loops, report) -> list[dict]:
    """Closed contours inside: round ones and slots as such, the rest with their corners."""
    found, told = [], {"round": 0, "slot": 0, "other": 0}
    for ring in loops:
        shape = Polygon(ring)
        if not shape.is_valid:
            raise Unreadable(Said("has a cut-out at {place} that crosses itself", place=at(ring[0])), ring[0])
        middle, size = shape.centroid, 2 * math.sqrt(shape.area / math.pi)
        if max(abs(math.dist(p, (middle.x, middle.y)) - size / 2) for p in ring) <= JOIN and len(ring) > 8:
            found.append({"x": middle.x, "y": middle.y, "diameter": size})
            told["round"] += 1
        elif slot := _as_slot(shape, ring):
            found.append(slot)
            told["slot"] += 1
        else:
            found.append({"outline": [[x, y] for x, y in list(shape.simplify(SAME).exterior.coords)[:-1]]})
            told["other"] += 1
    words = {"round": "round holes", "slot": "slots", "other": "openings with their corners"}
    report += [f"Closed contours taken as {words[key]}: {count}." for key, count in told.items() if count]
    return found


def _as_slot(shape, ring) -> dict | None:
    """A contour as a slot with round ends, if it keeps to one within JOIN."""
    corners = list(shape.minimum_rotated_rectangle.exterior.coords)[:3]
    sides = sorted(((math.dist(a, b), a, b) for a, b in zip(corners, corners[1:], strict=False)), reverse=True)
    (long, a, b), (wide, *_) = sides
    if long - wide < JOIN or len(ring) < 12:
        return None
    turn, middle = math.atan2(b[1] - a[1], b[0] - a[0]), shape.minimum_rotated_rectangle.centroid
    half = (long - wide) / 2
    ends = [(middle.x + way * half * math.cos(turn), middle.y + way * half * math.sin(turn)) for way in (-1, 1)]
    rim = LineString(ends)
    if max(abs(rim.distance(Point(p)) - wide / 2) for p in ring) > JOIN:
        return None
    return {"x": middle.x, "y": middle.y, "diameter": wide, "length": long, "angle": math.degrees(turn)}


def _bends(chains, outline, strokes, report) -> list[dict]:
    """Bend lines, in the order drawn, with what their layers and labels say."""
    if len(chains) > MOST_BENDS:
        raise Unreadable(Said("has more than {most} open lines: one ends at {end}", most=MOST_BENDS,
                              end=at(chains[0].points[-1])), chains[0].points[-1])
    edge, found, picked = Polygon(outline).exterior, [], 0
    told = _told(chains, strokes.labels)
    for chain in chains:
        one, other = chain.points[0], chain.points[-1]
        straight = LineString([one, other])
        if max(straight.distance(Point(p)) for p in chain.points) > JOIN:
            raise Unreadable(Said("has an open contour from {one} to {other}", one=at(one), other=at(other)),
                             one, other)
        named = bool(_BEND.search(chain.layer))
        if not named and max(edge.distance(Point(p)) for p in (one, other)) > 0.5:
            raise Unreadable(Said("has a loose line from {one} to {other}: neither a contour nor a bend from edge "
                                  "to edge", one=at(one), other=at(other)), one, other)
        picked += not named
        direction = "down" if "down" in chain.layer.lower() else "up"
        bend = {"line": [list(one), list(other)], "direction": direction, "angle": 90.0}
        label = told.get(len(found))
        if label:
            bend |= {"direction": label[2], "angle": float(label[3])}
            radius = float(label[4]) * strokes.per
            bend |= {"gap": 2 * radius} if bend["angle"] >= 180 else {"inside_radius": radius}
        elif named and "up" not in chain.layer.lower() and "down" not in chain.layer.lower():
            report.append(f"B{len(found) + 1}: direction not said; up was taken.")
        found.append(bend)
    if picked:
        report.append(f"Lines from edge to edge taken as bends, 90° up: {picked}. Change those that are not.")
    return found


def _told(chains, labels) -> dict:
    """Line → its label. A label stands at the middle of its line; the nearest pairs are matched first."""
    middles = [tuple((a + b) / 2 for a, b in zip(c.points[0], c.points[-1], strict=True)) for c in chains]
    pairs = sorted((math.dist(place, middle), i, n)
                   for i, middle in enumerate(middles) for n, (place, _) in enumerate(labels))
    found, used = {}, set()
    for _, i, n in pairs:
        if i not in found and n not in used:
            found[i] = labels[n][1]
            used.add(n)
    return found


def _suspect(outline, report):
    size = max(max(p[axis] for p in outline) - min(p[axis] for p in outline) for axis in (0, 1))
    if size > LARGEST:
        report.append(Said("It is {size} across: wrong units are suspected.", size=Mm(size)))
    if size < SMALLEST:
        report.append(Said("It is only {size} across: wrong units are suspected.", size=Mm(size)))

"""The flat of a part with bends both ways: outline, zones and lines with their words."""

import math
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple

import shapely
from shapely import LineString, Point, Polygon

from bendcore.part import Part
from bendcore.sheet.clash import ZONE
from bendcore.units import show_angle, show_length

from .fit import Fit

WIDTH, HEIGHT = 872, 600
CHARACTER = 7.0
"""How wide a character of a bend's words is, pixels."""
SPOT = 0.03
"""A face is not pointed at nearer to a hole than this share of the blank."""
ABOVE, BELOW = -7.0, 16.0
"""A bend's words stand so far over or under its line, pixels."""
ALONG = (0.0, 0.2, -0.2, 0.35, -0.35, 0.44, -0.44)
"""Where along a line its words may stand, as shares of it from its middle."""
NUMBERED = 18
"""A shorter edge is not numbered, pixels."""
INSIDE, CLEAR = 16, 9
"""An edge's number stands so far within it, and so far off any other; pixels."""
SHARES = (0.5, 0.35, 0.65, 0.2, 0.8)
"""Where along its edge a number may stand."""
EDGE = 1.5
"""So far from an edge or a bend what is drawn of it reaches, pixels."""
RISES, FALLS = 12.0, 4.0
"""So far letters reach over and under their foot, pixels."""
ROOM = (60, 84, 60, 84)
"""Left free at the left, top, right and bottom, pixels."""


class Box(NamedTuple):
    """A rectangle about its middle, ``wide`` and ``high`` half of it, its length along (``c``, ``s``); pixels."""

    x: float
    y: float
    wide: float
    high: float
    c: float
    s: float

    def meets(self, other: "Box") -> bool:
        """Whether it lies on another: there is no line along a side of either that parts them."""
        dx, dy = other.x - self.x, other.y - self.y
        c, s = abs(self.c * other.c + self.s * other.s), abs(self.c * other.s - self.s * other.c)
        return (abs(dx * self.c + dy * self.s) < self.wide + other.wide * c + other.high * s
                and abs(dy * self.c - dx * self.s) < self.high + other.wide * s + other.high * c
                and abs(dx * other.c + dy * other.s) < other.wide + self.wide * c + self.high * s
                and abs(dy * other.c - dx * other.s) < other.high + self.wide * s + self.high * c)


@dataclass(frozen=True)
class Words:
    """What may be written about a bend along its line, ``long`` about a middle of the stage and turned by so many
    degrees, the most first; ``dy`` how far below the line its foot stands; pixels."""

    x: float
    y: float
    turn: float
    dy: float
    long: float
    texts: tuple[str, ...]

    def places(self) -> Iterator[tuple[str, float]]:
        """(text, how far along from the middle) as it is best written, then where else it has room."""
        for text in self.texts:
            room = (self.long - CHARACTER * len(text)) / 2
            yield from ((text, share * self.long) for share in ALONG if abs(share * self.long) <= room)

    def at(self, along: float) -> tuple[float, float]:
        """So far along its line."""
        turn = math.radians(self.turn)
        return self.x + along * math.cos(turn), self.y + along * math.sin(turn)

    def box(self, text: str, along: float) -> "Box":
        """What a text covers there."""
        (x, y), turn, low = self.at(along), math.radians(self.turn), self.dy + (FALLS - RISES) / 2
        c, s = math.cos(turn), math.sin(turn)
        return Box(x - low * s, y + low * c, CHARACTER * len(text) / 2, (RISES + FALLS) / 2, c, s)


def net_view(part: Part, units: str, room=ROOM, conflicts: Collection[str] = ()) -> dict:
    """What is drawn of a flat, in the stage's pixels; words in the reader's units. ``conflicts``
    are faces and zones that run into others. Zones and lines are one path each: a part has up to sixty."""
    flat, (left, top, right, bottom) = part.flat, room
    fit = Fit.into(flat.outline, left, top, WIDTH - left - right, HEIGHT - top - bottom)
    centre, edges = fit(_middle(flat.outline)), _edges(part, fit)
    return {"width": WIDTH, "height": HEIGHT, "outline": fit.path(flat.outline), "fit": fit, "bar": fit.bar(units),
            "zones": "".join(fit.paths([_zone(b) for b in flat.bends])),
            "lines": fit.lines(b.line for b in flat.bends),
            "bends": _told([_words(b, part.shape.short(b.bend.id), fit, units, centre) for b in flat.bends]),
            "holes": [{"x": fit(h.centre)[0], "y": fit(h.centre)[1], "d": fit.path(h.outline(12))}
                      for h in flat.holes],
            "taken": partial(_taken, part, fit, edges), "edges": edges, "scribed": _scribed(part, fit),
            "faces": {name: fit(_spot(points, flat)) for name, points in flat.faces.items()},
            "conflicts": [fit.path(_place(flat, name)) for name in sorted(conflicts)],
            "breaks": [fit(p) for p in _middle_of_base(flat)]}


def _spot(face, flat):
    """Where a face is pointed at: its middle, or where it has most metal if a hole is there."""
    middle, wide = _middle(face), SPOT * max(flat.size)
    near = [hole for hole in flat.holes if math.dist(hole.centre, middle) < wide + max(hole.diameter, hole.length)]
    if not any(Polygon(hole.outline(6)).distance(Point(middle)) < wide for hole in near):
        return middle
    free = Polygon(face) - shapely.union_all([Polygon(hole.outline(6)) for hole in flat.holes])
    return shapely.maximum_inscribed_circle(free, tolerance=0.5).coords[0]


def _zone(flat):
    return [*flat.tangents[0], *reversed(flat.tangents[1])]


def _place(flat, name):
    """Where a face, or a zone by its bend, lies in the blank."""
    return flat.faces[name] if name in flat.faces else _zone(next(b for b in flat.bends if ZONE + b.bend.id == name))


def small_net(part: Part, width=180, height=84) -> dict:
    """A small picture of the flat's outline with its bend lines."""
    fit = Fit.into(part.flat.outline, 8, 6, width - 16, height - 12)
    return {"d": fit.path(part.flat.outline), "width": width, "height": height,
            "lines": fit.lines(b.line for b in part.flat.bends)}


def _words(flat, name, fit, units, centre):
    """What is written along a bend's line, on the side towards the middle of the blank."""
    a, b = fit(flat.line[0]), fit(flat.line[1])
    turn = math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))
    turn = turn + 180 if turn < -90.5 or turn > 89.5 else turn
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    lean = math.radians(turn)
    inwards = (centre[0] - x) * -math.sin(lean) + (centre[1] - y) * math.cos(lean) > 0  # below the line, as it is read
    tick, radius = "▲" if flat.bend.sign > 0 else "▼", show_length(flat.bend.figures.inside_radius, units)
    texts = (f"{name} {tick} {show_angle(round(flat.bend.angle, 1), units)} r {radius}", f"{name} {tick}", name, tick)
    return Words(x, y, turn, BELOW if inwards else ABOVE, math.dist(a, b), texts)


def _told(words: list[Words]) -> list[dict]:
    """What is written of each: the most that lies on nothing written before it."""
    found: list[dict] = []
    taken: list[Box] = []
    for one in words:
        text, along = "", 0.0
        for text, along in one.places():
            box = one.box(text, along)
            if not any(box.meets(other) for other in taken):
                taken.append(box)
                break
        else:
            text = ""
        x, y = one.at(along)
        found.append({"place": f"translate({x:.1f} {y:.1f}) rotate({one.turn:.1f})", "dy": f"{one.dy:g}",
                      "text": text})
    return found


def _edges(part, fit):
    """Numbers of an outline's edges, beside their middles, as they are counted in the file: those of long edges first,
    and none that is short or would lie on another."""
    found, rim = [], part.flat.blank.exterior
    middle = fit(_middle(part.flat.faces[part.sheet.root]))
    for n, edge in sorted(part.shape.counted_edges(), key=lambda one: -math.dist(one[1][0], one[1][-1])):
        if math.dist(edge[0], edge[-1]) * fit.scale < NUMBERED:
            continue
        x, y = _beside(edge, part, fit, middle, rim)
        if all(abs(x - one["x"]) > 2 * CHARACTER or abs(y - one["y"]) > RISES + FALLS for one in found):
            found.append({"n": n, "x": x, "y": y})
    return found


def _beside(edge, part, fit, middle, rim) -> tuple[float, float]:
    """Where the number of an edge stands: within its middle, or where else along it no notch comes to it."""
    line = LineString([(x + part.flat.shift[0], y + part.flat.shift[1]) for x, y in edge])
    best = (-1.0, (0.0, 0.0))
    for share in SHARES:
        at = line.interpolate(share, normalized=True)
        x, y = fit((at.x, at.y))
        away = math.hypot(middle[0] - x, middle[1] - y) or 1.0
        step = INSIDE / away
        off = rim.distance(Point((middle[0] - x) * step / fit.scale + at.x, -(middle[1] - y) * step / fit.scale + at.y))
        if off * fit.scale > best[0] + 1e-6:
            best = off * fit.scale, (round(x + (middle[0] - x) * step, 1), round(y + (middle[1] - y) * step + 4, 1))
        if best[0] > CLEAR:
            break
    return best[1]


def _taken(part, fit, edges):
    """Where an input would hide something: openings, the numbers of edges, and the edges and bends themselves."""
    flat, (dx, dy) = part.flat, part.flat.shift
    scribed = [((x0 + dx, y0 + dy), (x1 + dx, y1 + dy)) for _, (x0, y0), (x1, y1) in part.shape.scribed()]
    drawn = [shapely.LinearRing(fit.all(flat.outline)),
             *(shapely.LineString(fit.all(line)) for line in (*(b.line for b in flat.bends), *scribed))]
    lines = shapely.buffer(drawn, EDGE, cap_style="flat", join_style="mitre").tolist()
    numbers = [shapely.box(one["x"] - 8, one["y"] - RISES, one["x"] + 8, one["y"] + FALLS) for one in edges]
    return shapely.union_all([Polygon(fit.all(hole.outline(6))) for hole in flat.holes] + numbers + lines)


def _scribed(part, fit) -> dict[str, str]:
    """A path for each kind of line scribed on a blank without bend lines."""
    (dx, dy), found = part.flat.shift, {}
    for what, (x0, y0), (x1, y1) in part.shape.scribed():
        found.setdefault(what, []).append(((x0 + dx, y0 + dy), (x1 + dx, y1 + dy)))
    return {what: fit.lines(edges) for what, edges in found.items()}


def _middle(points):
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


def _middle_of_base(flat):
    """The base's corners, for its cross-breaks."""
    return flat.faces.get("base", ())

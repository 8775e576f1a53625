"""A tray: a base with up to four walls, each with its own height, angle, lip and hem.

With walls ``down`` it is a cap. Bends are named by wall: ``left``, ``left-lip``,
``left-hem``, a corner's tab ``front-tab-left``; faces ``base``, then the walls' names.

Sizes. *Outside*: length and width over the walls at the base's apexes; a height along
the wall from the base's underside to the free edge, or to the outside of a lip or
fold; a lip from the wall's outer face to its free edge. *Inside*: each less
t·tan(θ/2) per bent end. Hem lengths are always outside.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from shapely import Polygon

from ...bending.bend import APEX
from ...errors import Refusal
from ...fields import Steps
from ...notices import NOTE, Notice
from ...said import Mm, Said
from ...sheet.model import Bend, Face, Hole, Sheet
from ..collar import Collar, read_opening
from ..common import Given, joint_across, make_leg, read_bend, read_size
from ..joint import RIVET, SPOT, WELD, Joint
from ..legs import OUTSIDE, Hem, Leg, Run, ShapeBend
from ..mates import cap
from ..meeting import NARROWEST, lip_panel, panel
from ..propagation import Propagation
from ..shape import Mate, Resize, Shape
from .corners import TAB, Corners, wall_ends
from .fields import CROSS_BREAKS, FIELDS, HOLE, SIDES
from .wall import IN, OUT, Wall, read_wall

NAMED_FIRST = ("front", "back", "left", "right")
"""A corner is called by its sides in this order."""
WALLS = ("left", "right", "front", "back")
"""Walls are made lower in this order."""
SEEN = 0.05
"""A tab that is eased in further than asked by more than this is told, mm."""


@dataclass(frozen=True)
class Tray(Shape):
    """A tray or a cap, read."""

    thickness: float
    dims: str
    length: Leg
    width: Leg
    walls: dict[str, Wall]
    corners: Corners
    tabs: tuple[tuple[str, str, ShapeBend], ...]
    """(wall, neighbour, bend) of every tab."""
    holes: tuple[Hole, ...] = ()
    direction: str = "up"
    collars: tuple[Collar, ...] = ()
    cross_breaks: float = 0.0
    """Rise of the base's stiffening cross-breaks, mm; 0 for none."""

    kind = "tray"
    fields = FIELDS
    convention = APEX

    @property
    def legs(self) -> tuple[Leg, ...]:
        """Length and width, then walls and lips."""
        walls = [self.walls[side] for side in SIDES if side in self.walls]
        return (self.length, self.width, *(leg for w in walls for leg in (w.leg, w.lip) if leg))

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Bends of walls, lips and tabs."""
        walls = [self.walls[side] for side in SIDES if side in self.walls]
        return (*(b for w in walls for b in (w.bend, w.lip_bend) if b), *(bend for _, _, bend in self.tabs))

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Bends and hems."""
        return (*self.bends, *(w.hem for side in SIDES if (w := self.walls.get(side)) and w.hem))

    @property
    def longest_bend(self) -> float:
        """Along the base's longer edge, mm."""
        return max(self.length.flat, self.width.flat)

    @property
    def runs(self) -> tuple[Run, ...]:
        """From left to right, and from front to back."""
        return tuple(self._run(name, leg, sides) for name, leg, sides in (
            ("length", self.length, ("left", "right")), ("width", self.width, ("front", "back"))))

    def _run(self, name, leg, sides) -> Run:
        walls = [self.walls[s] for s in sides if s in self.walls]
        pieces = [p for w in walls for p in (w.leg, w.lip, w.hem) if p]
        joints = [b for w in walls for b in (w.bend, w.lip_bend, w.hem) if b]
        return Run(name, (leg.id, *(p.id for p in pieces)), tuple(b.id for b in joints))

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured across the finished tray."""
        inner = [leg.outside - self.thickness * sum(
            math.tan(math.radians(b.figures.angle) / 2) for b in self.at_ends(leg) if b)
            for leg in (self.length, self.width)]
        size = math.hypot(*inner)
        return [("diagonal-1", "Inside diagonal, left front to right back", size),
                ("diagonal-2", "Inside diagonal, right front to left back", size)]

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """Both diagonals move with length and width."""
        return errors.diagonal(self.length, self.width) if name.startswith("diagonal") else None

    def size_path(self, leg: str) -> Steps | None:
        """A wall's height."""
        return ("walls", leg, "height") if leg in self.walls else None

    def resized(self) -> Iterator[Resize]:
        """All its walls lower, the base longer or wider."""
        walls = [side for side in WALLS if side in self.walls]
        yield Resize(tuple(self.walls[side].leg for side in walls), tuple(("walls", side, "height") for side in walls),
                     "Make the walls {size} high", more=False)
        for leg in (self.length, self.width):
            yield Resize((leg,), ((leg.id,),), f"Make the {leg.id} {{size}}", less=False)

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Its corners: welded, or by their tabs."""
        tab = self.corners.tab if self.corners.style == TAB else None
        for one, other in pairwise([*SIDES, SIDES[0]]):
            if one not in self.walls or other not in self.walls:
                continue
            length = min(self.walls[side].leg.outside for side in (one, other))
            called = "corner " + "–".join(sorted((one, other), key=NAMED_FIRST.index))
            if tab and tab.hole:
                yield Joint(f"corner:{one}", called, length, RIVET, 1, tab.holes, tab.hole, True)
            else:
                yield Joint(f"corner:{one}", called, length, SPOT if tab else WELD, closes=True)

    def mates(self) -> tuple[Mate, ...]:
        """A lid."""
        return (Mate("lid", "Lid over it", 1, 0.5),)

    def mate_sizes(self) -> dict[str, float]:
        """Over walls, and over lips and hems that turn out."""
        return {"length": self._over(self.length), "width": self._over(self.width)} | self.round_sizes()

    def _over(self, leg: Leg) -> float:
        beyond = 0.0
        for name in leg.ends:
            wall = self.walls.get(name) if name else None
            if wall and wall.lip and wall.lip_way == OUT:
                beyond += wall.lip.outside
            elif wall and wall.hem and wall.hem_way == OUT:
                beyond += self.thickness + wall.hem.gap
        return leg.outside + beyond

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """A cap over the whole tray."""
        for wall in self.walls.values():
            if abs(wall.bend.figures.angle - 90) > 1e-6:
                raise Refusal("shape", f"has a leaning {wall.id} wall: a lid over it must be drawn by hand")
        return cap(sizes["length"], sizes["width"], "around", clearance) | {"direction": "down"}

    def notices(self, coated: bool) -> Iterator[Notice]:
        """Tabs eased in more than was asked, since the neighbour's bend needs it."""
        tab = self.corners.tab if self.corners.style == TAB else None
        own = {bend.id for _, _, bend in self.tabs}
        for bend in self.sheet().bends if tab else ():
            made = min(x for x, _ in bend.parent_edge) if bend.id in own else 0.0
            if made > tab.ease + SEEN:
                yield Notice("eased", NOTE, bend.id,
                             Said("is eased in by {made} at its foot, not {asked}: the bend beside it needs that",
                                  made=Mm(made), asked=Mm(tab.ease)),
                             ("a smaller radius", "tabs on the other pair"))

    def place(self, name: str) -> str:
        """The wall's field, its lip's or hem's, the tabs', or the length."""
        if name in {bend.id for _, _, bend in self.tabs}:
            return "corners.tab"
        for side, wall in self.walls.items():
            for part, rim in ((wall.bend, ""), (wall.lip_bend, ".lip"), (wall.hem, ".hem")):
                if part and part.id == name:
                    return f"walls.{side}{rim}"
        return "length"

    def short(self, name: str) -> str:
        """A wall by its side; *lip*, *hem* and *tab* by their place on it."""
        place = self.place(name)
        return place.rpartition(".")[2] if place.startswith(("walls", "corners")) else name

    def _called(self, name: str) -> str:
        """*Left wall, lip*; *Tab of the front wall, left*."""
        if name == "base":
            return "Base"
        tab = next(((side, at) for side, at, bend in self.tabs if bend.id == name), None)
        return f"Tab of the {tab[0]} wall, {tab[1]}" if tab else super()._called(name)

    def along(self, side: str) -> float:
        """Length of the base's edge on this side, tangent to tangent."""
        return self.length.flat if side in ("front", "back") else self.width.flat

    def _sheet(self) -> Sheet:
        """Base, walls, lips, hems and tabs as faces joined at bends."""
        long, wide = self.length.flat, self.width.flat
        faces = [Face("base", ((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), self.holes)]
        joints: list[Bend] = []
        at = {"front": lambda y: (y, 0.0), "right": lambda y: (long, y),
              "back": lambda y: (long - y, wide), "left": lambda y: (0.0, wide - y)}
        ends = wall_ends(self)
        for side in SIDES:
            if side not in self.walls:
                continue
            wall, (start, end) = self.walls[side], ends[side]
            zone = (max(0.0, -start.at(0.0)), self.along(side) + min(0.0, end.at(0.0)))
            if zone[1] - zone[0] <= 1e-6:
                raise Refusal(f"walls.{side}", "is left no length between its corners")
            outline = panel(wall.leg.flat, self.along(side), start, end)
            if not outline:
                raise Refusal(f"walls.{side}.height", "is so high that the wall runs to a point between its "
                                                      "neighbours: make it lower, or lean them less")
            faces.append(Face(side, outline))
            joints.append(Bend(side, "base", side, (at[side](zone[0]), at[side](zone[1])),
                               ((0.0, zone[0]), (0.0, zone[1])), wall.bend.direction, wall.bend.figures))
            self._rim(wall, start, end, faces, joints)
        for side, neighbour, bend in self.tabs:
            self._tab(side, neighbour, bend, ends, faces, joints)
        return Sheet(self.thickness, "base", tuple(faces), tuple(joints))

    def _rim(self, wall, start, end, faces, joints):
        """Lip and hem of a wall, one on the other."""
        parent, height, along = wall.id, wall.leg.flat, self.along(wall.id)
        low, high = -start.at(height), along + end.at(height)
        if wall.lip:
            points = lip_panel(height, along, start, end, wall.lip.flat)
            if not points:
                raise Refusal(f"walls.{wall.id}.lip.width", "is so wide that its mitres meet: make it narrower")
            low, high = points[0][1], points[3][1]
            joints.append(joint_across(wall.lip_bend, parent, wall.lip.id, height, (low, high)))
            faces.append(Face(wall.lip.id, points))
            parent, height = wall.lip.id, wall.lip.flat
            low, high = points[1][1], points[2][1]
            if wall.hem:  # the fold stands a little beyond the lip's flat, and must keep to the mitre there
                beyond = wall.lip.flat + wall.hem.figures.outside_setback
                low, high = max(low, -start.lip(beyond)), min(high, along + end.lip(beyond))
        if wall.hem:
            low, high = max(low, -start.hem), min(high, along + end.hem)
            joints.append(joint_across(wall.hem, parent, wall.hem.id, height, (low, high)))
            back = wall.hem.flat  # folded back it must not stand out beyond a wall that widens
            ins, oute = max(0.0, start.slope) * back, max(0.0, end.slope) * back
            if high - low - ins - oute <= NARROWEST:
                raise Refusal(f"walls.{wall.id}.hem.length", "leaves nothing of the fold between its neighbours: make "
                                                             "it shorter, or open the corners")
            faces.append(Face(wall.hem.id, ((0.0, low), (back, low + ins), (back, high - oute), (0.0, high))))

    def _tab(self, side, neighbour, bend, ends, faces, joints):
        """A flap at a wall's end, eased in so that it clears the neighbour's zone and rim."""
        wall, other, tab = self.walls[side], self.walls[neighbour], self.corners.tab
        at_start = SIDES[(SIDES.index(side) + 3) % 4] == neighbour
        start, end = ends[side]
        y = -start.at(wall.leg.flat) if at_start else self.along(side) + end.at(wall.leg.flat)
        top = other.leg.flat
        if other.hem and not other.lip and (other.hem_way == IN) == tab.inside:
            top -= other.hem.flat  # the neighbour's hem lies where the tab would
        step = (start if at_start else end).step  # below it the wall is cut back to its neighbour's tangent line
        low, high = max(tab.ease, step), min(wall.leg.flat, top) - tab.ease
        flat = tab.width - bend.figures.outside_setback
        slant = min(tab.ease, (high - low) / 4)
        if high - low <= 2 * slant + 1e-6 or flat <= 1e-6:
            raise Refusal("corners.tab", f"leaves nothing of the tab of {side} towards {neighbour}: "
                                         "make it wider, or the walls higher")
        edge = ((low, y), (high, y)) if at_start else ((high, y), (low, y))
        long = high - low
        outline = ((0.0, 0.0), (flat, slant), (flat, long - slant), (0.0, long))
        faces.append(Face(bend.id, outline, _tab_holes(tab, outline)))
        joints.append(Bend(bend.id, side, bend.id, edge, ((0.0, 0.0), (0.0, long)), bend.direction, bend.figures))


def _tab_holes(tab, outline) -> tuple[Hole, ...]:
    """Evenly along the middle of a tab, clear of its eased ends."""
    if not tab.hole:
        return ()
    flat, long = outline[1][0], outline[-1][1]
    holes = tuple(Hole((flat / 2, long * (i + 0.5) / tab.holes), tab.hole, path="corners.tab.hole")
                  for i in range(tab.holes))
    room = Polygon(outline)
    if not all(room.contains(Polygon(hole.outline())) for hole in holes):
        raise Refusal("corners.tab.hole", "leaves the tab's flat: make it smaller, fewer, or the tab wider")
    return holes


def read_tray(shape: dict, given: Given) -> Tray:
    """A tray from the part file's ``shape``; refusals name the field below ``shape``."""
    dims, direction = shape.get("dims", OUTSIDE), shape.get("direction", "up")
    thickness, length = given.thickness, given.length
    if not shape["walls"]:
        raise Refusal("walls", "must have at least one of front, right, back and left")
    walls = {side: read_wall(side, block, dims, direction, given)
             for side, block in shape["walls"].items()}
    sizes = {}
    for key, sides in (("length", ("left", "right")), ("width", ("front", "back"))):
        ends = tuple(walls[s].bend if s in walls else None for s in sides)
        sizes[key] = make_leg(key, *read_size(shape[key], key, length, dims), ends, key)
    corners = Corners.read(shape.get("corners", {}), length)
    tabs = _read_tabs(walls, corners, given, direction)
    tray = Tray(thickness, dims, sizes["length"], sizes["width"], walls, corners, tabs, (), direction, (),
                _rise(shape, length))
    openings = [_read_opening(i, block, tray, given)
                for i, block in enumerate(shape.get("holes", ()))]
    tray = replace(tray, holes=tuple(hole for hole, _ in openings), collars=tuple(c for _, c in openings if c))
    tray.sheet()  # refuses what the corners leave no room for
    return tray


def _rise(shape, length) -> float:
    if "cross_breaks" not in shape:
        return 0.0
    return CROSS_BREAKS.mm(shape["cross_breaks"], "rise", "cross_breaks", length)


def _read_tabs(walls, corners, given, direction):
    if corners.style != "tab":
        return ()
    found = []
    for side in corners.pair:
        for step in (3, 1):
            neighbour = SIDES[(SIDES.index(side) + step) % 4]
            if side not in walls or neighbour not in walls:
                continue
            for name in (side, neighbour):
                if abs(walls[name].bend.figures.angle - 90) > 1e-9:
                    raise Refusal("corners.style", f"tabs need walls at 90°, and {name} is not; use open or butt")
            bend = read_bend(f"{side}-tab-{neighbour}", {}, direction, "corners.tab", given, 90)
            found.append((side, neighbour, bend))
    return tuple(found)


def _read_opening(i, block, tray, given) -> tuple[Hole, Collar | None]:
    """A hole in the base as it is pierced, and its collar."""
    path = f"holes[{i}]"
    pierced, collar = read_opening(_read_hole(i, block, tray, given.length), block, path, given)
    for place, leg in zip(pierced.centre, (tray.length, tray.width), strict=True):
        if collar and not collar.rim / 2 < place < leg.flat - collar.rim / 2:
            raise Refusal(f"{path}.collar", Said("leaves the base's flat: its rim is {rim} across", rim=Mm(collar.rim)))
    return pierced, collar


def _read_hole(i, block, tray, length) -> Hole:
    """A hole in the base, placed from the left and front apexes as the tray is dimensioned."""
    path = f"holes[{i}]"
    size = HOLE.mm(block, "diameter", path, length)
    at = [length(block[key], f"{path}.{key}") - leg.setbacks[0] for key, leg in (("x", tray.length), ("y", tray.width))]
    for key, place, leg in (("x", at[0], tray.length), ("y", at[1], tray.width)):
        if not size / 2 < place < leg.flat - size / 2:
            raise Refusal(f"{path}.{key}", "leaves the base's flat: a hole must not run into a bend or off the edge")
    return Hole((at[0], at[1]), size, path=path)

"""Where a tray's walls end at its corners, so that they meet at the gap asked for.

A corner is where two walls' planes meet. Seen from wall A, its neighbour B stands at

    q(z) = ISSB_B + z·cot θ_B        (inner face of B at height z, from the base's tangent corner)

with z = (ISSB_A + x)·sin θ_A at distance x up A from its own tangent line: a straight
line in A's plane, and A ends parallel to it.

* *open*: both walls stand off the line alike; their inner edges are the gap apart.
* *butt*: one pair reaches to the outer face of the other, which stands the gap off it.
* *tab*: a flap of one pair turns the corner and lies on the other, inside or outside.

Within a neighbour's bend zone a wall is cut back to the neighbour's tangent line. What
stands inwards (lips, hems) keeps to its side of the plane that halves the corner in plan.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from ..errors import Refusal
from .common import positive

OPEN, BUTT, TAB = "open", "butt", "tab"
PAIRS = {"front": ("front", "back"), "left": ("left", "right")}


@dataclass(frozen=True)
class Tab:
    """``width`` outside, ``clearance`` off the neighbour's face, ``ease`` at its ends, mm."""

    width: float = 0.0
    inside: bool = True
    clearance: float = 0.0
    ease: float = 0.0
    hole: float = 0.0
    holes: int = 0


@dataclass(frozen=True)
class Corners:
    """``pair`` are the walls that cover (butt) or carry the tabs."""

    style: str = OPEN
    gap: float = 0.0
    pair: tuple[str, str] = PAIRS["front"]
    tab: Tab = Tab()

    @classmethod
    def read(cls, block: dict, length: Callable) -> "Corners":
        style = block.get("style", OPEN)
        gap = length(block.get("gap", 0), "corners.gap")
        if gap < 0:
            raise Refusal("corners.gap", "must not be negative")
        if style == TAB and "tab" not in block:
            raise Refusal("corners.tab", "is missing: give its width")
        if style != TAB and "tab" in block:
            raise Refusal("corners.tab", f"does not belong to {style} corners")
        return cls(style, gap, PAIRS[block.get("pair", "front")], _read_tab(block.get("tab", {}), gap, length))


def _read_tab(block, gap, length) -> Tab:
    if not block:
        return Tab()
    sizes = {key: length(block.get(key, default), f"corners.tab.{key}")
             for key, default in (("width", 0), ("clearance", gap), ("ease", 1.0), ("hole", 0))}
    positive(sizes["width"], "corners.tab.width")
    for key in ("clearance", "ease", "hole"):
        if sizes[key] < 0:
            raise Refusal(f"corners.tab.{key}", "must not be negative")
    return Tab(**sizes, inside=block.get("side", "inside") == "inside", holes=block.get("holes", 1))


@dataclass(frozen=True)
class WallEnd:
    """One end of a wall: how far it reaches past the base's tangent corner (negative:
    falls short), x up the wall: ``reach`` + ``slope``·x, but no further than the corner
    below ``step``. ``lip_reach`` and ``lip_slope`` are the same for its lip."""

    reach: float
    slope: float = 0.0
    step: float = 0.0
    lip_reach: float = 0.0
    lip_slope: float = 0.0
    hem: float = math.inf

    def at(self, x: float) -> float:
        free = self.reach + self.slope * x
        return min(free, 0.0) if x < self.step - 1e-9 else free

    def lip(self, s: float) -> float:
        return self.lip_reach + self.lip_slope * s

    def corners(self, height: float) -> list[tuple[float, float]]:
        """(x, reach) along this end from the tangent line to the free edge."""
        if self.step <= 1e-9 or self.reach + self.slope * min(self.step, height) <= 0:
            return [(0.0, self.at(0.0)), (height, self.reach + self.slope * height)]
        if self.step >= height - 1e-9:
            return [(0.0, min(self.at(0.0), 0.0)), (height, 0.0)]
        return [(0.0, min(self.reach, 0.0)), (self.step, 0.0), (self.step, self.reach + self.slope * self.step),
                (height, self.reach + self.slope * height)]


def wall_ends(tray) -> dict[str, tuple[WallEnd, WallEnd]]:
    """(start, end) of every wall, counter-clockwise round the base."""
    from .tray import SIDES
    found = {}
    for i, side in enumerate(SIDES):
        if side in tray.walls:
            found[side] = tuple(_end(tray, side, SIDES[(i + step) % 4]) for step in (3, 1))
    return found


def _end(tray, side: str, neighbour: str) -> WallEnd:
    wall, other, corners = tray.walls[side], tray.walls.get(neighbour), tray.corners
    if other is None:
        return WallEnd(0.0)
    own, beside = _Lean.of(wall.bend.figures), _Lean.of(other.bend.figures)
    slope = own.sin * beside.cot
    inner = beside.inside + own.inside * slope        # B's inner face, at A's tangent line
    facing = own.cos * beside.cos                     # cosine between the two walls' normals
    corner = math.pi - math.acos(max(-1.0, min(1.0, facing)))
    tilt = math.hypot(1.0, slope)
    covers = side in corners.pair
    t = tray.thickness
    if corners.style == OPEN:
        reach = inner - corners.gap / (2 * math.sin(corner / 2)) * tilt
    elif corners.style == BUTT or not corners.tab.inside:
        clear = corners.gap
        if corners.style == TAB and not covers:  # no further than where the tab begins to turn
            clear = max(clear, _tab_setbacks(tray, neighbour, side)[0])
        off = (clear + t * max(0.0, facing)) / math.sin(corner) * tilt
        reach = inner + t / beside.sin if covers else inner - off
    else:
        reach = inner + t / beside.sin
    if corners.style == TAB and covers:
        r, setback = _tab_setbacks(tray, side, neighbour)
        tab = corners.tab
        reach = inner - tab.clearance - setback if tab.inside else inner + t + tab.clearance - r
    step = max(0.0, beside.inside * beside.sin / own.sin - own.inside) if reach > 0 else 0.0
    return _with_rim(WallEnd(reach, slope, step), tray, wall, other, own, beside)


def _tab_setbacks(tray, side, neighbour) -> tuple[float, float]:
    bend = next(b for a, n, b in tray.tabs if (a, n) == (side, neighbour))
    return bend.figures.inside_setback, bend.figures.outside_setback


def _with_rim(end: WallEnd, tray, wall, other, own, beside) -> WallEnd:
    """The same end with the limits of what stands on the wall."""
    gap, half = tray.corners.gap, tray.corners.gap / math.sqrt(2)
    height = wall.leg.flat
    covered = tray.corners.style != OPEN and other.id in tray.corners.pair

    def plane(z: float) -> float:
        """How far may be reached at height z and stay the gap off the neighbour's inner face."""
        return beside.inside + z * beside.cot - gap / beside.sin

    lip_reach, lip_slope = math.inf, 0.0
    if wall.lip and (wall.lip_way == "in" or covered):
        lip_reach, lip_slope = _lip_limits(tray, wall, other, own, beside, plane, half)
    hem = math.inf
    if wall.hem and wall.hem_way == "in" and not wall.lip:
        deep = wall.hem.gap + tray.thickness
        span = (own.inside + height - wall.hem.flat, own.inside + height + wall.hem.figures.outside_setback)
        lean = deep * abs(own.cos)
        hem = min(plane(x * own.sin + rise) for x in span for rise in (-lean, lean))
        if other.folds_in:
            hem = min(hem, own.inside + min(x * own.cos for x in span) - deep - half)
    elif wall.hem and not wall.lip and covered:
        hem = min(plane(x * own.sin) for x in (own.inside + height - wall.hem.flat, own.inside + height))
    return WallEnd(end.reach, end.slope, end.step, lip_reach, lip_slope, hem)


def _lip_limits(tray, wall, other, own, beside, plane, half) -> tuple[float, float]:
    """(reach at the lip's tangent line, slope along it): off the neighbour's wall, and on its
    own side of the plane that halves the corner when both fold inwards."""
    t, flat, height = tray.thickness, wall.lip.flat, wall.leg.flat
    inwards = wall.lip_way == "in"
    inside = wall.lip_bend.figures.inside_setback
    turn = math.radians(wall.bend.figures.angle + (1 if inwards else -1) * wall.lip_bend.figures.angle)
    apex = own.inside + height + inside

    def limit(s: float) -> float:
        rise = apex * own.sin + (inside + s) * math.sin(turn)
        found = plane(rise) - t * abs(beside.cot)
        if inwards and other.folds_in:
            across = own.inside + apex * own.cos + (inside + s) * math.cos(turn)
            found = min(found, across - half - t * abs(math.sin(turn)))
        return found

    start = min(limit(0.0), plane((own.inside + height) * own.sin))
    return start, (limit(flat) - start) / flat


@dataclass(frozen=True)
class _Lean:
    """How a wall stands: its inside setback and the sine, cosine and cotangent of its angle."""

    inside: float
    sin: float
    cos: float
    cot: float

    @classmethod
    def of(cls, figures) -> "_Lean":
        angle = math.radians(figures.angle)
        return cls(figures.inside_setback, math.sin(angle), math.cos(angle), math.cos(angle) / math.sin(angle))

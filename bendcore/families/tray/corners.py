"""Where a tray's walls end at its corners, so that they meet at the gap asked for.

Where two walls' planes meet is worked out in :mod:`.meeting`; a wall ends parallel to that line.

* *open*: both walls stand off the line alike; their inner edges are the gap apart.
* *butt*: one pair reaches to the outer face of the other, which stands the gap off it.
* *tab*: a flap of one pair turns the corner and lies on the other, inside or outside.

Within a neighbour's bend zone a wall is cut back to the neighbour's tangent line. What
stands inwards (lips, hems) keeps to its side of the plane that halves the corner in plan.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

from ...errors import Refusal
from ..legs import ShapeBend
from ..meeting import End, Lean, Lip, Meeting
from .fields import CORNER_FIELDS, SIDES, TAB_FIELDS
from .wall import Wall

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
        """The corners of the part file's block; refusals name the field below ``shape``."""
        style, gap = block.get("style", OPEN), CORNER_FIELDS.mm(block, "gap", "corners", length)
        if style == TAB and "tab" not in block:
            raise Refusal("corners.tab", "is missing: give its width")
        if style != TAB and "tab" in block:
            raise Refusal("corners.tab", f"does not belong to {style} corners")
        return cls(style, gap, PAIRS[block.get("pair", "front")], _read_tab(block.get("tab", {}), gap, length))


def _read_tab(block, gap, length) -> Tab:
    if not block:
        return Tab()
    sizes = {key: TAB_FIELDS.mm(block, key, "corners.tab", length) for key in ("width", "ease", "hole")}
    sizes["clearance"] = TAB_FIELDS.mm(block, "clearance", "corners.tab", length) if "clearance" in block else gap
    return Tab(**sizes, inside=block.get("side", "inside") == "inside", holes=block.get("holes", 1))


class Walled(Protocol):
    """What the ends of walls depend on: a tray, as far as it is read by then."""

    @property
    def thickness(self) -> float:
        """mm."""

    @property
    def walls(self) -> Mapping[str, Wall]:
        """Its walls by side."""

    @property
    def corners(self) -> "Corners":
        """How its walls meet."""

    @property
    def tabs(self) -> Sequence[tuple[str, str, ShapeBend]]:
        """(wall, neighbour, bend) of every tab."""


def wall_ends(tray: Walled) -> dict[str, tuple[End, End]]:
    """(start, end) of every wall, counter-clockwise round the base."""
    found = {}
    for i, side in enumerate(SIDES):
        if side in tray.walls:
            found[side] = tuple(_end(tray, side, SIDES[(i + step) % 4]) for step in (3, 1))
    return found


def _end(tray, side: str, neighbour: str) -> End:
    wall, other, corners = tray.walls[side], tray.walls.get(neighbour), tray.corners
    if other is None:
        return End(0.0)
    meeting = Meeting(Lean.of(wall.bend.figures), Lean.of(other.bend.figures), corners.gap)
    if corners.style == OPEN:
        end = meeting.open()
    else:
        end = meeting.end(meeting.inner + _covering(tray, side, neighbour, meeting))
    return _with_rim(end, tray, wall, other, meeting)


def _covering(tray, side, neighbour, meeting) -> float:
    """Past the line both walls share, where one covers the other or carries its tab."""
    corners, t, gap = tray.corners, tray.thickness, tray.corners.gap
    if side not in corners.pair:
        if corners.style == TAB and corners.tab.inside:
            return t / meeting.beside.sin
        if corners.style == TAB:  # no further than where the tab begins to turn
            gap = max(gap, _tab_setbacks(tray, neighbour, side)[0])
        return -(gap + t * max(0.0, meeting.facing)) / math.sin(meeting.between) * meeting.tilt
    if corners.style == BUTT:
        return t / meeting.beside.sin
    inside, outside = _tab_setbacks(tray, side, neighbour)
    tab = corners.tab
    return -tab.clearance - outside if tab.inside else t + tab.clearance - inside


def _tab_setbacks(tray, side, neighbour) -> tuple[float, float]:
    bend = next(b for a, n, b in tray.tabs if (a, n) == (side, neighbour))
    return bend.figures.inside_setback, bend.figures.outside_setback


def _with_rim(end: End, tray, wall, other, meeting) -> End:
    """The same end with the limits of what stands on the wall."""
    height, own = wall.leg.flat, meeting.own
    covered = tray.corners.style != OPEN and other.id in tray.corners.pair
    if wall.lip and (wall.lip_way == "in" or covered):
        inwards = wall.lip_way == "in"
        lip = Lip.of(wall.bend.figures, wall.lip_bend.figures, wall.lip.flat, inwards, inwards and other.folds_in)
        deep = tray.thickness + (wall.hem.gap + tray.thickness if wall.hem else 0.0)
        end = meeting.with_lip(end, lip, height, deep)
    elif wall.lip:
        end = meeting.with_outward_lip(end, height, wall.lip_bend.figures)
    inwards = wall.hem_way == "in"
    if not wall.hem or wall.lip or not (inwards or covered):
        return end
    folded = (height - wall.hem.flat, height + wall.hem.figures.outside_setback)
    deep = wall.hem.gap + (1 if inwards else 2) * tray.thickness
    lean = deep * abs(own.cos)
    hem = min(meeting.off(own.height(x) + rise, own.out(x)) for x in folded for rise in (-lean, lean))
    if inwards and other.folds_in:
        hem = min(hem, meeting.halved(min(own.out(x) for x in folded) - deep))
    return replace(end, hem=hem)

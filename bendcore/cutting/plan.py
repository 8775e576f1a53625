"""A cutting plan, whichever way it was found: what lies where, in which order it is cut, what is left."""

from dataclasses import dataclass

import shapely
from shapely import box

from ..said import Mm, Said
from .bound import Bounds
from .pieces import Piece, Placed, Stock
from .wish import cost

TOUCH = 1e-3
"""Pieces that lie nearer than their kerf by no more than this are as far apart as asked, mm."""
HOLD = 60.0
"""A shear's hold-down reaches sheet at least so deep, mm (*start*)."""


Rect = tuple[float, float, float, float]
"""A rectangle on a sheet: x, y of its lower left corner, length, width, mm."""
SAME = 1e-3


@dataclass(frozen=True)
class Cut:
    """Across ``axis`` of a region (x, y, length, width on the sheet): ``stop`` is the size cut off, ``long`` how far
    the cut runs; ``trim`` says that it squares the sheet. Lengths in mm."""

    axis: str
    region: Rect
    stop: float
    long: float
    trim: bool = False

    @property
    def mark(self) -> float:
        """Where the cut lies, measured from the sheet's lower left corner, mm."""
        return self.region[0 if self.axis == "x" else 1] + self.stop

    def parts(self, kerf: float) -> tuple[Rect, Rect]:
        """The two rectangles it leaves: what is cut off and what stays, mm."""
        x, y, long, wide = self.region
        end = self.stop + (0.0 if self.trim else kerf)
        if self.axis == "x":
            return (x, y, self.stop, wide), (x + end, y, long - end, wide)
        return (x, y, long, self.stop), (x, y + end, long, wide - end)


@dataclass(frozen=True)
class Plan:
    """``sheets`` by number, what lies ``placed`` on them, their ``cuts``, the ``leftovers`` worth keeping as
    (sheet, x, y, length, width); ``least`` is what no plan could do better; pieces ``unplaced`` found no room."""

    sheets: tuple[Stock, ...]
    placed: tuple[Placed, ...]
    cuts: tuple[tuple[Cut, ...], ...]
    leftovers: tuple[tuple[int, float, float, float, float], ...]
    least: Bounds
    unplaced: tuple[Piece, ...] = ()

    @classmethod
    def uncut(cls, sheets: tuple[Stock, ...], placed: tuple[Placed, ...], least: Bounds,
              unplaced: tuple[Piece, ...] = ()) -> "Plan":
        """A plan that is not cut right through: no cuts and no leftovers are told."""
        return cls(sheets, placed, ((),) * len(sheets), (), least, unplaced)

    def cost(self, wish: str) -> tuple[float, ...]:
        """Plans compare by this (:func:`.wish.cost`)."""
        return cost(wish, self.sheets, self.unplaced, sum(map(len, self.cuts)))

    def is_best(self, wish: str) -> bool:
        """Whether it is proven that no plan saves more of what is wished first."""
        return self.least.reached(self.sheets, self.unplaced, wish)

    @property
    def opened(self) -> int:
        """How many leftovers it opens."""
        return sum(sheet.leftover for sheet in self.sheets)

    @property
    def utilisation(self) -> float:
        """Share of the sheets that is blanks' rectangles."""
        whole = sum(sheet.length * sheet.width for sheet in self.sheets)
        return sum(one.piece.area for one in self.placed) / whole if whole else 0.0


def faults(sheets: tuple[Stock, ...], placed: tuple[Placed, ...], kerf: float, margin: float) -> list[tuple[int, Said]]:
    """(sheet, what is wrong) of every piece that leaves its sheet, lies against the grain, or lies on another or nearer
    than the kerf, true outlines taken."""
    found: list[tuple[int, Said]] = []
    for n, sheet in enumerate(sheets):
        own = [one for one in placed if one.sheet == n]
        shapes = [one.shape for one in own]
        room = box(margin, margin, sheet.length - margin, sheet.width - margin).buffer(TOUCH)
        for one, shape in zip(own, shapes, strict=True):
            if not room.covers(shape):
                found.append((n, Said("{name} leaves the sheet or its margin of {margin}", name=one.piece.id,
                                      margin=Mm(margin))))
            if one.piece.tied and (one.turned % 180 == 90) not in one.piece.ways(sheet):
                found.append((n, Said("{name} lies against the grain", name=one.piece.id)))
        tree = shapely.STRtree(shapes)
        for i, shape in enumerate(shapes):
            for j in tree.query(shape.buffer(kerf + TOUCH)):
                apart = shape.distance(shapes[j]) if i < j else kerf
                on = i < j and shape.intersection(shapes[j]).area > TOUCH
                if on or apart < kerf - TOUCH:
                    found.append((n, Said("{one} and {other} lie on each other" if on else
                                          "{one} and {other} lie nearer than the cut is wide", one=own[i].piece.id,
                                          other=own[int(j)].piece.id)))
    return found


def needed(placed: tuple[Placed, ...], sheet: int, margin: float) -> tuple[float, float]:
    """The sheet from its lower-left corner on that these pieces need: (length, width) with the margin, mm."""
    points = [point for one in placed if one.sheet == sheet for point in one.ring]
    if not points:
        return 0.0, 0.0
    xs, ys = zip(*points, strict=True)
    return max(xs) + margin, max(ys) + margin


def freed(placed: tuple[Placed, ...], sheet: int, cut: Cut, kerf: float) -> list[str]:
    """The pieces that a cut gives: those that are just one of the rectangles it leaves."""
    def just(part, one):
        return all(abs(a - b) < SAME for a, b in zip(part, (one.x, one.y, *one.size), strict=True))

    return [one.piece.id for one in placed if one.sheet == sheet and any(just(part, one) for part in cut.parts(kerf))]


def hard_to_hold(cuts: tuple[Cut, ...], hold: float = HOLD) -> list[int]:
    """Places of cuts at which neither side reaches under the shear's hold-down."""
    found = []
    for i, cut in enumerate(cuts):
        size = cut.region[2] if cut.axis == "x" else cut.region[3]
        if not cut.trim and max(cut.stop, size - cut.stop) < hold:
            found.append(i)
    return found

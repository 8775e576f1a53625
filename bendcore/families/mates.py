"""Pieces that belong to a part, drawn from it: a guard's side plates, a sleeve's end caps.

Each is a shape of its own, worked out from the sizes of the part they go with; ``made``
puts what was measured on the finished part in place of what was drawn.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ..errors import Refusal
from ..units import in_mm
from .chained import Chained
from .common import Shape
from .guard import Guard, widened
from .rolled import Rolled
from .sleeve import Sleeve
from .square_to_round.shape import SquareToRound
from .transition import Transition
from .tray import Tray


@dataclass(frozen=True)
class Mate:
    """``title`` for people; ``count`` to each part; ``clearance`` at either side unless asked otherwise, mm."""

    role: str
    title: str
    count: int
    clearance: float


MATES = {Guard: (Mate("side", "Side plate", 2, 0.3),),
         Sleeve: (Mate("cap", "End cap", 2, 0.3), Mate("plug", "End cap let in", 2, 0.3)),
         Tray: (Mate("lid", "Lid over it", 1, 0.5),), Transition: (Mate("half", "Second piece", 1, 0.0),)}
CAP_HEIGHT = 15.0


def mates_of(shape: Shape) -> tuple[Mate, ...]:
    """What can be drawn from this part."""
    if isinstance(shape, Transition) and (shape.pieces, shape.piece) != (2, 1):
        return ()
    if isinstance(shape, SquareToRound) and shape.piece == 1:
        return tuple(Mate(f"piece-{n}", f"Piece {n}", 1, 0.0) for n in range(2, shape.pieces + 1))
    if isinstance(shape, Chained) and shape.number == 1:
        return tuple(Mate(f"piece-{n}", f"Piece {n}", 1, 0.0) for n in range(2, len(shape.whole) + 1))
    return MATES.get(type(shape), ())


def sizes_of(shape: Shape) -> dict[str, float]:
    """The sizes a mate takes from this part, mm: outside where nothing else is said."""
    if isinstance(shape, Sleeve):
        return {"width": shape.width, "height": shape.height}
    if isinstance(shape, Tray):
        return {"length": _over(shape, shape.length), "width": _over(shape, shape.width)} | _rounds(shape)
    if isinstance(shape, Guard):
        return {leg.id: leg.size for leg in shape.panels}
    sizes = {leg.id: leg.size for leg in shape.legs} | _rounds(shape)
    for key, axis in (("across", 0), ("up", 1)):  # of what is given by its outline
        if hasattr(shape, "outline"):
            sizes[key] = max(p[axis] for p in shape.outline) - min(p[axis] for p in shape.outline)
    return sizes


def _rounds(shape: Shape) -> dict[str, float]:
    """What is round: holes as they are finished, and the diameters of what is rolled, mm."""
    collars = {collar.centre: collar.inside for collar in getattr(shape, "collars", ())}
    holes = {f"hole-{n}": collars.get(hole.centre, hole.diameter)
             for n, hole in enumerate(getattr(shape, "holes", ()), 1) if not hole.ring and not hole.is_slot}
    rolled = shape.sizes if isinstance(shape, Rolled) else ()
    return holes | {name: mm for name, _, mm in rolled if name in ("diameter", "large", "small")}


def draw_mate(shape: Shape, role: str, made: Mapping[str, float] | None = None, clearance: float | None = None) -> dict:
    """A mate's ``shape`` for a part file; refuses a role the part has no mate in."""
    mate = next((m for m in mates_of(shape) if m.role == role), None)
    if mate is None:
        raise Refusal("role", f"a {getattr(shape, 'kind', 'part')} has no such piece")
    sizes = sizes_of(shape) | {key: value for key, value in (made or {}).items() if key in sizes_of(shape)}
    if isinstance(shape, Chained | SquareToRound):
        return shape.of_piece(int(role.removeprefix("piece-")))
    return DRAW[role](shape, sizes, mate.clearance if clearance is None else clearance)


def _over(tray, leg) -> float:
    """A tray's size over its walls and over lips that turn out, mm."""
    beyond = 0.0
    for name in leg.ends:
        wall = tray.walls.get(name) if name else None
        if wall and wall.lip_way == "out":
            beyond += wall.lip.outside
        elif wall and wall.hem and wall.hem_way == "out":
            beyond += tray.thickness + wall.hem.gap
    return leg.outside + beyond


def _mm(value: float) -> str:
    return in_mm(round(value, 4))


def _side(guard: Guard, sizes, clearance) -> dict:
    """The side plate: the outline within the wrapper, its corners snipped clear of the bends.

    A leg measured longer or shorter than drawn moves the far end of its edge along."""
    n, t = len(guard.outline), guard.thickness
    outline = _restretched(guard, sizes)
    inner = widened(outline, [-(t + clearance) if i in guard.wrapped else 0.0 for i in range(n)])
    snips = {i: bend for i, bend in zip(guard.wrapped[1:], guard.corners, strict=True) if bend.direction == "up"}
    points = []
    for i, (x, y) in enumerate(inner):
        if i not in snips:
            points.append((x, y))
            continue
        # the wrapper's inner arc, less the clearance, is cut off from tangent point to tangent point
        reach = (snips[i].figures.inside_radius - clearance) * math.tan(math.radians(snips[i].figures.angle) / 2)
        if reach <= 1e-3:
            points.append((x, y))
            continue
        for j in (i - 1, (i + 1) % n):
            dx, dy = inner[j][0] - x, inner[j][1] - y
            long = math.hypot(dx, dy)
            points.append((x + dx / long * reach, y + dy / long * reach))
    return {"kind": "plate", "outline": [[_mm(x), _mm(y)] for x, y in points]}


def _restretched(guard, sizes):
    """The outer outline with its wrapped edges as long as ``sizes`` say."""
    n, points = len(guard.outline), [list(p) for p in guard.outline]
    longer = {i: sizes[leg.id] - leg.size for leg, i in zip(guard.panels, guard.wrapped, strict=True)}
    if not any(abs(by) > 1e-9 for by in longer.values()):
        return guard.outline
    if guard.is_closed:
        raise Refusal("made", "cannot be taken for a wrapper that goes all the way round: draw its outline anew")
    at = list(points[guard.wrapped[0]])
    moved = {guard.wrapped[0]: tuple(at)}
    for i in guard.wrapped:
        (x0, y0), (x1, y1) = points[i], points[(i + 1) % n]
        long = math.hypot(x1 - x0, y1 - y0)
        at = [at[0] + (x1 - x0) * (1 + longer[i] / long), at[1] + (y1 - y0) * (1 + longer[i] / long)]
        moved[(i + 1) % n] = tuple(at)
    return tuple(moved.get(i, tuple(points[i])) for i in range(n))


def _cap(sleeve: Sleeve, sizes, clearance) -> dict:
    """A cap that goes over the sleeve's end."""
    return _tray(sizes["width"], sizes["height"], "around", clearance)


def _plug(sleeve: Sleeve, sizes, clearance) -> dict:
    """A cap that goes into the sleeve's end."""
    return _tray(sizes["width"] - 2 * sleeve.thickness, sizes["height"] - 2 * sleeve.thickness, "into", clearance)


def _lid(tray: Tray, sizes, clearance) -> dict:
    """A cap over the whole tray."""
    for wall in tray.walls.values():
        if abs(wall.bend.figures.angle - 90) > 1e-6:
            raise Refusal("shape", f"has a leaning {wall.id} wall: a lid over it must be drawn by hand")
    return _tray(sizes["length"], sizes["width"], "around", clearance) | {"direction": "down"}


def _tray(length, width, way, clearance) -> dict:
    fit = {key: {way: _mm(size), "clearance": _mm(clearance)} for key, size in (("length", length), ("width", width))}
    return {"kind": "tray", "dims": "outside", "direction": "up", **fit,
            "walls": {side: {"height": _mm(CAP_HEIGHT)} for side in ("front", "right", "back", "left")},
            "corners": {"style": "open", "gap": "0.5 mm"}}


def _half(transition: Transition, sizes, clearance) -> dict:
    """The other piece of a transition in two."""
    own = transition.sizes
    ends = {end: {"length": _mm(length), "width": _mm(width)} for end, (length, width) in own.ends.items()}
    ends["top"] |= {"offset": [_mm(value) for value in own.offset], "turn": own.turn}
    flanges = {f"{end}_flange": {"width": _mm(width), "direction": way} for end, (width, way) in own.flanges.items()}
    return {"kind": "transition", "dims": own.dims, **ends, "height": _mm(own.height), "pieces": 2, "piece": 2,
            "gap": _mm(own.gap), "trim": _mm(own.trim)} | flanges | (
                {"seam": transition.seam} if transition.seam else {})


DRAW = {"half": _half, "side": _side, "cap": _cap, "plug": _plug, "lid": _lid}

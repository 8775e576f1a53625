"""Pieces that belong to a part, drawn from it: a guard's side plates, a sleeve's end caps.

Each is a shape of its own, worked out from the sizes of the part they go with; ``made`` puts what was measured on the
finished part in place of what was drawn. Which there are, and how each is drawn, a family says itself
(:meth:`~bendcore.families.shape.Shape.mates`, :meth:`~bendcore.families.shape.Shape.drawn_mate`).
"""

from collections.abc import Mapping

from ..errors import Refusal
from ..units import in_mm
from .shape import Mate, Shape

CAP_HEIGHT = 15.0


def draw_mate(shape: Shape, role: str, made: Mapping[str, float] | None = None, clearance: float | None = None) -> dict:
    """A mate's ``shape`` for a part file; refuses a role the part has no mate in."""
    mate = next((m for m in shape.mates() if m.role == role), None)
    if mate is None:
        raise Refusal("role", f"a {shape.kind} has no such piece")
    own = shape.mate_sizes()
    sizes = own | {key: value for key, value in (made or {}).items() if key in own}
    return shape.drawn_mate(role, sizes, mate.clearance if clearance is None else clearance)


PIECE = "piece-"


def other_pieces(count: int) -> tuple[Mate, ...]:
    """The pieces after the first of so many."""
    return tuple(Mate(f"{PIECE}{n}", f"Piece {n}", 1, 0.0) for n in range(2, count + 1))


def piece_named(role: str) -> int:
    """Which piece a role of :func:`other_pieces` is."""
    return int(role.removeprefix(PIECE))


def written(value: float) -> str:
    """A size of a mate as its file has it."""
    return in_mm(round(value, 4))


def cap(length: float, width: float, way: str, clearance: float) -> dict:
    """A low tray ``around`` or ``into`` something of these sizes, mm."""
    fit = {key: {way: written(size), "clearance": written(clearance)}
           for key, size in (("length", length), ("width", width))}
    return {"kind": "tray", "dims": "outside", "direction": "up", **fit,
            "walls": {side: {"height": written(CAP_HEIGHT)} for side in ("front", "right", "back", "left")},
            "corners": {"style": "open", "gap": "0.5 mm"}}

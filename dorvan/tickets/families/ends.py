"""Sizes typed on plan and elevation: what is developed shows how it stands, its flat beside it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import NamedTuple

from bendcore.part_file import field_at
from bendcore.units import read_length
from dorvan.drawings.elevation import ABOVE, BESIDE_FLAT, FRONT, Span, drawn, views
from dorvan.drawings.net import net_view
from dorvan.drawings.places import LABEL_W, NAME_H

from ..file.actions import at
from .entries import drawn_in, sizer
from .hands import Hands
from .picks import net_picks
from .rows import Row

Mm = Callable[[str], float]
"""The size of a field below ``shape``, mm; 0 where none stands."""


class Sized(NamedTuple):
    """A field below ``shape``, the view it is dimensioned in and where; how it is measured; its size in mm where what
    stands in the file is no length."""

    path: str
    axes: tuple[int, int]
    span: Span
    how: str = ""
    mm: float | None = None


@dataclass(frozen=True)
class Ends:
    """How a part is shown by its ends: where the sizes are that stand on it, whether ``with_plan``. Of several pieces
    the one ``lit`` is in hand; outlines are ``numbered`` where a list tells of them; dimensions run to points ``also``
    that no outline reaches."""

    sized: Callable[[Mm], Iterable[Sized]]
    with_plan: bool = False
    lit: int | None = None
    numbered: bool = False
    also: tuple[tuple[float, float, float], ...] = ()
    plan: str = "from above"


def developed_page(ticket, units: str, ends: Ends, rows: Iterable[Row] = ()) -> dict:
    """The part from the front, and from above where it is not round, its sizes on it; the flat beside."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, BESIDE_FLAT, ticket.figures.known_conflicts) | {"left": BESIDE_FLAT[0]}
    rings = part.shape.rings()
    found = {one.axes: one for one in views(rings, ends.with_plan, ends.also, ends.plan)}

    def mm(path: str) -> float:
        raw = at(data, path)
        return 0.0 if raw is None else read_length(raw, ticket.part["units"])

    lines, labels = "", []
    for path, axes, span, how, known in ends.sized(mm):
        line, (left, top) = found[axes].dimension(span)
        lines += line
        name = field_at(f"shape.{path}", ticket.kind).name
        end, _, key = path.rpartition(".")
        labels.append(size(path, at(data, path), mm=known) | {
            "label": f"{end} {key}".strip(), "name": ", ".join(filter(None, (name, how))),
            "left": left, "top": round(top + NAME_H, 1), "wide": LABEL_W, "leader": None})
    names = []
    for n, ring in enumerate(rings if ends.numbered else (), 1):
        x, y = found[FRONT].at(ring.mean(axis=0))
        names.append({"text": str(n), "x": x, "y": y})
    hands = Hands(ticket, units, drawn_in(labels))
    hands.add("whole", list(rows))
    return {"view": view, "views": drawn(list(found.values()), ends.lit), "scale": found[FRONT].fit.scale,
            "dimensions": lines, "labels": labels, "names": names,
            "things": hands.all(), "picks": net_picks(part, view, hands.all())}


def across(width: float, z: float, x: float = 0.0, y: float = 0.0) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """From left to right of a width about a middle."""
    return (x - width / 2, y, z), (x + width / 2, y, z)


def deep(depth: float, z: float, x: float, y: float = 0.0) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """From front to back of a depth about a middle."""
    return (x, y - depth / 2, z), (x, y + depth / 2, z)


def rectangle_and(end: tuple[float, float], bottom: tuple[str, str], top: tuple[str, ...], how: str
                  ) -> Callable[[Mm], Iterable[Sized]]:
    """The sizes of two ends over each other, measured so: the ``bottom``'s length and width under and left of the plan,
    the ``top``'s over and right of it, the middle of which lies at ``end``; the height beside the elevation."""
    x, y = end

    def sized(mm: Mm) -> Iterable[Sized]:
        long, wide, high = mm(bottom[0]), mm(bottom[1]), mm("height")
        upper = [mm(path) for path in top]
        yield Sized(bottom[0], ABOVE, Span(*across(long, 0, 0, -wide / 2), "below"), how)
        yield Sized(bottom[1], ABOVE, Span(*deep(wide, 0, -long / 2), "left"), how)
        yield Sized(top[0], ABOVE, Span(*across(upper[0], high, x, y + upper[-1] / 2 * (len(top) > 1)), "above"), how)
        if len(top) > 1:
            yield Sized(top[1], ABOVE, Span(*deep(upper[1], high, x + upper[0] / 2, y), "right"), how)
        yield Sized("height", FRONT, Span((-long / 2, 0, 0), (x - upper[0] / 2, 0, high), "left"))
    return sized

"""Notches: cut into a straight edge of any face, square, to a point or with a round end."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ...errors import Refusal
from ...said import Said
from ...sheet.model import Point
from ..common import Given
from ..metal import PAST, EdgeAxes
from .fields import NOTCH, ROUND, SQUARE_END, VEE

STEPS = 12
"""Of a round end."""


@dataclass(frozen=True)
class Notch:
    """In an ``edge`` of a face's mould: from ``low`` to ``high`` along it, so ``deep``, by its ``form``; mm."""

    path: str
    face: int
    edge: int
    low: float
    high: float
    deep: float
    form: str

    def cut(self, ring: Sequence[Point]) -> list[Point]:
        """What is cut away of a mould, in its coordinates."""
        axes = EdgeAxes.of(ring, self.edge)
        low, high, deep = self.low, self.high, self.deep
        if self.form == VEE:
            inner = [((low + high) / 2, deep)]
        elif self.form == ROUND:
            half = (high - low) / 2
            inner = [(low + half + half * math.cos(a), deep - half + half * math.sin(a))
                     for a in (math.pi * n / STEPS for n in range(STEPS + 1))]
        else:
            inner = [(high, deep), (low, deep)]
        return [axes.at(u, v) for u, v in ((low, -PAST), (high, -PAST), (high, 0.0), *inner, (low, 0.0))]


def read_notches(shape: Mapping, long: Mapping[tuple[int, int], float], turned: bool, given: Given) -> list[Notch]:
    """Those of a file's ``shape``; ``long`` is how long each edge is, by (face, 0 the base; its number), mm."""
    found = []
    for i, block in enumerate(shape.get("notches", ())):
        path, on, number = f"notches[{i}]", block.get("on", 0), block["edge"]
        faces = {face for face, _ in long}
        if on not in faces:
            raise Refusal(f"{path}.on", f"must be from 0 to {max(faces)}")
        last = max(edge for face, edge in long if face == on)
        if not 1 <= number <= last:
            raise Refusal(f"{path}.edge", f"must be from 1 to {last}")
        along, width, deep = (NOTCH.mm(block, key, path, given.length) for key in ("along", "width", "depth"))
        form = block.get("form", SQUARE_END)
        if form == ROUND and deep < width / 2 - 1e-9:
            raise Refusal(f"{path}.depth", "must be at least half its width, for a round end")
        whole = long[on, number]
        if not 0 < along < whole:
            raise Refusal(f"{path}.along", "must lie on its edge")
        at = whole - along if turned else along
        found.append(Notch(path, on, number, at - width / 2, at + width / 2, deep, form))
    return found


def check_clear(notch: Notch, bends: Iterable[tuple[str, tuple[float, float], float]]) -> None:
    """Refuse a notch that cuts into a bend on its edge: (panel, zone, what its reliefs take beside it)."""
    for name, (low, high), beside in bends:
        if notch.low < high + beside - 1e-9 and low - beside + 1e-9 < notch.high:
            raise Refusal(f"{notch.path}.along", Said("cuts into the bend of panel {name}", name=name))

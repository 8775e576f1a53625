"""Parts from a STEP file: every body that is a bent sheet told as panels.

The kernel reads the file (:mod:`bendcore.solids.kernel`), a body is recognised as a sheet
(:mod:`bendcore.solids.recognise`) and told as panels; a body that repeats an earlier one is counted with it.
"""

import math
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ..errors import Refusal
from ..families.panels.opened import as_panels
from ..said import Mm, Said
from ..sheet.model import Sheet
from ..solids.brep import Solid
from ..solids.guarded import read_step
from ..solids.recognise import recognise
from .drawing import MOST_DRAWN, Drawing, Unreadable

SAME_SIZES = 2
"""Bodies whose sizes agree to so many decimals of a millimetre are one part."""


def read_step_in(data: bytes, name: str, read: Callable[[bytes, str], list[Solid]] = read_step) -> Drawing:
    """The first part of a STEP file, ``others`` the rest; refuses a file in which none is a bent sheet, with the reason
    and its place. ``read`` is what reads its bodies: in a process of its own."""
    solids = read(data, name)
    found: dict[str, Drawing] = {}
    by_body: dict[int, str] = {}
    left: list[Said | str] = []
    for number, solid in enumerate(solids):
        if solid.same_as != number:
            key = by_body.get(solid.same_as)
        else:
            try:
                drawing = _part(solid, name)
            except Refusal as refusal:
                if len(solids) == 1:
                    raise _shown(solid, refusal) from None
                left.append(Said("{body} is left out: it {why}.", body=solid.name.capitalize(), why=refusal.message))
                continue
            key = by_body[number] = _key(drawing)
            found.setdefault(key, drawing)
        if key:
            found[key] = replace(found[key], count=found[key].count + 1)
    if not found:
        raise Refusal(name, Said("holds {count} bodies, of which none is a bent sheet. {why}", count=len(solids),
                                 why=left[0]))
    first, *others = found.values()
    return replace(first, report=(*first.report, *left), others=tuple(others))


def _part(solid: Solid, name: str) -> Drawing:
    """One body as panels."""
    known = recognise(solid, name)
    radius = _usual_radius(known.sheet)
    part = {"stock": {"thickness": known.sheet.thickness}} | ({} if radius is None else {"inside_radius": radius})
    return Drawing(as_panels(known.sheet, radius, from_zero=True), known.report, part, 0)


def _shown(solid: Solid, refusal: Refusal) -> Unreadable:
    """The refusal with the body's edges as they are seen from the front right above, and where in it."""
    place = getattr(refusal, "place", None)
    found = Unreadable(refusal.message, *([_seen(place[None])[0]] if place is not None else []), what="solid")
    if place is not None:
        x, y, z = (round(float(v), 1) + 0.0 for v in place)
        found.told = (Said("x {x}, y {y}, z {z}", x=Mm(x), y=Mm(y), z=Mm(z)),)
    edges = {side.edge: side for surface in solid.surfaces for side in surface.sides()}
    left = MOST_DRAWN
    for side in edges.values():
        left -= len(side.points)
        if left >= 0:
            found.lines += (tuple(_seen(side.points)),)
    return found


def _seen(points: np.ndarray) -> list[tuple[float, float]]:
    """Points of space on a drawing, all three axes as long."""
    x, y, z = points.T
    across, up = math.sqrt(0.5) * (x + y), z * math.sqrt(2 / 3) + math.sqrt(1 / 6) * (y - x)
    return [(float(a), float(b)) for a, b in zip(across, up, strict=True)]


def _usual_radius(sheet: Sheet) -> float | None:
    """The inside radius of most bends, mm; of folds nothing is told."""
    radii = Counter(bend.figures.inside_radius for bend in sheet.bends if not bend.is_hem)
    return radii.most_common(1)[0][0] if radii else None


def _key(drawing: Drawing) -> str:
    """What two bodies of one form have alike."""
    return repr(_rounded([drawing.shape, drawing.part]))


def _rounded(value: object) -> object:
    if isinstance(value, float | int):
        return round(float(value), SAME_SIZES) + 0.0
    if isinstance(value, dict):
        return {key: _rounded(one) for key, one in value.items()}
    return [_rounded(one) for one in value] if isinstance(value, Sequence) and not isinstance(value, str) else value

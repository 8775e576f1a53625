"""Parts from a STEP file: every body that is a bent sheet told as panels.

The kernel reads the file (:mod:`bendcore.solids.kernel`), a body is recognised as a sheet
(:mod:`bendcore.solids.recognise`) and told as panels; a body that repeats an earlier one is counted with it.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from ..errors import Refusal
from ..families.panels.opened import as_panels
from ..said import Said
from ..sheet.model import Sheet
from ..solids.brep import Solid
from ..solids.kernel import read_step
from ..solids.recognise import recognise
from .drawing import Drawing

SAME_SIZES = 2
"""Bodies whose sizes agree to so many decimals of a millimetre are one part."""


def read_step_in(data: bytes, name: str) -> Drawing:
    """The first part of a STEP file, ``others`` the rest; refuses a file in which none is a bent sheet, with the reason
    and its place."""
    solids = read_step(data, name)
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
                    raise
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

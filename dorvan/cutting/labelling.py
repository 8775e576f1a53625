"""Labels of a plan: for its blanks, and for the leftovers put back."""

from collections.abc import Iterator

from bendcore.formats.labels import Label
from bendcore.stock import called
from bendcore.units import show_length
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import number_in

from .laying import laid
from .models import CuttingPlan


def labels_of(plan: CuttingPlan, units: str) -> Iterator[Label]:
    """Blanks sheet by sheet, then the leftovers of the sheets that are cut."""
    found = laid(plan)
    for one in sorted(found.placed, key=lambda one: (one.sheet, one.piece.id)):
        stock = f"{_metal(plan, units)}, from {found.sheets[one.sheet].id}"
        along = one.piece.tied == "along" if one.piece.tied else None
        yield Label(one.piece.id, [one.piece.name, _size(one.piece, units), stock, _side(plan, one.piece.id)], along)
    codes = [code for done in plan.done.filter(sheet__in=plan.cut_sheets) for code in done.leftovers]
    for lot in Lot.objects.filter(code__in=codes, count__gt=0).order_by("code"):
        yield Label(lot.code, [_metal(lot, units), _size(lot, units), f"grain: {lot.get_grain_display()}",
                               f"left by {plan}"], lot.grain == "length")


def _side(plan: CuttingPlan, name: str) -> str:
    """Which side of a blank lies up as it is cut."""
    blank = plan.blanks[str(number_in(name))]
    if not blank.get("good"):
        return "either side up"
    return f"{blank['good']} up" + (", drawn from beneath" if blank["over"] else "")


def _metal(one, units) -> str:
    return f"{called(one.material)} {show_length(one.thickness, units)} {units}"


def _size(one, units) -> str:
    return f"{show_length(one.length, units)} x {show_length(one.width, units)} {units}"

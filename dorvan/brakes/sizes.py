"""A brake or one of its tools described by measured sizes: begun, its sizes taken one by one, a sheet to fill in."""

from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.brakes.brake import read_brake
from bendcore.brakes.drawn import NAMES, with_pieces, written_pieces
from bendcore.brakes.measured.compared import Laid
from bendcore.brakes.measured.described import (
    KINDS,
    begun,
    kind_of,
    made_again,
    taken,
    tool_at,
    with_size,
    with_stop_moved,
)
from bendcore.brakes.measured.measure import Unit
from bendcore.errors import Refusal
from bendcore.files import read_json
from bendcore.units import KN_PER, as_typed, show_angle
from dorvan import fields
from dorvan.drawings.measured import kind_view, measured_view
from dorvan.versions.doing import retried, status_of

from .models import Brake, written

WORDS = {"name": "Name", "pieces": "Lengths owned", "max_kn_per_m": "Greatest load", "to": "Another brake",
         "tool": "This tool", "file": "The drawing", "stop_moved": "How the stop is moved"}
"""What a refusal at no size is about."""
STOP_CHOICES = (("", "not said: as by number"), ("number", "by a number typed in"), ("hand", "by hand, with a rule"),
                ("none", "there is none: bent at lines"))
"""How a stop is moved, as it is asked."""


@require_safe
def new(request):
    """The kinds of brake as pictures, to begin one."""
    return _new(request)


def _new(request, error: Refusal | None = None):
    kinds = [{"kind": kind, "view": kind_view(kind)} for kind in KINDS.values()]
    return render(request, "brakes/new.html", {"at": "brakes", "kinds": kinds, "error": fields.told(error),
                                               "typed": request.POST if error else {}}, status=status_of(error))


@require_POST
def begin(request):
    """A brake of a kind with all its sizes at their start values, to be made true."""
    form = request.POST
    try:
        kind = KINDS[fields.one_of(form.get("kind"), KINDS, "kind")]
        name = _new_name(form)
    except Refusal as refusal:
        return _new(request, refusal)
    data = begun(kind, name, str(request.user.units))
    read_brake(data)
    made = Brake.objects.create(name=name, file=written(data))
    messages.success(request, f"{name} begins with the sizes of a common {kind.title.lower()}: now measure yours.")
    return redirect("brakes:sizes", pk=made.pk)


def _new_name(form) -> str:
    """The name of a brake that is to be there; refuses none, and that of another."""
    name = fields.words(form.get("name"), 80)
    if not name or Brake.objects.filter(name__iexact=name).exists():
        raise Refusal("name", "must be given, and be another than those of your brakes")
    return name


@require_POST
def again(request, pk: int):
    """The same brake once more under another name: another set of fingers, or one like it that stands beside it."""
    found = get_object_or_404(Brake, pk=pk)
    data = read_json(found.file.encode())
    if kind_of(data) is None:
        raise Http404
    try:
        name = _new_name(request.POST)
    except Refusal as refusal:
        return page(request, found, error=refusal)
    made = Brake.objects.create(name=name, file=written(data | {"name": name}))
    messages.success(request, f"{name} begins as {found.name}: change what is another on it.")
    return redirect("brakes:sizes", pk=made.pk)


@require_safe
def sizes(request, pk: int, rack: str = "", number: int = 0):
    """The sizes of a brake, or of a tool on it, where they are measured."""
    return page(request, get_object_or_404(Brake, pk=pk), rack, number)


@require_safe
def sheet(request, pk: int, rack: str = "", number: int = 0):
    """The same with empty boxes, printed and taken to the machine."""
    return page(request, get_object_or_404(Brake, pk=pk), rack, number, paper=True)


def page(request, found: Brake, rack: str = "", number: int = 0, error: Refusal | None = None, paper: bool = False,
         over: Laid | None = None):
    """The sizes as they stand, a drawing laid ``over`` them, an error at its field with what was typed;
    only what is redrawn where a change asks."""
    data, units = read_json(found.file.encode()), request.user.units
    try:
        block = tool_at(data, rack, number) if rack else data
    except Refusal:
        raise Http404 from None
    kind = kind_of(block)
    if kind is None:
        return redirect(f"{reverse('brakes:brake', args=[found.pk])}?place={rack}[{number}].section" if rack else
                        reverse("brakes:brake", args=[found.pk]))
    rows = taken(block, data["units"])
    view, field = measured_view(kind, rows, units, typed=not paper, over=over), request.POST.get("field", "")
    shown = [_row(n, row, units, error, request.POST.get("value", "")[:80] if row.measure.name == field else None)
             for n, row in enumerate(rows, 1)]
    for label in view["labels"]:
        label["row"] = shown[label["number"] - 1]
    pieces = f"{rack}[{number}].section" if rack else "finger_section" if kind.name == "finger" else ""
    wrong = next((f"{row['number']} {row['title']}" for row in shown if row["error"]),
                 WORDS.get(error.path) if error else "")
    asked = error and field in ("pieces", "name", "turnable", "max_kn_per_m")
    context = {
        "at": "brakes", "brake": found, "kind": kind, "rows": shown, "view": view, "rack": rack, "number": number,
        "tool": block if rack else None, "over": over, "units": units, "error": error, "wrong": wrong, "asked": field,
        "unsaid": sum(not row.is_measured for row in rows),
        "drawn": [(place, NAMES.get(place, "Stop")) for place in block["measured"].get("drawn", ())],
        "stop_moves": STOP_CHOICES if kind.name == "press" and not rack else None,
        "stop_moved": data["measured"].get("stop_moved", "") if not rack else "",
        "has_pieces": bool(pieces),
        "pieces": written_pieces(data, pieces, units).replace("\n", "; ") if pieces else "",
        "typed": request.POST.get("value", "")[:400] if asked else None,
        "others": [one for one in Brake.objects.exclude(pk=found.pk) if one.press] if rack else [],
        "change_url": reverse("brakes:tool-size", args=[found.pk, rack, number]) if rack else
        reverse("brakes:size", args=[found.pk])}
    if paper:
        return render(request, "brakes/measuring_sheet.html", context)
    partial = request.headers.get("HX-Request") == "true"
    return render(request, "brakes/_sizes.html" if partial else "brakes/sizes.html", context, status=status_of(error))


def _row(number, row, units, error, typed) -> dict:
    """A size as its reader reads it: its value, its unit, what was wrong with what he typed."""
    one, wrong = row.measure, error if error and error.path == row.measure.name else None
    return {"number": number, "name": one.name, "title": one.title, "hold": one.hold, "is_measured": row.is_measured,
            "value": _shown(row, units) if typed is None or not error else typed, "unit": _unit(one.unit, units),
            "error": wrong.message if wrong else ""}


def _shown(row, units) -> str:
    if row.measure.unit is Unit.LENGTH:
        return as_typed(row.value, units)
    if row.measure.unit is Unit.FORCE:
        return f"{row.value / KN_PER['ton' if units == 'in' else 'kn']:.4g}"
    return show_angle(row.value, units if row.measure.unit is Unit.BEND else "mm")


def _unit(unit, units) -> str:
    return {Unit.LENGTH: str(units), Unit.FORCE: "US tons" if units == "in" else "kN"}.get(unit, "")


@require_POST
@retried
def size(request, pk: int, rack: str = "", number: int = 0):
    """One size as it was measured; of a tool also its pieces, and what is stamped on it."""
    found, form = get_object_or_404(Brake, pk=pk), request.POST
    field, value = form.get("field", "")[:40], form.get("value", "")[:400]
    things = [f"{rack}[{number}].{field}" if rack else f"size {field}"]
    try:
        found.refuse_clash(form, things)
        data = _set(read_json(found.file.encode()), field, value, request.user.units, (rack, number) if rack else None)
        read_brake(data)
    except Refusal as refusal:
        return page(request, found, rack, number, refusal)
    found.rewrite(request.user, things, f"set {field.replace('_', ' ')} of {found.name}", data)
    return page(request, found, rack, number)


def _set(data, field, value, units, tool) -> dict:
    """The brake file with one field of a brake or of a tool as typed."""
    if tool:
        tool_at(data, *tool)
    place = f"{tool[0]}[{tool[1]}].section" if tool else "finger_section"
    if field == "pieces":
        if not tool and kind_of(data) is not KINDS["finger"]:
            raise Refusal("pieces", "are asked of fingers and tools alone")
        return with_pieces(data, place, value, units)
    if field == "stop_moved" and not tool:
        return with_stop_moved(data, value)
    if field == "again" and not tool:
        return made_again(data, value)
    if tool and field in ("turnable", "max_kn_per_m"):
        return _stamped(data, tool, field, value)
    return with_size(data, field, value, units, tool)


def _stamped(data, tool, field, value) -> dict:
    """Whether a tool may be turned end for end, and the greatest load stamped on it."""
    block = dict(tool_at(data, *tool))
    if field == "turnable":
        block["turnable"] = value == "yes"
    elif value.strip():
        load = fields.number(value.strip())
        if load is None or not 1 <= load <= 100_000:
            raise Refusal("max_kn_per_m", "must be a whole number of kN to the metre, as stamped on it; or nothing")
        block["max_kn_per_m"] = load
    else:
        block.pop("max_kn_per_m", None)
    rack = [block if n == tool[1] else one for n, one in enumerate(data[tool[0]])]
    return data | {tool[0]: rack}




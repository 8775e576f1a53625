"""Site sheets: the list, a sheet, and everything done at it."""

import csv
import io
import uuid

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.db.models import Max
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.said import in_units
from bendcore.site.measured import KINDS, LENGTH, TO, out_of_square
from bendcore.site.rules import Value
from bendcore.units import on_tape, show_length
from dorvan import fields, pictures
from dorvan.drawings.site import sketch_view
from dorvan.spreadsheet import plain
from dorvan.tickets import kits
from dorvan.tickets.models import Ticket
from dorvan.versions.doing import retried, status_of

from .acts import ACTS, touched
from .forms import GRID
from .models import Picture, Visit
from .moving import present, same

LATEST, MOST_LISTED = 25, 60


@require_safe
def visits(request):
    return visits_page(request)


def visits_page(request, error: Refusal | None = None):
    """The sheets so far, and a new one."""
    page = Paginator(Visit.objects.prefetch_related("things__readings", "rules__uses"), LATEST).get_page(
        request.GET.get("page", "1")[:9])
    return render(request, "site/visits.html", {
        "at": "site", "rows": [(visit, sum(bool(t.measured.lacks) for t in visit.things.all()),
                                {use.ticket_id for rule in visit.rules.all() for use in rule.uses.all()})
                               for visit in page], "page": page,
        "today": timezone.localdate(), "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
def new(request):
    """A new sheet."""
    form = request.POST
    try:
        name, on = fields.words(form.get("name"), 120), fields.day(form.get("on"), "on")
        if not name:
            raise Refusal("name", "say what was visited")
        if on is None:
            raise Refusal("on", "say on which day")
    except Refusal as refusal:
        return visits_page(request, refusal)
    with transaction.atomic():
        last = Visit.objects.aggregate(last=Max("number"))["last"] or 0
        made = Visit.objects.create(number=last + 1, name=name, on=on, place=fields.words(form.get("place"), 200),
                                    made_by=request.user)
    return redirect("site:sheet", made.number)


def visit_or_404(number: int) -> Visit:
    """The visit of this number."""
    return get_object_or_404(Visit, number=number)


@require_safe
def sheet(request, number: int):
    return sheet_page(request, visit_or_404(number))


def sheet_page(request, visit: Visit, error: Refusal | None = None):
    """What was measured, the sketch, the rules with their workings, and the tickets that follow."""
    core, units = visit.sheet(), request.user.units
    things = list(visit.things.prefetch_related("readings__struck_by"))
    values = core.values
    tickets = Ticket.objects.filter(archived=False).order_by("-number")[:MOST_LISTED]
    picked = fields.number(request.GET.get("ticket"))
    chosen = next((t for t in tickets if t.number == picked), None)
    return render(request, "site/sheet.html", {
        "at": "site", "visit": visit, "units": units,
        "things": sorted((_thing(thing, values) for thing in things), key=lambda row: not row["lacks"]),
        "kinds": KINDS, "to": TO,
        "rules": [_rule(rule, core, values) for rule in visit.rules.prefetch_related("uses__ticket")],
        "tickets": tickets, "chosen": chosen, "sizes": kits.sizable(chosen.part) if chosen else [],
        "view": sketch_view(visit.sketch, lambda name: _read_off(values.get(name), units)), "grid": GRID,
        "pictures": visit.pictures.all(), "typed": request.POST if error else {},
        "error": error and fields.told(error) | {"what": request.POST.get("what"),
                                                 "thing": fields.number(request.POST.get("thing"))}},
        status=status_of(error))


def _read_off(value: Value | None, units) -> str:
    """A value as its reader finds it on his tape."""
    if value is None or value.dimension != LENGTH:
        return in_units(value.told, units) if value else "?"
    return "; ".join(str(on_tape(mm, units) or show_length(mm, units)) for mm in value.values) + f" {units}"


def _thing(thing, values) -> dict:
    lacks = thing.measured.lacks
    known = values.get(thing.name)
    return {"thing": thing, "lacks": lacks, "key": uuid.uuid4(), "kind": KINDS[thing.kind],
            "warns": known and out_of_square(KINDS[thing.kind], known.values),
            "mm": known.values if known and known.dimension == LENGTH else (), "value": known.told if known else ""}


def _rule(rule, core, values) -> dict:
    known = values.get(rule.name)
    uses = [{"use": use, "stands": known and same(present(use.ticket, use.field), known)} for use in rule.uses.all()]
    lacks, working = list(core.lacks[rule.name]), core.working(rule.name) if known else ""
    lacks += [core.failed[rule.name]] if rule.name in core.failed else []
    return {"rule": rule, "uses": uses, "lacks": lacks, "working": working, "value": known and known.told,
            "mm": known.one if known and known.dimension == LENGTH else None}


@require_POST
@retried
def act(request, number: int):
    """One thing done at a sheet, by ``what``; refused at its field, nothing typed lost."""
    visit = visit_or_404(number)
    try:
        visit.refuse_clash(request.POST, touched(request.POST))
        told = ACTS[fields.one_of(request.POST.get("what"), ACTS, "what")](visit, request)
    except Refusal as refusal:
        return sheet_page(request, visit, refusal)
    for words in told.moved:
        messages.success(request, f"{words} follows.")
    for words in told.could_not:
        messages.error(request, f"Could not follow: {in_units(words, request.user.units)}.")
    back = fields.number(request.POST.get("ticket"))
    answer = redirect("site:sheet", number)
    if back:
        answer["Location"] += f"?ticket={back}"
    return answer


@require_safe
def picture(request, number: int, pk: int):
    """A photograph of the place."""
    return pictures.shown(get_object_or_404(Picture, visit__number=number, pk=pk).jpeg)


@require_safe
def readings_csv(request, number: int):
    """Every reading of a sheet, struck ones too, for other programs."""
    visit, text = visit_or_404(number), io.StringIO()
    rows = csv.writer(text)
    rows.writerow(["name", "kind", "to", "reading", "value", "unit", "who", "when", "struck out"])
    for thing in visit.things.prefetch_related("readings__struck_by"):
        unit = "deg" if thing.sort.dimension == "angle" else "mm"
        for one in thing.readings.all():
            rows.writerow([plain(thing.name), thing.kind, thing.to, plain(one.typed),
                           "; ".join(f"{value:.10g}" for value in one.values), unit, plain(one.who),
                           one.at.isoformat(timespec="minutes"), one.struck_by or ""])
    answer = HttpResponse(text.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{visit}-readings.csv"'
    return answer

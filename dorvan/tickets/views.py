"""The rack, and the stages of a ticket up to the order."""

import json

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal
from bendcore.formats.export import WRITERS, export
from bendcore.formats.pdf import PAPERS
from bendcore.layout.marks import DATUMS, diagonal, steps
from dorvan import fields
from dorvan.brakes.models import Brake, Tooling
from dorvan.drawings.still import still_svg
from dorvan.ledger.models import Chart
from dorvan.ledger.schools import chart_block
from dorvan.people.roles import lead_required
from dorvan.stockroom.models import Lot

from . import derived, edits, stages
from .actions import act_on
from .cards import keep_card
from .longwork import Working
from .meanwhile import ANYTHING, meanwhile
from .models import Ticket
from .photographs import MOST_BYTES as MOST_PHOTOGRAPH
from .photographs import Photograph, as_jpeg
from .retry import retried

MOST_PIECES = 100_000


def ticket_or_404(number: int) -> Ticket:
    return get_object_or_404(Ticket, number=number)


ON_A_PAGE = 24


@require_GET
def rack(request):
    """The tickets, a page at a time. What a card shows was kept when the ticket was last looked at; one
    that changed since fetches itself."""
    tickets = Ticket.objects.select_related("brake", "lead", "nose", "shim", "slip").prefetch_related(
        "revisions__sheets", "revisions__runs", "overrides")
    page = Paginator(tickets, ON_A_PAGE).get_page(request.GET.get("page", "1")[:9])
    return render(request, "tickets/rack.html", {"cards": [stages.card(t) for t in page], "page": page, "at": "rack"})


@require_GET
def card(request, number: int):
    """One card of the rack, worked out and kept."""
    ticket = ticket_or_404(number)
    keep_card(ticket)
    return render(request, "tickets/_card.html", {"card": stages.card(ticket)})


@require_GET
def stage(request, number: int, stage: str):
    ticket = ticket_or_404(number)
    if stage == "layout" and not ticket.seen_layout:
        ticket.seen_layout = True
        Ticket.objects.filter(pk=ticket.pk).update(seen_layout=True)
    return stages.page(request, ticket, stage)


EDITABLE = ("shape", "stock", "proof", "order")


def stage_named(form, otherwise="shape") -> str:
    return form.get("stage") if form.get("stage") in EDITABLE else otherwise


def guarded(request, ticket: Ticket, name: str, field: str, act) -> HttpResponse:
    """Do ``act()`` on the ticket and redraw its stage ``name``.

    When someone else changed the ticket since the page was drawn, the person is told; a
    change of the same ``field`` waits until they have seen both. A Refusal comes back at
    its field, with what was typed.
    """
    since = meanwhile(ticket, request.POST.get("seen", ""), request.user)
    if since and since.touches(ticket, field):
        mine = [(k, v) for k, v in request.POST.items() if k not in ("seen", "csrfmiddlewaretoken")]
        return stages.page(request, ticket, name, meanwhile=since, mine=mine, my_words=edits.in_words(field),
                           my_value=request.POST.get("value") or request.POST.get(field, ""))
    try:
        act()
    except Refusal as refusal:
        return stages.page(request, ticket, name, error={
            "field": refusal.path, "message": refusal.message, "asked": request.POST.get("field", field),
            "value": request.POST.get("value", request.POST.get(field, ""))[:120]})
    return stages.page(request, ticket, name, merged=since, told=ticket.told)


@require_POST
@retried
def change(request, number: int):
    """One change of the part; answers with the stage redrawn, or the error at its field."""
    ticket = ticket_or_404(number)

    def act():
        part, note, choices = _changed(ticket, request)
        ticket.change(part, note, request.user, **choices)

    return guarded(request, ticket, stage_named(request.POST), _target(request.POST), act)


def _target(form) -> str:
    """The field a change is about, for telling it from another person's."""
    action = form.get("action", "set")
    return {"set": form.get("field", ""), "hem": f"shape.{form.get('end', '')}", "tool-radius": "inside_radius"}.get(
        action, "shape")


def _changed(ticket, request):
    """(part, note, choices) after what the form asks for."""
    form, part = request.POST, ticket.part
    action, units = form.get("action", "set"), request.user.units
    if action == "set":
        field, value = form.get("field", ""), form.get("value", "")[:200]
        if field == "allowance.method":
            return _allowance(ticket, value, units)
        if field == "stock.springback" and ticket.follows_shop:
            return edits.set_field(part, field, value, units), field, {"follows_shop": False}
        return edits.set_field(part, field, value, units), field, {}
    changed, note = act_on(part, action, form, units)
    return changed, note, {}


def _allowance(ticket, value, units):
    """A school picked: the shop's rule, a chart of the shop, or one of the books'."""
    if value == "shop":
        return None, "allowance by the shop", {"follows_shop": True}
    if value.startswith("chart:"):
        chart = fields.row(Chart, value[6:])
        block = chart_block(chart, ticket.figures.part, ticket.tool)
        return ticket.part | {"allowance": block}, f"chart {chart.name}", {"follows_shop": False}
    return edits.set_field(ticket.part, "allowance.method", value, units), "allowance", {"follows_shop": False}


@require_POST
@retried
def undo(request, number: int, way: str):
    """Back to the edit before, or forward again."""
    ticket = ticket_or_404(number)
    return guarded(request, ticket, stage_named(request.POST), ANYTHING,
                   lambda: ticket.move_to(ticket.place + (-1 if way == "undo" else 1)))


LINKS = {"brake": Brake, "lot": Lot, "nose": Tooling, "shim": Tooling, "slip": Tooling}


@require_POST
@retried
def set_up(request, number: int):
    """Quantity, brake, tools and lot: choices made on the ticket, beside the part."""
    form = request.POST
    name = stage_named(form, "stock")
    field = next((f for f in ("quantity", "brake", "punch", "die", "lot", "nose", "shim", "slip") if f in form), "")
    ticket = ticket_or_404(number)

    def act():
        part, choices = _chosen(ticket, form)
        ticket.change(part, edits.in_words(field), request.user, **choices)

    return guarded(request, ticket, name, field, act)


def _chosen(ticket, form):
    """(part or None, choices) from a set-up form."""
    choices, part = {}, None
    if "quantity" in form:
        pieces = fields.whole(form["quantity"], "quantity", 1, MOST_PIECES)
        if ticket.lead:
            raise Refusal("quantity", f"is {ticket.per_assembly} to each {ticket.lead.tag}: change it there, or at Kit")
        choices["quantity"] = pieces
    for key, model in LINKS.items():
        if key in form:
            found = fields.row(model, form[key]) if form[key] else None
            choices[f"{key}_id"] = found.pk if found else None
            if key == "brake":
                choices |= {"punch": "", "die": ""}
            if key == "lot" and found:
                part = edits.from_lot(ticket.part, found)
    press = ticket.brake.press if ticket.brake else None
    for key in ("punch", "die"):
        if key in form and press:
            rack_names = {t.name for t in (press.punches if key == "punch" else press.dies)}
            choices[key] = form[key] if form[key] in rack_names else ""
    return part, choices


@require_POST
@retried
def try_order(request, number: int):
    """Take an order of the person's own, or (empty) the best one again."""
    names = [n for n in request.POST.get("names", "")[:2000].split(",") if n]
    ticket = ticket_or_404(number)
    if not ticket.can_be_ordered:
        raise Http404

    def act():
        if names:
            derived.check_order(ticket.joined, ticket.brake.file, names)
        ticket.change(None, "bend order", request.user, bend_order=names)

    return guarded(request, ticket, "order", "bend_order", act)


@require_POST
@lead_required
@retried
def override(request, number: int):
    """A lead lets one stop pass, with a reason that stays on the ticket."""
    ticket = ticket_or_404(number)
    reason = fields.words(request.POST.get("reason"), 300)
    key = (request.POST.get("code"), request.POST.get("where"))
    stop = next((n for n in ticket.open_stops if (n.code, n.where) == key), None)
    name = stage_named(request.POST, "layout")
    if stop is None:
        raise Http404
    if len(reason) < 5:
        return stages.page(request, ticket, name, error={
            "field": "reason", "asked": "reason", "value": reason,
            "message": "must say why this stop may pass, in a few words; it stays on the ticket"})
    with transaction.atomic():
        ticket.keep()
        ticket.overrides.create(code=stop.code, where=stop.where, message=stop.message, reason=reason, by=request.user)
    return stages.page(request, ticket, name)


@require_GET
def frames(request, number: int, step: int):
    """Frames of one step of the order in force, or of the one it stops at."""
    ticket = ticket_or_404(number)
    try:
        found = ticket.ordered
    except (Working, Refusal):
        raise Http404 from None
    steps = [*found["steps"], *([found["blocked"]] if found["blocked"] else [])] if found else []
    if not 1 <= step <= len(steps):
        raise Http404
    return JsonResponse(derived.frames(ticket.joined, ticket.brake.file, steps, step - 1))


@require_GET
def remedies(request, number: int):
    """Ways out, each simulated; asked for because it takes a few seconds."""
    ticket = ticket_or_404(number)
    if not ticket.can_be_ordered:
        raise Http404
    found, working, refused = [], False, ""
    try:
        found = derived.remedies(ticket.joined, ticket.brake.file, ticket.punch, ticket.die, ticket.bend_order or None)
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    return render(request, "tickets/_remedies.html", {"remedies": found, "ticket": ticket, "working": working,
                                                      "refused": refused})


@require_GET
def workings(request, number: int):
    """The working of every figure; fetched when somebody asks, so that edits stay quick."""
    return render(request, "tickets/_working_articles.html", {"figures": ticket_or_404(number).figures})


@require_GET
def still(request, number: int):
    """The folded part as a small picture; the page names the ticket's stamp, so it may be kept."""
    response = HttpResponse(still_svg(ticket_or_404(number).figures.coarse_mesh), content_type="image/svg+xml")
    response["Cache-Control"] = "private, max-age=600"
    return response


@require_GET
def photograph(request, number: int):
    """The photograph of the sample; the page names when it was taken, so it may be kept."""
    found = get_object_or_404(Photograph, ticket__number=number)
    return HttpResponse(bytes(found.jpeg), content_type="image/jpeg",
                        headers={"Cache-Control": "private, max-age=600"})


@require_POST
def keep_photograph(request, number: int):
    """The photograph of the sample put beside the drawing, or taken off."""
    ticket = ticket_or_404(number)
    if "remove" in request.POST:
        Photograph.objects.filter(ticket=ticket).delete()
        return redirect(ticket)
    file = request.FILES.get("photograph")
    try:
        if not file:
            raise Refusal("photograph", "choose a picture first")
        jpeg = as_jpeg(file.read(MOST_PHOTOGRAPH + 1))
        Photograph.objects.update_or_create(ticket=ticket, defaults={"jpeg": jpeg, "by": request.user})
    except Refusal as refusal:
        messages.error(request, f"The photograph {refusal.message}.")
    return redirect(ticket)


@require_GET
def download(request, number: int, ending: str):
    """The flat pattern as a file, or (``part``) the part file itself."""
    ticket = ticket_or_404(number)
    if ending == "part":
        text, kind, name = json.dumps(ticket.joined, indent=1, ensure_ascii=False), "application/json", "part.json"
    elif ending in WRITERS:
        paper = request.GET.get("paper", "A4")
        options = {"paper": paper if paper in PAPERS else "A4"} if ending in ("pdf", "model") else {}
        try:
            text = export(ticket.figures.part, ending, **options)
        except Refusal as refusal:
            messages.error(request, f"No template on {paper}: it {refusal.message}.")
            return redirect("tickets:stage", number=number, stage="layout")
        kind = WRITERS[ending][1]
        name = "paper-model.pdf" if ending == "model" else (
            f"{'folded' if ending in ('stl', 'glb') else 'flat'}.{ending}")
    else:
        raise Http404
    response = HttpResponse(text, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{ticket.tag}-{name}"'
    return response


@require_GET
def marking_out(request, number: int):
    """The steps of marking out, to be printed and taken to the sheet."""
    ticket = ticket_or_404(number)
    units, part = request.user.units, ticket.figures.part
    rules = {"mm": (150, 300, 600, 1000), "in": (152.4, 304.8, 609.6, 914.4)}[units]
    asked = request.GET.get("rule", "")
    rule = next((r for r in rules if f"{r:g}" == asked), rules[2])
    datum = request.GET.get("datum") if request.GET.get("datum") in DATUMS else DATUMS[0]
    return render(request, "tickets/marking_out.html", {
        "ticket": ticket, "at": "rack", "units": units, "part": part, "rule": rule, "rules": rules,
        "datum": datum, "datums": DATUMS,
        "steps": steps(part, rule, datum), "view": stages.blank_view(ticket, units, datum),
        "diagonal": diagonal(part.flat), "pieces": ticket.quantity,
        "length": part.flat.size[0], "width": part.flat.size[1]})


@require_POST
@lead_required
def remove(request, number: int):
    """Only a ticket that was never released can be taken off the rack."""
    ticket = ticket_or_404(number)
    with transaction.atomic():
        released = ticket.revisions.exists()
        if not released:
            ticket.delete()
    if released:
        messages.error(request, f"{ticket.tag} was released; its record stays.")
    else:
        messages.success(request, f"{ticket.tag} {ticket.name} was taken off the rack.")
    return redirect("tickets:rack")

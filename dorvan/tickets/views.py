"""The rack, and the stages of a ticket up to the order."""

import json

from django.contrib import messages
from django.db import transaction
from django.db.models import Max
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal
from bendcore.formats.export import WRITERS, export
from bendcore.formats.part import read_part
from dorvan.brakes.models import Brake
from dorvan.people.roles import lead_required

from . import derived, edits, stages
from .models import Ticket

MOST_PIECES = 100_000


def ticket_or_404(number: int) -> Ticket:
    return get_object_or_404(Ticket.objects.select_related("brake"), number=number)


@require_GET
def rack(request):
    tickets = Ticket.objects.select_related("brake").prefetch_related("revisions__sheets", "revisions__runs")
    return render(request, "tickets/rack.html", {"cards": [stages.card(t) for t in tickets], "at": "rack"})


@require_POST
@transaction.atomic
def create(request):
    """A new ticket, numbered after the last, begun as an angle to be changed."""
    name = request.POST.get("name", "").strip()[:120] or "New part"
    number = (Ticket.objects.aggregate(last=Max("number"))["last"] or 100) + 1
    ticket = Ticket.objects.create(number=number, part=edits.new_part(name, request.user.units),
                                   brake=Brake.objects.first(), made_by=request.user)
    return redirect(ticket)


@require_GET
def stage(request, number: int, stage: str):
    ticket = ticket_or_404(number)
    if stage == "layout" and not ticket.seen_layout:
        ticket.seen_layout = True
        ticket.save(update_fields=["seen_layout"])
    return stages.page(request, ticket, stage)


@require_POST
def change(request, number: int):
    """One change of the part; answers with the stage redrawn, or the error at its field."""
    with transaction.atomic():
        ticket = get_object_or_404(Ticket.objects.select_for_update(), number=number)
        name = request.POST.get("stage", "shape")
        if name not in ("shape", "stock"):
            raise Http404
        try:
            part, note = _changed(ticket.part, request)
            if part != ticket.part:
                read_part(part)
                ticket.change(part, note[:120], request.user)
        except Refusal as refusal:
            return stages.page(request, ticket, name, error={
                "field": refusal.path, "message": refusal.message,
                "asked": request.POST.get("field", ""), "value": request.POST.get("value", "")[:120]})
    return stages.page(request, ticket, name)


def _changed(part, request):
    form = request.POST
    action, units = form.get("action", "set"), request.user.units
    if action == "set":
        field = form.get("field", "")
        return edits.set_field(part, field, form.get("value", "")[:200], units), field
    if action == "add-bend":
        return edits.add_bend(part), "bend added"
    if action == "remove-bend":
        return edits.remove_bend(part, int(form["index"]) if form.get("index", "").isdigit() else -1), "bend removed"
    if action == "hem":
        return edits.toggle_hem(part, form.get("end", "")), "hem"
    if action == "points":
        try:
            points = json.loads(form.get("points", "")[:20_000])
        except (ValueError, RecursionError):
            raise Refusal("points", "is not a line") from None
        return edits.from_points(part, points), "drawn"
    raise Http404


@require_POST
def undo(request, number: int, way: str):
    with transaction.atomic():
        ticket = get_object_or_404(Ticket.objects.select_for_update(), number=number)
        ticket.move_to(ticket.place + (-1 if way == "undo" else 1))
    name = request.POST.get("stage", "shape")
    return stages.page(request, ticket, name if name in ("shape", "stock") else "shape")


@require_POST
def set_up(request, number: int):
    """Quantity, brake and tools: choices made on the ticket, beside the part."""
    ticket = ticket_or_404(number)
    form = request.POST
    name = form.get("stage") if form.get("stage") in ("stock", "order") else "stock"
    if "quantity" in form:
        text = form["quantity"].strip()
        if not text.isdigit() or not 1 <= int(text) <= MOST_PIECES:
            return stages.page(request, ticket, name, error={
                "field": "quantity", "asked": "quantity", "value": text[:20],
                "message": f"must be a whole number from 1 to {MOST_PIECES}"})
        ticket.quantity = int(text)
    if "brake" in form:
        ticket.brake = get_object_or_404(Brake, pk=form["brake"]) if form["brake"].isdigit() else None
        ticket.punch = ticket.die = ""
    press = ticket.brake.press if ticket.brake else None
    for key in ("punch", "die"):
        if key in form and press:
            rack_names = {t.name for t in (press.punches if key == "punch" else press.dies)}
            setattr(ticket, key, form[key] if form[key] in rack_names else "")
    ticket.save()
    return stages.page(request, ticket, name)


@require_POST
def try_order(request, number: int):
    """Take an order of the person's own, or (empty) the best one again."""
    ticket = ticket_or_404(number)
    names = [n for n in request.POST.get("names", "")[:2000].split(",") if n]
    if not ticket.brake:
        raise Http404
    try:
        if names:
            derived.check_order(ticket.part, ticket.brake.file, names)
    except Refusal as refusal:
        return stages.page(request, ticket, "order", error={"field": "names", "asked": "names",
                                                            "value": "", "message": refusal.message})
    ticket.bend_order = names
    ticket.save(update_fields=["bend_order", "changed_at"])
    return stages.page(request, ticket, "order")


@require_GET
def frames(request, number: int, step: int):
    """Frames of one step of the order in force, or of the one it stops at."""
    ticket = ticket_or_404(number)
    found = ticket.ordered
    steps = [*found["steps"], *([found["blocked"]] if found["blocked"] else [])] if found else []
    if not 1 <= step <= len(steps):
        raise Http404
    return JsonResponse(derived.frames(ticket.part, ticket.brake.file, steps, step - 1))


@require_GET
def remedies(request, number: int):
    """Ways out, each simulated; asked for because it takes a few seconds."""
    ticket = ticket_or_404(number)
    if not ticket.brake:
        raise Http404
    found = derived.remedies(ticket.part, ticket.brake.file, ticket.punch, ticket.die, ticket.bend_order or None)
    return render(request, "tickets/_remedies.html", {"remedies": found, "ticket": ticket})


@require_GET
def workings(request, number: int):
    """The working of every figure; fetched when somebody asks, so that edits stay quick."""
    return render(request, "tickets/_working_articles.html", {"figures": ticket_or_404(number).figures})


@require_GET
def folded(request, number: int):
    return JsonResponse(ticket_or_404(number).figures.mesh)


@require_GET
def download(request, number: int, ending: str):
    """The flat pattern as a file, or (``part``) the part file itself."""
    ticket = ticket_or_404(number)
    if ending == "part":
        text, kind, name = json.dumps(ticket.part, indent=1, ensure_ascii=False), "application/json", "part.json"
    elif ending in WRITERS:
        text, kind, name = export(ticket.figures.part, ending), WRITERS[ending][1], f"flat.{ending}"
    else:
        raise Http404
    response = HttpResponse(text, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{ticket.tag}-{name}"'
    return response


@require_POST
@lead_required
def remove(request, number: int):
    """Only a ticket that was never released can be taken off the rack."""
    ticket = ticket_or_404(number)
    if ticket.revisions.exists():
        messages.error(request, f"{ticket.tag} was released; its record stays.")
    else:
        messages.success(request, f"{ticket.tag} {ticket.name} was taken off the rack.")
        ticket.delete()
    return redirect("tickets:rack")

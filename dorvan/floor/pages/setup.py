"""The set-up sheet of a released order, and the look over a brake at the start of a shift."""

from django.db import transaction
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.floor.front import fronts
from bendcore.floor.setup import CHECKS, set_ups
from dorvan import fields
from dorvan.brakes.models import Brake, parsed
from dorvan.drawings.front import front_view
from dorvan.drawings.machine import set_picture
from dorvan.drawings.qr import qr
from dorvan.people.deeds import record
from dorvan.tickets import gate
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import ticket_or_404
from dorvan.tickets.results import in_brake
from dorvan.versions.doing import retried

from ..models import LogEntry, ShiftCheck, StepRecord
from ..run import brake_of, looked_over


@require_safe
def setup(request, number: int):
    """How the brake is set for a released order."""
    return setup_page(request, ticket_or_404(number))


def setup_page(request, ticket, error=None):
    revision = ticket.revision
    figures = revision.figures if revision else ticket.figures
    sheets = []
    if revision:
        machines = [parsed(file) for file in revision.brake_files]
        for sheet in set_ups(figures.part, revision.plan.steps, machines):
            brake = brake_of(revision, sheet.brake)
            sheets.append({"sheet": sheet, "brake": brake, "looked": brake and looked_over(brake),
                           "may": brake is None or brake.may_use(request.user), "before": _before(brake, ticket)}
                          | _seen(request, revision, sheet, machines))
    partial = request.headers.get("HX-Request") == "true"
    card = request.build_absolute_uri(reverse("floor:bend", args=[ticket.number]))
    return render(request, "floor/_setup.html" if partial else "tickets/ticket.html", {
        "ticket": ticket, "at": "rack", "stage": "set-up", "ruler": bench.ruler(ticket, "set-up"), "error": error,
        "units": request.user.units, "revision": revision, "sheets": sheets, "code": qr(card),
        "figures": figures, "part": figures.part,
        "shaped": figures.part, "body": "floor/_setup.html", "partial": partial}, status=422 if error else 200)


def _seen(request, revision, sheet, machines) -> dict:
    """The brake from the front for each mounting, and the section of the step that is asked for."""
    part, steps, units = revision.figures.part, revision.plan.steps, request.user.units
    asked = fields.number(request.GET.get("step"))
    stroke = next((one for one in sheet.strokes if one.step == asked), sheet.strokes[0])
    step = steps[stroke.step - 1]
    frames = in_brake.frames(revision.part, revision.brake_files, steps, stroke.step - 1)
    return {"fronts": [front_view(seen, part.stock.thickness, units) for seen in fronts(part, steps, sheet, machines)],
            "stroke": stroke, "picture": set_picture(frames, part, step.held, step.gauge.stop)}


def _before(brake, ticket):
    """The last run on a brake, of another ticket, that was not closed: its leftovers must be cleared."""
    if brake is None:
        return None
    last = StepRecord.objects.filter(run__revision__ticket__brake=brake).exclude(
        run__revision__ticket=ticket).select_related("run__revision__ticket").last()
    if last is None:
        return None
    closed = LogEntry.objects.filter(revision=last.run.revision, what=LogEntry.What.CLOSED, at__gte=last.at).exists()
    return None if closed else last.run.revision.ticket


@require_POST
def look_over(request, number: int):
    """A brake was looked over at the start of a shift: every point, by whom."""
    ticket = ticket_or_404(number)
    try:
        brake = fields.row(Brake.objects, request.POST.get("brake"), pk=None)
        points = CHECKS[brake.machine.kind]
        missing = [n for n, _ in enumerate(points) if request.POST.get(f"point-{n}") != "on"]
        if missing:
            raise Refusal(f"point-{missing[0]}", "every point must be looked to before the brake is used")
    except Refusal as refusal:
        return setup_page(request, ticket, {"field": refusal.path, "message": refusal.message})
    ShiftCheck.objects.create(brake=brake, looked_to=list(points), by=request.user)
    return redirect("floor:setup", number=number)


@require_POST
@retried
def structural(request, number: int):
    """Whether the part is a structural or safety part."""
    ticket = ticket_or_404(number)
    now = request.POST.get("structural") == "on"
    if ticket.structural and not now and not request.user.is_lead and gate.is_cut(ticket):
        return setup_page(request, ticket, {"field": "structural",
                                            "message": "is a lead's to take off once metal is cut"})
    with transaction.atomic():
        words = {True: "structural or safety part", False: "neither"}
        record(request.user, "structural", words[ticket.structural], words[now], ticket.tag)
        ticket.structural = now
        ticket.keep("structural")
    return redirect("floor:setup", number=number)

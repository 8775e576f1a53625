"""The gate of a ticket: what is open, what was tried, what a lead let pass; and what the shop asks for of each job."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from dorvan import fields
from dorvan.people.deeds import record
from dorvan.people.models import Deed
from dorvan.versions.doing import retried

from .. import gate
from ..models import Asks, MockUp, Opened
from ..models.gate import JOBS, MOCK_UP, POINTS
from .lookup import ticket_or_404

LEAST_REASON = 5


@require_safe
def show(request, number: int):
    """The points of a ticket's gate."""
    return gate_page(request, ticket_or_404(number))


def gate_page(request, ticket, error: Refusal | None = None):
    """Every point with what it wants, and what can be done about it."""
    found = gate.points(ticket)
    return render(request, "tickets/gate.html", {
        "ticket": ticket, "at": "rack", "units": request.user.units, "points": found, "jobs": JOBS, "mock_up": MOCK_UP,
        "shut": [point for point in found if point.is_open], "tried": ticket.mock_ups.select_related("by"),
        "past": ticket.opened.select_related("by"),
        "deeds": Deed.objects.filter(ticket=ticket.tag).exclude(what="opened").select_related("by"),
        "pieces": ticket.pieces.count(), "typed": request.POST if error else {},
        "part": ticket.figures.part,
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
@retried
def act(request, number: int):
    """Another kind of job, a mock-up tried, or a point opened by a lead with a reason."""
    ticket, form = ticket_or_404(number), request.POST
    try:
        what = fields.one_of(form.get("what"), ("job", "mock-up", "open"), "what")
        meant = [ticket, *ticket.pieces.all()] if form.get("kit") == "on" else [ticket]
        if what == "job":
            _job(meant, fields.one_of(form.get("job"), JOBS, "job"), request.user)
        elif what == "mock-up":
            note = fields.words(form.get("note"), 200)
            tried = [MockUp(ticket=one, key=one.content_key, note=note, by=request.user) for one in meant]
            MockUp.objects.bulk_create(tried)
            messages.success(request, "The mock-up is noted, for the part as it stands.")
        else:
            _open(meant, form, request.user)
    except Refusal as refusal:
        return gate_page(request, ticket, refusal)
    return redirect("tickets:gate", number)


def _job(meant, job: str, by) -> None:
    asks = Asks.now()
    held = [one for one in meant if not by.is_lead and gate.needs_lead(one, job, asks)]
    if held:
        raise Refusal("job", f"asks less of the gate, and metal of {held[0].tag} is cut: a lead must say so")
    with transaction.atomic():
        for one in meant:
            record(by, "job", JOBS[one.job][0], JOBS[job][0], one.tag)
            one.job = job
            one.keep("job")


def _open(meant, form, by) -> None:
    if not by.is_lead:
        raise Refusal("reason", "is a lead's to give: ask one to open the gate")
    points = [(one, point) for one in meant for point in gate.shut(one) if point.name == form.get("point")]
    if not points:
        raise Refusal("point", "is not open: nothing to let pass")
    reason = fields.words(form.get("reason"), 300)
    if len(reason) < LEAST_REASON:
        raise Refusal("reason", "must say why it may pass, in a few words; it stays on the ticket")
    with transaction.atomic():
        for one, point in points:
            Opened.objects.create(ticket=one, point=point.name, said=point.said, reason=reason, by=by)
            record(by, "opened", f"{point.title}: shut", "let pass", one.tag, reason)


@require_safe
def asks(request):
    """What is asked for of each kind of job."""
    now = Asks.now()
    return render(request, "tickets/asks.html", {"at": "rack", "points": POINTS, "rows": [
        {"job": job, "title": title, "asked": now[job]} for job, (title, _) in JOBS.items()]})


@require_POST
def ask(request):
    """Ask for other points, from now on."""
    if "asks" not in request.POST:
        messages.error(request, "Nothing was sent, so nothing was changed.")
        return redirect("tickets:asks")
    with transaction.atomic():
        now = Asks.now()
        for job in JOBS:
            wanted = [point for point in POINTS if request.POST.get(f"{job}-{point}") == "on"]
            if wanted != list(now[job]):
                Asks.objects.create(job=job, points=wanted, by=request.user)
                before, after = (f"{JOBS[job][0]}: {', '.join(POINTS[p] for p in row) or 'nothing'}"
                                 for row in (now[job], wanted))
                record(request.user, "asks", before, after)
    messages.success(request, "The gate asks for this from now on.")
    return redirect("tickets:asks")

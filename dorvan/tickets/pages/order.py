"""Order: the order in force, its frames, and the ways out where there is none."""

from django.http import Http404, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from bendcore.errors import Refusal
from dorvan.brakes.models import Brake
from dorvan.drawings.section import film

from ..models import Ticket
from ..results import derived
from ..results.longwork import Working
from .lookup import ticket_or_404


def order(ticket: Ticket, units: str) -> dict:
    found, working, refused = None, False, ""
    try:
        found = ticket.ordered
        ticket.note_order(found)
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    press = ticket.brake.press if ticket.brake else None
    return {"order": found, "working": working, "refused": refused, "press": press, "brakes": Brake.objects.all(),
            "film": film(ticket.figures.part, found.steps) if found else [],
            "names": ",".join(found.names) if found else "",
            "left": _not_made(ticket, found) if found else [],
            "mine": bool(ticket.bend_order),
            "shown": len(found.shown) if found else 0}


def _not_made(ticket, found) -> list[str]:
    """Bends the order never came to, so that they can still be dragged."""
    names = ticket.bend_order or [b.id for b in ticket.figures.part.shape.all_bends]
    return [n for n in dict.fromkeys(names) if n not in found.names]


@require_GET
def frames(request, number: int, step: int):
    """Frames of one step of the order in force, or of the one it stops at."""
    ticket = ticket_or_404(number)
    try:
        found = ticket.ordered
    except (Working, Refusal):
        raise Http404 from None
    steps = found.shown if found else ()
    if not 1 <= step <= len(steps):
        raise Http404
    return JsonResponse(derived.frames(ticket.joined, ticket.brake.file, steps, step - 1))


@require_GET
def every_brake(request, number: int):
    """Which of the shop's brakes can make the part, in what time and with how many set-ups; each worked out on its
    own."""
    ticket = ticket_or_404(number)
    if not ticket.can_be_ordered:
        raise Http404
    rows = [_on(ticket, brake) for brake in Brake.objects.all()]
    return render(request, "tickets/_every_brake.html", {"rows": rows, "ticket": ticket,
                                                         "working": any(row["working"] for row in rows)})


def _on(ticket, brake) -> dict:
    row = {"brake": brake, "plan": None, "working": False, "refused": "", "why": ""}
    try:
        plan = row["plan"] = derived.Asked(ticket.part_for(brake), brake.file).order()
    except Working:
        return row | {"working": True}
    except Refusal as refusal:
        return row | {"refused": refusal.message}
    if not plan.feasible:
        row["why"] = next((why.message for why in plan.reasons), "") or next(
            (f"{hit.face} meets the {hit.tool}" for hit in plan.hits), "no order")
    return row


@require_GET
def remedies(request, number: int):
    """Ways out, each simulated; asked for because it takes a few seconds."""
    ticket = ticket_or_404(number)
    if not ticket.can_be_ordered:
        raise Http404
    found, working, refused = [], False, ""
    try:
        found = ticket.order_asked.remedies()
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    return render(request, "tickets/_remedies.html", {"remedies": found, "ticket": ticket, "working": working,
                                                      "refused": refused})

"""The rack: every ticket as a card, a page at a time."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from dorvan.people.roles import lead_required

from ..models import Ticket
from .cards import card_shown, keep_card
from .lookup import ticket_or_404

ON_A_PAGE = 24

@require_GET
def rack(request):
    """The tickets, a page at a time. What a card shows was kept when the ticket was last looked at; one
    that changed since fetches itself."""
    tickets = Ticket.objects.select_related("brake", "lead", "nose", "shim", "slip").prefetch_related(
        "revisions__sheets", "revisions__runs", "overrides")
    page = Paginator(tickets, ON_A_PAGE).get_page(request.GET.get("page", "1")[:9])
    return render(request, "tickets/rack.html", {"cards": [card_shown(t) for t in page], "page": page, "at": "rack"})


@require_GET
def card(request, number: int):
    """One card of the rack, worked out and kept."""
    ticket = ticket_or_404(number)
    keep_card(ticket)
    return render(request, "tickets/_card.html", {"card": card_shown(ticket)})


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

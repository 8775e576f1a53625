"""What happens to blanks that are cut when their part becomes another."""

from django.contrib import messages
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from bendcore.errors import Refusal
from dorvan.fields import one_of

from ..models.cut import BlankCut, blank_key
from .lookup import ticket_or_404


@require_POST
def decide(request, number: int):
    """Keep what was decided of every blank that is cut and is another now."""
    ticket = ticket_or_404(number)
    try:
        fate, now = one_of(request.POST.get("fate"), BlankCut.Fate.values, "fate"), blank_key(ticket)
    except Refusal as refusal:
        messages.error(request, f"What happens to the blanks {refusal.message}.")
        return redirect(ticket)
    ticket.blanks_cut.exclude(blank=now).exclude(decided_for=now).update(
        fate=fate, decided_for=now, decided_by=request.user, decided_at=timezone.now())
    return redirect(ticket)

"""The photograph of a sample beside its drawing."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from dorvan import pictures

from ..models.photograph import Photograph
from .lookup import ticket_or_404


@require_safe
def photograph(request, number: int):
    """The photograph of the sample."""
    return pictures.shown(get_object_or_404(Photograph, ticket__number=number).jpeg)


@require_POST
def keep_photograph(request, number: int):
    """The photograph of the sample put beside the drawing, or taken off."""
    ticket = ticket_or_404(number)
    if "remove" in request.POST:
        Photograph.objects.filter(ticket=ticket).delete()
        return redirect(ticket)
    try:
        jpeg = pictures.sent(request)
        Photograph.objects.update_or_create(ticket=ticket, defaults={"jpeg": jpeg, "by": request.user})
    except Refusal as refusal:
        messages.error(request, f"The photograph {refusal.message}.")
    return redirect(ticket)

"""The photograph of a sample beside its drawing."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal

from ..models.photograph import MOST_BYTES as MOST_PHOTOGRAPH
from ..models.photograph import Photograph, as_jpeg
from .lookup import ticket_or_404


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

"""New tickets: begun plain, the same again, or the other hand of one that is there."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.edits import new_part
from bendcore.errors import Refusal
from bendcore.families.twin import mirrored
from bendcore.said import refused_in
from bendcore.units import read_length
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.shop.models import Shop

from ..models import Ticket
from .lookup import ticket_or_404
from .rack import Asked


def put_on_the_rack(ticket: Ticket) -> None:
    """Save a new ticket under the next number; refuses a part that cannot be read. Its card fetches itself."""
    _ = ticket.figures
    with transaction.atomic():
        ticket.number = Ticket.next_number()
        ticket.save()


LIKE = 8
"""So many tickets to begin from are shown."""


@require_safe
def begin(request):
    """What a new ticket may begin from: a picture, a drawing, a site sheet, another ticket."""
    asked = Asked.of(request.GET)
    return render(request, "tickets/begin.html", {"at": "rack", "asked": asked.words,
                                                  "like": asked.tickets().order_by("-number")[:LIKE]})


@require_POST
def create(request):
    """A new ticket, numbered after the last, begun as an angle to be changed."""
    name = fields.words(request.POST.get("name"), 120) or "New part"
    part = new_part(name, request.user.units, request.POST.get("family", "profile"))
    part["general_tolerance"] = Shop.now().general_tolerance
    ticket = Ticket(number=0, part=part, follows_shop=True, brake=Brake.objects.first(), made_by=request.user)
    ticket.part = ticket.by_the_shop(ticket.part)
    put_on_the_rack(ticket)
    return redirect(ticket)


def _another(user, ticket: Ticket, how: str, changes: dict | None = None, **choices) -> Ticket:
    """A ticket like this one, named by ``how`` it is another, with the ``changes`` of its part and other choices."""
    part = ticket.part | {"name": f"{ticket.name}, {how}"[:120]} | (changes or {})
    other = Ticket(number=0, made_by=user, part=part, **ticket.choices | {"role": ""} | choices)
    put_on_the_rack(other)
    return other


@require_POST
def duplicate(request, number: int):
    """A ticket for the same part again, with the same choices, released nowhere."""
    ticket = ticket_or_404(number)
    other = _another(request.user, ticket, "again")
    messages.success(request, f"{other.tag} is the same part as {ticket.tag}: change what is another.")
    return redirect(other)


@require_POST
def twin(request, number: int):
    """A ticket for the other hand of this part, with the same choices."""
    ticket = ticket_or_404(number)
    try:
        shape = mirrored(ticket.part["shape"], lambda value: read_length(value, ticket.part["units"]))
        other = _another(request.user, ticket, "other hand", {"shape": shape}, bend_order=[], important=[])
    except Refusal as refusal:
        messages.error(request, f"No other hand: {refused_in(refusal, request.user.units)}.")
        return redirect(ticket)
    messages.success(request, f"{other.tag} is the other hand of {ticket.tag}.")
    return redirect(other)

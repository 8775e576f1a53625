"""The ticket that an address names."""

from django.shortcuts import get_object_or_404

from ..models import Ticket


def ticket_or_404(number: int) -> Ticket:
    """The ticket of this number, or Http404."""
    return get_object_or_404(Ticket, number=number)

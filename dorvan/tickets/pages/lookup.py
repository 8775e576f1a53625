"""The ticket that an address names."""

from django.http import Http404
from django.shortcuts import get_object_or_404

from ..models import Revision, Ticket


def ticket_or_404(number: int) -> Ticket:
    """The ticket of this number, or Http404."""
    return get_object_or_404(Ticket, number=number)


def released_or_404(number: int) -> tuple[Ticket, Revision]:
    """A ticket and its newest revision, where it has one."""
    ticket = ticket_or_404(number)
    revision = ticket.revision
    if not revision:
        raise Http404
    return ticket, revision

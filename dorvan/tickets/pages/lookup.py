"""The ticket that an address names."""

from django.http import Http404
from django.shortcuts import get_object_or_404

from ..beside import with_beside
from ..models import Revision, Ticket


def ticket_or_404(number: int) -> Ticket:
    """The ticket of this number, or Http404."""
    return get_object_or_404(Ticket, number=number)


def bench_ticket_or_404(number: int) -> Ticket:
    """The ticket of this number for a page of the bench, which asks what stands beside it; or Http404."""
    try:
        return with_beside(Ticket, number)
    except Ticket.DoesNotExist:
        raise Http404 from None


def ordered_or_404(ticket: Ticket) -> Ticket:
    """The ticket, where bend orders are worked out for it."""
    if not ticket.can_be_ordered:
        raise Http404
    return ticket


def released_or_404(number: int) -> tuple[Ticket, Revision]:
    """A ticket and its newest revision, where it has one."""
    ticket = ticket_or_404(number)
    revision = ticket.revision
    if not revision:
        raise Http404
    return ticket, revision

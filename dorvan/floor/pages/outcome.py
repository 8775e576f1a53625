"""What is done after a check: decided, photographed, taken over into the next blank."""

from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.floor.reach import nonsense_k
from bendcore.schools.school import corrected
from dorvan import fields, pictures
from dorvan.keeping.taken import take
from dorvan.tickets.pages.lookup import released_or_404, ticket_or_404
from dorvan.versions.doing import retried

from ..models import CheckPhoto, CheckSheet, Decision
from ..run import Progress
from .check import LEAST_K, check_page

MOST_PHOTOGRAPHS = 12


def _sheet(number, pk):
    ticket = ticket_or_404(number)
    return ticket, get_object_or_404(CheckSheet, pk=pk, revision__ticket=ticket)


def _back(ticket, sheet):
    return redirect(f"{reverse('floor:check', args=[ticket.number])}?piece={sheet.piece}")


@require_POST
def decide(request, number: int, pk: int):
    """What is done with a piece that is out, and why."""
    ticket, sheet = _sheet(number, pk)
    words = fields.words(request.POST.get("words"), 300)
    try:
        what = fields.one_of(request.POST.get("what"), Decision.What.values, "what")
        if not words:
            raise Refusal("words", "must say why")
    except Refusal as refusal:
        return check_page(request, ticket, {"words": words}, {refusal.path: refusal.message}, sheet.piece)
    with transaction.atomic():
        take(request)
        Decision.objects.create(sheet=sheet, what=what, words=words, by=request.user)
    sheet.revision.count_checked()
    return _back(ticket, sheet)


@require_POST
def keep_photograph(request, number: int, pk: int):
    """A photograph of the piece laid beside its sheet."""
    ticket, sheet = _sheet(number, pk)
    try:
        if sheet.photographs.count() >= MOST_PHOTOGRAPHS:
            raise Refusal("photograph", f"is one too many: {MOST_PHOTOGRAPHS} belong to a sheet at most")
        jpeg = pictures.sent(request)
    except Refusal as refusal:
        return check_page(request, ticket, {}, {"photograph": f"The photograph: {refusal.message}."}, sheet.piece)
    with transaction.atomic():
        take(request)
        CheckPhoto.objects.create(sheet=sheet, jpeg=jpeg, by=request.user)
    return _back(ticket, sheet)


@require_safe
def photograph(request, number: int, pk: int):
    """A photograph of a piece that was checked."""
    return pictures.shown(get_object_or_404(CheckPhoto, pk=pk, sheet__revision__ticket__number=number).jpeg)


@require_POST
@retried
def take_k(request, number: int):
    """What brings the closing legs right, added to the K of every bend as it was released, into the part as it
    stands; taken twice it is the same. The revision keeps its own."""
    ticket, revision = released_or_404(number)
    more = Progress(revision).k_for_blank
    if more is None or abs(more) < LEAST_K:
        raise Http404
    try:
        nonsense = nonsense_k(revision.figures.part, more)
        if nonsense:
            raise Refusal("k", nonsense)
        block = corrected(revision.part["allowance"], more)
        ticket.change(ticket.part | {"allowance": block}, f"K {more:+.3f} by pieces checked", request.user,
                      follows_shop=False)
    except Refusal as refusal:
        return check_page(request, ticket, {}, {"k": refusal.message})
    return redirect("tickets:stage", number=number, stage="stock")

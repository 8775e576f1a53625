"""The rack: every ticket as a card, a page at a time, looked through by what a person asks for."""

import re
from dataclasses import dataclass

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.db.models import Exists, F, OuterRef, Q, QuerySet
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.people.deeds import record

from ..models import Asks, Ticket
from .cards import card_shown, keep_card, with_cards
from .lookup import ticket_or_404

ON_A_PAGE = 24
CHECKED = Q(revisions__checked__open=0, revisions__checked__out=0)
STATES = {
    "": ("All on the rack", Q(archived=False)),
    "open": ("Not released", Q(archived=False, revisions=None)),
    "released": ("Released, not checked", Q(archived=False, revisions__isnull=False) & ~CHECKED),
    "checked": ("Checked", Q(archived=False) & CHECKED),
    "out": ("With a piece out of tolerance", Q(archived=False, revisions__checked__out__gt=0)),
    "stopped": ("With a stop", Q(archived=False, card__stops__0__isnull=False)),
    "archived": ("Archived", Q(archived=True)),
}
"""What a ticket may be asked for by: its name for people, and the tickets meant."""
DUE = F("due").asc(nulls_last=True)
SORTS = {"": ("What wants doing first", ("is_done", DUE, "-number")), "new": ("Newest first", ("-number",)),
         "due": ("By due date", (DUE, "-number")), "name": ("By name", ("part__name", "-number"))}
"""Orders of the rack, by the form's word; what was checked wants nothing more."""


@dataclass(frozen=True)
class Asked:
    """What somebody looks for on the rack; words that mean nothing here mean everything."""

    words: str = ""
    state: str = ""
    metal: str = ""
    brake: int | None = None
    sort: str = ""

    @classmethod
    def of(cls, form) -> "Asked":
        def one_of(name, known):
            return form.get(name, "") if form.get(name, "") in known else ""

        return cls(fields.words(form.get("q"), 60), one_of("state", STATES), fields.words(form.get("metal"), 60),
                   fields.number(form.get("brake")), one_of("sort", SORTS))

    def __bool__(self) -> bool:
        return self != Asked(sort=self.sort)

    def tickets(self) -> QuerySet:
        """The tickets asked for, in the order asked for; nothing of the trade is looked at."""
        # asked for within: a join would bring a ticket once for each of its revisions and sheets
        found = Ticket.objects.filter(pk__in=Ticket.objects.filter(STATES[self.state][1]).values("pk"))
        if self.words:
            meant, number = Q(part__name__icontains=self.words), re.fullmatch(r"[tT]?-?0*(\d{1,9})", self.words)
            found = found.filter(meant | Q(number=int(number[1])) if number else meant)
        if self.metal:
            found = found.filter(part__stock__material=self.metal)
        if self.brake is not None:
            found = found.filter(brake_id=self.brake)
        if not self.sort:
            found = found.annotate(is_done=Exists(Ticket.objects.filter(CHECKED, pk=OuterRef("pk"))))
        return found.order_by(*SORTS[self.sort][1])


@require_safe
def rack(request):
    """The tickets, a page at a time. What a card shows was kept when the ticket was last looked at; one
    that changed since fetches itself."""
    asked = Asked.of(request.GET)
    page = Paginator(with_cards(asked.tickets()), ON_A_PAGE).get_page(request.GET.get("page", "1")[:9])
    asks = Asks.now()
    metals = sorted(set(Ticket.objects.order_by().values_list("part__stock__material", flat=True)))
    query = request.GET.copy()
    query.pop("page", None)
    return render(request, "tickets/rack.html", {
        "cards": [card_shown(t, asks) for t in page], "page": page, "at": "rack", "asked": asked, "metals": metals,
        "states": [(key, title) for key, (title, _) in STATES.items()], "brakes": Brake.objects.all(),
        "sorts": [(key, title) for key, (title, _) in SORTS.items()], "query": query.urlencode()[:500]})


@require_safe
def card(request, number: int):
    """One card of the rack, worked out and kept."""
    ticket = ticket_or_404(number)
    keep_card(ticket)
    return render(request, "tickets/_card.html", {"card": card_shown(ticket)})


@require_POST
def archive(request, number: int):
    """Off the rack with its record kept, or back on it."""
    ticket = ticket_or_404(number)
    back = "back" in request.POST
    with transaction.atomic():
        words = {True: "archived", False: "on the rack"}
        record(request.user, "archive", words[ticket.archived], words[not back], ticket.tag)
        Ticket.objects.filter(pk=ticket.pk).update(archived=not back)
    messages.success(request, f"{ticket.tag} {ticket.name} is {'on the rack again' if back else 'archived'}.")
    return redirect(ticket if back else "tickets:rack")


@require_POST
def remove(request, number: int):
    """Only a ticket that was never released can be taken off the rack for good."""
    ticket = ticket_or_404(number)
    with transaction.atomic():
        released = ticket.revisions.exists()
        if not released:
            record(request.user, "remove", ticket.name, "gone", ticket.tag)
            ticket.delete()
    if released:
        messages.error(request, f"{ticket.tag} was released; its record stays. Archive it instead.")
    else:
        messages.success(request, f"{ticket.tag} {ticket.name} was taken off the rack.")
    return redirect("tickets:rack")

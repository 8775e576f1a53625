"""Adopting a fit: which tickets it reaches, what it does to their blanks, and taking it back.

Live tickets that follow the shop take the figures over, each as an edit of its own, all with the adoption in one
transaction. Released revisions and archived tickets keep what they were made with.
"""

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass

from django.db import transaction
from django.db.models import prefetch_related_objects
from django.utils import timezone

from bendcore.bending.radius import die_in
from bendcore.errors import Refusal
from bendcore.stock import alike
from dorvan.ledger.fits import Known
from dorvan.ledger.models import Adoption, Pair, Rules, meant
from dorvan.tickets.file.joined import chosen
from dorvan.tickets.models import Ticket, write
from dorvan.tickets.results import derived


@dataclass(frozen=True)
class Affected:
    """``before`` and ``after`` are developed lengths, mm. Released tickets keep theirs."""

    ticket: Ticket
    before: float
    after: float | None
    released: bool
    enough: bool = True
    """Whether the fit has the samples the shop asks for before it follows the ledger."""

    @property
    def change(self) -> float:
        return (self.after or self.before) - self.before

    @property
    def takes(self) -> bool:
        """Whether adopting changes it: it follows the shop and is not released as it stands."""
        return self.ticket.follows_shop and not self.released and self.enough


def reached(pair: Pair) -> list[Ticket]:
    """Live tickets of this stock under this tool; for hems, those with a hem. Archived ones keep what they had."""
    found = []
    live = Ticket.objects.filter(archived=False, part__stock__material=pair.material).select_related(
        "brake", "nose", "shim", "slip", "lot").defer("card", "made", "sizes")
    for ticket in live:
        die, _ = chosen(ticket)
        if die and die.name != die_in(pair.tool):  # told before anything is worked out
            continue
        try:
            part = ticket.figures.part
        except Refusal:  # as it stands it cannot be read: its own page says why
            continue
        if ticket.tool != pair.tool or not alike(part.stock.thickness, pair.thickness):
            continue
        if part.shape.hems if pair.hem else part.shape.bends:
            found.append(ticket)
    prefetch_related_objects(found, "revisions")
    return found


def affected(tickets: Iterable[Ticket], known: Known) -> list[Affected]:
    """These tickets with their blanks by the fit. What a hem's K does is left to each ticket's own page."""
    enough = len(known.samples) >= Rules.now().enough
    block = {"method": "k_factor", "k": round(known.learnt.k.value, 4), "source": "ledger"}
    rows = []
    for ticket in tickets:
        try:
            after = derived.figures(ticket.joined | {"allowance": block}).part.flat.size[0]
        except Refusal:
            after = None
        rows.append(Affected(ticket, ticket.figures.part.flat.size[0], after, ticket.is_released, enough))
    return rows


def adopt_fit(pair: Pair, known: Known, reason: str, by) -> list[Ticket]:
    """Take the fit as it stands as the shop's figure, and the live tickets that follow the shop with it: all in one
    transaction. Returns those tickets."""
    k, back = known.learnt.k, known.learnt.springback
    adoption = Adoption(pair=pair, k=k.value, u_k=k.u, springback=back and back.value, reason=reason,
                        samples=list(known.samples), by=by, at=timezone.now())
    return _follow(adoption, f"ledger adopted, K {k.value:.3f}", by)


def withdraw_fit(pair: Pair, reason: str, by) -> list[Ticket]:
    """Take the adoption in force back, likewise."""
    return _follow(Adoption(pair=pair, reason=reason, by=by, at=timezone.now()), "adoption taken back", by)


def _follow(adoption: Adoption, note: str, by) -> list[Ticket]:
    """Worked out first with the adoption as it will be, written then; raises Moved where somebody wrote one of the
    tickets meanwhile."""
    edits = []
    with meant(adoption):
        for ticket in reached(adoption.pair):
            if ticket.follows_shop and not ticket.is_released:
                with suppress(Refusal):  # by the new figures it cannot be: it keeps its own until looked at
                    edits.append(ticket.drafted(None, note, by))
    edits = [edit for edit in edits if edit]
    with transaction.atomic():
        adoption.save()
        write(*edits)
    return [edit.ticket for edit in edits]

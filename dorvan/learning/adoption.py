"""Adopting a fit: which tickets it reaches, what it does to their blanks, and taking it back.

Open tickets that follow the shop take the figures over, each as an edit of its own.
Released revisions keep what they were made with.
"""

from dataclasses import dataclass

from bendcore.errors import Refusal
from bendcore.quality.ledger import Learnt, learn
from dorvan.ledger.models import SAME_STOCK, Adoption, Pair, Rules
from dorvan.tickets.models import Ticket
from dorvan.tickets.results import derived
from dorvan.versions.doing import TRIES, Moved


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


def affected(pair: Pair, k: float, samples: int) -> list[Affected]:
    """Every ticket of this stock and tool with its blank by ``k`` from so many ``samples``.

    What a hem's K does is left to each ticket's own page.
    """
    if pair.hem:
        return []
    rows, enough = [], samples >= Rules.now().enough
    block = {"method": "k_factor", "k": round(k, 4), "source": "ledger"}
    for ticket in _reached(pair):
        try:
            after = derived.figures(ticket.joined | {"allowance": block}).part.flat.size[0]
        except Refusal:
            after = None
        rows.append(Affected(ticket, ticket.figures.part.flat.size[0], after,
                             ticket.is_released, enough))
    return rows


def _reached(pair: Pair) -> list[Ticket]:
    """Tickets of this stock under this tool; for hems, those with a hem."""
    found = []
    for ticket in Ticket.objects.select_related("brake", "nose", "shim", "slip"):
        try:
            part = ticket.figures.part
        except Refusal:  # as it stands it cannot be read: its own page says why
            continue
        if part.stock.material.name != pair.material or ticket.tool != pair.tool:
            continue
        if abs(part.stock.thickness - pair.thickness) > SAME_STOCK * part.stock.thickness:
            continue
        if part.shape.hems if pair.hem else part.shape.bends:
            found.append(ticket)
    return found


def fit_of(pair: Pair) -> Learnt:
    """The fit of the samples kept; refuses none at all."""
    return learn([s.core for s in pair.kept], pair.hem)


def adopt_fit(pair: Pair, reason: str, by) -> list[Ticket]:
    """Take the fit as it stands as the shop's figure. Returns the tickets that took it over."""
    learnt = fit_of(pair)
    Adoption.objects.create(pair=pair, k=learnt.k.value, u_k=learnt.k.u,
                            springback=learnt.springback and learnt.springback.value, reason=reason,
                            samples=[s.pk for s in pair.kept], by=by)
    return _follow(pair, f"ledger adopted, K {learnt.k.value:.3f}", by)


def withdraw_fit(pair: Pair, reason: str, by) -> list[Ticket]:
    """Take the adoption in force back. Returns the tickets that changed."""
    Adoption.objects.create(pair=pair, reason=reason, by=by)
    return _follow(pair, "adoption taken back", by)


def _follow(pair: Pair, note: str, by) -> list[Ticket]:
    changed = []
    for row in _reached(pair):
        for _ in range(TRIES):
            ticket = Ticket.objects.select_related("brake", "nose", "shim", "slip").get(pk=row.pk)
            if not ticket.follows_shop or ticket.is_released:
                break
            before = ticket.part
            try:
                ticket.change(None, note, by)
            except Refusal:  # by the new figures it cannot be: it keeps its own until somebody looks
                break
            except Moved:  # somebody is at work on it: their change takes the figures over, or this one's next try
                continue
            changed += [ticket] if ticket.part != before else []
            break
    return changed

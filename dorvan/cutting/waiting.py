"""What wants cutting: blanks by what they are cut from, how many of each are still to be cut, and what holds them.

A list works nothing out: what is shown of a ticket was kept with its card.
"""

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from django.db import connection
from django.db.models import F, Sum

from bendcore.errors import Refusal
from bendcore.stock import alike, read_thickness
from dorvan.stockroom.models import Lot, MaterialValue
from dorvan.tickets.models import Asks, BlankCut, Ticket
from dorvan.tickets.pages.cards import card_shown, keep_card, with_cards

from .laying import MOST, sheets_of
from .models import CuttingPlan

MOST_LISTED, MOST_SHEETS = 60, 8
"""Tickets, and sheets of a stock, that are listed."""


@dataclass(frozen=True)
class Wanted:
    """Blanks of a ticket: so many still ``wanted``, ``cut`` and ``planned`` (on a sheet that is not cut yet) before;
    its ``card`` as on the rack, with what holds it."""

    ticket: Ticket
    wanted: int
    cut: int
    planned: int
    card: dict

    @property
    def held_by(self) -> str:
        """Why it cannot be cut yet; nothing where it can. What its card does not know yet holds it."""
        if not self.card["fresh"]:
            return "not looked at yet"
        return "a stop" if self.card["stopped"] else "gate shut" if self.card["held"] else ""


@dataclass(frozen=True)
class Group:
    """Blanks of one stock, ``thickness`` in mm; its largest ``sheets`` and how many smaller ones are left out of the
    list."""

    material: str
    thickness: float
    wanted: tuple[Wanted, ...]
    sheets: tuple[Lot, ...] = ()
    left_out: int = 0

    @property
    def key(self) -> str:
        """Names it among the stocks on a page."""
        return f"{self.material} {self.thickness:g}"

    @property
    def ready(self) -> list[Wanted]:
        """What can be laid out now: wanted, not held, with a sheet to be cut from."""
        return [one for one in self.wanted if one.wanted and not one.held_by] if self.sheets else []

    @property
    def count(self) -> int:
        """Blanks that can be laid out now."""
        return sum(one.wanted for one in self.ready)


def by_stock(tickets: Iterable[Ticket]) -> list[tuple[str, float, list[Ticket]]]:
    """(material, thickness in mm, tickets) of what is cut from the same sheets; a stock that cannot be read is not
    cut."""
    known, found = MaterialValue.known(), []
    for ticket in tickets:
        stock = ticket.part["stock"]
        name = stock["material"]
        try:
            thick = read_thickness(stock["thickness"], ticket.part["units"], known[name])
        except (Refusal, KeyError):
            continue
        own = next((row for row in found if row[0] == name and alike(row[1], thick)), None)
        if own is None:
            own = (name, thick, [])
            found.append(own)
        own[2].append(ticket)
    return found


def groups() -> list[Group]:
    """All that stands on the rack, what is due first, by stock."""
    tickets = list(with_cards(Ticket.objects.filter(archived=False)).order_by(
        F("due").asc(nulls_last=True), "-number")[:MOST_LISTED])
    planned, asks = on_plans(), Asks.now()
    lots = defaultdict(list)
    for lot in Lot.objects.filter(count__gt=0, material__in={ticket.part["stock"]["material"] for ticket in tickets}
                                  ).only("code", "material", "thickness", "readings", "length", "width", "count",
                                         "cut_from"):
        lots[lot.material].append(lot)
    found = []
    for material, thickness, own in by_stock(tickets):
        sheets = sheets_of(thickness, lots[material])
        found.append(Group(material, thickness, tuple(wanted(ticket, planned, asks) for ticket in own),
                           tuple(sheets[-MOST_SHEETS:]), len(sheets[:-MOST_SHEETS])))
    return found


def wanted(ticket: Ticket, planned: Counter, asks) -> Wanted:
    """What is wanted of a ticket; ``planned`` as :func:`on_plans` counts."""
    card = card_shown(ticket, asks)
    return Wanted(ticket, max(0, ticket.quantity - card["cut"] - planned[ticket.number]), card["cut"],
                  planned[ticket.number], card)


def on_plans() -> Counter:
    """By ticket number the blanks that lie on plans in hand and are not cut."""
    counted = ("SELECT json_each.key, SUM(json_extract(json_each.value, '$.count')) FROM cutting_cuttingplan AS plan, "
               "json_each(plan.blanks) WHERE NOT plan.is_done GROUP BY json_each.key")
    with connection.cursor() as cursor:
        found = Counter({int(number): int(count) for number, count in cursor.execute(counted).fetchall()})
    plans = [str(plan) for plan in CuttingPlan.objects.in_hand().only("number")]
    for number, count in BlankCut.objects.filter(plan__in=plans).values_list("ticket__number").annotate(Sum("count")):
        found[number] -= count
    return found


def fresh(of: Callable[[Group, Wanted], bool]) -> list[Group]:
    """The same, those asked for looked at anew where their cards are out of date: only these know what holds them."""
    rows = groups()
    stale = [one.ticket for group in rows for one in group.wanted if not one.card["fresh"] and of(group, one)]
    for ticket in stale:
        keep_card(ticket)
    return groups() if stale else rows


def counted(ready: Iterable[Wanted]) -> dict[str, str]:
    """By a form's field how many blanks to lay out, as many as go into one plan."""
    found, left = {}, MOST
    for one in ready:
        if count := min(one.wanted, left):
            found[f"t{one.ticket.number}"] = str(count)
            left -= count
    return found

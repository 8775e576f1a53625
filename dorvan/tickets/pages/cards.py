"""What the rack shows of a ticket, kept beside it: a list of tickets works nothing out.

A card belongs to one state of the part and of what the shop joins to it. It is made when the ticket is put on
the rack, and again when somebody looks at a rack on which it is out of date: then it fetches itself.
"""

from django.db.models import QuerySet
from django.utils import timezone

from bendcore.errors import Refusal
from dorvan.drawings.net import small_net
from dorvan.drawings.section import small_section

from ..gate import points
from ..models import STAGES, Ticket
from ..models.gate import HELD

WIDE, HIGH = 236, 110
BLANK = (132, 66)
"""A blank in small, pixels."""


def with_cards(tickets: QuerySet) -> QuerySet:
    """Tickets with all that their cards ask for, fetched at once."""
    return tickets.select_related("brake", "lead", "nose", "shim", "slip", "supplier", "lot").prefetch_related(
        "revisions__runs", "overrides", "holds", "opened", "mock_ups", "bought_in", "lead__bought_in", "blanks_cut")


def card_of(ticket) -> tuple[dict, str]:
    """The card of the ticket as it stands and its key; refuses a part that cannot be read."""
    figures = ticket.figures
    part = figures.part
    stops = [[n.code, n.where, n.message] for n in figures.notices if n.severity == "stop"]
    return {"picture": picture(part, WIDE, HIGH), "blank": small_net(part, *BLANK), "size": list(part.flat.size),
            "thickness": part.stock.thickness,
            "material": part.stock.material.name, "has_bends": bool(part.shape.all_bends), "tool": ticket.tool,
            "stops": stops}, ticket.content_key


def keep_card(ticket) -> None:
    """Make the card anew if the ticket changed since."""
    if not ticket.card_is_fresh:
        try:
            ticket.card, ticket.card_key = card_of(ticket)
        except Refusal as refusal:  # what the shop joins to it has changed: its own page says how to mend it
            ticket.card = {"picture": {"d": "", "width": WIDE, "height": HIGH}, "material": "cannot be read",
                           "blank": {}, "size": [0.0, 0.0], "thickness": 0.0, "has_bends": False, "tool": "",
                           "stops": [["unreadable", refusal.path, refusal.message]]}
            ticket.card_key = ticket.content_key
        type(ticket).objects.filter(pk=ticket.pk).update(card=ticket.card, card_key=ticket.card_key)


WHY = {"radius": "radius too sharp for the metal", "leg": "leg too short for the die",
       "capacity": "too thick for the brake", "flat-overlap": "the blank lies on itself",
       "clash": "it runs into itself", "unreadable": "cannot be read"}
"""What a stop is, in a few words, by its code."""
NEXT = {"shape": "Draw the part", "stock": "Choose stock and tool", "proof": "Settle the allowance",
        "layout": "Look at the layout", "order": "Find a bend order", "set-up": "Release and set up",
        "bend": "Bend the first piece",
        "check": "Check the piece"}


def picture(part, width: int, height: int) -> dict:
    """A part in small: a strip's section, else the flat."""
    return (small_section if part.shape.is_strip else small_net)(part, width=width, height=height)


def card_shown(ticket: Ticket, asks: dict | None = None) -> dict:
    """A ticket on the rack as its card was kept: its picture, how far it is, and what comes next. What is not
    known yet is left out."""
    kept = ticket.card if ticket.card_is_fresh else {}
    found = {"ticket": ticket, "fresh": bool(kept), "kept": ticket.card,
             "late": bool(ticket.due and ticket.due < timezone.localdate()),
             "cut": sum(cut.count for cut in ticket.blanks_cut.all()
                        if cut.fate != cut.Fate.SCRAP)}
    if kept:
        reached = ticket.reached(kept)
        following = next((s for s in STAGES if not reached[s]), None)
        found |= {"reached": [(s, reached[s]) for s in STAGES], "next": NEXT.get(following, "Checked"),
                  "held": [HELD[point.name] for point in points(ticket, kept, asks) if point.is_open],
                  "stage": following or "check", "tally": ticket.revision and ticket.revision.tally,
                  "no_order": ticket.order_is_missing,
                  "stopped": next((f"{WHY.get(code, code)} ({where})" for code, where, message in kept["stops"]
                                   if not ticket.override_for(code, where, message)), "")}
    return found



"""What the rack shows of a ticket, kept beside it: a list of tickets works nothing out.

A card belongs to one state of the part and of what the shop joins to it. It is made when the ticket is put on
the rack, and again when somebody looks at a rack on which it is out of date: then it fetches itself.
"""

from .stages import picture

WIDE, HIGH = 236, 110


def card_of(ticket) -> tuple[dict, str]:
    """The card of the ticket as it stands and its key; refuses a part that cannot be read."""
    figures = ticket.figures
    part = figures.part
    return {"picture": picture(part, WIDE, HIGH), "thickness": part.stock.thickness,
            "material": part.stock.material.name, "has_bends": bool(part.shape.all_bends), "tool": ticket.tool,
            "stops": [[n.code, n.where, n.message] for n in figures.notices if n.severity == "stop"]}, ticket.content_key


def keep_card(ticket) -> None:
    """Make the card anew if the ticket changed since."""
    if not ticket.card_is_fresh:
        ticket.card, ticket.card_key = card_of(ticket)
        type(ticket).objects.filter(pk=ticket.pk).update(card=ticket.card, card_key=ticket.card_key)

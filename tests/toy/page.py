"""The Shape stage of a bracket."""

from dorvan.drawings.net import net_view
from dorvan.tickets.families.entries import drawn_in, placed, sizer, spread_out
from dorvan.tickets.families.hands import Hands
from dorvan.tickets.families.page import FamilyPage
from dorvan.tickets.families.picks import net_picks


def bracket_page(ticket, units: str) -> dict:
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels = [placed(size(key, data[key]), view, face, dy=dy) | {"label": key, "name": key.capitalize()}
              for key, face, dy in (("length", "base", -20), ("width", "base", 20), ("height", "back", 0))]
    hands = Hands(ticket, units, drawn_in(labels))
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


PAGE = FamilyPage(bracket_page, "toy/shape.html", '<path d="M6 24V10h22v14zM28 10l6-6v13l-6 7"/>')

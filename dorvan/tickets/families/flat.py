"""The Shape stage of a flat read from a drawing."""

from dorvan.drawings.net import net_view

from .hands import Hands
from .page import FamilyPage
from .picks import line_picks


def flat_page(ticket, units: str) -> dict:
    """The flat as drawn, and of every line its angle and direction; of a fold its gap."""
    part = ticket.figures.part
    other = {f"shape.bends[{i}].{'angle' if line.bend.figures.angle >= 180 else 'gap'}"
             for i, line in enumerate(part.shape.lines)}
    things = [thing._replace(rows=tuple(row for row in thing.rows if row.field not in other))
              for thing in Hands(ticket, units).all()]
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    return {"view": view, "things": things, "picks": line_picks(part, view, things), "lines": True}


PAGE = FamilyPage(flat_page, "tickets/_shape_flat.html")

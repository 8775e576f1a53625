"""The Shape stage of a flanged plate."""

from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks
from .rows import TURN, Row


def plate_page(ticket, units: str) -> dict:
    """The plate laid open, its flanges' lengths where they are drawn, the rest beside it."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels = []
    for i, (block, flange) in enumerate(zip(data.get("flanges", ()), part.shape.flanges, strict=True)):
        entry = size(f"flanges[{i}].length", block["length"], mm=flange.leg.size)
        labels.append(placed(entry, view, flange.id) | {
            "label": f"{flange.id}, edge {block['edge']}", "name": f"Length of flange {flange.id}, {flange.leg.dims}"})
    hands = Hands(ticket, units, drawn_in(labels))
    edge_rows(hands, data)
    return {"view": view, **spread_out(labels, view, off=24), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


def edge_rows(hands: Hands, data: dict) -> None:
    """What can be done on each edge of the outline: a flange or a corner comes, a flange moves to one that is free."""
    fields, flanges = hands.fields, data.get("flanges", ())
    taken = {flange["edge"] for flange in flanges}
    told = {block["edge"] for block in data.get("edges", ())}
    for n in range(1, len(data["outline"]) + 1):
        name = f"Edge {n}"
        rows = [hands.rows.add(fields["outline"], "shape.outline", n - 1, "Add a corner in its middle", name)]
        if "flanges" in fields:
            rows.insert(0, hands.rows.add(fields["flanges"], "shape.flanges", n - 1, "Add a flange here", name))
        if "rise" in getattr(getattr(fields.get("edges"), "item", None), "fields", ()) and n not in told:
            rows.insert(0, hands.rows.add(fields["edges"], "shape.edges", n - 1, "Curve it, or leave it plain", name))
        if n not in taken:
            rows += [Row(TURN, f"shape.flanges[{i}].edge", f"Move flange F{i + 1} here", f"Move flange F{i + 1} to "
                         f"edge {n}", options=("", str(n))) for i in range(len(flanges))]
        hands.put(f"edge-{n}", name, rows)


PAGE = FamilyPage(plate_page, "tickets/_shape_plate.html",
                  '<path d="M6 24V10h16l10 6v8zM6 10l4-6h16l-4 6"/><circle cx="15" cy="17" r="2.5"/>')

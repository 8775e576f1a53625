"""The Shape stage of panels on panels."""

from bendcore.families.panels.fields import SIDES
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks


def panels_page(ticket, units: str) -> dict:
    """The part laid open, its panels' lengths where they are drawn; on every edge and face what can come there."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels = []
    for i, (block, panel) in enumerate(zip(data.get("panels", ()), part.shape.panels, strict=True)):
        entry = size(f"panels[{i}].length", block["length"], mm=panel.leg.size)
        labels.append(placed(entry, view, panel.id) | {
            "label": panel.id, "name": f"Length of panel {panel.id}, {panel.leg.dims}"})
    hands = Hands(ticket, units, drawn_in(labels))
    _on_the_base(hands, data)
    _on_panels(hands, data)
    return {"view": view, **spread_out(labels, view, off=24), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


def _on_the_base(hands: Hands, data: dict) -> None:
    """What can be done on each edge of the base."""
    for n in range(1, len(data["outline"]) + 1):
        name = f"Edge {n}"
        hands.put(f"edge-{n}", name, [
            hands.rows.add(hands.fields["panels"], "shape.panels", n - 1, "Add a panel here", name),
            hands.rows.add(hands.fields["outline"], "shape.outline", n - 1, "Add a corner in its middle", name)])


def _on_panels(hands: Hands, data: dict) -> None:
    """On a panel one more comes on each edge that has none, and openings come to its face."""
    first, panels = len(data["outline"]), data.get("panels", ())
    for i, own in enumerate(panels):
        name, taken = f"Panel P{i + 1}", {one["edge"] for one in panels if one.get("on", 0) == i + 1}
        rows = [hands.rows.add(hands.fields["panels"], "shape.panels", first + len(SIDES) * i + k,
                               f"Add a panel on its {side}", name)
                for k, side in enumerate(SIDES) if k + 1 not in taken and not (k == 1 and "hem" in own)]
        rows += [hands.rows.add(hands.fields[key], f"shape.{key}", i + 1, f"Add a {what} in it", name)
                 for key, what in (("holes", "hole"), ("windows", "window"))]
        hands.add(f"P{i + 1}", rows)


PAGE = FamilyPage(panels_page, "tickets/_shape_panels.html",
                  '<path d="M4 22l6-10h18l8 10zM10 12V4h14v8M24 4l6-2v8"/>')

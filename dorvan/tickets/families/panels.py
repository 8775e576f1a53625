"""The Shape stage of panels on panels."""

from collections.abc import Iterator, Mapping

from bendcore.families.panels.fields import SIDES
from bendcore.part import Part
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands, Thing
from .page import FamilyPage
from .picks import LINE, Pick, net_picks


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
            "picks": [*net_picks(part, view, hands.all()), *_side_picks(part, view, hands.found)]}


def _on_the_base(hands: Hands, data: dict) -> None:
    """What can be done on each edge of the base."""
    for n in range(1, len(data["outline"]) + 1):
        name = f"Edge {n}"
        hands.put(f"edge-{n}", name, [
            hands.rows.add(hands.fields["panels"], "shape.panels", n - 1, "Add a panel here", name),
            hands.rows.add(hands.fields["outline"], "shape.outline", n - 1, "Add a corner in its middle", name)])


def _on_panels(hands: Hands, data: dict) -> None:
    """One more panel comes on each side of a panel that has none, openings come to its face."""
    first, panels = len(data["outline"]), data.get("panels", ())
    for i, own in enumerate(panels):
        name, taken = f"P{i + 1}", {one["edge"] for one in panels if one.get("on", 0) == i + 1}
        opened = (("holes", "Add a hole in it"), ("windows", "Add a window in it"))
        hands.add(name, [hands.rows.add(hands.fields[key], f"shape.{key}", i + 1, label, f"Panel {name}")
                         for key, label in opened])
        for k, side in enumerate(SIDES):
            if k + 1 not in taken and not (k == 1 and "hem" in own):
                where = f"Panel {name}, its {side}"
                add = hands.rows.add(hands.fields["panels"], "shape.panels", first + len(SIDES) * i + k,
                                     f"Add a panel on its {side}", where)
                hands.add(name, [add])
                here = add._replace(label="Add a panel here", name=f"Add a panel here: {where}")
                hands.put(f"{name}-side-{k + 1}", where, [here])


def _side_picks(part: Part, view: dict, things: Mapping[str, Thing]) -> Iterator[Pick]:
    """The sides of panels on which one more may come, where they lie in the blank."""
    for panel in part.shape.panels:
        ring, laid = part.sheet.face[panel.id].outline, part.flat.faces[panel.id]
        turn = (complex(*laid[1]) - complex(*laid[0])) / (complex(*ring[1]) - complex(*ring[0]))
        for k in range(len(SIDES)):
            name = f"{panel.id}-side-{k + 1}"
            if name in things:
                ends = [complex(*laid[0]) + turn * (complex(x - panel.setback, y) - complex(*ring[0]))
                        for x, y in (panel.mould[k], panel.mould[k + 1])]
                (x0, y0), (x1, y1) = view["fit"].all([(p.real, p.imag) for p in ends]).tolist()
                yield Pick(name, things[name].title, LINE, f"M{x0:g},{y0:g}L{x1:g},{y1:g}")


PAGE = FamilyPage(panels_page, "tickets/_shape_panels.html",
                  '<path d="M4 22l6-10h18l8 10zM10 12V4h14v8M24 4l6-2v8"/>')

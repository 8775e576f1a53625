"""The Shape stage of panels on panels."""

from collections.abc import Container, Iterator, Mapping

from bendcore.families.panels.fields import SIDES, sides
from bendcore.families.panels.shape import Panel
from bendcore.fields import Many
from bendcore.part import Part
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands, Thing
from .page import FamilyPage
from .picks import LINE, POINT, Pick, net_picks, square
from .rows import Row

MANY_CORNERS = 24
"""Of an outline with more corners none is taken in hand by itself."""


def panels_page(ticket, units: str) -> dict:
    """The part laid open, its panels' lengths where they are drawn; on every edge and face what can come there."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels = []
    for i, (block, panel) in enumerate(zip(data.get("panels", ()), part.shape.panels, strict=False)):
        if "length" in block:
            entry = size(f"panels[{i}].length", block["length"], mm=panel.leg.size)
            labels.append(placed(entry, view, panel.id) | {
                "label": panel.id, "name": f"Length of panel {panel.id}, {panel.leg.dims}"})
    hands = Hands(ticket, units, drawn_in(labels))
    _on_the_base(hands, data)
    first, taken = len(data["outline"]), {(one.get("on", 0), one["edge"]) for one in data.get("panels", ())}
    for i, own in enumerate(data.get("panels", ())):
        _on_a_panel(hands, taken, i, own, first)
        first += sides(own)
    return {"view": view, **spread_out(labels, view, off=24), "things": hands.all(),
            "picks": [*net_picks(part, view, hands.all()), *_edge_picks(part, view, hands.found)]}


def _on_the_base(hands: Hands, data: dict) -> None:
    """What can be done on each edge of the base."""
    for n in range(1, len(data["outline"]) + 1):
        name = f"Edge {n}"
        hands.put(f"edge-{n}", name, [
            hands.rows.add(hands.fields["panels"], "shape.panels", n - 1, "Add a panel here", name),
            _notching(hands, n - 1, name), *_curving(hands, n - 1, name),
            hands.rows.add(hands.fields["outline"], "shape.outline", n - 1, "Add a corner in its middle", name)])


def _curving(hands: Hands, place: int, name: str) -> list:
    """An edge may be made an arc, and the corner rounded at which it begins."""
    return [_coming(hands, hands.fields["edges"], "shape.edges", place, "Make it an arc", name),
            _coming(hands, hands.fields["corners"], "shape.corners", place, "Round the corner where it begins", name)]


def _notching(hands: Hands, place: int, name: str) -> Row:
    return _coming(hands, hands.fields["notches"], "shape.notches", place, "Cut a notch here", name)


def _coming(hands: Hands, one: Many, path: str, place: int | None, label: str, where: str) -> Row:
    """What may come at a place, called by what it does; its button says *Add*."""
    name = label if label.startswith("Add") else f"Add: {label[:1].lower()}{label[1:]}"
    return hands.rows.add(one, path, place, label, where)._replace(name=f"{name}: {where}")


def _on_a_panel(hands: Hands, taken: Container[tuple[int, int]], i: int, own: dict, first: int) -> None:
    """What may come on a panel and on each of its sides that is not ``taken`` (panel, edge), counted from ``first``
    among all edges; and the corners of its own outline."""
    name = f"P{i + 1}"
    opened = (("holes", "Add a hole in it"), ("windows", "Add a window in it"))
    rows = [hands.rows.add(hands.fields[key], f"shape.{key}", i + 1, label, f"Panel {name}") for key, label in opened]
    ring, path = hands.fields["panels"].item.fields["outline"], f"shape.panels[{i}].outline"
    outlined = "outline" in own
    if not outlined and "hem" not in own:
        rows.append(_coming(hands, ring, path, None, "Give it an outline of its own", f"Panel {name}"))
    hands.add(name, rows)
    if "id" in own:
        hands.found[name] = hands.found[name]._replace(title=f"Panel {own['id']}")
    for k in range(sides(own)):
        if (i + 1, k + 1) in taken or (k == 1 and "hem" in own):
            continue
        called = f"edge {k + 1}" if outlined else SIDES[k]
        where = f"Panel {name}, its {called}"
        here = [_coming(hands, hands.fields["panels"], "shape.panels", first + k, "Add a panel here", where),
                _notching(hands, first + k, where)]
        if outlined:
            here += [*_curving(hands, first + k, where),
                     _coming(hands, ring, path, k, "Add a corner in its middle", where)]
        else:
            hands.add(name, [hands.rows.add(hands.fields["panels"], "shape.panels", first + k,
                                            f"Add a panel on its {called}", where)])
        hands.put(f"{name}-side-{k + 1}", where, here)
    for k, point in enumerate(own["outline"]) if outlined and len(own["outline"]) <= MANY_CORNERS else ():
        where = f"{path}[{k}]"
        typed = [row._replace(label=axis) for axis, n in (("Along", 0), ("Up", 1))
                 for row in hands.rows.of(ring.item.item, f"{where}[{n}]", point[n])]
        inner = 0 < k < len(own["outline"]) - 1
        hands.put(f"{name}-corner-{k + 1}", f"Panel {name}, corner {k + 1}",
                  [*typed, *([hands.rows.take(where)] if inner else [])])


def _edge_picks(part: Part, view: dict, things: Mapping[str, Thing]) -> Iterator[Pick]:
    """The sides of panels on which one more may come, and the corners of their own outlines, where they lie in the
    blank."""
    for n, panel in enumerate(part.shape.panels, 1):
        at = _laid(part, view, panel)
        last = len(panel.mould) - 1
        for k in range(last):
            number = last - k if part.shape.turned else k + 1
            name = f"P{n}-side-{number}"
            if name in things:
                (x0, y0), (x1, y1) = at[k], at[k + 1]
                yield Pick(name, things[name].title, LINE, f"M{x0:g},{y0:g}L{x1:g},{y1:g}")
        for k in range(last + 1):
            name = f"P{n}-corner-{last + 1 - k if part.shape.turned else k + 1}"
            if name in things:
                yield Pick(name, things[name].title, POINT, square(at[k]))


def _laid(part: Part, view: dict, panel: Panel) -> list[tuple[float, float]]:
    """The corners of a panel's mould where they lie on the page."""
    ring, laid = part.sheet.face[panel.id].outline, part.flat.faces[panel.id]
    turn = (complex(*laid[1]) - complex(*laid[0])) / (complex(*ring[1]) - complex(*ring[0]))
    ends = [complex(*laid[0]) + turn * (complex(x - panel.setback, y) - complex(*ring[0])) for x, y in panel.mould]
    return view["fit"].all([(p.real, p.imag) for p in ends]).tolist()


PAGE = FamilyPage(panels_page, "tickets/_shape_panels.html",
                  '<path d="M4 22l6-10h18l8 10zM10 12V4h14v8M24 4l6-2v8"/>')

"""The Shape stage of a rib."""

from bendcore.units import read_length
from dorvan.drawings.net import net_view

from .entries import drawn_in, placed, sizer, spread_out
from .hands import Hands
from .page import FamilyPage
from .picks import net_picks
from .plate import edge_rows


def rib_page(ticket, units: str) -> dict:
    """The blank with its bend, flutes and rivets, a rise at each curve and the flange's width in the middle."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view, shape = net_view(part, units, conflicts=ticket.figures.known_conflicts), part.shape
    face, (dx, dy) = part.sheet.root, part.flat.shift
    middle = view["faces"][face]
    labels = [placed(size("flange.width", data["flange"]["width"]), view, face)
              | {"label": "flange", "name": f"Flange, {shape.dims}, to its free edge"}]
    lines = dict(shape.numbered())
    for i, block in enumerate(data.get("edges", ())):
        if read_length(block.get("rise", 0), ticket.part["units"]):
            line = lines[block["edge"]]
            x, y = line[len(line) // 2]
            at = view["fit"]((x + dx, y + dy))
            entry = placed(size(f"edges[{i}].rise", block["rise"]), view, face, at[0] - middle[0], at[1] - middle[1])
            labels.append(entry | {"label": f"edge {block['edge']} rises",
                                   "name": f"Rise of edge {block['edge']} from its chord, outwards"})
    hands = Hands(ticket, units, drawn_in(labels))
    edge_rows(hands, data)
    return {"view": view, **spread_out(labels, view), "things": hands.all(),
            "picks": net_picks(part, view, hands.all())}


PAGE = FamilyPage(rib_page, "tickets/_shape_rib.html",
                  '<path d="M4 22V13Q18 1 36 15v7zM8 18v-4Q19 6 32 16v2z"/>'
                  '<circle cx="15" cy="15" r="2"/><circle cx="25" cy="16" r="2"/>')

"""Stock: metal, thickness, tools, and what each die makes of it."""

from bendcore.bending.radius import usual_opening
from bendcore.bending.springback import opening, start_springback
from bendcore.brakes.choice import die_choices
from bendcore.brakes.hand import hand_fit
from bendcore.checks.good_side import where_good
from bendcore.sizes import shown
from bendcore.stock import alike, gauges
from bendcore.tolerance import CLASS_TITLES
from dorvan.brakes.models import Brake, Tooling
from dorvan.drawings.tools import hand_view
from dorvan.stockroom.models import Lot, MaterialValue

from ..file.joined import chosen
from ..models import Ticket

GOOD_SIDES = (("", "as the lot says"), ("up", "up in the flat"), ("down", "down in the flat"),
              ("neither", "both alike"))
MOST_LOTS = 60
"""Lots to choose from: those of the part's own stock first, the newest of each."""


def _lots(ticket: Ticket) -> list[Lot]:
    stock = ticket.figures.part.stock
    own = list(Lot.objects.filter(count__gt=0, material=stock.material.name).order_by("-pk"))
    own.sort(key=lambda lot: not alike(lot.best, stock.thickness))
    others = Lot.objects.filter(count__gt=0).exclude(material=stock.material.name).order_by("-pk")
    found = [*own[:MOST_LOTS], *others[:max(0, MOST_LOTS - len(own))]]
    return found if ticket.lot is None or ticket.lot in found else [ticket.lot, *found]


def stock(ticket: Ticket, units: str) -> dict:
    part, data = ticket.figures.part, ticket.part
    alloy, t = part.stock.material, part.stock.thickness
    gauge = min(gauges()[alloy.gauge_table].items(), key=lambda row: abs(row[1] - t))
    press = ticket.brake.press if ticket.brake else None
    punch = chosen(ticket)[1]
    dies = die_choices(part, press, punch) if press else []
    hand = ticket.brake.machine if ticket.brake and not press else None
    return {"materials": list(MaterialValue.known()), "gauge": gauge,
            "hand": hand, "fit": hand and hand_fit(part, hand), "hand_view": hand and hand_view(hand),
            "dies": [(row, row.over(t)) for row in dies], "usual": usual_opening(t),
            "thickness_value": shown(data["stock"]["thickness"], t, units, data["units"]),
            "radius_value": shown(data.get("inside_radius"), part.inside_radius or 0.0, units, data["units"]),
            "by_tool": "inside_radius" not in data, "predicted": part.predicted,
            "springback_start": start_springback(part.inside_radius, t, alloy),
            "opens": opening(part.inside_radius or t, 90, t, alloy),
            "general": CLASS_TITLES.items(),
            "grains": [("", "not known"), ("across", "across the grain"), ("along", "along the grain"),
                       ("diagonal", "at 45°")],
            "good_sides": GOOD_SIDES, "where_good": where_good(part),
            "punches": press.punches if press else [], "brakes": Brake.objects.all(),
            "lots": _lots(ticket), "rounds": Tooling.objects.filter(kind__in=Tooling.ROUND),
            "pads": [(key, Tooling.objects.filter(kind=key)) for key in ("shim", "slip")]}

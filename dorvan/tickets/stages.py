"""What each stage's page shows: gathered here, worked out in the core."""

from django.shortcuts import render

from bendcore import bend as bends
from bendcore.stock import gauges, materials
from bendcore.units import show_length
from dorvan.brakes.models import Brake
from dorvan.drawings.flat import flat_view, ribbon
from dorvan.drawings.section import film, section_view, small_section
from dorvan.drawings.still import still

from . import edits
from .models import STAGES, Ticket

NEXT = {"shape": "Draw the part", "stock": "Choose the stock", "layout": "Look at the layout",
        "order": "Find a bend order", "bend": "Release and bend", "check": "Check the piece"}


def card(ticket: Ticket) -> dict:
    """A ticket on the rack: its picture, how far it is, and what comes next."""
    reached = ticket.reached()
    following = next((s for s in STAGES if not reached[s]), None)
    part = ticket.figures.part
    return {"ticket": ticket, "reached": [(s, reached[s]) for s in STAGES],
            "picture": small_section(part, width=236, height=110), "next": NEXT.get(following, "Checked"),
            "stage": following or "check", "stopped": ticket.figures.stopped, "no_order": ticket.order_is_missing,
            "thickness": part.stock.thickness, "material": part.stock.material.name}


def ruler(ticket: Ticket, at: str) -> list[dict]:
    reached = ticket.reached()
    return [{"name": s, "title": s.capitalize(), "key": i, "done": reached[s], "on": s == at}
            for i, s in enumerate(STAGES, 1)]


def page(request, ticket: Ticket, stage: str, error: dict | None = None, **extra):
    """A stage's page, or only its bench when the page asks for a redraw."""
    partial = request.headers.get("HX-Request") == "true"
    if error:
        error["words"] = edits.in_words(error["field"])
    context = {"ticket": ticket, "at": "rack", "stage": stage, "ruler": [] if partial else ruler(ticket, stage),
               "units": request.user.units, "error": error, "figures": ticket.figures, "part": ticket.figures.part}
    context |= BUILD[stage](ticket, request.user.units) | extra
    template = f"tickets/_{stage}.html" if partial else "tickets/ticket.html"
    return render(request, template, context | {"body": f"tickets/_{stage}.html", "partial": partial},
                  status=422 if error else 200)


def shown(raw, mm: float, units: str, own: str) -> str:
    """A size for an input: as it was typed where that still reads the same."""
    if isinstance(raw, dict):
        raw = raw["length"]
    if units == own and isinstance(raw, str):
        return raw.removesuffix(f" {own}")
    return show_length(mm, units)


def shape(ticket: Ticket, units: str) -> dict:
    part, data = ticket.figures.part, ticket.part["shape"]
    own = ticket.part["units"]
    view = section_view(part)
    for label in view["labels"]:
        i = label["index"]
        if label["kind"] == "leg":
            label |= {"field": f"shape.legs[{i}]", "name": f"Leg L{i + 1}, {part.shape.legs[i].dims}",
                      "value": shown(data["legs"][i], part.shape.legs[i].size, units, own)}
        elif label["kind"] == "angle":
            label |= {"field": f"shape.bends[{i}].angle", "name": f"Angle B{i + 1}, bent from flat",
                      "value": f"{part.shape.bends[i].figures.angle:g}", "unit": "°"}
        else:
            end = "start_hem" if label["id"] == "HS" else "end_hem"
            hem = part.shape.start_hem if label["id"] == "HS" else part.shape.end_hem
            label |= {"field": f"shape.{end}.length", "name": f"Hem {label['id']}",
                      "value": shown(data[end]["length"], hem.length, units, own)}
    order = {leg.id: 2 * i for i, leg in enumerate(part.shape.legs)}
    order |= {b.id: 2 * i + 1 for i, b in enumerate(part.shape.bends)} | {"HS": -1, "HE": 99}
    view["labels"].sort(key=lambda item: order[item["id"]])
    hems = [{"end": end, "title": title, "hem": hem, "raw": data.get(end),
             "length": hem and shown(data[end]["length"], hem.length, units, own),
             "gap": hem and shown(data[end].get("gap", 0), hem.gap, units, own)}
            for end, title, hem in (("start_hem", "Hem at the start", part.shape.start_hem),
                                    ("end_hem", "Hem at the end", part.shape.end_hem))]
    return {"view": view, "hems": hems, "bends": list(zip(part.shape.bends, data["bends"], strict=True)),
            "width_value": shown(data["width"], part.shape.width, units, own), "ribbon": ribbon(part)}


def stock(ticket: Ticket, units: str) -> dict:
    part, data = ticket.figures.part, ticket.part
    alloy = part.stock.material
    gauge = min(gauges()[alloy.gauge_table].items(), key=lambda row: abs(row[1] - part.stock.thickness))
    press = ticket.brake.press if ticket.brake else None
    dies = []
    for die in press.dies if press else ():
        if die.kind == "v":
            radius, reason = bends.natural_radius(die.v, part.stock.thickness, alloy.natural_radius_factor)
            legs = [bends.minimum_leg(b.figures, die.v, die.shoulder_radius) for b in part.shape.bends]
            dies.append({"die": die, "radius": radius, "reason": reason,
                         "leg": max(legs, default=0.0) + bends.LEG_MARGIN,
                         "force": bends.tonnage(alloy.tensile_mpa, part.stock.thickness, die.v, part.shape.width),
                         "over_t": die.v / part.stock.thickness})
    return {"materials": list(materials().values()), "methods": edits.METHODS, "gauge": gauge, "dies": dies,
            "thickness_value": shown(data["stock"]["thickness"], part.stock.thickness, units, data["units"]),
            "radius_value": shown(data.get("inside_radius"), part.inside_radius or 0.0, units, data["units"]),
            "brakes": Brake.objects.all(), "k": data["allowance"].get("k"), "group": data["allowance"].get("group")}


def layout(ticket: Ticket, units: str) -> dict:
    part = ticket.figures.part
    return {"view": flat_view(part, units), "still": still(ticket.figures.mesh), "length": part.flat.size[0],
            "width": part.flat.size[1], "picture": small_section(part, width=150, height=90)}


def order(ticket: Ticket, units: str) -> dict:
    found = ticket.ordered
    press = ticket.brake.press if ticket.brake else None
    return {"order": found, "press": press, "brakes": Brake.objects.all(),
            "film": film(ticket.figures.part, found["steps"]) if found else [],
            "names": ",".join(n for s in found["steps"] for n in s["bends"]) if found else "",
            "left": _not_made(ticket, found) if found else [],
            "mine": bool(ticket.bend_order),
            "shown": len(found["steps"]) + bool(found["blocked"]) if found else 0}


def _not_made(ticket, found) -> list[str]:
    """Bends the order never came to, so that they can still be dragged."""
    made = [n for s in found["steps"] for n in s["bends"]]
    names = ticket.bend_order or [b.id for b in ticket.figures.part.shape.all_bends]
    return [n for n in dict.fromkeys(names) if n not in made]


BUILD = {"shape": shape, "stock": stock, "layout": layout, "order": order}

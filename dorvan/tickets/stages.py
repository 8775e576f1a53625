"""What each stage's page shows: gathered here, worked out in the core."""

from django.shortcuts import render
from django.urls import reverse

from bendcore.bending.springback import opening
from bendcore.brakes.choice import die_choices, usual_opening
from bendcore.errors import Refusal
from bendcore.families.mates import sizes_of
from bendcore.layout.marks import DATUMS
from bendcore.quality.comparison import compare
from bendcore.quality.ledger import learn
from bendcore.stock import gauges
from bendcore.units import writer
from dorvan.brakes.models import Brake, Tooling
from dorvan.drawings.charts import school_bars
from dorvan.drawings.flat import flat_view
from dorvan.drawings.marked import marked_view
from dorvan.drawings.net import small_net
from dorvan.drawings.section import film, small_section
from dorvan.ledger.models import Chart, Pair, Rules
from dorvan.ledger.schools import ledger_school, own_schools
from dorvan.stockroom.models import Lot, MaterialValue

from . import edits
from .flat_page import flat_page
from .guard_page import guard_page
from .joined import chosen
from .longwork import Working
from .models import STAGES, Ticket
from .photographs import Photograph
from .plate_page import plate_page
from .sizes import shown
from .sleeve_page import sleeve_page
from .strip_page import strip_page
from .tray_page import tray_page

NEXT = {"shape": "Draw the part", "stock": "Choose stock and tool", "proof": "Settle the allowance",
        "layout": "Look at the layout", "order": "Find a bend order", "bend": "Release and bend",
        "check": "Check the piece"}


MANY = 24
"""A part of more faces is drawn first and proved face against face in a second answer."""


def picture(part, width: int, height: int) -> dict:
    """A part in small: a strip's section, else the flat."""
    return (small_section if part.shape.kind == "profile" else small_net)(part, width=width, height=height)


def card(ticket: Ticket) -> dict:
    """A ticket on the rack as its card was kept: its picture, how far it is, and what comes next. What is not
    known yet is left out."""
    kept = ticket.card if ticket.card_is_fresh else {}
    found = {"ticket": ticket, "fresh": bool(kept), "kept": ticket.card}
    if kept:
        reached = ticket.reached(kept)
        following = next((s for s in STAGES if not reached[s]), None)
        found |= {"reached": [(s, reached[s]) for s in STAGES], "next": NEXT.get(following, "Checked"),
                  "stage": following or "check", "no_order": ticket.order_is_missing,
                  "stopped": any(not ticket.override_for(*stop) for stop in kept["stops"])}
    return found


def ruler(ticket: Ticket, at: str) -> list[dict]:
    reached = ticket.reached()
    return [{"name": s, "title": s.capitalize(), "key": i, "done": reached[s], "on": s == at}
            for i, s in enumerate(STAGES, 1)]


def page(request, ticket: Ticket, stage: str, error: dict | None = None, **extra):
    """A stage's page, or only its bench when the page asks for a redraw."""
    partial = request.headers.get("HX-Request") == "true"
    if error:
        error["words"] = edits.in_words(error["field"])
    figures, units = ticket.figures, request.user.units
    late = partial and stage == "shape" and not figures.is_proved and len(figures.part.sheet.faces) > MANY
    context = {"ticket": ticket, "at": "rack", "stage": stage, "ruler": [] if partial else ruler(ticket, stage),
               "units": units, "error": error, "figures": figures, "part": figures.part,
               "change_url": reverse("tickets:change", args=[ticket.number]),
               "pieces": 0 if partial else ticket.pieces.count(),
               "notices": None if late else figures.notices}
    context |= BUILD[stage](ticket, units) | extra
    own = f"_{ticket.kind}" if stage == "shape" and ticket.kind != "profile" else ""
    body = f"tickets/_{stage}{own}.html"
    template = body if partial else "tickets/ticket.html"
    status = 409 if extra.get("meanwhile") else 422 if error else 200
    return render(request, template, context | {"body": body, "partial": partial}, status=status)


def shape(ticket: Ticket, units: str) -> dict:
    """The part as its family is described, and the sample it is made after."""
    taken = Photograph.objects.filter(ticket=ticket).values_list("at", flat=True).first()
    sizes = list(sizes_of(ticket.figures.part.shape).items())
    return PAGES[ticket.kind](ticket, units) | {"photograph": taken, "sample_sizes": sizes}


def stock(ticket: Ticket, units: str) -> dict:
    part, data = ticket.figures.part, ticket.part
    alloy, t = part.stock.material, part.stock.thickness
    gauge = min(gauges()[alloy.gauge_table].items(), key=lambda row: abs(row[1] - t))
    press = ticket.brake.press if ticket.brake else None
    punch = chosen(ticket)[1]
    dies = die_choices(part, press, punch) if press else []
    return {"materials": list(MaterialValue.known()), "gauge": gauge,
            "dies": [(row, row.over(t)) for row in dies], "usual": usual_opening(t),
            "thickness_value": shown(data["stock"]["thickness"], t, units, data["units"]),
            "radius_value": shown(data.get("inside_radius"), part.inside_radius or 0.0, units, data["units"]),
            "by_tool": "inside_radius" not in data, "predicted": part.predicted,
            "opens": opening(part.inside_radius or t, 90, t, alloy),
            "grains": [("", "not known"), ("across", "across the grain"), ("along", "along the grain"),
                       ("diagonal", "at 45°")],
            "punches": press.punches if press else [], "brakes": Brake.objects.all(),
            "lots": Lot.objects.filter(count__gt=0), "rounds": Tooling.objects.filter(kind__in=Tooling.ROUND),
            "pads": [(key, Tooling.objects.filter(kind=key)) for key in ("shim", "slip")]}


def proof(ticket: Ticket, units: str) -> dict:
    """The schools side by side, and what the ledger knows of this stock under this tool."""
    part, tool = ticket.figures.part, ticket.tool
    ledger = ledger_school(part, tool)
    compared = compare(part, own_schools(part, tool), ledger)
    pair = Pair.near(part.stock.material.name, part.stock.thickness, tool)
    charts = [(f"chart:{c.pk}", f"Chart: {c.name}") for c in Chart.objects.all()]
    method = "shop" if ticket.follows_shop else part.school.method
    if method == "deduction_chart":
        method = next((value for value, title in charts if part.school.source.endswith(title[7:])), method)
    return {"compared": compared, "sentence": compared.sentence(writer(units)), "tool": tool, "pair": pair,
            "learnt": learn([s.core for s in pair.kept]) if pair and pair.kept else None,
            "adopted": pair.adopted if pair else None, "enough": Rules.now().enough,
            "methods": [("shop", "Ledger, or the shop's default"), *edits.METHODS, *charts], "method": method,
            "k": ticket.part["allowance"].get("k"), "group": ticket.part["allowance"].get("group"),
            "proofs": ticket.proofs.all(), "bars": school_bars(compared)}


def blank_view(ticket: Ticket, units: str, datum: str = DATUMS[0]) -> dict:
    """The drawing of the blank with its marks: a strip's own, or any other part's."""
    figures = ticket.figures
    if ticket.kind == "profile" and not figures.part.shape.ends:
        return flat_view(figures.part, units, datum)
    return marked_view(figures.part, units, conflicts=figures.known_conflicts, datum=datum)


def layout(ticket: Ticket, units: str) -> dict:
    part = ticket.figures.part
    return {"view": blank_view(ticket, units), "length": part.flat.size[0],
            "width": part.flat.size[1]}


def order(ticket: Ticket, units: str) -> dict:
    found, working, refused = None, False, ""
    try:
        found = ticket.ordered
        ticket.note_order(found)
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    press = ticket.brake.press if ticket.brake else None
    return {"order": found, "working": working, "refused": refused, "press": press, "brakes": Brake.objects.all(),
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


PAGES = {"profile": strip_page, "tray": tray_page, "plate": plate_page, "sleeve": sleeve_page,
         "flat": flat_page, "guard": guard_page}
BUILD = {"shape": shape, "stock": stock, "proof": proof, "layout": layout, "order": order}

"""The bench: a stage of a ticket as a page, and every change made at it."""

from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.edits import set_field
from bendcore.errors import Refusal
from dorvan import fields
from dorvan.brakes.models import Brake, Tooling
from dorvan.ledger.models import Chart
from dorvan.ledger.schools import chart_block
from dorvan.stockroom.models import Lot
from dorvan.versions.doing import retried

from .. import drawn
from ..beside import fetch
from ..families import PAGES
from ..families.hands import thing_at
from ..file import changes
from ..file.actions import act_on, with_fields
from ..meanwhile import ANYTHING, meanwhile
from ..models import STAGES, Ticket
from ..results import derived
from .layout import layout
from .lookup import bench_ticket_or_404, ordered_or_404, ticket_or_404
from .order import order
from .proof import proof
from .shape import shape
from .stock import stock

BUILD = {"shape": shape, "stock": stock, "proof": proof, "layout": layout, "order": order}
"""What each stage shows, by (ticket, units)."""
EDITABLE = ("shape", "stock", "proof", "order")
"""Stages at which something can be changed."""
SET_UP = ("quantity", "due", "brake", "also", "punch", "die", "lot", "nose", "shim", "slip")
"""What is chosen on a ticket beside the part."""
LINKS = {"brake": Brake, "also": Brake, "lot": Lot, "nose": Tooling, "shim": Tooling, "slip": Tooling}
MOST_PIECES = 100_000
MANY = 24
"""A part of more faces is drawn first and proved face against face in a second answer."""


def ruler(ticket: Ticket, at: str) -> list[dict]:
    """The stages as the marks of a rule: which are filled in, and where one is."""
    reached = ticket.reached()
    return [{"name": s, "title": s.capitalize(), "key": i, "done": reached[s], "on": s == at}
            for i, s in enumerate(STAGES, 1)]


def page(request, ticket: Ticket, stage: str, error: dict | None = None, **extra):
    """A stage's page, or only its bench when the page asks for a redraw."""
    partial = request.headers.get("HX-Request") == "true"
    fetch(ticket, "revisions", "pieces")
    if error:
        error["words"] = changes.in_words(error["field"], ticket.kind)
        error["thing"] = thing_at(error["asked"] or error["field"], ticket.kind)
    figures, units = ticket.figures, request.user.units
    late = partial and stage == "shape" and not figures.is_proved and len(figures.part.sheet.faces) > MANY
    context = {"ticket": ticket, "at": "rack", "stage": stage, "ruler": [] if partial else ruler(ticket, stage),
               "units": units, "error": error, "figures": figures, "part": figures.part,
               "change_url": reverse("tickets:change", args=[ticket.number]),
               "pieces": 0 if partial else ticket.pieces.count(),
               "notices": None if late else figures.notices}
    context |= BUILD[stage](ticket, units) | extra
    if stage == "shape" and not error:
        context["known"] = drawn.known(request.POST.get("drawn", "")) if partial else {}
        context["drawn"] = drawn.token_of(ticket.stamp, units)
        drawn.note(context["drawn"], context["things"])
    body = PAGES[ticket.kind].template if stage == "shape" else f"tickets/_{stage}.html"
    template = body if partial else "tickets/ticket.html"
    status = 409 if extra.get("meanwhile") else 422 if error else 200
    return render(request, template, context | {"body": body, "partial": partial}, status=status)


@require_safe
def stage(request, number: int, stage: str):
    """One stage of a ticket."""
    ticket = bench_ticket_or_404(number)
    if stage == "layout" and not ticket.seen_layout:
        ticket.seen_layout = True
        Ticket.objects.filter(pk=ticket.pk).update(seen_layout=True)
    return page(request, ticket, stage)


def stage_named(form, otherwise="shape") -> str:
    """The stage that a form was sent from."""
    return form.get("stage") if form.get("stage") in EDITABLE else otherwise


def guarded(request, ticket: Ticket, name: str, field: str, act) -> HttpResponse:
    """Do ``act()`` on the ticket and redraw its stage ``name``.

    When someone else changed the ticket since the page was drawn, the person is told; a
    change of the same ``field`` waits until they have seen both. A Refusal comes back at
    its field, with what was typed.
    """
    since = meanwhile(ticket, request.POST.get("seen", ""), request.user)
    if since and since.touches(ticket, field):
        mine = [(k, v) for k, v in request.POST.items() if k not in ("seen", "drawn", "csrfmiddlewaretoken")]
        return page(request, ticket, name, meanwhile=since, mine=mine, my_words=changes.in_words(field, ticket.kind),
                    my_value=request.POST.get("value") or request.POST.get(field, ""))
    try:
        act()
    except Refusal as refusal:
        return page(request, ticket, name, error={
            "field": refusal.path, "message": refusal.message, "asked": request.POST.get("field", field),
            "value": request.POST.get("value", request.POST.get(field, ""))[:120]})
    return page(request, ticket, name, merged=since, told=ticket.told)


@require_POST
@retried
def change(request, number: int):
    """One change of the part; answers with the stage redrawn, or the error at its field."""
    ticket = bench_ticket_or_404(number)

    def act():
        part, note, choices = _changed(ticket, request)
        ticket.change(part, note, request.user, **choices)

    return guarded(request, ticket, stage_named(request.POST), _target(request.POST), act)


def _target(form) -> str:
    """The field a change is about, for telling it from another person's; of what moves others in its list the shape."""
    about = form.get("action", "set") in ("set", "toggle") or form.get("field") == "inside_radius"
    return form.get("field", "") if about else "shape"


def _changed(ticket, request):
    """(part, note, choices) after what the form asks for."""
    form, part = request.POST, ticket.part
    action, units = form.get("action", "set"), request.user.units
    field, value = form.get("field", ""), form.get("value", "")[:200]
    if action == "set" and field == "allowance.method":
        return _allowance(ticket, value, units)
    changed, note = act_on(part, action, form, units)
    own = action == "set" and field == "stock.springback" and ticket.follows_shop
    return changed, note, {"follows_shop": False} if own else {}


def _allowance(ticket, value, units):
    """A school picked: the shop's rule, a chart of the shop, or one of the books'."""
    if value == "shop":
        return None, "allowance by the shop", {"follows_shop": True}
    if value.startswith("chart:"):
        chart = fields.row(Chart, value[6:])
        block = chart_block(chart, ticket.figures.part, ticket.tool)
        return ticket.part | {"allowance": block}, f"chart {chart.name}", {"follows_shop": False}
    return set_field(ticket.part, "allowance.method", value, units), "allowance", {"follows_shop": False}


@require_POST
@retried
def undo(request, number: int, way: str):
    """Back to the edit before, or forward again."""
    ticket = bench_ticket_or_404(number)
    return guarded(request, ticket, stage_named(request.POST), ANYTHING,
                   lambda: ticket.move_to(ticket.place + (-1 if way == "undo" else 1)))


@require_POST
@retried
def set_up(request, number: int):
    """Quantity, brake, tools and lot: choices made on the ticket, beside the part."""
    form = request.POST
    name = stage_named(form, "stock")
    field = next((f for f in SET_UP if f in form), "")
    ticket = bench_ticket_or_404(number)

    def act():
        if "due" in form:  # about the shop's days, not about the part: nothing to be undone
            ticket.due = fields.day(form["due"], "due")
            ticket.keep("due")
        part, choices = _chosen(ticket, form)
        ticket.change(part, changes.in_words(field), request.user, **choices)
        if "quantity" in choices and ticket.revision:
            ticket.revision.count_checked()

    return guarded(request, ticket, name, field, act)


def _chosen(ticket, form):
    """(part or None, choices) from a set-up form."""
    choices, part = {}, None
    if "quantity" in form:
        pieces = fields.whole(form["quantity"], "quantity", 1, MOST_PIECES)
        if ticket.lead:
            raise Refusal("quantity", f"is {ticket.per_assembly} to each {ticket.lead.tag}: change it there, or at Kit")
        choices["quantity"] = pieces
    for key, model in LINKS.items():
        if key in form:
            found = fields.row(model, form[key]) if form[key] else None
            choices[f"{key}_id"] = found.pk if found else None
            if key == "brake":
                choices |= {"punch": "", "die": "", "also_id": None}
            if key == "also" and found == ticket.brake:
                raise Refusal("also", "is the brake that it is on already")
            if key == "lot" and found:
                part = changes.from_lot(ticket.part, found)
    press = ticket.brake.press if ticket.brake else None
    for key in ("punch", "die"):
        if key in form and press:
            rack_names = {t.name for t in (press.punches if key == "punch" else press.dies)}
            choices[key] = form[key] if form[key] in rack_names else ""
    return part, choices


@require_POST
@retried
def try_order(request, number: int):
    """Take an order of the person's own, or (empty) the best one again."""
    names = [n for n in request.POST.get("names", "")[:2000].split(",") if n]
    ticket = ordered_or_404(bench_ticket_or_404(number))

    def act():
        if names:
            derived.check_order(ticket.joined, ticket.brake.file, names)
        ticket.change(None, "bend order", request.user, bend_order=names)

    return guarded(request, ticket, "order", "bend_order", act)


@require_POST
@retried
def important(request, number: int):
    """A leg to be gauged directly or a wish to be kept, or no longer."""
    ticket, name = ordered_or_404(bench_ticket_or_404(number)), request.POST.get("name", "")[:80]

    def act():
        known = ticket.important
        chosen = [one for one in known if one != name] if name in known else [*known, name]
        derived.check_important(ticket.joined, ticket.brake.file, chosen)
        ticket.change(None, changes.in_words("important"), request.user, important=chosen)

    return guarded(request, ticket, "order", "important", act)


@require_POST
@retried
def take(request, number: int):
    """Changes that free the part, taken together: ``field`` and ``value``, each as often as there are."""
    ticket, units = bench_ticket_or_404(number), request.user.units
    rows = list(zip(request.POST.getlist("field")[:20], request.POST.getlist("value")[:20], strict=False))

    def act():
        if not rows:
            raise Refusal("shape", "there is no size to take")
        ticket.change(with_fields(ticket.part, rows, units), "a way out taken", request.user)

    return guarded(request, ticket, "order", "shape", act)


@require_POST
def search(request, number: int):
    """End a search with what it has, or look on for what was given up."""
    ticket = ordered_or_404(bench_ticket_or_404(number))
    if request.POST.get("go") == "on":
        ticket.order_asked.search.anew()
    else:
        ticket.order_asked.search.stop()
    return page(request, ticket, "order")


@require_POST
@retried
def override(request, number: int):
    """A lead lets one stop pass, with a reason that stays on the ticket."""
    ticket = bench_ticket_or_404(number)
    reason = fields.words(request.POST.get("reason"), 300)
    key = (request.POST.get("code"), request.POST.get("where"))
    stop = next((n for n in ticket.open_stops if (n.code, n.where) == key), None)
    name = stage_named(request.POST, "layout")
    if stop is None:
        raise Http404
    if len(reason) < 5:
        return page(request, ticket, name, error={
            "field": "reason", "asked": "reason", "value": reason,
            "message": "must say why this stop may pass, in a few words; it stays on the ticket"})
    with transaction.atomic():
        ticket.keep()
        ticket.overrides.create(code=stop.code, where=stop.where, message=stop.message, reason=reason, by=request.user)
    return page(request, ticket, name)


@require_safe
def workings(request, number: int):
    """The working of every figure; fetched when somebody asks, so that edits stay quick."""
    return render(request, "tickets/_working_articles.html", {"figures": ticket_or_404(number).figures})

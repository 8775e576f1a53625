"""Order: the order in force, its frames, and the ways out where there is none."""

import threading
from collections import OrderedDict
from dataclasses import replace

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.develop.making import BARS_CARE, BLOCK_CARE, CARE, hammering, over_bars, passes, rolling, tacking
from bendcore.errors import Refusal
from bendcore.families.shape import BARS, BLOCK, ROLLS
from bendcore.floor.good_side import GoodSide, good_side
from bendcore.layout.blocks import blocks_of
from bendcore.order.plan import Plan, Step
from bendcore.part import Part
from bendcore.quality import spreads
from dorvan.brakes.models import Brake, parsed
from dorvan.drawings.blocks import blocks_view
from dorvan.drawings.film import film
from dorvan.drawings.qr import qr
from dorvan.drawings.scene import scene, scene_svg
from dorvan.ledger.schools import shop_spreads
from dorvan.longwork import desks
from dorvan.longwork.desk import Working

from ..models import KeptOrder, Ticket
from ..results import derived, in_brake
from .lookup import ordered_or_404, ticket_or_404

FRAMES = 40
MOST_LOOKED = 50
LOOKING = threading.Lock()
looked: OrderedDict[int, derived.Asked] = OrderedDict()
"""By ticket what was last looked for from a page that only asks whether there is an order."""


def order(ticket: Ticket, units: str) -> dict:
    found, working, refused, ahead = None, False, "", 0
    try:
        found = ticket.ordered
        ticket.note_order(found)
    except Working as going_on:
        working, ahead = True, going_on.ahead
    except Refusal as refusal:
        refused = refusal.message
    press = ticket.brake.press if ticket.brake else None
    return making_card(ticket.figures.part, ticket.making) | {
            "order": found, "working": working, "ahead": ahead,
            "far": ticket.order_asked.search.far() if working else {},
            "kept_steps": _kept_steps(ticket, found) if found else 0,
            "refused": refused, "press": press, "brakes": Brake.objects.all(),
            "film": film(ticket.figures.part, found.steps) if found else [],
            "names": ",".join(found.names) if found else "",
            "left": _not_made(ticket, found) if found else [],
            "mine": bool(ticket.bend_order), "better": _better(ticket, found) if found else None,
            "shown": len(found.shown) if found else 0, "sheets": _sheets(ticket, found) if found else []}


def _sheets(ticket: Ticket, found: Plan) -> list[tuple[Step, GoodSide | None]]:
    """The steps, each with the side of the sheet to be spared at it."""
    part, brakes = ticket.figures.part, list(map(parsed, ticket.brake_files))
    return [(step, good_side(part, step, brakes)) for step in found.steps]


def making_card(part: Part, making: str) -> dict:
    """How a piece is made at the rolls, over a block or bars; nothing for what is bent."""
    shape = part.shape
    if making == BARS:
        turns = [(shape.called(bend.id), bend.direction, bend.angle) for bend in part.sheet.bends]
        return {"card": list(over_bars(turns, part.stock.springback)), "care": BARS_CARE, "bars": True}
    if shape.making == BLOCK:
        form, backing = blocks_of(part)
        card = hammering(form.lean, form.thickness, any(c.strain > 0 for c in shape.curves), len(shape.flutes),
                         bool(shape.collars))
        return {"card": list(card), "care": BLOCK_CARE, "form": form, "blocks": blocks_view(form, backing)}
    if shape.making != ROLLS:
        return {}
    running = shape.running()
    return {"card": [*rolling(shape.inside, shape.slant, shape.seam.kind), *(tacking(shape.group) if running else ())],
            "care": CARE, "running": running,
            "passes": passes(shape.inside, part.stock.thickness, part.stock.material)}


def _found(ticket) -> Plan | None:
    """The order in force, if it is there by now."""
    try:
        return ticket.ordered
    except (Working, Refusal):
        return None


def _kept_steps(ticket, found) -> int:
    """How many steps stand as somebody put them."""
    left, count = len(ticket.bend_order), 0
    while left > 0 and count < len(found.steps):
        left, count = left - len(found.steps[count].bends), count + 1
    return count


def _better(ticket, found) -> Plan | None:
    """The best order beside one of somebody's own, where it is known."""
    best = KeptOrder.known(replace(ticket.order_asked, names=None)) if ticket.bend_order else None
    return best if best and best.feasible else None


def _not_made(ticket, found) -> list[str]:
    """Bends the order never came to, so that they can still be dragged."""
    names = [*ticket.bend_order, *ticket.bend_names]
    return [n for n in dict.fromkeys(names) if n not in found.names]


@require_safe
def frames(request, number: int, step: int):
    """Frames of one step of the order in force, or of the one it stops at."""
    ticket = ticket_or_404(number)
    found = _found(ticket)
    steps = found.shown if found else ()
    if not 1 <= step <= len(steps):
        raise Http404
    return JsonResponse(in_brake.frames(ticket.joined, ticket.brake_files, steps, step - 1))


@require_safe
@login_not_required
def look(request, number: int):
    """Whether there is an order at all, told before anything is cut; a search for how the ticket stood before ends. It
    asks by itself after a while, so that nothing is said to nobody."""
    if not request.user.is_authenticated:
        return HttpResponse(status=204)
    ticket = ticket_or_404(number)
    if not ticket.can_be_ordered:
        return HttpResponse()
    asked, working = ticket.order_asked, False
    with LOOKING:
        before = looked.pop(ticket.pk, None)
        looked[ticket.pk] = asked
        while len(looked) > MOST_LOOKED:
            looked.popitem(last=False)
    if before and before.name != asked.name:
        before.search.give_up()
    try:
        ticket.note_order(KeptOrder.ordered(asked))
    except Working:
        working = True
    except Refusal:
        pass
    return render(request, "tickets/_looked.html", {"ticket": ticket, "working": working})


@require_safe
def space(request, number: int, step: int, frame: int):
    """One frame of a step in space, as a picture."""
    ticket = ticket_or_404(number)
    found = _found(ticket)
    steps = found.shown if found else ()
    if not 1 <= step <= len(steps) or frame >= FRAMES:
        raise Http404
    try:
        bodies = in_brake.scene(ticket.joined, ticket.brake_files, steps, step - 1, frame)
    except IndexError:
        raise Http404 from None
    answer = HttpResponse(scene_svg(bodies, ticket.figures.part.stock.good), content_type="image/svg+xml")
    answer["Cache-Control"] = "private, max-age=600"
    return answer


@require_safe
def sizes(request, number: int):
    """What the order in force does to the finished sizes, beside the best one."""
    ticket = ticket_or_404(number)
    found = _found(ticket)
    if not found or not found.feasible:
        raise Http404
    better, asked = _better(ticket, found), ticket.order_asked
    known = shop_spreads(ticket.figures.part, ticket.tool)
    other = {row.dimension.name: row for row in asked.sizes(better, known)} if better else {}
    named = {row.name: row for row in found.important}
    shape = ticket.figures.part.shape
    legs = {leg.id for leg in shape.legs if any(leg.ends)} if ticket.brake.press else set()
    rows = [{"row": row, "other": other.get(row.dimension.name), "leg": row.dimension.name in legs,
             "asked": row.dimension.name in ticket.important, "important": named.get(row.dimension.name),
             "mostly": spreads.WORDS[row.shares[0][0]] if row.shares else ""} for row in asked.sizes(found, known)]
    return render(request, "tickets/_sizes_spread.html", {"rows": rows, "ticket": ticket, "units": request.user.units,
                                                          "compared": bool(better), "spreads": known})


@require_safe
def bend_sheet(request, number: int):
    """The order to take to the brake: every step with its picture."""
    ticket = ticket_or_404(number)
    found = _found(ticket)
    if not found or not found.steps:
        raise Http404
    return render(request, "tickets/bend_sheet.html", {
        "code": qr(request.build_absolute_uri(reverse("floor:bend", args=[ticket.number]))),
        "ticket": ticket, "order": found, "part": ticket.figures.part, "units": request.user.units, "at": "rack",
        "rows": [{"step": step, "good": good, "picture": scene(
            in_brake.scene(ticket.joined, ticket.brake_files, found.steps, n), ticket.figures.part.stock.good)}
                 for n, (step, good) in enumerate(_sheets(ticket, found))]})


@require_safe
def every_brake(request, number: int):
    """Which of the shop's brakes can make the part, in what time and with how many set-ups; each worked out on its
    own."""
    return _brakes_page(request, ordered_or_404(ticket_or_404(number)))


def _brakes_page(request, ticket: Ticket, stop: bool = False):
    with desks.orders.patient_once():
        rows = [_on(ticket, brake, stop) for brake in Brake.objects.all()]
    return render(request, "tickets/_every_brake.html", {"rows": rows, "ticket": ticket,
                                                         "working": any(row["working"] for row in rows)})


def _on(ticket, brake, stop) -> dict:
    row = {"brake": brake, "plan": None, "working": False, "refused": "", "why": ""}
    asked = derived.Asked(ticket.part_for(brake), brake.file)
    if stop:
        asked.search.stop()
    try:
        plan = row["plan"] = KeptOrder.ordered(asked)
    except Working as going_on:
        return row | {"working": True, "ahead": going_on.ahead, "far": asked.search.far()}
    except Refusal as refusal:
        return row | {"refused": refusal.message}
    if not plan.feasible:
        row["why"] = next((why.message for why in plan.reasons), "") or next(
            (f"{hit.face} meets the {hit.tool}" for hit in plan.hits), "no order")
    return row


@require_safe
def limits(request, number: int):
    """What the brake can do at most in this metal."""
    return _limits_page(request, ticket_or_404(number))


def _limits_page(request, ticket: Ticket):
    if not ticket.brake:
        raise Http404
    found, working, sought = [], False, ticket.order_asked.limits()
    try:
        found = sought.ask()
    except Working:
        working = True
    return render(request, "tickets/_limits.html", {
        "limits": found, "ticket": ticket, "working": working, "far": sought.far(), "units": request.user.units,
        "unfinished": any(limit.unfinished for limit in found)})


@require_safe
def why(request, number: int):
    """What each step of the order would cost if something else were done there."""
    return _why_page(request, ordered_or_404(ticket_or_404(number)))


def _why_page(request, ticket: Ticket):
    found, working, refused, sought = None, False, "", ticket.order_asked.why()
    try:
        found = sought.ask()
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    return render(request, "tickets/_why.html", {"why": found, "ticket": ticket, "working": working,
                                                 "far": sought.far(), "press": ticket.brake.press, "refused": refused,
                                                 "part": ticket.figures.part})


@require_POST
def looking(request, number: int, what: str):
    """What is looked for beside the order ends with what it has, or is looked on for."""
    ticket, is_on = ordered_or_404(ticket_or_404(number)), request.POST.get("go") == "on"
    if what == "brakes":
        return _brakes_page(request, ticket, stop=not is_on)
    sought = ticket.order_asked.why() if what == "why" else ticket.order_asked.limits()
    (sought.anew if is_on else sought.stop)()
    return (_why_page if what == "why" else _limits_page)(request, ticket)

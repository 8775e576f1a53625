"""Release, bending step by step, and the check sheet."""

import math

from django.db import transaction
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal
from bendcore.families.common import Hem
from bendcore.quality.checksheet import CheckRow
from bendcore.quality.corrections import Reading, StepSetting, corrected, in_words, stop_in_words
from bendcore.units import read_angle, read_length, show_length
from dorvan import fields
from dorvan.drawings.machine import step_picture
from dorvan.drawings.section import film
from dorvan.ledger.models import Pair
from dorvan.tickets.models import Revision, Ticket
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import ticket_or_404
from dorvan.tickets.results import derived
from dorvan.tickets.results.longwork import Working
from dorvan.tickets.retry import retried

from .depths import computed_at, degree_worth
from .models import CheckSheet, Run, StepRecord


def settings_of(revision: Revision) -> list[StepSetting]:
    """The order's steps as the corrections need them."""
    return [StepSetting(n, s.angle, s.bend_to, s.gauge.stop, (round(s.angle, 3), *s.tools.key))
            for n, s in enumerate(revision.plan.steps, 1)]


def readings_of(records: dict[tuple[int, int], StepRecord]) -> list[Reading]:
    """The readings in order of piece and step."""
    return [Reading(piece, step, r.angle, None if r.leg is None else r.leg - r.leg_wanted, r.leg_side)
            for (piece, step), r in sorted(records.items())]


def newest_records(revision: Revision) -> dict[tuple[int, int], StepRecord]:
    """(piece, step) → its newest record."""
    return {(r.run.piece, r.step): r for r in StepRecord.objects.filter(run__revision=revision).select_related("run")}


def blocked(ticket: Ticket) -> str:
    """Why a ticket cannot be released yet, or nothing."""
    if ticket.open_stops:
        return "A stop on the part must be cleared first: see Layout."
    if not ticket.brake:
        return "Choose a brake first: see Stock."
    try:
        found = ticket.ordered
    except Working:
        return "The order is still being worked out: see Order."
    except Refusal as refusal:
        return f"There is no order: it {refusal.message}."
    if not found:
        return "The part has no bends."
    return "" if found.feasible else "No order bends this part yet: see Order."


@require_GET
def bend(request, number: int):
    """The run cards of the newest revision, one large card a step."""
    ticket = ticket_or_404(number)
    return bend_page(request, ticket)


def bend_page(request, ticket, error=None, piece=None, step=None):
    revision = ticket.revision
    context = {"ticket": ticket, "at": "rack", "stage": "bend", "ruler": bench.ruler(ticket, "bend"),
               "units": request.user.units, "revision": revision, "blocked": blocked(ticket), "error": error,
               "figures": ticket.figures, "part": ticket.figures.part, "body": "floor/_bend.html"}
    if revision:
        context |= _card(request, revision, piece, step)
    elif not context["blocked"]:
        context |= _ahead(request, ticket)
    partial = request.headers.get("HX-Request") == "true"
    return render(request, "floor/_bend.html" if partial else "tickets/ticket.html",
                  context | {"partial": partial}, status=422 if error else 200)


def _whole(text, otherwise, most):
    found = fields.number(text)
    return otherwise if found is None else min(max(found, 1), most)


def _card(request, revision, piece=None, step=None):
    steps, units = revision.plan.steps, request.user.units
    done = newest_records(revision)
    pieces = max([p for p, _ in done], default=1)
    if sum(1 for p, _ in done if p == pieces) == len(steps):
        pieces += 1
    piece = piece or _whole(request.GET.get("piece"), pieces, pieces)
    first = next((n for n in range(1, len(steps) + 1) if (piece, n) not in done), len(steps))
    step = step or _whole(request.GET.get("step"), first, len(steps))
    row = steps[step - 1]
    now = corrected(settings_of(revision), readings_of(done), piece, step)
    figures = revision.figures
    legs = _legs_beside(figures.part, row)
    frames = derived.frames(revision.part, revision.brake_files, steps, step - 1)
    return {
        "row": row, "shaped": figures.part,
        "step": step, "piece": piece, "pieces": range(1, pieces + 1), "steps": len(steps), "now": now,
        "angle_words": in_words(now.degrees), "degree": _degree(revision, row),
        "stop_words": stop_in_words(now.stop_shift, lambda mm: f"{show_length(mm, units)} {units}"),
        "legs": legs, "is_done": (piece, step) in done, "picture": step_picture(frames, figures.part, row.held),
        "film": [card | {"done": (piece, card["step"]) in done} for card in film(figures.part, steps)][1:],
        "finished": all((piece, n) in done for n in range(1, len(steps) + 1)), "more": piece < revision.ticket.quantity,
    }


def _ahead(request, ticket):
    """What bending it will be like, step by step, of a ticket that could be released as it stands."""
    steps = ticket.ordered.steps
    step = _whole(request.GET.get("step"), 1, len(steps))
    row = steps[step - 1]
    frames = derived.frames(ticket.joined, ticket.brake_files, steps, step - 1)
    part = ticket.figures.part
    return {"ahead": True, "row": row, "shaped": part, "step": step, "steps": len(steps),
            "picture": step_picture(frames, part, row.held),
            "now": {"stop": row.gauge.stop, "bend_to": row.bend_to},
            "film": film(part, steps)[1:]}


def _degree(revision, row):
    """What one degree is worth in depth at this step: computed over its die, and learnt here."""
    worth = computed_at(revision, row)
    if worth is None:
        return None
    stock = revision.figures.part.stock
    pair = Pair.near(stock.material.name, stock.thickness, row.tools.die)
    found = degree_worth(pair) if pair else None
    return {"computed": worth, "learnt": found and found["learnt"]}


def _legs_beside(part, row):
    """The legs a person can measure after this step: (name, size in mm, side)."""
    bend = part.shape.bend[row.bends[0]]
    if isinstance(bend, Hem):
        return [{"id": bend.id, "size": bend.size, "side": "far side"}]
    joint = part.sheet.bend[bend.id]
    legs = {leg.id: leg for leg in part.shape.legs}
    return [{"id": legs[face].id, "size": legs[face].size, "side": "stop side" if face == row.held else "far side"}
            for face in (joint.parent, joint.child) if face in legs]


@require_POST
@retried
def release(request, number: int):
    """Freeze part, brake and order as the next revision."""
    ticket = ticket_or_404(number)
    why = blocked(ticket)
    if why:
        return bend_page(request, ticket, {"field": "release", "message": why})
    if not ticket.is_released:
        found = ticket.ordered
        ticket.note_order(found)
        frozen = Revision.frozen(ticket, found, request.user)
        with transaction.atomic():
            ticket.keep()
            frozen.save()
    return redirect("floor:bend", number=number)


@require_POST
def record(request, number: int):
    """Tick a step off, with what was measured."""
    ticket = ticket_or_404(number)
    revision, form = ticket.revision, request.POST
    if not revision:
        raise Http404
    steps = revision.plan.steps
    piece, step = _whole(form.get("piece"), 1, ticket.quantity), _whole(form.get("step"), 1, len(steps))
    try:
        angle = _angle(form.get("angle", ""), request.user.units)
        leg = _leg(form.get("leg", ""), request.user.units)
        depth = _leg(form.get("depth", ""), request.user.units, "depth")
    except Refusal as refusal:
        typed = {name: form.get(name, "")[:40] for name in ("angle", "leg", "depth")}
        return bend_page(request, ticket, typed | {"field": refusal.path, "message": refusal.message}, piece, step)
    legs = {item["id"]: item for item in _legs_beside(revision.figures.part, steps[step - 1])}
    beside = legs.get(form.get("leg_name")) or next(iter(legs.values()), {"size": None, "side": ""})
    with transaction.atomic():
        run, _ = Run.objects.get_or_create(revision=revision, piece=piece, defaults={"by": request.user})
        StepRecord.objects.create(run=run, step=step, angle=angle, depth=depth, leg=leg, leg_wanted=beside["size"],
                                  leg_side=beside["side"], by=request.user)
    following = min(step + 1, len(steps))
    return redirect(f"{reverse('floor:bend', args=[number])}?piece={piece}&step={following}")


def _angle(text, units, path="angle"):
    if not text.strip():
        return None
    angle = read_angle(text, path, units)
    if not 0 < angle <= 180:
        raise Refusal(path, "must be a bend angle between 0 and 180")
    return angle


def _leg(text, units, path="leg"):
    if not text.strip():
        return None
    mm = read_length(text, units, path)
    if not 0 < mm < math.inf:
        raise Refusal(path, "must be greater than 0")
    return mm


@require_GET
def check(request, number: int):
    return check_page(request, ticket_or_404(number))


def check_page(request, ticket, typed=None, errors=None):
    """The list of finished dimensions, to be filled in or as saved."""
    revision = ticket.revision
    figures = revision.figures if revision else ticket.figures
    piece = _whole(request.POST.get("piece") or request.GET.get("piece"), 1, ticket.quantity)
    rows = [{"dimension": d, "typed": (typed or {}).get(d.name, ""), "error": (errors or {}).get(d.name)}
            for d in figures.dimensions]
    sheet = revision.sheets.filter(piece=piece).last() if revision else None
    return render(request, "tickets/ticket.html", {
        "ticket": ticket, "at": "rack", "stage": "check", "ruler": bench.ruler(ticket, "check"),
        "units": request.user.units, "revision": revision, "rows": rows, "sheet": sheet, "piece": piece,
        "again": bool(typed) or request.GET.get("again"), "errors": errors, "figures": figures,
        "part": figures.part, "body": "floor/_check.html", "sheets": revision.sheets.all() if revision else [],
    }, status=422 if errors else 200)


@require_POST
def save_check(request, number: int):
    """Save a check sheet: every row that was measured, with its verdict."""
    ticket = ticket_or_404(number)
    revision = ticket.revision
    if not revision:
        raise Http404
    typed, errors, rows = {}, {}, []
    for d in revision.figures.dimensions:
        text = request.POST.get(d.name, "")[:60].strip()
        typed[d.name] = text
        if not text:
            continue
        try:
            value = (_angle if d.unit == "°" else _leg)(text, request.user.units, d.name)
        except Refusal as refusal:
            errors[d.name] = refusal.message
            continue
        rows.append(CheckRow(d, value).written())
    if not rows and not errors:
        errors["form"] = "Measure at least one dimension before saving."
    if errors:
        return check_page(request, ticket, typed, errors)
    piece = _whole(request.POST.get("piece"), 1, ticket.quantity)
    CheckSheet.objects.create(revision=revision, piece=piece, rows=rows, by=request.user)
    return redirect(f"{reverse('floor:check', args=[number])}?piece={piece}")

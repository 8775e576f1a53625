"""Release, the run cards, and what happens to a piece on the way."""

import uuid
from dataclasses import replace

from django.db import IntegrityError, transaction
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.floor.corrections import in_words, stop_in_words
from bendcore.floor.drifting import drift_of
from bendcore.floor.good_side import good_side
from bendcore.floor.hazards import hazards
from bendcore.order.plan import Plan
from bendcore.tolerance import ANGLE_TOLERANCE
from bendcore.units import show_length
from dorvan import fields
from dorvan.brakes.models import parsed
from dorvan.drawings.charts import drift
from dorvan.drawings.film import film
from dorvan.drawings.machine import step_picture
from dorvan.drawings.scene import scene_svg
from dorvan.drawings.turned import turned_svg
from dorvan.ledger.models import Pair
from dorvan.longwork.desk import Working
from dorvan.tickets import gate
from dorvan.tickets.models import Revision, Ticket
from dorvan.tickets.models.gate import ORDER
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import released_or_404, ticket_or_404
from dorvan.tickets.results import in_brake
from dorvan.versions.doing import retried

from .. import readings
from ..depths import computed_at, degree_worth
from ..models import TRIAL, LogEntry, Run, StepRecord
from ..readings import within
from ..run import Now, Progress, shut
from .by_card import card_page

TURNED = "turned"
"""The picture of how the sheet is turned before a step."""


def blocked(ticket: Ticket) -> str:
    """Why a ticket cannot be released yet, or nothing."""
    if ticket.open_stops:
        return "A stop on the part must be cleared first: see Layout."
    held = gate.shut(ticket, but=(ORDER,))
    if held:
        return f"The gate is shut: {held[0].title.lower()}. See Gate."
    if ticket.making:
        return ""
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


@require_safe
def bend(request, number: int):
    """The run cards of the newest revision, one large card a step."""
    ticket = ticket_or_404(number)
    return bend_page(request, ticket)


def bend_page(request, ticket, error=None, piece=None, step=None):
    revision = ticket.revision
    if ticket.making:
        return card_page(request, ticket, blocked(ticket), error)
    context = {"ticket": ticket, "at": "rack", "stage": "bend", "ruler": bench.ruler(ticket, "bend"),
               "units": request.user.units, "revision": revision, "error": error,
               "blocked": "" if revision else blocked(ticket), "figures": ticket.figures,
               "part": ticket.figures.part, "body": "floor/_bend.html"}
    if revision:
        context |= _card(request, revision, piece, step)
    elif not context["blocked"]:
        context |= _ahead(request, ticket)
    partial = request.headers.get("HX-Request") == "true"
    return render(request, "floor/_bend.html" if partial else "tickets/ticket.html",
                  context | {"partial": partial}, status=422 if error else 200)


def _card(request, revision, piece=None, step=None):
    run, units = Progress(revision), request.user.units
    steps, done = run.steps, run.done
    if piece is None:
        newest = max([p for p, _ in done] + list(run.scrapped) + [min(run.at, run.needed)])
        piece = within(request.GET.get("piece"), min(run.at, run.needed), TRIAL, newest)
    first = next((n for n in range(1, len(steps) + 1) if (piece, n) not in done), len(steps))
    step = step or within(request.GET.get("step"), first, 1, len(steps))
    row = steps[step - 1]
    now = run.now(piece, step)
    figures = revision.figures
    frames = in_brake.frames(revision.part, revision.brake_files, steps, step - 1)
    return {
        "row": row, "shaped": figures.part, "run": run, "trial": piece == TRIAL,
        "key": uuid.uuid4(), "log_key": uuid.uuid4(),
        "step": step, "piece": piece, "steps": len(steps), "now": now,
        "angle_words": in_words(now.degrees), "degree": _degree(revision, row),
        "stop_words": _moved(row, now, units), "shut": shut(revision, row, request.user),
        "legs": _legs_beside(figures.part, steps, step, run.ties), "is_done": (piece, step) in done,
        "views": _views(revision.ticket, steps, step, revision.letter),
        "picture": step_picture(frames, figures.part, row.held), "drift": drift(run.angles(step)),
        "wanders": _wanders(run, step), "dangers": _dangers(revision, steps, step),
        "good": good_side(figures.part, row, list(map(parsed, revision.brake_files))),
        "film": [replace(card, done=(piece, card.step) in done) for card in film(figures.part, steps)[1:]],
        "finished": run.is_whole(piece), "more": piece < run.needed,
    }


@require_safe
def view(request, number: int, step: int, when: str):
    """The part among the tools before or after a step, or how it is turned before it, as that looks from where the
    operator stands; the page names what it belongs to, so it may be kept."""
    ticket = ticket_or_404(number)
    revision = ticket.revision
    found = revision.plan if revision else None if blocked(ticket) else ticket.ordered
    if when not in (TURNED, *in_brake.VIEWS) or found is None or not 1 <= step <= len(found.steps):
        raise Http404
    part, brake_files = (revision.part, revision.brake_files) if revision else (ticket.joined, ticket.brake_files)
    good = (revision or ticket).figures.part.stock.good
    if when == TURNED:
        turned = in_brake.turned(part, brake_files, found.steps, step - 1)
        if turned is None:
            raise Http404
        picture = turned_svg(*turned, good, 300, 240)
    else:
        bodies = in_brake.scene(part, brake_files, found.steps, step - 1, in_brake.VIEWS[when])
        picture = scene_svg(bodies, good, 300, 240)
    return HttpResponse(picture, content_type="image/svg+xml",
                        headers={"Cache-Control": "private, max-age=600"})


def _wanders(run, step):
    """Whether the angle of a step drifts from piece to piece; trials are none."""
    rows = [(int(piece), off) for piece, off in run.angles(step) if piece.isdigit()]
    return drift_of([piece for piece, _ in rows], [off for _, off in rows], ANGLE_TOLERANCE)


def _dangers(revision, steps, step):
    """What can hurt at a step."""
    brakes = list(map(parsed, revision.brake_files))
    return hazards(revision.figures.part, steps, step, steps[step - 1].on(brakes))


def _views(ticket, steps, step: int, of: str) -> list[tuple[str, str]]:
    """(when, address of its picture); ``of`` tells what the picture is of."""
    row, before = steps[step - 1], steps[step - 2] if step > 1 else None
    is_turned = row.is_turned and before is not None and before.brake == row.brake
    return [(when, f"{reverse('floor:view', args=[ticket.number, step, when])}?of={of}")
            for when in ((TURNED,) if is_turned else ()) + tuple(in_brake.VIEWS)]


def _moved(row, now: Now, units) -> str:
    """How far stop or line is set otherwise than planned."""
    def shown(mm):
        return f"{show_length(mm, units)} {units}"

    if now.stop is not None or not now.back:
        return stop_in_words(now.back, shown)
    return f"line {shown(abs(now.back))} {'further from' if now.back > 0 else 'nearer to'} the end of the side held"


def _ahead(request, ticket):
    """What bending it will be like, step by step, of a ticket that could be released as it stands."""
    steps = ticket.ordered.steps
    step = within(request.GET.get("step"), 1, 1, len(steps))
    row = steps[step - 1]
    frames = in_brake.frames(ticket.joined, ticket.brake_files, steps, step - 1)
    part = ticket.figures.part
    return {"ahead": True, "row": row, "shaped": part, "step": step, "steps": len(steps),
            "picture": step_picture(frames, part, row.held),
            "views": _views(ticket, steps, step, ticket.content_key[:16]),
            "good": good_side(part, row, list(map(parsed, ticket.brake_files))),
            "now": Now(row.bend_to, row.gauge.stop), "film": film(part, steps)[1:]}


def _degree(revision, row):
    """What one degree is worth in depth at this step: computed over its die, and learnt here."""
    worth = computed_at(revision, row)
    if worth is None:
        return None
    stock = revision.figures.part.stock
    pair = Pair.near(stock.material.name, stock.thickness, row.tools.die)
    found = degree_worth(pair) if pair else None
    return {"computed": worth, "learnt": found and found["learnt"]}


def _legs_beside(part, steps, step, ties):
    """The legs a person can measure after this step, both their ends bent: name and size in mm."""
    made = {name for row in steps[:step] for name in row.bends}
    bends = set(steps[step - 1].bends)
    hems = [hem for hem in part.shape.hems if hem.id in bends]
    legs = [leg for leg in part.shape.legs if bends & set(leg.ends) and made >= {end for end in leg.ends if end}]
    gauged = ties.gauged.get(step - 1)
    found = [{"id": hem.id, "size": hem.length} for hem in hems]
    found += [{"id": leg.id, "size": leg.size} for leg in sorted(legs, key=lambda leg: leg.id != gauged)]
    return found


@require_POST
@retried
def release(request, number: int):
    """Freeze part, brake and order as the next revision."""
    ticket = ticket_or_404(number)
    why = blocked(ticket)
    if why:
        return bend_page(request, ticket, {"field": "release", "message": why})
    if not ticket.is_released:
        found = Plan.nothing() if ticket.making else ticket.ordered or Plan.nothing()
        if found.steps:
            ticket.note_order(found)
        frozen = Revision.frozen(ticket, found, request.user)
        with transaction.atomic():
            ticket.keep()
            frozen.save()
    first = next(iter(ticket.revision.plan.steps), None)
    waits = first and shut(ticket.revision, first, request.user)
    return redirect("floor:setup" if waits else "floor:bend", number=number)


@require_POST
def record(request, number: int):
    """Tick a step off, with what was measured; undo one that was ticked."""
    (ticket, revision), form = released_or_404(number), request.POST
    key = fields.key(form.get("key"))
    steps = revision.plan.steps
    run = Progress(revision)
    if not steps:
        return _by_card(request, ticket, run, key)
    piece, step = within(form.get("piece"), 1, TRIAL, run.needed), within(form.get("step"), 1, 1, len(steps))
    following = f"{reverse('floor:bend', args=[number])}?piece={piece}&step={min(step + 1, len(steps))}"
    if key and StepRecord.objects.filter(key=key).exists():
        return redirect(following)  # it came before
    undone = form.get("what") == "undone"
    beside = _beside(form, revision, steps, step, run)
    try:
        why = shut(revision, steps[step - 1], request.user)
        if why:
            raise Refusal("shut", why)
        (angle_text, sure), (leg_text, leg_sure) = (readings.answered(form, name) for name in ("angle", "leg"))
        angle = readings.angle(angle_text, request.user.units)
        leg = readings.length(leg_text, request.user.units)
        depth = readings.length(form.get("depth", ""), request.user.units, "depth")
    except Refusal as refusal:
        return bend_page(request, ticket, _typed(form) | {"field": refusal.path, "message": refusal.message}, piece,
                         step)
    asked = {} if undone else run.asked(piece, step, angle, (beside["id"], leg) if leg is not None else None)
    open_ = [(name, doubt) for name, doubt in asked.items() if not (sure if name == "angle" else leg_sure)]
    if open_:
        name, doubt = open_[0]
        asks = readings.Asked.of(name, doubt, "mm" if name == "leg" else "°", request.user.units)
        return bend_page(request, ticket, _typed(form) | {"field": name, "message": asks.question, "asks": asks},
                         piece, step)
    now = run.now(piece, step)
    entry = StepRecord(step=step, what=StepRecord.What.UNDONE if undone else StepRecord.What.BENT, key=key, angle=angle,
                       depth=depth, leg=leg, leg_name=beside["id"] if leg is not None else "",
                       leg_wanted=beside["size"], jogged=form.get("jogged") == "on", further=now.degrees, back=now.back,
                       sure=bool(asked), by=request.user)
    _keep(entry, revision, piece)
    return redirect(following if not undone and piece != TRIAL else
                    f"{reverse('floor:bend', args=[number])}?piece={piece}&step={step}")


def _typed(form) -> dict:
    """What was typed on a run card, for the page that asks for it again."""
    return {name: form.get(name, "")[:40] for name in ("angle", "leg", "depth")}


def _beside(form, revision, steps, step: int, run: Progress) -> dict:
    """The leg that a reading is of, its name and size; the first that can be measured where none is chosen."""
    legs = {item["id"]: item for item in _legs_beside(revision.figures.part, steps, step, run.ties)}
    return legs.get(form.get("leg_name")) or next(iter(legs.values()), {"id": "", "size": None})


def _by_card(request, ticket, run, key):
    """Tick a piece made by its card off, or take that back."""
    piece = within(request.POST.get("piece"), 1, 1, run.needed)
    what = StepRecord.What.UNDONE if request.POST.get("what") == "undone" else StepRecord.What.BENT
    _keep(StepRecord(step=1, what=what, key=key, by=request.user), run.revision, piece)
    return redirect("floor:bend", number=ticket.number)


def _keep(entry: StepRecord, revision, piece: int) -> None:
    """Write an entry of a piece; one that came before under the same key stands for it."""
    try:
        with transaction.atomic():
            entry.run, _ = Run.objects.get_or_create(revision=revision, piece=piece, defaults={"by": entry.by})
            entry.save()
    except IntegrityError:
        if not (entry.key and StepRecord.objects.filter(key=entry.key).exists()):
            raise


WITH_REASON = {LogEntry.What.SCRAPPED, LogEntry.What.MUTED, LogEntry.What.NEXT_TIME}


@require_POST
def log(request, number: int):
    """A piece scrapped, the run paused, handed over or closed, a guard muted and put back."""
    (ticket, revision), form = released_or_404(number), request.POST
    run, key = Progress(revision), fields.key(form.get("key"))
    piece = within(form.get("piece"), 1, 1, run.needed)
    step = within(form.get("step"), 1, 1, run.count)
    try:
        what = LogEntry.What(fields.one_of(form.get("what"), LogEntry.What.values, "what"))
        words = fields.words(form.get("words"), 300)
        if what in WITH_REASON and not words:
            raise Refusal("words", "must say why" if what != LogEntry.What.NEXT_TIME else "must say what")
        if what == LogEntry.What.CLOSED and run.muted:
            raise Refusal("words", "cannot be closed while a guard is muted: put it back first")
        if what == LogEntry.What.CLOSED and run.overdue and not words:
            raise Refusal("words", f"piece {run.overdue[0]} was not checked: check it, or say why not")
    except Refusal as refusal:
        return bend_page(request, ticket, {"field": refusal.path, "message": refusal.message,
                                           "words": fields.words(form.get("words"), 300)}, piece, step)
    if not (key and LogEntry.objects.filter(key=key).exists()):
        LogEntry.objects.create(revision=revision, what=what, words=words, key=key, by=request.user,
                                piece=piece if what == LogEntry.What.SCRAPPED else None,
                                step=step if what in (LogEntry.What.MUTED, LogEntry.What.RESTORED) else None)
    if what == LogEntry.What.SCRAPPED:
        revision.count_checked()
        return redirect("floor:bend", number=number)
    return redirect(f"{reverse('floor:bend', args=[number])}?piece={piece}&step={step}")


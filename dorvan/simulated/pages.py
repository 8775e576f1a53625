"""The practice page."""

import re
import secrets

from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.floor.ties import Settings
from bendcore.units import read_angle, read_length
from dorvan import fields
from dorvan.brakes.models import parsed
from dorvan.drawings.bent import bent_view
from dorvan.tickets.models import Ticket

from .lessons import LESSONS, Work, work_of
from .ordering import AIM, TITLE
from .practice import LEG_GOAL, MOST_PIECES, Practice

KEPT = "practice"
HIDDEN = (("offset", "mm", "The stop stood too far back", "The stop stood too near"),
          ("springback", "°", "The lot sprang back more, per 90°", "The lot sprang back less, per 90°"),
          ("k", "", "K was higher than reckoned", "K was lower than reckoned"),
          ("thicker", "%", "The sheet was thicker", "The sheet was thinner"),
          ("low", "mm", "The tools stood lower", "The tools stood higher"),
          ("zero", "°", "The leaf swung further than its scale said", "The leaf swung less far than its scale said"),
          ("slip", "°", "Angles differed from piece to piece, about", ""))
"""What is told in the end: of which secret, its unit, in words for more and for less."""
OF_PRESS, OF_HAND = {"offset", "low"}, {"zero"}


def practice_of(request) -> Practice | None:
    """The practice that is going on."""
    kept = request.session.get(KEPT)
    if not kept:
        return None
    if kept["lesson"]:
        work = work_of(kept["lesson"])
    else:
        ticket = Ticket.objects.filter(number=kept["ticket"]).first()
        revision = ticket and ticket.revision
        if not revision or not revision.is_bent:
            return None
        work = Work(revision.figures.part, tuple(revision.plan.steps), parsed(revision.brake_file))
    return Practice(work, kept["lesson"], kept["seed"], kept["set"])


@require_safe
def practice(request):
    """Lessons to choose from, or the one going on."""
    return page(request)


def page(request, errors=None, typed=None):
    found = practice_of(request)
    if not found:
        tickets = [t for t in Ticket.objects.filter(archived=False, revisions__isnull=False).distinct()
                   if t.revision and t.revision.is_bent and not t.revision.also_file]
        return render(request, "simulated/lessons.html", {
            "at": "practice", "lessons": LESSONS.items(), "tickets": tickets, "errors": errors or {},
            "ordering": {"TITLE": TITLE, "AIM": AIM}},
            status=422 if errors else 200)
    setter, pieces = found.played()
    kept = request.session[KEPT]
    last = found.settings(len(found.set) - 1) if found.set else Settings()
    part = found.work.part
    rows = [row | {"n": n, "typed": (typed or {}).get(str(n), {}), "error": (errors or {}).get(str(n))}
            for n, row in enumerate(_as_set(found, last))]
    context = {"at": "practice", "practice": found, "part": part, "rows": rows, "units": request.user.units,
               "columns": [one for name, one in found.ties.dimensions.items()
                           if name in found.asked or name in found.ties.closes_on],
               "goal": LEG_GOAL[found.work.brake.kind], "errors": errors or {}, "full": len(found.set) >= MOST_PIECES}
    context["bent"] = bent_view(part, pieces[-1][1]) if pieces else None
    context["pieces"] = [_measured(n, read, context["columns"], found) for n, (_, read) in enumerate(pieces, 1)]
    if kept.get("hint") and found.set:
        context["hints"] = _as_set(found, found.suggested(setter))
    if kept.get("shown"):
        context |= _shown(found, setter, pieces, kept.get("k", ""))
    return render(request, "simulated/practice.html", context, status=422 if errors else 200)


def _measured(n, read, columns, found) -> dict:
    cells = [{"one": one, "size": one.nominal + read[one.name] if one.name in read else None,
              "good": one.name in read and abs(read[one.name]) <= found.goal(one), "asked": one.name in found.asked}
             for one in columns]
    return {"n": n, "cells": cells}


def _as_set(found, settings) -> list[dict]:
    """What each step is set to under these settings."""
    rows = []
    for n, step in enumerate(found.work.steps):
        back = settings.back.get(n, 0.0)
        rows.append({"step": step, "bend_to": step.bend_to + settings.further.get(step.bends[0], 0.0), "back": back,
                     "stop": None if step.gauge.stop is None else step.gauge.stop + back})
    return rows


def _shown(found, setter, pieces, said_k) -> dict:
    """What was hidden, how close one came, and what a setter would have taken."""
    hidden, press = setter.brake.hidden, found.work.brake.kind == "press"
    left_out = OF_HAND if press else OF_PRESS
    told = [{"words": more if getattr(hidden, name) >= 0 else fewer, "unit": unit,
             "value": abs(getattr(hidden, name)) * (100 if unit == "%" else 1)}
            for name, unit, more, fewer in HIDDEN if name not in left_out]
    took, _ = found.by_a_setter()
    trues = [setter.dimensions(made) for made, _ in pieces]
    first = next((n for n, true in enumerate(trues, 1) if found.is_right(true)), None)
    off = [{"one": found.ties.dimensions[name], "off": trues[-1][name]} for name in found.asked
           if trues and name in trues[-1]]
    answer = float(said_k.replace(",", ".")) if re.fullmatch(r"0?[.,][0-9]{1,4}", said_k) else None
    return {"shown": True, "k": found.true_k, "answer": answer, "k_off": abs((answer or 0) - found.true_k),
            "secrets": told, "took": took, "first": first, "off": off}


@require_POST
def begin(request):
    """A lesson, or any released ticket, with secrets of its own."""
    try:
        lesson = fields.one_of(request.POST.get("lesson"), LESSONS, "lesson", "")
        number = None
        if not lesson:
            number = fields.whole(request.POST.get("ticket"), "ticket", 1, 999_999_999)
            ticket = Ticket.objects.filter(number=number).first()
            revision = ticket and ticket.revision
            if not revision or not revision.is_bent or revision.also_file:
                raise Refusal("ticket", "must be one that is released, on one brake")
    except Refusal as refusal:
        request.session.pop(KEPT, None)
        return page(request, {refusal.path: refusal.message})
    request.session[KEPT] = {"lesson": lesson, "ticket": number, "seed": secrets.randbelow(10**6), "set": []}
    return redirect("simulated:practice")


@require_POST
def bend(request):
    """Another piece, under what was set for each step."""
    found = practice_of(request)
    if not found:
        return redirect("simulated:practice")
    kept, units = request.session[KEPT], request.user.units
    further, back, errors, typed = {}, {}, {}, {}
    for n, step in enumerate(found.work.steps):
        angle, stop, way = (request.POST.get(f"{name}-{n}", "")[:40].strip() for name in ("to", "stop", "way"))
        typed[str(n)] = {"to": angle, "stop": stop, "way": way}
        try:
            if angle:
                bend_to = read_angle(angle, "to", units)
                if not 0 < bend_to < 180:
                    raise Refusal("to", "must be a bend angle between 0 and 180")
                further |= dict.fromkeys(step.bends, bend_to - step.bend_to)
            if stop:
                mm = read_length(stop, units, "stop")
                back[n] = mm * (-1 if way == "nearer" else 1) if step.gauge.stop is None else mm - step.gauge.stop
                if abs(back[n]) > 20:
                    raise Refusal("stop", "is more than 20 mm from what was planned")
        except Refusal as refusal:
            errors[str(n)] = {"field": refusal.path, "message": refusal.message}
    if errors:
        return page(request, errors, typed)
    if len(found.set) < MOST_PIECES:
        row = {"further": further, "back": {str(n): mm for n, mm in back.items()},
               "jogged": request.POST.get("jogged") == "on"}
        request.session[KEPT] = kept | {"set": [*kept["set"], row], "hint": False, "shown": False}
    return redirect("simulated:practice")


@require_POST
def look(request):
    """What Dorvan would set next; what was hidden; or an end of it."""
    kept, what = request.session.get(KEPT), request.POST.get("what")
    if kept and what in ("hint", "shown"):
        request.session[KEPT] = kept | {what: True, "k": fields.words(request.POST.get("k"), 10)}
    elif what == "end":
        request.session.pop(KEPT, None)
    return redirect("simulated:practice")

"""The lesson of the right order as a page; what was chosen is kept in the session and nowhere else."""

from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from dorvan import fields
from dorvan.drawings.film import film
from dorvan.drawings.machine import step_picture
from dorvan.drawings.section import named_section
from dorvan.tickets.results import in_brake

from .lessons import brake_of, part_of, work_of
from .ordering import AIM, LESSON, TITLE, beginning_with, is_stuck, left, tried

KEPT = "ordering"


def _kept(request) -> tuple[tuple[str, ...], str, int]:
    """(the bends chosen, the one that could not be made, how many could not)."""
    kept = request.session.get(KEPT, {})
    return tuple(kept.get("chosen", ())), kept.get("failed", ""), kept.get("failures", 0)


@require_safe
def ordering(request):
    """The hat as it stands, what can be chosen next, and what the last choice met."""
    return page(request)


def page(request, error=""):
    chosen, failed, failures = _kept(request)
    part, plan = work_of(LESSON).part, beginning_with(chosen)
    rest = left(chosen)
    why = tried(chosen, failed).why if failed in rest else None
    return render(request, "simulated/ordering.html", {
        "at": "practice", "title": TITLE, "aim": AIM, "part": part, "units": request.user.units, "chosen": chosen,
        "left": rest, "film": film(part, plan.steps[:len(chosen)]), "failures": failures, "error": error,
        "picture": named_section(part, 300, 150), "machine": _met(part, why), "brake": work_of(LESSON).brake,
        "hits": why.hits[:2] if why else (), "failed": failed,
        "stuck": is_stuck(chosen), "cost": plan.cost if not rest else None, "best": beginning_with(()).cost},
        status=422 if error else 200)


def _met(part, why):
    """The stroke that cannot be made, drawn where it meets something."""
    if not why or not why.blocked or not why.hits:
        return None
    frames = in_brake.frames(part_of(LESSON), (brake_of(LESSON),), why.shown, len(why.steps))
    return step_picture(frames, part, why.blocked.held, why.hits[0].phase)


@require_POST
def choose(request):
    """The next bend; the last one taken back; or all of them."""
    chosen, _, failures = _kept(request)
    what = request.POST.get("what")
    if what in ("back", "anew"):
        chosen, failures = (chosen[:-1], failures) if what == "back" else ((), 0)
        request.session[KEPT] = {"chosen": chosen, "failures": failures}
        return redirect("simulated:ordering")
    try:
        bend = fields.one_of(request.POST.get("bend"), left(chosen), "bend")
    except Refusal as refusal:
        return page(request, f"The bend {refusal.message}.")
    one = tried(chosen, bend)
    request.session[KEPT] = {"chosen": (*chosen, bend) if one.made else chosen, "failed": "" if one.made else bend,
                             "failures": failures + (not one.made)}
    return redirect("simulated:ordering")

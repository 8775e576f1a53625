"""The day on the page: the plan in force with what is really ticked, plans anew, what was put, hours and people."""

import json
from dataclasses import replace

from django.contrib import messages
from django.db import transaction
from django.db.models import F
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from bendcore.day.data import work_data
from bendcore.day.why import AFTER, BRAKE, HELD, LONG, PERSON, PUT, why_late
from bendcore.day.work import Work
from bendcore.errors import Refusal
from bendcore.said import unpacked
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.drawings.day import board
from dorvan.floor.run import Progress
from dorvan.longwork.desk import Working
from dorvan.longwork.desks import plans
from dorvan.longwork.watch import forget, progress, stop
from dorvan.people.deeds import record
from dorvan.people.models import User
from dorvan.tickets.models import Ticket, number_in
from dorvan.versions.doing import Clash, Moved, retried, status_of

from .forms import chosen, read_away, read_chosen, read_fix, read_hours
from .gathering import gather
from .models import WEEKDAYS, Away, Hand, Plan, ShopHours, kept_hours
from .solving import name_for, solved

plans.takes(solved, 8)
MOST_LISTED = 60
WHY = {HELD: "held until then", LONG: "it takes longer than there is time for", PUT: "somebody put it there",
       BRAKE: "its brake was at", PERSON: "its people were at", AFTER: "it comes after"}
"""Why a task is late, for people; what it names follows."""


@require_safe
def day(request):
    return day_page(request)


def day_page(request, error: Refusal | None = None):
    """The plan in force, or that it is being worked out, and what may be planned."""
    plan, context = Plan.objects.last(), {}
    if plan:
        context = _plan(plan, _worked_out(plan), request.user.username)
    tickets = Ticket.objects.filter(archived=False).select_related("brake", "supplier").order_by(
        F("due").asc(nulls_last=True), "number")
    return render(request, "day/day.html", {
        "at": "day", "units": request.user.units, "plan": plan, "tickets": tickets[:MOST_LISTED],
        "chosen": _chosen(plan, request.POST if error else None), "typed": request.POST if error else {},
        "error": fields.told(error)} | context,
        status=status_of(error))


def _chosen(plan, typed) -> set[int]:
    """Numbers of the tickets to tick in the form: as posted, or as in the plan in force."""
    if typed is not None:
        return set(chosen(typed))
    if not plan:
        return set()
    return _meant(plan)


def _meant(plan: Plan) -> set[int]:
    """Numbers of the tickets in a plan, and of those that could not be planned."""
    return {*(number_in(task.id) for task in plan.core.tasks), *(number for number, _ in plan.told)}


def _worked_out(plan: Plan) -> dict:
    """The plan kept, once it is there: {} then, or how far it is, or why there is none."""
    if plan.laid is not None:
        return {}
    try:
        found = json.loads(plans.ask(solved, plan.asked))
    except Working as going_on:
        return {"working": True, "ahead": going_on.ahead, "far": progress(name_for(plan.asked))}
    except Refusal as refusal:
        return {"refused": refusal}
    Plan.objects.filter(pk=plan.pk, laid__isnull=True).update(laid=found)
    plan.refresh_from_db()
    return {}


def _plan(plan: Plan, far: dict, reader: str) -> dict:
    found, calendar = plan.found, plan.calendar
    tickets = {ticket.number: ticket for ticket in Ticket.objects.filter(number__in=_meant(plan))}
    context = far | {"told": [(tickets[n], unpacked(why)) for n, why in plan.told if n in tickets]}
    if found is None:
        return context
    shares = {number: _done(ticket) for number, ticket in tickets.items()}
    done = {task.id: share for task in plan.core.tasks if (share := shares.get(number_in(task.id))) is not None}
    rows = plan.core.brakes
    names = sorted((person.name for person in plan.core.people), key=lambda name: name != reader)
    now = calendar.minute(timezone.localtime())
    lines = [_line(one, found.placed, calendar, tickets, done, now) for one in found.placed]
    return context | {
        "found": found, "by_brake": board(found.placed, calendar, rows, lambda one: (one.task.brake,), done, now),
        "by_person": board(found.placed, calendar, names, lambda one: one.who, done, now), "lines": lines,
        "late": [line for line in lines if line["one"].late], "people": [
            (name, [line for line in lines if name in line["one"].who]) for name in names],
        "ends": calendar.moment(max((one.end for one in found.placed), default=0), ends=True),
        "set_ups": sum(one.setting for one in found.placed),
        "kept": sum(bool(one.task.setting) and not one.setting for one in found.placed)}


def _done(ticket) -> float | None:
    """The share of a ticket's strokes that are ticked; None where it has none."""
    revision = ticket.revision
    if not revision or not revision.plan.steps:
        return None
    run = Progress(revision)
    return min(1.0, sum(piece > 0 for piece, _ in run.done) / max(1, run.needed * run.count))


def _line(one, placed, calendar, tickets, done, now) -> dict:
    share = done.get(one.task.id, 0.0)
    expected = min(1.0, max(0.0, (now - one.start - one.setting) / one.task.minutes))
    why, what = why_late(one, placed) if one.late else ("", "")
    return {"one": one, "ticket": tickets.get(number_in(one.task.id)), "begins": calendar.moment(one.start),
            "ends": calendar.moment(one.end, ends=True), "share": share, "why": WHY.get(why, ""), "what": what,
            "behind": expected - share > 0.15 and one.task.id in done or expected > 0 and not share}


@require_POST
def new(request):
    """Plan the chosen tickets from now on."""
    begin = timezone.now().replace(second=0, microsecond=0)
    hours = ShopHours.now()
    try:
        numbers, minutes = read_chosen(request.POST)
        plan = Plan(begin=begin, hours=kept_hours(hours), made_by=request.user)
        tickets = Ticket.objects.filter(number__in=numbers).order_by("number").select_related(
            "brake", "supplier", "lead").prefetch_related("blanks_cut")
        work, plan.told = gather(tickets, minutes, plan.calendar)
        work.check()
        if not work.tasks:
            raise Refusal("tickets", "cannot be planned yet: " + "; ".join(
                f"T-{n:04d} {unpacked(why)}" for n, why in plan.told[:3]))
    except Refusal as refusal:
        return day_page(request, refusal)
    _keep(plan, work)
    return redirect("day:day")


def _keep(plan: Plan, work: Work) -> None:
    """Write a plan; raises Moved where it follows one that another follows already."""
    plan.work = work_data(work)
    forget(name_for(plan.asked))
    with transaction.atomic():
        if plan.follows and plan.follows.pk != Plan.objects.last().pk:
            raise Moved
        plan.save()


@require_POST
@retried
def fix(request, pk: int):
    """A task put somewhere, or let go, and the rest planned anew round it: in the plan as it is by now."""
    shown, last = get_object_or_404(Plan, pk=pk), Plan.objects.last()
    try:
        since = last.since(shown)
        if since is None:
            raise Refusal("task", "is of a plan that is not in force any more: load the page anew")
        work = last.core
        name, minute = read_fix(request.POST, [task.id for task in work.tasks], last.calendar)
        others = [one for one in since if one.put == name]
        if others:
            raise Clash(f"{one.made_by} put {name} elsewhere at {timezone.localtime(one.at):%H:%M}"
                        for one in others[:3])
    except Refusal as refusal:
        return day_page(request, refusal)
    tasks = tuple(replace(task, fixed=minute) if task.id == name else task for task in work.tasks)
    plan = Plan(begin=last.begin, hours=last.hours, told=last.told, made_by=request.user, follows=last, put=name)
    _keep(plan, replace(work, tasks=tasks))
    return redirect("day:day")


@require_POST
def end(request, pk: int):
    """End the search with the best so far."""
    plan = get_object_or_404(Plan, pk=pk)
    stop(name_for(plan.asked))
    return redirect("day:day")


@require_safe
def crew(request):
    return crew_page(request)


def crew_page(request, error: Refusal | None = None):
    """The shop's hours, who is planned, who helps, who is away, who may use what."""
    hours, brakes = ShopHours.now(), list(Brake.objects.prefetch_related("hands"))
    hands = {hand.user_id: hand for hand in Hand.objects.all()}
    rows = [{"user": user, "hand": hands.get(user.pk) or Hand(user=user), "may": [b for b in brakes if b.may_use(user)],
             "away": [row for row in user.away.all() if row.end > timezone.now()]}
            for user in User.objects.filter(is_active=True).prefetch_related("away").order_by("username")]
    return render(request, "day/crew.html", {
        "at": "day", "rows": rows, "brakes": brakes, "weekdays": list(enumerate(WEEKDAYS)), "hours": hours,
        "stretches": ", ".join(f"{a:%H:%M}-{b:%H:%M}" for a, b in hours.stretches),
        "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
def hours(request):
    """Other working hours from now on."""
    try:
        found = read_hours(request.POST)
    except Refusal as refusal:
        return crew_page(request, refusal)
    with transaction.atomic():
        before, now = ShopHours.objects.last(), ShopHours.objects.create(by=request.user, **kept_hours(found))
        record(request.user, "hours", before.said if before else "as it begins", now.said)
    messages.success(request, "These are the shop's hours for plans made from now on.")
    return redirect("day:crew")


@require_POST
def hand(request):
    """Whether somebody is planned, and helps."""
    user = fields.row(User.objects.filter(is_active=True), request.POST.get("user"))
    Hand.objects.update_or_create(user=user, defaults={"planned": request.POST.get("planned") == "on",
                                                       "helps": request.POST.get("helps") == "on"})
    return redirect("day:crew")


@require_POST
def away(request):
    """Somebody is away, or that is taken back."""
    if request.POST.get("remove"):
        row = fields.row(Away.objects.select_related("user"), request.POST["remove"])
        with transaction.atomic():
            record(request.user, "absence", row.said, "taken back")
            row.delete()
        return redirect("day:crew")
    try:
        row = Away(by=request.user, **read_away(request.POST))
        with transaction.atomic():
            row.save()
            record(request.user, "absence", "", row.said)
    except Refusal as refusal:
        return crew_page(request, refusal)
    return redirect("day:crew")

"""The day on the page: the plan in force with what is really ticked, plans anew, what was put, hours and people."""

import json

from django.contrib import messages
from django.db import transaction
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from bendcore.day.data import work_data
from bendcore.day.times import Rates
from bendcore.day.work import Work
from bendcore.errors import Refusal
from bendcore.said import unpacked
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.longwork.desk import Working
from dorvan.longwork.desks import plans
from dorvan.longwork.watch import forget, progress, stop
from dorvan.people.deeds import record
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from dorvan.versions.doing import Clash, Moved, retried, status_of

from .forms import chosen, read_away, read_chosen, read_fix, read_hours, read_rates
from .gathering import gather
from .models import WEEKDAYS, Away, Hand, Plan, ShopHours, ShopRates, kept_hours
from .moving import moved
from .rates import known
from .showing import choices, meant, plan_shown
from .solving import name_for, solved

plans.takes(solved, 8)
@require_safe
def day(request):
    return day_page(request)


def day_page(request, error: Refusal | None = None):
    """The plan in force beside what really happened, or that it is being worked out; what could be planned, and what
    keeps the rest."""
    plan, context = Plan.objects.last(), {}
    if plan:
        context = _worked_out(plan) | plan_shown(plan, request.user.username)
    rows = choices(_ticked(plan, request.POST if error else None), plan)
    return render(request, "day/day.html", {
        "at": "day", "units": request.user.units, "plan": plan, "ready": [row for row in rows if not row.keeps],
        "kept_back": [row for row in rows if row.keeps], "typed": request.POST if error else {},
        "error": fields.told(error)} | context, status=status_of(error))


def _ticked(plan, typed) -> set[int]:
    """Numbers of the tickets to tick in the form: as posted, or as in the plan in force."""
    if typed is not None:
        return set(chosen(typed))
    return meant(plan) if plan else set()


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


@require_POST
def new(request):
    """Plan the chosen tickets from now on."""
    begin = timezone.now().replace(second=0, microsecond=0)
    hours = ShopHours.now()
    try:
        numbers, minutes = read_chosen(request.POST, lambda: [
            row.ticket.number for row in choices() if not (row.keeps or row.minutes)])
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
    """A task put to a time, a person or a brake, or let go, and the rest planned anew round it: in the plan as it is
    by now."""
    shown, last = get_object_or_404(Plan, pk=pk), Plan.objects.last()
    try:
        since = last.since(shown)
        if since is None:
            raise Refusal("task", "is of a plan that is not in force any more: load the page anew")
        put = read_fix(request.POST, last.core, last.calendar)
        others = [one for one in since if one.put == put.task]
        if others:
            raise Clash(f"{one.made_by} put {put.task} elsewhere at {timezone.localtime(one.at):%H:%M}"
                        for one in others[:3])
        work = moved(last.core, put, last.calendar, request.user)
    except Refusal as refusal:
        return day_page(request, refusal)
    plan = Plan(begin=last.begin, hours=last.hours, told=last.told, made_by=request.user, follows=last, put=put.task)
    _keep(plan, work)
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
        "typed": request.POST if error else {}, "known": known(), "start": Rates(),
        "rates": ShopRates.objects.last() or ShopRates(),
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
def rates(request):
    """What cutting, marking out and walking take from now on; empty is learnt."""
    try:
        found = ShopRates(by=request.user, **read_rates(request.POST))
    except Refusal as refusal:
        return crew_page(request, refusal)
    with transaction.atomic():
        before = ShopRates.objects.last() or ShopRates()
        found.save()
        record(request.user, "rates", before.said, found.said)
    messages.success(request, "Plans made from now on go by these times.")
    return redirect("day:crew")


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

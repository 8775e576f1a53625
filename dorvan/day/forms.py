"""Reading what is posted of the day. Refusals name the field."""

import datetime
import re
from collections.abc import Callable

from bendcore.day.calendar import Calendar, Hours
from bendcore.day.work import LONGEST, MOST_TASKS, Work
from bendcore.errors import Refusal
from dorvan import fields
from dorvan.people.models import User
from dorvan.tickets.models import Ticket

from .moving import ANYONE, Put

_STRETCH = re.compile(r"(\d{1,2}:\d{2})\s*[-–to]+\s*(\d{1,2}:\d{2})", re.ASCII)
MOST_STRETCHES = 6
LONGEST_RATE = 3600
NONE = {"due": "have none that is due", "ready": "have none that can be planned: see what keeps each"}


def chosen(form) -> list[int]:
    """Numbers of the tickets ticked."""
    return [n for key in form if key.startswith("t") and (n := fields.number(key[1:])) is not None]


def all_due() -> list[int]:
    """Numbers of the tickets on the rack with a due date, the soonest first, as many as are planned at once."""
    due = Ticket.objects.filter(archived=False, due__isnull=False).order_by("due", "number")
    return list(due.values_list("number", flat=True)[:MOST_TASKS // 2])


def read_chosen(form, ready: Callable[[], list[int]]) -> tuple[list[int], dict[int, int]]:
    """(numbers of the tickets to plan, minutes typed for some of them); ``ready`` tells which can be planned, what is
    due first."""
    all_of = form.get("all") and fields.one_of(form["all"], NONE, "all")
    numbers = {"due": all_due, "ready": lambda: ready()[:MOST_TASKS // 2]}.get(all_of, lambda: chosen(form))()
    if not numbers:
        raise Refusal("tickets", NONE.get(all_of, "choose at least one to plan"))
    if len(numbers) > MOST_TASKS // 2:
        raise Refusal("tickets", f"are more than {MOST_TASKS // 2}: plan those due first")
    minutes = {n: fields.whole(form[f"m{n}"], f"m{n}", 1, LONGEST) for n in numbers if form.get(f"m{n}", "").strip()}
    return numbers, minutes


def read_hours(form) -> Hours:
    """When the shop works: ``7:30-12:00, 12:30-16:30``, and the weekdays."""
    text = form.get("stretches", "")[:120]
    parts = [part.strip() for part in re.split(r"[,;]", text) if part.strip()]
    if not 1 <= len(parts) <= MOST_STRETCHES:
        raise Refusal("stretches", f"needs from 1 to {MOST_STRETCHES} stretches, such as 7:30-12:00, 12:30-16:30")
    found = []
    for part in parts:
        match = _STRETCH.fullmatch(part)
        try:
            found.append(tuple(datetime.time(*map(int, moment.split(":"))) for moment in match.groups()))
        except (AttributeError, ValueError):
            raise Refusal("stretches", f"has “{part[:20]}”: write it as 7:30-12:00") from None
    days = tuple(n for n in range(7) if form.get(f"day{n}") == "on")
    try:
        return Hours(tuple(found), days)
    except Refusal as refusal:
        raise Refusal({"hours": "stretches"}.get(refusal.path, refusal.path), refusal.message) from None


def read_away(form) -> dict:
    """Somebody is away from a moment to another."""
    user = fields.row(User.objects.filter(is_active=True), form.get("user"))
    moments = {key: fields.moment(form.get(key), key) for key in ("begin", "end")}
    if moments["end"] <= moments["begin"]:
        raise Refusal("end", "must be after the beginning")
    return {"user": user, "note": fields.words(form.get("note"), 80), **moments}


def read_fix(form, work: Work, calendar: Calendar) -> Put:
    """What is put where: a task to a working minute, by the clock (``at``) or dragged (``minute``), to somebody
    (``by``), to another ``brake``; or let go (``free``)."""
    task = fields.one_of(form.get("task"), [task.id for task in work.tasks], "task")
    if form.get("free"):
        return Put(task, free=True)
    by = fields.one_of(form.get("by") or "", ["", ANYONE, *(person.name for person in work.people)], "by")
    brake = fields.words(form.get("brake"), 120)
    minute = _minute(form, calendar) if form.get("at") or form.get("minute") or not (by or brake) else None
    return Put(task, minute=minute, by=by, brake=brake)


def _minute(form, calendar: Calendar) -> int:
    if not form.get("at"):
        return fields.whole(form.get("minute"), "minute", 0, LONGEST)
    at = fields.moment(form["at"], "at")
    if at < calendar.begin.replace(second=0, microsecond=0):  # a page knows it to the minute
        raise Refusal("at", "is before the plan begins")
    minute = calendar.minute(at)
    if minute > LONGEST:
        raise Refusal("at", "is too far away")
    return minute


def read_rates(form) -> dict:
    """What cutting, marking out and walking take, s; None where nothing is typed."""
    return {key: float(fields.whole(form[key], key, 0, LONGEST_RATE)) if form.get(key, "").strip() else None
            for key in ("cut", "mark", "walk")}

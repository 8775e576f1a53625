"""Reading what is posted of the day. Refusals name the field."""

import datetime
import re

from bendcore.day.calendar import Calendar, Hours
from bendcore.day.work import LONGEST, MOST_TASKS
from bendcore.errors import Refusal
from dorvan import fields
from dorvan.people.models import User
from dorvan.tickets.models import Ticket

_STRETCH = re.compile(r"(\d{1,2}:\d{2})\s*[-–to]+\s*(\d{1,2}:\d{2})", re.ASCII)
MOST_STRETCHES = 6


def chosen(form) -> list[int]:
    """Numbers of the tickets ticked."""
    return [n for key in form if key.startswith("t") and (n := fields.number(key[1:])) is not None]


def all_due() -> list[int]:
    """Numbers of the tickets on the rack with a due date, the soonest first, as many as are planned at once."""
    due = Ticket.objects.filter(archived=False, due__isnull=False).order_by("due", "number")
    return list(due.values_list("number", flat=True)[:MOST_TASKS // 2])


def read_chosen(form) -> tuple[list[int], dict[int, int]]:
    """(numbers of the tickets to plan, minutes typed for some of them)."""
    numbers = all_due() if form.get("all") else chosen(form)
    if not numbers:
        raise Refusal("tickets", "have none that is due" if form.get("all") else "choose at least one to plan")
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


def read_fix(form, ids, calendar: Calendar) -> tuple[str, int | None]:
    """(task, the working minute it is put to, or None to let it go): by the clock (``at``), or dragged (``minute``)."""
    task = fields.one_of(form.get("task"), ids, "task")
    if form.get("free"):
        return task, None
    if not form.get("at"):
        return task, fields.whole(form.get("minute"), "minute", 0, LONGEST)
    at = fields.moment(form["at"], "at")
    if at < calendar.begin.replace(second=0, microsecond=0):  # a page knows it to the minute
        raise Refusal("at", "is before the plan begins")
    minute = calendar.minute(at)
    if minute > LONGEST:
        raise Refusal("at", "is too far away")
    return task, minute

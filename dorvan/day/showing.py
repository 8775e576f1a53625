"""A plan as its page shows it: what is planned beside what really happened; and what could be planned, with what keeps
the rest."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import F
from django.utils import timezone

from bendcore.day.times import CUTTING
from bendcore.day.why import AFTER, BRAKE, HELD, LONG, PERSON, PUT, why_late
from bendcore.day.work import Placed, Task
from bendcore.said import unpacked
from dorvan.brakes.models import Brake
from dorvan.drawings.day import board
from dorvan.floor.run import Progress
from dorvan.tickets import gate
from dorvan.tickets.models import Asks, Ticket, number_in
from dorvan.tickets.models.gate import ALLOWANCE, ARRIVED, MEASURED, ORDER
from dorvan.tickets.models.gate import HELD as HELD_BY
from dorvan.tickets.pages.cards import card_shown, with_cards

from .gathering import BENCH
from .models import Plan

MOST_LISTED = 60
WHY = {HELD: "held until then", LONG: "it takes longer than there is time for", PUT: "somebody put it there",
       BRAKE: "its brake was at", PERSON: "its people were at", AFTER: "it comes after"}
"""Why a task is late, for people; what it names follows."""
BEHIND = 0.15
"""A task is told to be behind by more than this share of it."""
FRESH = timedelta(minutes=30)
"""A task ticked so lately is running."""


@dataclass(frozen=True)
class Real:
    """What really happened of a task: the ``share`` of it that is done, the first and the last moment it was ticked
    since the plan was made (None where it was not), and whether it is ``running`` now."""

    share: float = 0.0
    first: datetime | None = None
    last: datetime | None = None

    @property
    def running(self) -> bool:
        """Whether it was ticked lately and is not done."""
        return self.share < 1 and self.last is not None and timezone.now() - self.last < FRESH


@dataclass(frozen=True)
class Line:
    """A task in its list: the minutes of the plan as moments, what really happened, why it is late."""

    one: Placed
    ticket: Ticket | None
    begins: datetime
    ends: datetime
    real: Real
    why: str
    what: str
    behind: bool


@dataclass(frozen=True)
class Choice:
    """A ticket that may be planned: its ``card`` as on the rack, what ``keeps`` it from that, whether its ``minutes``
    must be typed and how many were (``planned``), and whether it is ``ticked``."""

    ticket: Ticket
    card: dict
    keeps: tuple[str, ...]
    minutes: bool
    planned: str
    ticked: bool


def meant(plan: Plan) -> set[int]:
    """Numbers of the tickets in a plan, and of those that could not be planned."""
    return {*(number_in(task.id) for task in plan.core.tasks), *(number for number, _ in plan.told)}


def plan_shown(plan: Plan, reader: str) -> dict:
    """The plan once it is worked out, the rows of whoever reads it first; what could not be planned."""
    found, calendar = plan.found, plan.calendar
    tickets = {ticket.number: ticket for ticket in Ticket.objects.filter(number__in=meant(plan)).prefetch_related(
        "blanks_cut")}
    context = {"told": [(tickets[n], unpacked(why)) for n, why in plan.told if n in tickets]}
    if found is None:
        return context
    real = _what_happened(plan.core.tasks, tickets, calendar.begin)
    brakes = [*plan.core.brakes, *(name for name in Brake.objects.values_list("name", flat=True)
                                   if name not in plan.core.brakes)]
    names = sorted((person.name for person in plan.core.people), key=lambda name: name != reader)
    now = calendar.minute(timezone.localtime())
    spans = {name: (calendar.minute(one.first), calendar.minute(one.last)) for name, one in real.items() if one.first}
    shares = {name: one.share for name, one in real.items()}
    lines = [_line(one, found.placed, calendar, tickets, real.get(one.task.id, Real()), now) for one in found.placed]
    return context | {
        "found": found, "brakes": [name for name in brakes if name not in (BENCH, CUTTING)],
        "by_brake": board(found.placed, calendar, brakes, lambda one: (one.task.brake,), (shares, spans), now),
        "by_person": board(found.placed, calendar, names, lambda one: one.who, (shares, spans), now), "lines": lines,
        "names": names, "running": [line for line in lines if line.real.running],
        "late": [line for line in lines if line.one.late], "people": [
            (name, [line for line in lines if name in line.one.who]) for name in names],
        "ends": calendar.moment(max((one.end for one in found.placed), default=0), ends=True),
        "set_ups": sum(one.setting for one in found.placed),
        "kept": sum(bool(one.task.setting) and not one.setting for one in found.placed)}


def _what_happened(tasks: Iterable[Task], tickets, since: datetime) -> dict[str, Real]:
    """By task what is ticked of it; nothing of a ticket that is not released."""
    runs: dict[int, Progress | None] = {}
    found = {}
    for task in tasks:
        ticket = tickets.get(number_in(task.id))
        if ticket is None or task.id.endswith("proof"):
            continue
        if task.brake == CUTTING:
            cut = [row for row in ticket.blanks_cut.all() if row.fate != row.Fate.SCRAP]
            found[task.id] = _real(sum(row.count for row in cut), ticket.quantity, [row.at for row in cut], since)
            continue
        if ticket.number not in runs:
            revision = ticket.revision
            runs[ticket.number] = Progress(revision) if revision and revision.plan.steps else None
        run = runs[ticket.number]
        if run is not None:
            own = {n for n, step in enumerate(run.steps, 1)
                   if (step.brake or (ticket.brake.name if ticket.brake else "")) == task.brake}
            done = [row for (piece, n), row in run.done.items() if piece > 0 and n in own]
            found[task.id] = _real(len(done), run.needed * len(own), [row.at for row in done], since)
    return found


def _real(done: int, whole: int, ticked: Iterable[datetime], since: datetime) -> Real:
    moments = sorted(at for at in ticked if at >= since)
    share = min(1.0, done / max(1, whole))
    return Real(share, timezone.localtime(moments[0]), timezone.localtime(moments[-1])) if moments else Real(share)


def _line(one: Placed, placed, calendar, tickets, real: Real, now: int) -> Line:
    expected = min(1.0, max(0.0, (now - one.start - one.setting) / one.task.minutes))
    why, what = why_late(one, placed) if one.late else ("", "")
    return Line(one, tickets.get(number_in(one.task.id)), calendar.moment(one.start),
                calendar.moment(one.end, ends=True), real, WHY.get(why, ""), what,
                expected - real.share > BEHIND or expected > 0 and not real.share)


def choices(ticked: Collection[int] = (), plan: Plan | None = None) -> list[Choice]:
    """All on the rack, what is due first, with the minutes that were typed for the ``plan`` in force; nothing is worked
    out for it."""
    tickets = with_cards(Ticket.objects.filter(archived=False)).order_by(
        F("due").asc(nulls_last=True), "number")[:MOST_LISTED]
    asks, planned = Asks.now(), {number_in(task.id): task.minutes for task in (plan.core.tasks if plan else ())}
    return [_choice(ticket, card_shown(ticket, asks), planned.get(ticket.number), ticket.number in ticked)
            for ticket in tickets]


def _choice(ticket: Ticket, card: dict, planned: int | None, ticked: bool) -> Choice:
    keeps = [f"is bent by {ticket.supplier}"] if ticket.supplier_id else []
    typed = bool(ticket.making) or not ticket.brake_id
    if card["fresh"]:
        typed = typed or not card["kept"]["has_bends"]
        keeps += [f"gate: {words}" for words in card["held"] if words not in _no_bar(ticket, card)]
        keeps += [card["stopped"]] if card["stopped"] else []
        keeps += ["is checked"] if card["next"] == "Checked" else []
    return Choice(ticket, card, tuple(keeps), typed, str(planned or "") if typed else "", ticked)


def _no_bar(ticket: Ticket, card: dict) -> set[str]:
    """What of a shut gate keeps no ticket from being planned: an order is worked out for the plan, a proof bend is
    planned before it, and what is expected by a day lets it begin then."""
    waits = {MEASURED, ARRIVED} if gate.expected(ticket) else set()
    return {HELD_BY[name] for name in {ALLOWANCE, *waits, *(() if card["no_order"] else (ORDER,))}}

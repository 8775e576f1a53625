"""From the shop's records to what is planned: tickets with the times of their orders, people and what they may use."""

from collections.abc import Iterable, Mapping
from dataclasses import replace

from bendcore.brakes.brake import Brake as Machine
from bendcore.day.calendar import Calendar
from bendcore.day.times import CUTTING, PROOF, Batch, Rates, tasks_of
from bendcore.day.work import Person, Task, Work
from bendcore.errors import Refusal
from bendcore.order.plan import Step
from bendcore.order.states.moves import by_two
from bendcore.said import Said, packed
from bendcore.stock import alike
from dorvan.brakes.models import Brake, parsed
from dorvan.floor.run import Progress
from dorvan.longwork.desk import Working
from dorvan.people.models import User
from dorvan.tickets import gate
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.gate import ALLOWANCE, ARRIVED, MEASURED, ORDER

from .models import Hand
from .rates import rates

BENCH = "the bench"
"""Where work goes that no brake does."""


class NotPlanned(Exception):
    """A ticket that cannot be planned, and why, in words."""


def gather(tickets: Iterable[Ticket], minutes: Mapping[int, int], calendar: Calendar) -> tuple[Work, list]:
    """What can be planned of these tickets, and (ticket number, why) of the others, packed; ``minutes`` are typed for
    tickets that no order gives a time."""
    tasks, told, proofs, by_rate = [], [], {}, rates()
    for ticket in tickets:
        try:
            tasks += _of(ticket, minutes.get(ticket.number), calendar, (proofs, by_rate))
        except NotPlanned as why:
            told.append([ticket.number, packed(why.args[0])])
    return Work(tuple(tasks), tuple(people({task.brake for task in tasks}, calendar))), told


def _of(ticket: Ticket, typed: int | None, calendar: Calendar, shop: tuple[dict, Rates]) -> list[Task]:
    """Its tasks; ``shop`` has the proof bends planned so far, by stock and tool (one does for all of them), and what
    work takes."""
    proofs, by_rate = shop
    if ticket.supplier_id:
        raise NotPlanned(f"is bent by {ticket.supplier}")
    left = pieces_left(ticket)
    if not left:
        raise NotPlanned("is bent already")
    ready, proof = _gate(ticket, calendar)
    part = ticket.figures.part
    hands = 2 if by_two(part) else 1
    if typed:
        found = [Task(ticket.tag, ticket.brake.name if ticket.brake else BENCH, typed, hands=hands)]
    else:
        steps, brakes = _ordered(ticket)
        cut = sum(row.count for row in ticket.blanks_cut.all() if row.fate != row.Fate.SCRAP) - (ticket.quantity - left)
        found = tasks_of(Batch(ticket.tag, left, hands, max(0, cut)), steps, brakes, ticket.brake.name, by_rate)
    due = None if ticket.due is None else calendar.end_of(ticket.due)
    found = [replace(task, ready=ready, due=due) for task in found]
    if proof:
        n = next(n for n, task in enumerate(found) if task.brake != CUTTING)
        bent, of = found[n], part.stock
        stock = next((key for key in proofs if key[:3] == (of.material.name, ticket.tool, bent.brake)
                      and alike(key[3], of.thickness)), (of.material.name, ticket.tool, bent.brake, of.thickness))
        first = []
        if stock not in proofs:
            proofs[stock] = f"{ticket.tag} proof"
            first = [replace(bent, id=proofs[stock], minutes=PROOF, hands=1, due=None, after=())]
        found = [*first, *found[:n], replace(bent, after=(proofs[stock], *bent.after)), *found[n + 1:]]
    return found


def _gate(ticket: Ticket, calendar: Calendar) -> tuple[int, bool]:
    """(minute before which it may not begin, whether a proof bend comes first)."""
    ready, proof = 0, False
    for point in gate.shut(ticket, but=(ORDER,)):
        if point.name == ALLOWANCE:
            proof = True
            continue
        until = gate.expected(ticket) if point.name in (MEASURED, ARRIVED) else None
        if until is None:
            raise NotPlanned(Said("is held: {what}: {said}", what=point.title.lower(), said=point.wanted[0]))
        ready = max(ready, calendar.start_of(until))
    return ready, proof


def _ordered(ticket: Ticket) -> tuple[tuple[Step, ...], dict[str, Machine]]:
    try:
        found, files = ticket.in_force
    except Working:
        raise NotPlanned("has its order worked out right now: plan again in a moment") from None
    except Refusal as refusal:
        raise NotPlanned(Said("has no order: it {said}", said=refusal.message)) from None
    if found is not None and not found.feasible:
        raise NotPlanned("has no order that bends it yet: see Order")
    if found is None or not found.steps:
        raise NotPlanned("has no bend order: say how many minutes it takes")
    machines = [parsed(file) for file in files]
    return found.steps, {machine.name: machine for machine in machines} | {ticket.brake.name: machines[0]}


def pieces_left(ticket: Ticket) -> int:
    """How many pieces are still to be bent."""
    revision = ticket.revision
    if not revision or not revision.is_current:
        return ticket.quantity
    return max(0, ticket.quantity - Progress(revision).good)


def people(brakes: set[str], calendar: Calendar) -> list[Person]:
    """Everybody who is planned: the brakes each may use, and when each is away."""
    known = {brake.name: brake for brake in Brake.objects.prefetch_related("hands")}
    out = set(Hand.objects.filter(planned=False).values_list("user_id", flat=True))
    alone = set(Hand.objects.filter(helps=False).values_list("user_id", flat=True))
    found = []
    for user in User.objects.filter(is_active=True).exclude(pk__in=out).prefetch_related("away").order_by("username"):
        may = frozenset(name for name in brakes if name not in known or known[name].may_use(user))
        away = tuple((calendar.minute(row.begin), calendar.minute(row.end)) for row in user.away.all())
        found.append(Person(user.username, may, user.pk not in alone, tuple((a, b) for a, b in away if b > a)))
    return found

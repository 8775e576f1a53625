"""A task put elsewhere: to another time, to another person, to another brake; the rest is planned round it."""

from dataclasses import dataclass, replace

from bendcore.day.calendar import Calendar
from bendcore.day.work import Work
from bendcore.errors import Refusal
from bendcore.said import Said, unpacked
from dorvan.brakes.models import Brake
from dorvan.longwork.desk import Working
from dorvan.tickets.models import KeptOrder, Ticket, number_in
from dorvan.tickets.models.tags import TAG
from dorvan.tickets.results import derived

from .gathering import gather

ANYONE = "*"
"""Put to nobody in particular."""


@dataclass(frozen=True)
class Put:
    """What is done with a ``task``: let go (``free``), or put to a ``minute``, to somebody (``by``; :data:`ANYONE`), to
    another ``brake``; None and empty leave it as it is."""

    task: str
    free: bool = False
    minute: int | None = None
    by: str = ""
    brake: str = ""


def moved(work: Work, put: Put, calendar: Calendar, user) -> Work:
    """The work with that done; refuses at its field what cannot be. Another brake becomes the ticket's, so that its
    order, set-up and cards are of that one too."""
    if put.brake:
        work = _on_another(work, put, calendar, user)
    tasks = []
    for task in work.tasks:
        if task.id == put.task and put.free:
            task = replace(task, fixed=None, by="")
        elif task.id == put.task:
            by = {"": task.by, ANYONE: ""}.get(put.by, put.by)
            task = replace(task, by=by, fixed=task.fixed if put.minute is None else put.minute)
        tasks.append(task)
    work = replace(work, tasks=tuple(tasks))
    work.check()
    return work


def _on_another(work: Work, put: Put, calendar: Calendar, user) -> Work:
    """The work with all of a ticket's tasks as another brake makes them."""
    number = number_in(put.task)
    if not TAG.fullmatch(put.task):
        raise Refusal("task", "goes with its ticket: put the ticket itself to another brake")
    ticket, brake = Ticket.objects.filter(number=number).first(), Brake.objects.filter(name=put.brake).first()
    if ticket is None or brake is None:
        raise Refusal("brake", "is not one of the shop's")
    if brake != ticket.brake:
        _change_brake(ticket, brake, user)
    tickets = Ticket.objects.filter(pk=ticket.pk).select_related("brake", "supplier", "lead")
    fresh, told = gather(tickets, {}, calendar)
    if told:
        raise Refusal("brake", Said("cannot be {brake}: {tag} {said}", brake=brake.name, tag=ticket.tag,
                                    said=unpacked(told[0][1])))
    wanted = {name for task in work.tasks if number_in(task.id) != number for name in task.after}
    before = {task.id: task for task in work.tasks if number_in(task.id) == number}
    kept = [task for name, task in before.items() if name in wanted and name not in {one.id for one in fresh.tasks}]
    rest = [task for task in work.tasks if number_in(task.id) != number]
    return replace(work, tasks=(*rest, *kept, *fresh.tasks), people=_with(work, fresh))


def _with(work: Work, fresh: Work):
    """People with the brakes that they may use of either."""
    more = {person.name: person.brakes for person in fresh.people}
    return tuple(replace(one, brakes=one.brakes | more.get(one.name, frozenset())) for one in work.people)


def _change_brake(ticket: Ticket, brake: Brake, user) -> None:
    """Another brake for a ticket that can be bent there."""
    if ticket.is_released:
        raise Refusal("brake", f"cannot be another for {ticket.tag}: it is released for {ticket.brake}. Choose the "
                               "brake at its Order and release it again")
    if not ticket.can_be_ordered:
        raise Refusal("brake", f"cannot be another for {ticket.tag}: no order is worked out for it")
    try:
        plan = KeptOrder.ordered(derived.Asked(ticket.part_for(brake), brake.file))
    except Working:
        raise Refusal("brake", f"{brake} is being looked at for {ticket.tag}: put it there again in a moment") from None
    except Refusal as refusal:
        raise Refusal("brake", Said("cannot be {brake}: {said}", brake=brake.name, said=refusal.message)) from None
    if not plan.feasible:
        raise Refusal("brake", f"cannot be {brake}: {ticket.tag} has no order there. See every brake at its Order")
    ticket.change(None, f"brake, put to {brake} at Day", user, brake_id=brake.pk, punch="", die="", also_id=None)

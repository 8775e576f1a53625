"""What a late task waited for: read off the plan, from its start back."""

from collections.abc import Sequence

from .work import Placed

HELD, BRAKE, PERSON, AFTER, LONG, PUT = "held", "brake", "person", "after", "long", "put"
"""Held until then; its brake was busy; its people were; it comes after another; it takes longer than there is; somebody
put it there."""


def why_late(one: Placed, placed: Sequence[Placed]) -> tuple[str, str]:
    """(why, what) of a late task: the id of the task that its brake did, that its people did, or that it comes after;
    nothing where it was held, or is too long for its due time."""
    task = one.task
    if task.fixed is not None:
        return PUT, ""
    if task.ready and task.ready + one.setting + task.minutes > task.due:
        return HELD, ""
    if one.start == 0 or one.start == task.ready:
        return LONG, ""
    before = [other for other in placed if other.end == one.start and other is not one]
    for why, held_by in ((AFTER, lambda o: o.task.id in task.after), (BRAKE, lambda o: o.task.brake == task.brake),
                         (PERSON, lambda o: set(o.who) & set(one.who))):
        found = next((other for other in before if held_by(other)), None)
        if found:
            return why, found.task.id
    return PERSON, ""

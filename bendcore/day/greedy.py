"""Tasks placed one after another, each as early as it can be; and a first plan so, the most urgent task next."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from .work import LATE, SET_UP, Person, Placed, Task, Work

Row = tuple[Task, int, int, tuple[str, ...]]
"""(task, start, setting, who)."""


@dataclass(frozen=True)
class Placing:
    """Turns an order of the tasks into times; quick, since it is called thousands of times."""

    work: Work

    @cached_property
    def teams(self) -> dict[str, list[tuple[str, ...]]]:
        """Who may do each task, by its id."""
        return {task.id: teams(self.work.people, task) for task in self.work.tasks}

    def rows(self, order: Iterable[Task]) -> tuple[list[Row], int]:
        """(the rows of an order, what they cost): each task after all on its brake, by those who are there soonest. The
        cost is that of :func:`~.work.cost`, added up on the way."""
        busy = {person.name: list(person.away) for person in self.work.people}
        ends: dict[str, int] = {}
        keys, done = dict(self.work.mounted), {}
        rows, late, settings, last = [], 0, 0, 0
        for task in order:
            setting = 0 if task.key and keys.get(task.brake) == task.key else task.setting
            takes = setting + task.minutes
            begin = max(task.ready, ends.get(task.brake, 0), *(done[name] for name in task.after), 0)
            start, who = self._soonest(task, begin, takes, busy)
            end = start + takes
            for name in who:
                busy[name].append((start, end))
            ends[task.brake], keys[task.brake], done[task.id] = end, task.key, end
            rows.append((task, start, setting, who))
            settings += setting
            last = max(last, end)
            if task.due is not None and end > task.due:
                late += end - task.due
        return rows, last + LATE * late + SET_UP * settings

    def _soonest(self, task, begin, takes, busy):
        best = None
        for team in self.teams[task.id]:
            start, moved = begin, True
            while moved:
                moved = False
                for name in team:
                    for s, e in busy[name]:
                        if s < start + takes and start < e:
                            start, moved = e, True
            if best is None or start < best[0]:
                best = (start, team)
                if start == begin:
                    break
        return best

    def placed(self, order: Iterable[Task]) -> tuple[Placed, ...]:
        """The plan that an order of the tasks gives."""
        return tuple(sorted((Placed(*row) for row in self.rows(order)[0]), key=lambda one: (one.start, one.end)))


def teams(people: Iterable[Person], task: Task) -> list[tuple[str, ...]]:
    """Everybody, or every two, who may do a task; whoever may do least else first."""
    ranked = sorted(people, key=lambda p: len(p.brakes))
    able = [p for p in ranked if task.brake in p.brakes and task.by in ("", p.name)]
    if task.hands == 1:
        return [(p.name,) for p in able]
    return [(p.name, other.name) for p in able for other in ranked if other.helps and other != p]


def greedy(work: Work) -> tuple[Placed, ...] | None:
    """Tasks by due time, those with the tools that stand first among alike; None where fixed ones are in the way, or
    some come after each other in a ring."""
    order = None if any(task.fixed is not None for task in work.tasks) else by_urgency(work)
    return None if order is None else Placing(work).placed(order)


def by_urgency(work: Work) -> Sequence[Task] | None:
    """The order in which the most urgent task is always next; None where tasks come after each other in a ring."""
    left = sorted(work.tasks, key=lambda t: (t.due is None, t.due or 0, t.ready, t.id))
    order: list[Task] = []
    before: dict[str, Task] = {}
    while left:
        done = {task.id for task in order}
        open_ = [task for task in left if done.issuperset(task.after)]
        if not open_:
            return None
        best = min(open_, key=lambda t: (t.due is None, t.due or 0, not work.sharing(before.get(t.brake), t)))
        order.append(best)
        left.remove(best)
        before[best.brake] = best
    return order

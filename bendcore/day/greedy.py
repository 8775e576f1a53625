"""A first plan, quickly: the most urgent task next, at the earliest time its brake and people are free."""

from collections.abc import Iterable

from .work import Person, Placed, Task, Work


def greedy(work: Work) -> tuple[Placed, ...] | None:
    """Tasks by due time, those with the tools that stand first among alike; None where fixed ones are in the way."""
    if any(task.fixed is not None for task in work.tasks):
        return None
    left = sorted(work.tasks, key=lambda t: (t.due is None, t.due or 0, t.ready, t.id))
    placed: list[Placed] = []
    while left:
        done = {one.task.id for one in placed}
        open_ = [task for task in left if set(task.after) <= done]
        if not open_:
            return None
        best = min(open_, key=lambda t: (t.due is None, t.due or 0, not work.sharing(last_on(placed, t.brake), t),
                                         left.index(t)))
        placed.append(put(work, placed, best))
        left.remove(best)
    return tuple(sorted(placed, key=lambda p: (p.start, p.end)))


def last_on(placed: Iterable[Placed], brake: str) -> Task | None:
    """The task that a brake does last so far."""
    row = [one for one in placed if one.task.brake == brake]
    return max(row, key=lambda one: one.end).task if row else None


def put(work: Work, placed: list[Placed], task: Task) -> Placed:
    """A task after all on its brake, as early as people can be there."""
    row = [one for one in placed if one.task.brake == task.brake]
    setting = 0 if work.sharing(last_on(row, task.brake), task) else task.setting
    after = [one.end for one in placed if one.task.id in task.after]
    begin = max([task.ready, *after, *(one.end for one in row)])
    takes = setting + task.minutes
    busy = {person.name: [*person.away, *((one.start, one.end) for one in placed if person.name in one.who)]
            for person in work.people}
    times = sorted({begin, *(end for blocks in busy.values() for _, end in blocks if end > begin)})
    for start in times:
        free = [p for p in work.people if not any(s < start + takes and start < e for s, e in busy[p.name])]
        who = _team(free, task)
        if who:
            return Placed(task, start, setting, who)
    raise AssertionError("after the last block everybody is free")


def teams(people: Iterable[Person], task: Task) -> list[tuple[str, ...]]:
    """Everybody, or every two, who may do a task; whoever may do least else first."""
    ranked = sorted(people, key=lambda p: len(p.brakes))
    able = [p for p in ranked if task.brake in p.brakes]
    if task.hands == 1:
        return [(p.name,) for p in able]
    return [(p.name, other.name) for p in able for other in ranked if other.helps and other != p]


def _team(free: list[Person], task: Task) -> tuple[str, ...] | None:
    """Who does it: of those who may, whoever may do least else."""
    able = sorted((p for p in free if task.brake in p.brakes), key=lambda p: len(p.brakes))
    for one in able:
        if task.hands == 1:
            return (one.name,)
        helper = min((p for p in free if p.helps and p != one), key=lambda p: len(p.brakes), default=None)
        if helper:
            return one.name, helper.name
    return None

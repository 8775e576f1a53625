"""Work and plans as plain data, to be kept and handed to another process."""

import json

from ..patience import Patience
from .work import SECONDS, DayPlan, Person, Placed, Task, Work


def work_data(work: Work) -> dict:
    """The work as JSON has it."""
    return {"tasks": [vars(task) | {"after": list(task.after)} for task in work.tasks], "mounted": work.mounted,
            "people": [{"name": p.name, "brakes": sorted(p.brakes), "helps": p.helps, "away": list(map(list, p.away))}
                       for p in work.people]}


def read_work(data: dict) -> Work:
    """The work that was kept so."""
    tasks = tuple(Task(**row | {"after": tuple(row["after"])}) for row in data["tasks"])
    people = tuple(Person(row["name"], frozenset(row["brakes"]), row["helps"], tuple(map(tuple, row["away"])))
                   for row in data["people"])
    return Work(tasks, people, data["mounted"])


def plan_data(plan: DayPlan) -> dict:
    """A plan as JSON has it, tasks by their ids."""
    return {"cost": plan.cost, "bound": plan.bound,
            "placed": [[one.task.id, one.start, one.setting, list(one.who)] for one in plan.placed]}


def read_plan(data: dict, work: Work) -> DayPlan:
    """The plan that was kept so, of this work."""
    tasks = {task.id: task for task in work.tasks}
    placed = tuple(Placed(tasks[name], start, setting, tuple(who)) for name, start, setting, who in data["placed"])
    return DayPlan(placed, data["cost"], data["bound"])


def lay_out(text: str, patience: Patience, seconds: float = SECONDS) -> str:
    """Work as text planned, as text."""
    from .solve import solve  # only where a plan is worked out: OR-Tools takes most of a second to load

    return json.dumps(plan_data(solve(read_work(json.loads(text)), patience, seconds)))

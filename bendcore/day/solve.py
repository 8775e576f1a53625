"""A plan by constraint programming (OR-Tools CP-SAT): each brake's tasks in a row, set-ups shared by neighbours with
the same tools, people in one place at a time.

Each brake's row is a circuit through its tasks, so that a set-up hangs on what comes before (Miller, Tucker, Zemlin's
order by times); people are optional intervals that do not overlap. What is found is looked over by
:func:`~bendcore.day.work.faults`, which shares nothing with the model.
"""

import time
from collections.abc import Callable
from dataclasses import dataclass

from ortools.sat.python import cp_model

from ..errors import Refusal
from ..patience import Patience
from .greedy import greedy
from .improve import HEATS, improved
from .work import LATE, SECONDS, SET_UP, DayPlan, Placed, Work, cost

WORKERS = 8
FEW = 8
"""So many tasks are planned at once, without a search before."""


@dataclass
class _Task:
    """The variables of a task."""

    start: cp_model.IntVar
    end: cp_model.IntVar
    duration: cp_model.IntVar
    fresh: cp_model.IntVar  # whether its tools are set up
    operators: dict
    helpers: dict


class _Told(cp_model.CpSolverSolutionCallback):
    """Passes on the best so far, and stops when there is no patience left."""

    def __init__(self, patience: Patience):
        super().__init__()
        self.patience = patience

    def on_solution_callback(self):
        self.patience.note(best=self.objective_value, bound=self.best_objective_bound)
        if self.patience():
            self.stop_search()


def solve(work: Work, patience: Patience, seconds: float = SECONDS) -> DayPlan:
    """The best plan found in the time, with a proven bound; refuses work that cannot be planned at all."""
    work.check()
    if not work.tasks:
        return DayPlan((), 0, 0)
    begun = Patience(seconds)
    first = urgent = greedy(work)
    for heat in HEATS if urgent and len(work.tasks) > FEW else ():
        first = min(first, improved(work, urgent, patience, heat), key=cost)
        patience.note(best=cost(first))
    horizon = _horizon(work, first)
    model = cp_model.CpModel()
    tasks = {task.id: _variables(model, work, task, horizon) for task in work.tasks}
    for brake in work.brakes:
        _row(model, work, [task for task in work.tasks if task.brake == brake], tasks)
    _people(model, work, tasks)
    for task in work.tasks:
        for before in task.after:
            model.add(tasks[task.id].start >= tasks[before].end)
    last = model.new_int_var(0, horizon, "last")
    model.add_max_equality(last, [one.end for one in tasks.values()])
    lates = _lates(model, work, tasks, horizon)
    model.minimize(last + LATE * sum(lates) + SET_UP * sum(task.setting * tasks[task.id].fresh for task in work.tasks))
    if first:
        _hint(model, first, tasks)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(seconds - (time.monotonic() - begun.since), 1.0)
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = 7
    told = _Told(patience)
    solver.best_bound_callback = _bounding(solver, patience)
    status = solver.solve(model, told)
    if status == cp_model.INFEASIBLE:
        raise Refusal("fixed", "leaves no plan: let go of a task that was put somewhere, or of people's hours")
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        if first is None:
            raise Refusal("tasks", "could not be planned in the time: plan fewer, or give people more hours")
        return DayPlan(first, cost(first), 0)
    placed = sorted((_placed(solver, task, tasks[task.id]) for task in work.tasks), key=lambda p: (p.start, p.end))
    return DayPlan(tuple(placed), cost(placed), round(solver.best_objective_bound))


def _bounding(solver, patience) -> Callable[[float], None]:
    def told(bound):
        patience.note(bound=bound)
        if patience():
            solver.stop_search()
    return told


def _horizon(work: Work, first) -> int:
    ends = [end for person in work.people for _, end in person.away]
    ready = [task.ready for task in work.tasks] + [task.fixed or 0 for task in work.tasks]
    whole = max([0, *ends, *ready]) + sum(task.setting + task.minutes for task in work.tasks)
    return whole if first is None else min(whole, max(cost(first), max(p.end for p in first)))


def _variables(model, work, task, horizon) -> _Task:
    start = model.new_int_var(task.ready, horizon, f"start {task.id}")
    end = model.new_int_var(0, horizon, f"end {task.id}")
    duration = model.new_int_var(task.minutes, task.minutes + task.setting, f"takes {task.id}")
    fresh = model.new_bool_var(f"set up {task.id}")
    model.add(duration == task.minutes + task.setting * fresh)
    if task.fixed is not None:
        model.add(start == task.fixed)
    model.add(end == start + duration)
    operators, helpers = {}, {}
    for person in work.people:
        if task.brake in person.brakes and task.by in ("", person.name):
            operators[person.name] = model.new_bool_var(f"{person.name} at {task.id}")
        if task.hands > 1 and person.helps:
            helpers[person.name] = model.new_bool_var(f"{person.name} helps {task.id}")
    model.add_exactly_one(operators.values())
    if task.hands > 1:
        model.add_exactly_one(helpers.values())
        for name in operators.keys() & helpers.keys():
            model.add_at_most_one(operators[name], helpers[name])
    return _Task(start, end, duration, fresh, operators, helpers)


def _row(model, work, row, tasks) -> None:
    """The tasks of a brake one after another: node 0 is the start and the end."""
    arcs = []
    for i, task in enumerate(row, 1):
        one = tasks[task.id]
        arcs.append((i, 0, model.new_bool_var("")))
        for j, before in enumerate([None, *row]):
            if j == i:
                continue
            arc = model.new_bool_var("")
            arcs.append((j, i, arc))
            model.add(one.fresh == (0 if work.sharing(before, task) else 1)).only_enforce_if(arc)
            if before:
                model.add(one.start >= tasks[before.id].end).only_enforce_if(arc)
    model.add_circuit(arcs)
    model.add_no_overlap([model.new_interval_var(one.start, one.duration, one.end, "")
                          for one in (tasks[task.id] for task in row)])


def _people(model, work, tasks) -> None:
    for person in work.people:
        intervals = [model.new_fixed_size_interval_var(start, end - start, "away") for start, end in person.away
                     if end > start]
        for one in tasks.values():
            for there in (one.operators.get(person.name), one.helpers.get(person.name)):
                if there is not None:
                    intervals.append(model.new_optional_interval_var(one.start, one.duration, one.end, there, ""))
        model.add_no_overlap(intervals)
    # all hands together: what is going on at once needs no more of them than there are
    hands = [model.new_interval_var(one.start, one.duration, one.end, "") for one in tasks.values()]
    model.add_cumulative(hands, [task.hands for task in work.tasks], len(work.people))


def _lates(model, work, tasks, horizon) -> list:
    found = []
    for task in work.tasks:
        if task.due is not None:
            late = model.new_int_var(0, horizon, "")
            model.add(late >= tasks[task.id].end - task.due)
            found.append(late)
    return found


def _hint(model, first, tasks) -> None:
    for one in first:
        task = tasks[one.task.id]
        model.add_hint(task.start, one.start)
        model.add_hint(task.end, one.end)
        model.add_hint(task.fresh, one.setting > 0 or not one.task.setting)
        for name, there in task.operators.items():
            model.add_hint(there, name == one.who[0])
        for name, there in task.helpers.items():
            model.add_hint(there, name in one.who[1:])


def _placed(solver, task, one: _Task) -> Placed:
    who = [name for row in (one.operators, one.helpers) for name, there in row.items() if solver.value(there)]
    return Placed(task, solver.value(one.start), task.setting * solver.value(one.fresh), tuple(who))

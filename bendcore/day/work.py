"""What is planned: tasks, brakes' set-ups, people and when each is there. Times are whole minutes of the shop's working
time from the plan's start; breaks and nights are not counted, so that work goes on over them.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

from ..errors import Refusal

MOST_TASKS, MOST_PEOPLE, LONGEST = 120, 30, 60 * 8 * 30
SECONDS = 30.0
"""So long a plan is looked for unless said otherwise."""
LATE, SET_UP = 10, 1
"""A minute late counts so many minutes of the whole plan; a minute of set-up one."""


@dataclass(frozen=True)
class Task:
    """Work of one ticket on one brake: ``setting`` minutes for its tools, unless those of ``key`` stand there, then
    ``minutes`` of bending; by so many ``hands``; not before ``ready``, ``due`` by then, ``after`` other tasks;
    ``fixed`` where somebody put it, ``by`` whom where somebody said so."""

    id: str
    brake: str
    minutes: int
    setting: int = 0
    key: str = ""
    hands: int = 1
    ready: int = 0
    due: int | None = None
    after: tuple[str, ...] = ()
    fixed: int | None = None
    by: str = ""


@dataclass(frozen=True)
class Person:
    """Who may work at which ``brakes``, whether as a second pair of hands only (``helps``) too, and when ``away``:
    absences that overlap are one.

    >>> Person("ada", frozenset(), away=((30, 50), (0, 10), (40, 60))).away
    ((0, 10), (30, 60))
    """

    name: str
    brakes: frozenset[str]
    helps: bool = True
    away: tuple[tuple[int, int], ...] = ()

    def __post_init__(self):
        merged: list[tuple[int, int]] = []
        for start, end in sorted(self.away):
            if merged and start <= merged[-1][1]:
                merged[-1] = merged[-1][0], max(end, merged[-1][1])
            else:
                merged.append((start, end))
        object.__setattr__(self, "away", tuple(merged))


@dataclass(frozen=True)
class Work:
    """All of it; ``mounted`` is the key of what stands in a brake at the start."""

    tasks: tuple[Task, ...]
    people: tuple[Person, ...]
    mounted: dict[str, str] = field(default_factory=dict)

    @property
    def brakes(self) -> list[str]:
        """Brakes with tasks."""
        return sorted({task.brake for task in self.tasks})

    def sharing(self, one: "Task | None", other: Task) -> bool:
        """Whether a task finds its tools standing after another, or at the start."""
        before = self.mounted.get(other.brake) if one is None else one.key
        return bool(other.key) and before == other.key

    def check(self) -> None:
        """Refuse, by its task, what no plan could do."""
        names = {task.id for task in self.tasks}
        if len(self.tasks) > MOST_TASKS or len(self.people) > MOST_PEOPLE:
            raise Refusal("tasks", f"are more than {MOST_TASKS}, or people than {MOST_PEOPLE}")
        if len(names) < len(self.tasks):
            raise Refusal("tasks", "has one twice")
        for task in self.tasks:
            able = [p for p in self.people if task.brake in p.brakes]
            if not able:
                raise Refusal(task.id, f"has nobody who may use {task.brake}")
            able = [p for p in able if task.by in ("", p.name)]
            if not able:
                raise Refusal(task.id, f"cannot go to {task.by}, who may not use {task.brake} or is not planned")
            if task.hands > 1 and not any(other.helps and other != one for one in able for other in self.people):
                raise Refusal(task.id, "needs two people: nobody is there to help")
            if not set(task.after) <= names:
                raise Refusal(task.id, "comes after something that is not planned")
            if not 1 <= task.minutes <= LONGEST or not 0 <= task.setting <= LONGEST:
                raise Refusal(task.id, f"takes from 1 to {LONGEST} minutes")


@dataclass(frozen=True)
class Placed:
    """A task as planned: its set-up begins at ``start``, ``setting`` minutes long; bending ends at ``end``; by whom."""

    task: Task
    start: int
    setting: int
    who: tuple[str, ...]

    @property
    def end(self) -> int:
        """When it is done."""
        return self.start + self.setting + self.task.minutes

    @property
    def late(self) -> int:
        """Minutes past its due time."""
        return max(0, self.end - self.task.due) if self.task.due is not None else 0


@dataclass(frozen=True)
class DayPlan:
    """Every task placed; its ``cost`` (:func:`cost`) and a proven ``bound`` of that."""

    placed: tuple[Placed, ...]
    cost: int
    bound: int

    @property
    def optimal(self) -> bool:
        """Whether no plan is better."""
        return self.cost <= self.bound


def cost(placed: Sequence[Placed]) -> int:
    """What a plan is judged by: the minutes until all is done, ten for each minute late, and all set-up minutes."""
    return (max((one.end for one in placed), default=0) + LATE * sum(one.late for one in placed)
            + SET_UP * sum(one.setting for one in placed))


def faults(work: Work, placed: Sequence[Placed]) -> list[str]:
    """What is wrong with a plan, in words: somebody in two places, a brake with two tasks, set-ups left out, holds and
    orders not kept, people where they may not be."""
    found, by_id = [], {one.task.id: one for one in placed}
    people = {person.name: person for person in work.people}
    for one in placed:
        task = one.task
        if one.start < task.ready:
            found.append(f"{task.id} begins before it may")
        if any(by_id[name].end > one.start for name in task.after):
            found.append(f"{task.id} begins before what it comes after")
        if len(set(one.who)) != task.hands:
            found.append(f"{task.id} has not {task.hands} people")
        elif task.brake not in people[one.who[0]].brakes or not all(people[n].helps for n in one.who[1:]):
            found.append(f"{task.id} is done by people who may not")
        if task.by and one.who[:1] != (task.by,):
            found.append(f"{task.id} is not done by {task.by}")
        for name in one.who:
            if any(one.start < end and start < one.end for start, end in people[name].away):
                found.append(f"{task.id} needs {name}, who is away")
        if task.fixed is not None and one.start != task.fixed:
            found.append(f"{task.id} was moved from where it was put")
    for n, one in enumerate(placed):
        for other in placed[n + 1:]:
            if one.start < other.end and other.start < one.end:
                if one.task.brake == other.task.brake:
                    found.append(f"{one.task.id} and {other.task.id} are on {one.task.brake} together")
                found += [f"{name} is at {one.task.id} and {other.task.id}" for name in set(one.who) & set(other.who)]
    for brake in work.brakes:
        before = None
        for one in sorted((p for p in placed if p.task.brake == brake), key=lambda p: p.start):
            if one.setting != (0 if work.sharing(before, one.task) else one.task.setting):
                found.append(f"{one.task.id} has a wrong set-up")
            before = one.task
    return found

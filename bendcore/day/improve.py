"""A first plan made better, quickly: tasks change places in the order in which they are placed (simulated annealing).

Every order of the tasks, each placed as early as it can be on its brake, is a plan. What is found here is where the
constraint program begins.
"""

import math
import random
from dataclasses import dataclass

from ..order.patience import Patience
from .greedy import teams
from .work import LATE, SET_UP, Placed, Task, Work, cost

SEED = 7
STEPS = 40_000
HEATS = ((0.03, 0.0002), (0.2, 0.001))
"""Worse plans are gone on with at first when they cost so much more, at last so much, as a share of the first plan's
cost: one search stays near the first plan, one leaves it."""
Row = tuple[Task, int, int, tuple[str, ...]]


@dataclass
class _Decoder:
    """Turns an order of the tasks into times; quick, since it is called thousands of times."""

    work: Work

    def __post_init__(self):
        self.teams = {task.id: teams(self.work.people, task) for task in self.work.tasks}
        self.away = {person.name: sorted(person.away) for person in self.work.people}

    def placed(self, order: list[Task]) -> tuple[list[Row], int]:
        """((task, start, setting, who) …, cost) of an order: each task by those who are there soonest."""
        busy = {name: list(blocks) for name, blocks in self.away.items()}
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


def improved(work: Work, first: tuple[Placed, ...], patience: Patience, heat: tuple[float, float] = HEATS[0],
             steps: int = STEPS) -> tuple[Placed, ...]:
    """The best plan found from the first one in so many steps, while there is patience; never a worse one. For work
    without fixed tasks. ``heat`` is one of :data:`HEATS`."""
    decoder, rng = _Decoder(work), random.Random(SEED)
    order: list[Task] = [one.task for one in sorted(first, key=lambda one: (one.start, one.end))]
    _, now = decoder.placed(order)
    best, best_order = now, order
    hot, cold = (max(share * now, 0.5) for share in heat)
    for step in range(steps if len(order) > 1 else 0):
        if step % 64 == 0 and patience():
            break
        tried = _changed(order, rng)
        if tried is None:
            continue
        _, price = decoder.placed(tried)
        if price <= now or rng.random() < math.exp((now - price) / (hot * (cold / hot) ** (step / steps))):
            order, now = tried, price
            if now < best:
                best, best_order = now, order
    found = tuple(sorted((Placed(*row) for row in decoder.placed(best_order)[0]), key=lambda one: (one.start, one.end)))
    return min(first, found, key=cost)


def _changed(order: list[Task], rng: random.Random) -> list[Task] | None:
    """The order with one task, or a run of them, elsewhere; None where something would come before what it is after."""
    tried = list(order)
    i, j = rng.randrange(len(tried)), rng.randrange(len(tried))
    if rng.random() < 0.3:
        tried[i], tried[j] = tried[j], tried[i]
    else:
        run = tried[i:i + rng.choice((1, 1, 1, 2, 3))]
        del tried[i:i + len(run)]
        tried[j:j] = run
    seen: set[str] = set()
    for task in tried:
        if not seen.issuperset(task.after):
            return None
        seen.add(task.id)
    return tried

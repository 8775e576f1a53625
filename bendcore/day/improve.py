"""A first plan made better, quickly: tasks change places in the order in which they are placed (simulated annealing).

Every order of the tasks, each placed as early as it can be on its brake, is a plan. What is found here is where the
constraint program begins.
"""

import math
import random

from ..patience import Patience
from .greedy import Placing
from .work import Placed, Task, Work, cost

SEED = 7
STEPS = 40_000
HEATS = ((0.03, 0.0002), (0.2, 0.001))
"""Worse plans are gone on with at first when they cost so much more, at last so much, as a share of the first plan's
cost: one search stays near the first plan, one leaves it."""


def improved(work: Work, first: tuple[Placed, ...], patience: Patience, heat: tuple[float, float] = HEATS[0],
             steps: int = STEPS) -> tuple[Placed, ...]:
    """The best plan found from the first one in so many steps, while there is patience; never a worse one. For work
    without fixed tasks. ``heat`` is one of :data:`HEATS`."""
    placing, rng = Placing(work), random.Random(SEED)
    order: list[Task] = [one.task for one in sorted(first, key=lambda one: (one.start, one.end))]
    _, now = placing.rows(order)
    best, best_order = now, order
    hot, cold = (max(share * now, 0.5) for share in heat)
    for step in range(steps if len(order) > 1 else 0):
        if step % 64 == 0 and patience():
            break
        tried = _changed(order, rng)
        if tried is None:
            continue
        _, price = placing.rows(tried)
        if price <= now or rng.random() < math.exp((now - price) / (hot * (cold / hot) ** (step / steps))):
            order, now = tried, price
            if now < best:
                best, best_order = now, order
    return min(first, placing.placed(best_order), key=cost)


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

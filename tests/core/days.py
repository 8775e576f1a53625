"""Random days, and the best plan of a small one by trying everything; shares no code with the planner."""

import itertools
import random
from dataclasses import replace

from bendcore.day.work import Person, Task, Work


def random_work(rng: random.Random, tasks: int, brakes: int, people: int, span: int = 30) -> Work:
    """Tasks on brakes with a few sets of tools, some for two, some held, some due, some after others."""
    names = [f"brake {n}" for n in range(brakes)]
    found = []
    for n in range(tasks):
        brake = rng.choice(names)
        ready = rng.choice([0, 0, 0, rng.randint(1, span)])
        minutes = rng.randint(4, span)
        due = rng.choice([None, ready + minutes + rng.randint(0, span * max(2, tasks // brakes // 2))])
        after = (f"t{rng.randrange(n)}",) if n and rng.random() < 0.15 else ()
        found.append(Task(f"t{n}", brake, minutes, rng.choice([0, 5, 8]), rng.choice(["a", "b", "c", ""]),
                          2 if rng.random() < 0.25 else 1, ready, due, after))
    crew = []
    for n in range(people):
        may = frozenset(names if n == 0 else rng.sample(names, rng.randint(1, brakes)))
        away = ((start := rng.randint(0, 2 * span), start + rng.randint(5, span)),) if rng.random() < 0.4 else ()
        crew.append(Person(f"p{n}", may, n < 2 or rng.random() < 0.8, away))
    for n, task in enumerate(found):  # some are somebody's own
        if rng.random() < 0.2:
            found[n] = replace(task, by=rng.choice([p.name for p in crew if task.brake in p.brakes]))
    return Work(tuple(found), tuple(crew), {names[0]: "a"})


def best_cost(work: Work) -> int:
    """The least cost over every order of the tasks and every choice of people, each task as early as it can be after
    those before it on its brake: among these is a best plan, as earlier never costs more."""
    best = [10 ** 9]
    people = {p.name: p for p in work.people}

    def go(left, done, ends, keys, busy, late, setting, last):
        if last + 10 * late + setting >= best[0]:
            return
        if not left:
            best[0] = last + 10 * late + setting
            return
        for task in left:
            if not all(name in done for name in task.after):
                continue
            shared = task.key and keys.get(task.brake) == task.key
            takes = task.minutes + (0 if shared else task.setting)
            for team in teams(task):
                blocks = [block for name in team for block in (*people[name].away, *busy.get(name, ()))]
                start = max([task.ready, ends.get(task.brake, 0), *(done[name] for name in task.after)])
                for _ in range(len(blocks) + 1):
                    clash = [e for s, e in blocks if s < start + takes and start < e]
                    if not clash:
                        break
                    start = min(clash) if min(clash) > start else max(clash)
                end = start + takes
                go([t for t in left if t is not task], done | {task.id: end}, ends | {task.brake: end},
                   keys | {task.brake: task.key},
                   busy | {name: (*busy.get(name, ()), (start, end)) for name in team},
                   late + max(0, end - task.due if task.due is not None else 0),
                   setting + (0 if shared else task.setting), max(last, end))

    def teams(task):
        able = [p.name for p in work.people if task.brake in p.brakes and (not task.by or task.by == p.name)]
        if task.hands == 1:
            return [(name,) for name in able]
        helpers = [p.name for p in work.people if p.helps]
        return [(a, b) for a, b in itertools.product(able, helpers) if a != b]

    go(list(work.tasks), {}, {}, dict(work.mounted), {}, 0, 0, 0)
    return best[0]

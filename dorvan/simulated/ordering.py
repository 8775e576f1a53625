"""A lesson in which order to bend: bend after bend is chosen, and the brake says what it meets."""

from dataclasses import dataclass
from functools import lru_cache

from bendcore.order.plan import Plan
from bendcore.order.planning import plan_order

from .lessons import work_of

LESSON = "hat"
TITLE = "A hat in the right order"
AIM = "Four bends under a straight punch. Begin where you like, and find out which of them lets the last one in."


@dataclass(frozen=True)
class Tried:
    """One choice: whether ``bend`` can be made after those before it; else the plan that says ``why`` not."""

    bend: str
    made: bool
    why: Plan


@lru_cache(maxsize=256)
def beginning_with(bends: tuple[str, ...]) -> Plan:
    """The best order that begins with these bends, or how far they can be made."""
    work = work_of(LESSON)
    return plan_order(work.part, work.brake, bends, whole=False) if bends else plan_order(work.part, work.brake)


def tried(chosen: tuple[str, ...], bend: str) -> Tried:
    """What comes of a bend made next."""
    plan = beginning_with((*chosen, bend))
    return Tried(bend, len(plan.steps) > len(chosen), plan)


def left(chosen: tuple[str, ...]) -> list[str]:
    """The bends not made yet."""
    return [bend.id for bend in work_of(LESSON).part.shape.bends if bend.id not in chosen]


def is_stuck(chosen: tuple[str, ...]) -> bool:
    """Whether nothing that is left can be made."""
    return bool(left(chosen)) and not any(tried(chosen, bend).made for bend in left(chosen))

"""Bend orders and ways out as long work: text in, plans out, nothing of the web application."""

import json
import os
from dataclasses import dataclass

from bendcore.brakes.brake import Brake
from bendcore.brakes.press import PressBrake
from bendcore.files import read_json
from bendcore.order.advice.doubts import Doubt, Seen, disagreeing, doubts
from bendcore.order.advice.limits import Limit, limits
from bendcore.order.advice.remedies import find_remedies
from bendcore.order.explain.why import Instead, alternatives
from bendcore.order.plan import Plan
from bendcore.order.planning import plan_order
from bendcore.order.proof.prover import Prover
from bendcore.order.search.asked import bound_to
from bendcore.order.search.finding import find
from bendcore.order.search.walk import read_sequence
from bendcore.order.search.wishes import UNKNOWN, Wish, wishes
from bendcore.order.states.moves import Job
from dorvan.longwork.watch import Watch, name_of

from .files import brake_of, part_of

TELLING = 10.0
"""So long it is looked what else could be done, s."""
DOUBTING = 200.0
"""Every size of a brake is tried a dozen ways within so long, s."""
MOST_SECONDS = 40.0
"""A search that has proven nothing by then gives the best order it has; DORVAN_SEARCH_SECONDS says otherwise."""


def patience(*asked) -> Watch:
    """For one search."""
    return Watch(float(os.environ.get("DORVAN_SEARCH_SECONDS", MOST_SECONDS)), name=name_of(*asked))


def mounted(brake: Brake, punch: str, die: str) -> Brake:
    """The brake with only the tools chosen; all of a kind where none is, as on hand brakes."""
    if not isinstance(brake, PressBrake):
        return brake
    return brake.with_tools([punch] if punch else None, [die] if die else None)


def find_order(part: str, brake: str, punch: str, die: str, names: tuple[str, ...] | None,
               important: tuple[str, ...] = (), also: str = "") -> Plan:
    """The best order of a part file on a brake file that begins with the bends named, with the tools chosen; to what is
    ``important``, legs gauged directly and wishes, it keeps where it can; the part may go on to the brake ``also``."""
    watch = patience(part, brake, punch, die, names, important, also)
    return plan_order(part_of(part), _route(brake, punch, die, also), names, watch, important, whole=False)


def _route(brake, punch, die, also) -> list[Brake]:
    return [mounted(brake_of(brake), punch, die), *([brake_of(also)] if also else [])]


def find_ways_out(part: str, brake: str, punch: str, die: str, names: tuple[str, ...] | None,
                  others: tuple[str, ...] = ()) -> Plan:
    """What would free a part for which there is no order, the ``others`` of the shop's brakes among it."""
    plan = find_order(part, brake, punch, die, names)
    rack = brake_of(brake)
    return find_remedies(json.loads(part), rack, mounted(rack, punch, die), plan, bool(names),
                         patience("ways out", part, brake, punch, die, names), tuple(map(brake_of, others)))


@dataclass(frozen=True)
class Why:
    """Why an order is as it is: the best ``instead`` at each of its ``steps`` as far as they were looked at, and what
    would be handier, at its price; no ``steps`` where the order itself was not found in time."""

    instead: list[Instead]
    wishes: list[Wish]
    steps: int | None

    @property
    def is_whole(self) -> bool:
        """Whether every step and every wish was looked at to its end."""
        return len(self.instead) == self.steps and all(wish.state != UNKNOWN for wish in self.wishes)


def find_limits(part: str, brake: str, punch: str, die: str) -> list[Limit]:
    """What the brake can do at most in the part's metal."""
    return limits(json.loads(part), mounted(brake_of(brake), punch, die), patience("limits", part, brake, punch, die))


def find_doubts(brake: str, known: tuple[tuple[str, str, bool], ...]) -> tuple[list[str], list[Doubt], bool]:
    """Of parts (name, part file, whether it fitted) those of which the brake's model says otherwise, the sizes that
    could explain them, and whether all sizes were tried in the time there is."""
    data, seen = read_json(brake), [Seen(name, part_of(part), fitted) for name, part, fitted in known]
    watch = Watch(DOUBTING, name=name_of("doubts", brake, known))
    wrong = disagreeing(data, seen, watch)
    found = doubts(data, seen, wrong, watch)
    return [one.name for one in wrong], found, not watch()


def find_why(part: str, brake: str, punch: str, die: str, names: tuple[str, ...] | None,
             important: tuple[str, ...] = (), also: str = "") -> Why:
    """What each step of an order would cost if something else were done there, and each wish."""
    prover = Prover(Job.of(part_of(part), *_route(brake, punch, die, also)))
    sequence = read_sequence(prover.job, list(names), whole=False) if names else None
    watch = patience("why", part, brake, punch, die, names, important, also)
    order = bound_to(prover, find(prover, sequence, watch), important, sequence, watch.again())
    found, rules = order.found, order.rules
    return Why(alternatives(prover, found, Watch(TELLING, name=watch.name), rules),
               wishes(prover, found, sequence, Watch(TELLING, name=watch.name), rules),
               len(found.steps) if found.complete else None)

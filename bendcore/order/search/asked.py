"""What an order keeps to at any price: legs gauged directly, and wishes taken.

Each is kept to in turn, by whichever of its ways is cheapest, as long as an order is left; what it costs more than the
order before it is told.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ...patience import ENDLESS, Patience
from ...quality.checksheet import dimensions
from ..plan import WISHES, Important
from ..proof.prover import Prover
from ..states.moves import Job
from .astar import FREE, Found, Rules, Search
from .direct import ways
from .walk import Sequence as Named
from .wishes import has, keeping


@dataclass(frozen=True)
class Bound:
    """The cheapest order ``found`` that keeps to the ``rules``, and what is to be said of each that was asked for."""

    found: Found
    rules: Rules
    told: tuple[Important, ...] = ()


def check_asked(job: Job, name: str) -> None:
    """Raises :class:`~bendcore.errors.Refusal` at ``important`` for what is neither a wish nor a leg between bends."""
    if name not in WISHES:
        ways(job, name)


def bound_to(prover: Prover, best: Found, names: Sequence[str], sequence: Named | None = None,
             patience: Patience = ENDLESS) -> Bound:
    """The cheapest order that keeps to all that is named, as far as there is one.

    ``best`` is the cheapest without it, of the ``sequence`` where one was given; ``names`` are legs of the part and
    :data:`~bendcore.order.plan.WISHES`. Raises :class:`~bendcore.errors.Refusal` for a name that is neither these nor a
    size of the check sheet.
    """
    job, rules, told = prover.job, FREE, []
    for name in names:
        if why := _never(job, name):
            told.append(Important(name, False, why=why))
            continue
        if name in WISHES and best.complete and has(job, best, name):
            told.append(Important(name, True))
            rules = keeping(rules, name, job)
            continue
        able = [(found, option) for option in _options(job, rules, name) if best.complete and (
            found := Search(prover, best.levels, sequence, rules=option).run(patience))]
        if not able:
            told.append(Important(name, False, why=_without(name, patience())))
            continue
        found, rules = min(able, key=lambda one: one[0].cost)
        told.append(Important(name, True, float(found.cost - best.cost)))
        best = found
    return Bound(best, rules, tuple(told))


def _options(job: Job, rules: Rules, name: str) -> list[Rules]:
    if name in WISHES:
        return [keeping(rules, name, job)]
    return [replace(rules, wanted=(*rules.wanted, way)) for way in ways(job, name)]


def _never(job: Job, name: str) -> str:
    """Why no order can keep to it, whatever it costs; nothing where one might."""
    if name in WISHES:
        return ""
    if name in {row.name for row in dimensions(job.part)} - {leg.id for leg in job.part.shape.legs if any(leg.ends)}:
        return "is no leg between bends: no stop can be set to it"
    ways(job, name)
    return "" if any(on.stops for on in job.brakes) else "is laid out by a line: this brake has no stop"


def _without(name: str, is_over: bool) -> str:
    if is_over:
        return "was not looked for to the end"
    return "is kept by no order on this brake" if name in WISHES else "no order gauges it directly on this brake"

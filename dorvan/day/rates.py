"""What work takes in this shop beside its strokes: as a lead says, else learnt from its own records.

Cutting is learnt from sheets ticked as cut one after the other by the same person, strokes from steps ticked one after
the other; longer pauses are no work.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import pairwise

from django.db.models import Sum

from bendcore.day.times import Learnt, Rates, learnt
from dorvan.cutting.models import SheetDone, name_of
from dorvan.floor.models import StepRecord
from dorvan.tickets.models import BlankCut, Revision

from .models import ShopRates

SHEETS_BACK, STEPS_BACK = 200, 1500
"""So many records back a shop learns from."""
PAUSE = 3600.0
"""A longer pause between two sheets is no work, s."""
LIKELY = (0.25, 4.0)
"""A step from so many to so many times as long as its costs say was worked on; a longer one had a break in it, a
shorter one was ticked late."""


@dataclass(frozen=True)
class Known:
    """What the shop's records say: a blank's ``cut``, s, and by brake the ``pace`` of its strokes."""

    cut: Learnt
    pace: Mapping[str, Learnt]


def known() -> Known:
    """What was learnt by now."""
    by_brake = defaultdict(list)
    for brake, ratio in _paces():
        by_brake[brake].append(ratio)
    return Known(learnt(list(_cuts()), Rates.cut),
                 {brake: learnt(ratios, 1.0) for brake, ratios in sorted(by_brake.items())})


def rates() -> Rates:
    """By which a day is planned: what was said, else what was learnt, else start values."""
    said, found = ShopRates.objects.last() or ShopRates(), known()
    return Rates(found.cut.value if said.cut is None else said.cut, Rates.mark if said.mark is None else said.mark,
                 Rates.walk if said.walk is None else said.walk,
                 {brake: one.value for brake, one in found.pace.items()})


def _cuts() -> Iterable[float]:
    """Seconds a blank of every sheet that somebody cut soon after another."""
    rows = list(SheetDone.objects.filter(what=SheetDone.What.CUT).order_by("-id").values_list(
        "by", "at", "plan__number", "sheet")[:SHEETS_BACK])[::-1]
    counts = {(plan, sheet): count for plan, sheet, count in BlankCut.objects.filter(
        plan__in={name_of(number) for _, _, number, _ in rows}).values_list("plan", "sheet").annotate(Sum("count"))}
    for _, own in _by_person(rows):
        for before, (_, at, number, sheet) in pairwise(own):
            took = (at - before[1]).total_seconds()
            count = counts.get((name_of(number), sheet + 1))
            if count and 0 < took <= PAUSE:
                yield took / count


def _paces() -> Iterable[tuple[str, float]]:
    """(brake, how many times as long as planned) of every step that somebody ticked soon after another of the same
    run."""
    rows = list(StepRecord.objects.filter(what=StepRecord.What.BENT, run__piece__gt=0).order_by("-id").values_list(
        "by", "at", "run__revision", "step")[:STEPS_BACK])[::-1]
    revisions = Revision.objects.select_related("ticket__brake").in_bulk({revision for _, _, revision, _ in rows})
    steps = {pk: one.plan.steps for pk, one in revisions.items()}
    for _, own in _by_person(rows):
        for before, (_, at, revision, n) in pairwise(own):
            took, row = (at - before[1]).total_seconds(), steps[revision]
            if before[2] != revision or n > len(row) or not row[n - 1].cost:
                continue
            brake = row[n - 1].brake or str(revisions[revision].ticket.brake or "")
            if brake and LIKELY[0] <= took / row[n - 1].cost <= LIKELY[1]:
                yield brake, took / row[n - 1].cost


def _by_person(rows: Iterable[tuple]) -> Iterable[tuple[int, list[tuple]]]:
    found = defaultdict(list)
    for row in rows:
        found[row[0]].append(row)
    return found.items()

"""The log of a revision: everything that happened to it, in time, and how long each stage of it took."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from dorvan.tickets.models import Revision

from .models import TRIAL, Decision, LogEntry, StepRecord

REST = timedelta(hours=2)
"""Between two entries further apart nobody worked at it (*start*)."""
SET_UP, ON_TRIAL, FIRST, BATCH, CHECK = "set-up", "trial strip", "first piece", "batch", "check"
HELD = {LogEntry.What.PAUSED, LogEntry.What.CLOSED}


@dataclass(frozen=True)
class Event:
    """What happened: ``what`` in words with ``more`` of it; ``readings`` of a step or a sheet, (name, value, unit) in
    mm and degrees; ``stage`` is empty where no time is counted."""

    at: datetime
    by: str
    what: str
    piece: int | None = None
    step: int | None = None
    more: str = ""
    readings: tuple[tuple[str, float, str], ...] = ()
    stage: str = ""
    holds: bool = False


def events(revision: Revision) -> list[Event]:
    """All of a revision, oldest first."""
    found = [Event(revision.at, revision.by.username, "released", stage=SET_UP),
             *_steps(revision), *_entries(revision), *_checks(revision)]
    return sorted(found, key=lambda event: event.at)


def _steps(revision) -> Iterator[Event]:
    rows = StepRecord.objects.filter(run__revision=revision).select_related("run", "by")
    for r in rows:
        given = (("set further", r.further, "°"), ("set back", r.back, "mm"), ("angle", r.angle, "°"),
                 ("depth", r.depth, "mm"), (f"leg {r.leg_name}".strip(), r.leg, "mm"))
        stage = ON_TRIAL if r.run.piece == TRIAL else FIRST if r.run.piece == 1 else BATCH
        yield Event(r.at, r.by.username, r.get_what_display(), r.run.piece, r.step, "jogged" if r.jogged else "",
                    tuple(row for row in given if row[1] is not None), stage)


def _entries(revision) -> Iterator[Event]:
    for e in revision.log.select_related("by"):
        yield Event(e.at, e.by.username, e.get_what_display(), e.piece, e.step, e.words, holds=e.what in HELD)


def _checks(revision) -> Iterator[Event]:
    for sheet in revision.sheets.select_related("by"):
        readings = tuple((row.dimension.title, row.measured, row.dimension.unit) for row in sheet.measured)
        yield Event(sheet.at, sheet.by.username, "checked", sheet.piece, more="good" if sheet.good else "out",
                    readings=readings, stage=CHECK)
    for d in Decision.objects.filter(sheet__revision=revision).select_related("by", "sheet"):
        yield Event(d.at, d.by.username, f"decided: {d.get_what_display()}", d.sheet.piece, more=d.words)


def times(found: list[Event]) -> dict[str, timedelta]:
    """How long each stage took: the time up to an entry counts for the stage of that entry, what lies before the first
    step for the set-up; not while the run was paused or closed, nor where nobody was at it."""
    spent = dict.fromkeys((SET_UP, ON_TRIAL, FIRST, BATCH, CHECK), timedelta())
    bent = False
    for before, event in zip(found, found[1:], strict=False):
        took = event.at - before.at
        stage = SET_UP if event.stage and not bent and event.stage != CHECK else event.stage or before.stage
        bent = bent or event.stage in (ON_TRIAL, FIRST, BATCH)
        if stage and not before.holds and took <= REST:
            spent[stage] += took
    return {stage: took for stage, took in spent.items() if took}

"""How a run stands: what is ticked off, what the readings say so far, and what to set next."""

import json
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

from django.utils import timezone

from bendcore.floor.carried import carried
from bendcore.floor.corrections import Estimate, as_set, estimate, k_for_blank, next_settings
from bendcore.floor.diagnosis import Diagnosis
from bendcore.floor.ties import Bent, Settings, Ties
from bendcore.order.plan import Step
from dorvan.brakes.models import Brake, parsed
from dorvan.ledger.models import SAME_STOCK
from dorvan.tickets.models import Revision
from dorvan.tickets.results import derived

from .models import TRIAL, LogEntry, ShiftCheck, StepRecord

OF_RECORD = ("pk", "run__piece", "step", "what", "further", "back", "jogged", "angle", "leg", "leg_name", "leg_wanted",
             "at")
RECORDS_BACK, LATEST = 400, 10 ** 9
EVERY = 10
"""So many pieces on, one is checked again (*start*)."""
RECENT = 12
"""So many pieces back readings count: a lot drifts."""
SHIFT = timedelta(hours=12)
"""So long a brake looked over counts as looked over."""


@lru_cache(maxsize=64)
def _ties(part: str, steps: tuple[Step, ...], brake_files: tuple[str, ...]) -> Ties:
    return Ties(derived.figures(json.loads(part)).part, steps, [parsed(file) for file in brake_files])


def ties_of(revision: Revision) -> Ties:
    """How the dimensions of a released part hang on what is set."""
    return _ties(derived.canonical(revision.part), tuple(revision.plan.steps), revision.brake_files)


@lru_cache(maxsize=64)
def _diagnosis(ties: Ties) -> Diagnosis:
    return Diagnosis(ties)


def diagnosis_of(revision: Revision) -> Diagnosis:
    """The patterns that causes leave in a released part."""
    return _diagnosis(ties_of(revision))


@dataclass(frozen=True)
class Before:
    """What an earlier run on the same brake leaves for this one: its ``revision``, what is ``known`` from it, and in
    words how that run ``differs``."""

    revision: Revision
    known: Estimate
    differs: tuple[str, ...]


@dataclass(frozen=True)
class Now:
    """What to set at one step: ``bend_to`` degrees, the ``stop`` mm (None for a line); how that differs from the plan,
    ``degrees`` further and mm ``back``."""

    bend_to: float
    stop: float | None
    degrees: float = 0.0
    back: float = 0.0


class Progress:
    """The run of one revision, read once."""

    def __init__(self, revision: Revision):
        self.revision, self.steps = revision, revision.plan.steps
        self.count = max(1, len(self.steps))
        """Entries that make a piece whole: a step each, of one made by its card one."""

    @cached_property
    def records(self) -> list:
        """All records as they were made, each a row of :data:`OF_RECORD`."""
        found = StepRecord.objects.filter(run__revision=self.revision).order_by("id")
        return list(found.values_list(*OF_RECORD, named=True))

    @cached_property
    def log(self) -> list[LogEntry]:
        """What else happened."""
        return list(self.revision.log.select_related("by"))

    @cached_property
    def done(self) -> dict[tuple[int, int], tuple]:
        """(piece, step) → the record that stands."""
        newest = {(r.run__piece, r.step): r for r in self.records}
        return {key: r for key, r in newest.items() if r.what == StepRecord.What.BENT}

    @cached_property
    def scrapped(self) -> dict[int, LogEntry]:
        """Pieces scrapped, with the entry that says why."""
        return {e.piece: e for e in self.log if e.what == LogEntry.What.SCRAPPED}

    def _last(self, *kinds) -> LogEntry | None:
        return next((e for e in reversed(self.log) if e.what in kinds), None)

    @property
    def paused(self) -> LogEntry | None:
        """The entry that holds the run, if it is paused."""
        last = self._last(LogEntry.What.PAUSED, LogEntry.What.RESUMED)
        return last if last and last.what == LogEntry.What.PAUSED else None

    @property
    def muted(self) -> LogEntry | None:
        """The entry by which a guard is muted now."""
        last = self._last(LogEntry.What.MUTED, LogEntry.What.RESTORED)
        return last if last and last.what == LogEntry.What.MUTED else None

    @property
    def closed(self) -> LogEntry | None:
        """The entry that closed the run, while nothing was bent after it."""
        last = self._last(LogEntry.What.CLOSED)
        return last if last and not any(r.at > last.at for r in self.records) else None

    def is_whole(self, piece: int) -> bool:
        """Whether every step of a piece is made."""
        return all((piece, n) in self.done for n in range(1, self.count + 1))

    @property
    def good(self) -> int:
        """Pieces bent to the end and not scrapped."""
        return sum(1 for piece in {p for p, _ in self.done if p != TRIAL}
                   if self.is_whole(piece) and piece not in self.scrapped)

    @property
    def at(self) -> int:
        """The piece that is worked on: the first that is neither whole nor scrapped."""
        piece = 1
        while self.is_whole(piece) or piece in self.scrapped:
            piece += 1
        return piece

    @property
    def needed(self) -> int:
        """How many pieces there will be, the scrapped made again."""
        return self.revision.ticket.quantity + len(self.scrapped)

    @cached_property
    def due(self) -> list[int]:
        """Pieces to be checked and not checked yet: the first that counts, every nth, the last."""
        pieces = [n for n in range(1, self.needed + 1) if n not in self.scrapped]
        checked = set(self.revision.sheets.values_list("piece", flat=True))
        return sorted({*pieces[:1], *pieces[EVERY - 1::EVERY], *pieces[-1:]} - checked)

    @property
    def overdue(self) -> list[int]:
        """Of those the pieces that are bent."""
        return [piece for piece in self.due if self.is_whole(piece)]

    @cached_property
    def for_next_time(self) -> list[LogEntry]:
        """What was noted for the next time at this ticket, whichever revision."""
        return list(LogEntry.objects.filter(revision__ticket=self.revision.ticket_id,
                                            what=LogEntry.What.NEXT_TIME).select_related("by"))

    # --- what the readings say ------------------------------------------------------------

    @cached_property
    def ties(self) -> Ties:
        """The equations of the released part."""
        return ties_of(self.revision)

    def pieces(self, piece: int, step: int) -> list[Bent]:
        """What was measured of the last pieces before a step of a piece, piece by piece; each trial by itself."""
        found: dict[object, list] = {}
        for record in self.records:
            key = (record.run__piece, record.step)
            if record.what != StepRecord.What.BENT or record.further is None:
                continue  # not bent after all, or from before settings were kept
            if key[0] == TRIAL:
                found.setdefault((TRIAL, record.pk), []).append(record)
            elif key < (piece, step) and self.done.get(key) == record:
                found.setdefault(key[0], []).append(record)
        rows = sorted(found.values(), key=lambda records: records[0].pk)
        return [self._bent(records) for records in rows[-RECENT:]]

    def _bent(self, records) -> Bent:
        measured = {}
        for record in records:
            name = self.ties.angle_of(self.steps[record.step - 1].bends[0])
            if name and record.angle is not None and not record.jogged:
                measured[name] = record.angle - self.ties.dimensions[name].nominal
            if record.leg is not None and record.leg_name in self.ties.dimensions:
                measured[record.leg_name] = record.leg - record.leg_wanted
        return Bent(self._settings(records), measured)

    def _settings(self, records) -> Settings:
        """What was set for these steps of a piece."""
        return Settings({name: r.further or 0.0 for r in records for name in self.steps[r.step - 1].bends},
                        {r.step - 1: r.back or 0.0 for r in records})

    @property
    def k_for_blank(self) -> float | None:
        """By how much K should differ for the next blank, by the finished pieces checked; None where no leg that closes
        was measured."""
        if not self.steps:
            return None
        pieces = []
        for sheet in self.revision.sheets.all():
            rows = {row.dimension.name: row for row in sheet.measured if row.dimension.name in self.ties.dimensions}
            settings = self._settings([record for (piece, _), record in self.done.items() if piece == sheet.piece])
            pieces.append(Bent(settings, {name: sum((row.measured, *row.others)) / (1 + len(row.others))
                                          - row.dimension.nominal for name, row in rows.items()}))
        if not any(set(self.ties.closes_on) & set(bent.measured) for bent in pieces):
            return None
        return k_for_blank(self.ties, estimate(self.ties, pieces[-RECENT:]))

    def now(self, piece: int, step: int) -> Now:
        """What to set at a step."""
        row: Step = self.steps[step - 1]
        settings = Settings()
        pieces = [bent for bent in self.pieces(piece, step) if bent.measured]
        if pieces or self.before:
            known = estimate(self.ties, pieces, before=self.before.known if self.before else Estimate())
            settings = as_set(next_settings(self.ties, known))
        degrees = settings.further.get(row.bends[0], 0.0)
        back = settings.back.get(step - 1, 0.0)
        stop = None if row.gauge.stop is None else row.gauge.stop + back
        return Now(row.bend_to + degrees, stop, degrees, back)

    @cached_property
    def before(self) -> Before | None:
        """What the last run on the same brake showed, as far as it holds here."""
        ids = StepRecord.objects.filter(further__isnull=False, run__revision__lt=self.revision.pk).order_by(
            "-id").values_list("run__revision", "at")[:RECORDS_BACK]
        newest: dict[int, datetime] = {}
        for pk, at in ids:
            newest.setdefault(pk, at)
        for pk, at in newest.items():
            brake_files = Revision.objects.filter(pk=pk).values_list("brake_file", "also_file").get()
            if tuple(filter(None, brake_files)) == self.revision.brake_files:
                return _left_by(pk, at, self.revision.pk, self.revision.at)
        return None

    def angles(self, step: int) -> list[tuple[str, float]]:
        """How far a step's bends were off, as measured: (piece in words, degrees), in time."""
        wanted = self.steps[step - 1].angle
        return [("trial" if r.run__piece == TRIAL else str(r.run__piece), r.angle - wanted) for r in self.records
                if r.step == step and r.angle is not None and r.what == StepRecord.What.BENT]


@lru_cache(maxsize=32)
def _left_by(pk: int, at: datetime, own: int, own_at: datetime) -> Before | None:
    """What an earlier run, the last of it recorded ``at`` a moment, leaves for another; nothing where nothing was
    read."""
    earlier, later = (Revision.objects.select_related("ticket").get(pk=number) for number in (pk, own))
    then, run = Progress(earlier), Progress(later)
    pieces = [bent for bent in then.pieces(LATEST, 1) if bent.measured]
    if not pieces:
        return None
    one, other = earlier.figures.part, run.revision.figures.part
    alike = one.stock.material.name == other.stock.material.name and (
        abs(one.stock.thickness - other.stock.thickness) <= SAME_STOCK * other.stock.thickness)
    lots = {earlier.ticket.lot_id, run.revision.ticket.lot_id}
    same_lot = alike and len(lots) == 1 and None not in lots
    known = carried(estimate(then.ties, pieces), alike, same_lot)
    tools = [{step.tools.pair for step in steps} for steps in (then.steps, run.steps)]
    longest = [max(part.flat.size) for part in (one, other)]
    told = [(not alike, "another metal or thickness"), (alike and not same_lot, "another lot, or none named"),
            (tools[0] != tools[1], "other tools"), (max(longest) > 2 * min(longest), "another length")]
    return Before(earlier, known, tuple(words for differs, words in told if differs))


def brake_of(revision: Revision, name: str) -> Brake | None:
    """The shop's brake that a step names; the ticket's where it names none, or none that is there."""
    return Brake.objects.filter(name=name).first() or revision.ticket.brake


def looked_over(brake: Brake) -> ShiftCheck | None:
    """The newest look over a brake in this shift."""
    return brake.shift_checks.filter(at__gte=timezone.now() - SHIFT).select_related("by").last()


def shut(revision: Revision, step: Step, user) -> str:
    """Why somebody may not bend a step yet, or nothing."""
    brake = brake_of(revision, step.brake)
    if brake is None:
        return ""
    if not brake.may_use(user):
        return f"You are not among those who may use the {brake.name}: a lead says who may, at Brakes."
    if not looked_over(brake):
        return f"The {brake.name} was not looked over in this shift yet: see Set-up."
    return ""

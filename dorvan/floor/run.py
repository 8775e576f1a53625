"""How a run stands: what is ticked off, what the readings say so far, and what to set next."""

import json
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import cached_property, lru_cache

from django.utils import timezone

from bendcore.floor.carried import carried
from bendcore.floor.corrections import Estimate, as_set, estimate, k_for_blank, next_settings
from bendcore.floor.diagnosis import END, MIDDLE, OTHER, Diagnosis, Readings, agreeing
from bendcore.floor.reach import within_reach
from bendcore.floor.slips import Doubt, doubts
from bendcore.floor.ties import Bent, Settings, Ties
from bendcore.order.plan import Step
from bendcore.quality.checklist import to_check
from bendcore.quality.checksheet import TRIED
from bendcore.stock import alike
from dorvan.brakes.models import Brake, parsed
from dorvan.tickets.models import Revision
from dorvan.tickets.results import derived
from dorvan.tickets.results.text import canonical

from .models import TRIAL, CheckSheet, LogEntry, ShiftCheck, StepRecord, standing

OF_RECORD = ("pk", "run__piece", "step", "what", "further", "back", "jogged", "angle", "leg", "leg_name", "leg_wanted",
             "sure", "at")
RECORDS_BACK, LATEST = 400, 10 ** 9
RECENT = 12
"""So many pieces back readings count: a lot drifts."""
SHIFT = timedelta(hours=12)
"""So long a brake looked over counts as looked over."""


@lru_cache(maxsize=64)
def _ties(part: str, steps: tuple[Step, ...], brake_files: tuple[str, ...]) -> Ties:
    return Ties(derived.figures(json.loads(part)).part, steps, [parsed(file) for file in brake_files])


def ties_of(revision: Revision) -> Ties:
    """How the dimensions of a released part hang on what is set."""
    return _ties(canonical(revision.part), tuple(revision.plan.steps), revision.brake_files)


@lru_cache(maxsize=64)
def _diagnosis(ties: Ties) -> Diagnosis:
    return Diagnosis(ties)


def diagnosis_of(revision: Revision) -> Diagnosis:
    """The patterns that causes leave in a released part."""
    return _diagnosis(ties_of(revision))


PLACES = {"mm": (END, OTHER), "°": (MIDDLE, END, OTHER), TRIED: (END,)}
"""Where along the bend a dimension is read, first the reading that is always asked for."""


def readings_of(sheet: CheckSheet, ties: Ties) -> Readings:
    """What a check sheet says of a piece."""
    off = {(row.dimension.name, place): size - row.dimension.nominal for row in sheet.measured
           if row.dimension.name in ties.dimensions
           for place, size in zip(PLACES[row.dimension.unit], (row.measured, *row.others), strict=False)}
    drawn = {row.legs[0]: row.long for row in ties.rows}
    return Readings(off, {name: long - drawn[name] for name, long in sheet.blank.items() if name in drawn},
                    frozenset(sheet.sure))


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
    ``degrees`` further and mm ``back``; why what was asked for is ``left`` as it was."""

    bend_to: float
    stop: float | None
    degrees: float = 0.0
    back: float = 0.0
    left: str = ""


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
    def sheets(self) -> dict[int, CheckSheet]:
        """By piece the check sheet that stands."""
        return standing(self.revision)

    @cached_property
    def due(self) -> list[int]:
        """Pieces to be checked and not checked yet: the first that counts, every nth, the last."""
        pieces = [n for n in range(1, self.needed + 1) if n not in self.scrapped]
        return [piece for piece in to_check(pieces) if piece not in self.sheets]

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
        """What was measured of the last pieces before a step of a piece, piece by piece; each trial by itself. Of a
        piece that was checked its sheet stands for what was read on the way."""
        found: dict[object, list] = {}
        for record in self.records:
            key = (record.run__piece, record.step)
            if record.what != StepRecord.What.BENT or record.further is None:
                continue  # not bent after all, or from before settings were kept
            if key[0] == TRIAL:
                found.setdefault((TRIAL, record.pk), []).append(record)
            elif key < (piece, step) and self.done.get(key) == record:
                found.setdefault(key[0], []).append(record)
        rows = sorted(found.items(), key=lambda item: item[1][0].pk)
        return [self._with_sheet(self._bent(records), key if key != piece else None) for key, records in rows[-RECENT:]]

    def _bent(self, records) -> Bent:
        measured, sure = {}, set()
        for record in records:
            name = self.ties.angle_of(self.steps[record.step - 1].bends[0])
            if name and record.angle is not None and not record.jogged:
                measured[name] = record.angle - self.ties.dimensions[name].nominal
            if record.leg is not None and record.leg_name in self.ties.dimensions:
                measured[record.leg_name] = record.leg - record.leg_wanted
            if record.sure:
                sure |= {name, record.leg_name} & set(measured)
        return Bent(self._settings(records), measured, frozenset(sure))

    def _with_sheet(self, bent: Bent, piece) -> Bent:
        learnt = self.checked.get(piece)
        if learnt is None:
            return bent
        return replace(bent, measured={**bent.measured, **learnt.measured}, sure=bent.sure | learnt.sure)

    def _settings(self, records) -> Settings:
        """What was set for these steps of a piece."""
        return Settings({name: r.further or 0.0 for r in records for name in self.steps[r.step - 1].bends},
                        {r.step - 1: r.back or 0.0 for r in records})

    def settings_of(self, piece: int) -> Settings:
        """What was set for a piece."""
        return self._settings([record for (n, _), record in self.done.items() if n == piece])

    @cached_property
    def checked(self) -> dict[int, Bent]:
        """By piece what its check sheet teaches; of a piece that was scrapped too."""
        diagnosis = diagnosis_of(self.revision)
        read = agreeing([readings_of(sheet, self.ties) for sheet in self.sheets.values()])
        return {piece: diagnosis.learnt(self.settings_of(piece), readings)
                for piece, readings in zip(self.sheets, read, strict=True)}

    @property
    def k_for_blank(self) -> float | None:
        """By how much K should differ for the next blank, by the finished pieces checked; None where no leg that closes
        was measured."""
        if not self.steps:
            return None
        pieces = [self.checked[piece] for piece in sorted(self.checked)]
        if not any(set(self.ties.closes_on) & set(bent.measured) for bent in pieces):
            return None
        return k_for_blank(self.ties, estimate(self.ties, pieces[-RECENT:]))

    def known(self, piece: int, step: int) -> Estimate:
        """What is known before a step of a piece is made."""
        pieces = [bent for bent in self.pieces(piece, step) if bent.measured]
        return estimate(self.ties, pieces, before=self.before.known if self.before else Estimate())

    def asked(self, piece: int, step: int, angle: float | None, leg: tuple[str, float] | None) -> dict[str, Doubt]:
        """What is to be asked of readings of a step before they are kept, by ``angle`` and ``leg``."""
        now, row = self.now(piece, step), self.steps[step - 1]
        settings = Settings(dict.fromkeys(row.bends, now.degrees), {step - 1: now.back})
        name = self.ties.angle_of(row.bends[0])
        measured = {name: angle} if name and angle is not None else {}
        measured |= {leg[0]: leg[1]} if leg else {}
        found = doubts(self.ties, self.known(piece, step), settings, measured)
        return {"angle" if key == name else "leg": one for key, one in found.items()}

    def now(self, piece: int, step: int) -> Now:
        """What to set at a step: what the readings ask for, as far as machine and tool can."""
        row: Step = self.steps[step - 1]
        pieces = [bent for bent in self.pieces(piece, step) if bent.measured]
        if not pieces and not self.before:
            return Now(row.bend_to, row.gauge.stop)
        brakes = {brake.name: brake for brake in map(parsed, self.revision.brake_files)}
        found = within_reach(as_set(next_settings(self.ties, self.known(piece, step))), self.steps, brakes)
        degrees, back = found.settings.further.get(row.bends[0], 0.0), found.settings.back.get(step - 1, 0.0)
        stop = None if row.gauge.stop is None else row.gauge.stop + back
        return Now(row.bend_to + degrees, stop, degrees, back, found.left.get(step - 1, ""))

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
    same_stock = one.stock.material.name == other.stock.material.name and alike(
        one.stock.thickness, other.stock.thickness)
    lots = {earlier.ticket.lot_id, run.revision.ticket.lot_id}
    same_lot = same_stock and len(lots) == 1 and None not in lots
    known = carried(estimate(then.ties, pieces), same_stock, same_lot)
    tools = [{step.tools.pair for step in steps} for steps in (then.steps, run.steps)]
    longest = [max(part.flat.size) for part in (one, other)]
    told = [(not same_stock, "another metal or thickness"), (same_stock and not same_lot, "another lot, or none named"),
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
        return f"The {brake.name} has not been inspected this shift: see Set-up."
    return ""

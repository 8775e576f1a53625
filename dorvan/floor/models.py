"""What happens at the brake and at the bench after it: append-only records."""

from functools import cached_property

from django.conf import settings
from django.db import models

from bendcore.quality.checksheet import GOOD, CheckRow
from dorvan.brakes.models import Brake
from dorvan.tickets.models import Revision

TRIAL = 0
"""The piece that is a strip bent to try the angle."""


class ShiftCheck(models.Model):
    """A brake looked over at the start of a shift: what was looked to, by whom and when."""

    brake = models.ForeignKey(Brake, models.PROTECT, related_name="shift_checks")
    looked_to = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Run(models.Model):
    """One piece bent to a revision; piece 0 is a trial strip."""

    revision = models.ForeignKey(Revision, models.PROTECT, related_name="runs")
    piece = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["piece"]
        constraints = [models.UniqueConstraint(fields=["revision", "piece"], name="one_run_a_piece")]


class StepRecord(models.Model):
    """A step ticked off, with what was measured. Corrections are new records."""

    class What(models.TextChoices):
        BENT = "bent", "bent"
        UNDONE = "undone", "not bent after all"

    run = models.ForeignKey(Run, models.PROTECT, related_name="records")
    step = models.PositiveIntegerField()
    what = models.CharField(max_length=10, choices=What.choices, default=What.BENT)
    key = models.UUIDField(null=True, unique=True, help_text="Given by the card: sent twice, it is kept once.")
    further = models.FloatField(null=True, blank=True, help_text="Set further than planned, degrees")
    back = models.FloatField(null=True, blank=True, help_text="Stop or line set further from the bend, mm")
    jogged = models.BooleanField(default=False, help_text="Struck in taps, not in one stroke.")
    angle = models.FloatField(null=True, blank=True)
    depth = models.FloatField(null=True, blank=True, help_text="Set on the machine, mm")
    leg = models.FloatField(null=True, blank=True, help_text="Measured, mm")
    leg_name = models.CharField(max_length=80, blank=True)
    leg_wanted = models.FloatField(null=True, blank=True, help_text="mm")
    sure = models.BooleanField(default=False, help_text="Asked about, measured again, and found so.")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["run__piece", "step", "id"]


class LogEntry(models.Model):
    """What happens to a piece, or to the run as a whole (no piece); never changed, only followed by another."""

    class What(models.TextChoices):
        SCRAPPED = "scrapped", "scrapped"
        PAUSED = "paused", "paused"
        RESUMED = "resumed", "went on"
        HANDED = "handed over", "handed over"
        MUTED = "guard muted", "guard muted"
        RESTORED = "guard restored", "guard restored"
        CLOSED = "closed", "closed"
        NEXT_TIME = "next time", "for next time"

    revision = models.ForeignKey(Revision, models.PROTECT, related_name="log")
    piece = models.PositiveIntegerField(null=True, blank=True)
    step = models.PositiveIntegerField(null=True, blank=True)
    what = models.CharField(max_length=20, choices=What.choices)
    words = models.CharField(max_length=300, blank=True)
    key = models.UUIDField(null=True, unique=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class CheckSheet(models.Model):
    """A finished piece measured; ``rows`` are frozen with nominal and tolerance, as :class:`CheckRow` writes them. A
    later sheet of the same piece stands in its place (:func:`standing`); the first is kept."""

    revision = models.ForeignKey(Revision, models.PROTECT, related_name="sheets")
    piece = models.PositiveIntegerField()
    rows = models.JSONField()
    blank = models.JSONField(default=dict, blank=True, help_text="By row of bends its length before bending, mm")
    sure = models.JSONField(default=list, blank=True, help_text="Dimensions asked about, measured again and found so.")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @cached_property
    def measured(self) -> list[CheckRow]:
        """What was measured, row by row."""
        return [CheckRow.read(row) for row in self.rows]

    @property
    def good(self) -> bool:
        return all(row.verdict == GOOD for row in self.measured)


def standing(revision: Revision) -> dict[int, CheckSheet]:
    """By piece the sheet that stands: the newest."""
    return {sheet.piece: sheet for sheet in revision.sheets.all()}


class CheckPhoto(models.Model):
    """A photograph of a piece that was checked."""

    sheet = models.ForeignKey(CheckSheet, models.PROTECT, related_name="photographs")
    jpeg = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Decision(models.Model):
    """What was decided on a piece that is out, and why. A new one follows an old one."""

    class What(models.TextChoices):
        USE = "use", "use it as it is"
        SAVE = "save", "save it"
        SCRAP = "scrap", "scrap it"

    sheet = models.ForeignKey(CheckSheet, models.PROTECT, related_name="decisions")
    what = models.CharField(max_length=10, choices=What.choices)
    words = models.CharField(max_length=300)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

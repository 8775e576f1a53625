"""What happens at the brake and at the bench after it: append-only records."""

from functools import cached_property

from django.conf import settings
from django.db import models

from bendcore.quality.checksheet import GOOD, CheckRow
from dorvan.tickets.models import Revision


class Run(models.Model):
    """One piece bent to a revision."""

    revision = models.ForeignKey(Revision, models.PROTECT, related_name="runs")
    piece = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["piece"]
        constraints = [models.UniqueConstraint(fields=["revision", "piece"], name="one_run_a_piece")]


class StepRecord(models.Model):
    """A step ticked off, with what was measured. Corrections are new records."""

    class Side(models.TextChoices):
        NEAR = "stop side", "between bend and stop"
        FAR = "far side", "on the far side"

    run = models.ForeignKey(Run, models.PROTECT, related_name="records")
    step = models.PositiveIntegerField()
    angle = models.FloatField(null=True, blank=True)
    depth = models.FloatField(null=True, blank=True, help_text="Set on the machine, mm")
    leg = models.FloatField(null=True, blank=True, help_text="Measured, mm")
    leg_wanted = models.FloatField(null=True, blank=True, help_text="mm")
    leg_side = models.CharField(max_length=10, choices=Side.choices, default=Side.NEAR)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["run__piece", "step", "id"]


class CheckSheet(models.Model):
    """A finished piece measured; ``rows`` are frozen with nominal and tolerance, as :class:`CheckRow` writes them."""

    revision = models.ForeignKey(Revision, models.PROTECT, related_name="sheets")
    piece = models.PositiveIntegerField()
    rows = models.JSONField()
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

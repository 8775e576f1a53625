"""Blanks of a ticket that are cut: on which sheet and when, and what happens to them when the part becomes another."""

from django.conf import settings
from django.db import models

from bendcore.cutting.pieces import lies_over

from ..results.text import digest

FINE = 2
"""Blanks alike to so many decimals of a millimetre are the same."""


def blank_key(ticket) -> str:
    """What the blank of a ticket is as it stands: its outline and what is cut out of it, by their corners in mm, and
    whether it is cut turned over."""
    part = ticket.figures.part
    rings = (part.flat.outline, *(hole.outline() for hole in part.flat.holes))
    drawn: list = [[[round(x, FINE), round(y, FINE)] for x, y in ring] for ring in rings]
    return digest([*drawn, *(["turned over"] if lies_over(part) else [])])[:32]


class BlankCut(models.Model):
    """So many blanks of a ticket were cut from a sheet, as the part then was (``blank``). ``fate`` says what happens to
    them once it is another, for the blank that it was ``decided_for``."""

    class Fate(models.TextChoices):
        USE = "use", "use them as they are"
        SCRAP = "scrap", "scrap them, cut anew"

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="blanks_cut")
    plan = models.CharField(max_length=12)
    sheet = models.PositiveIntegerField(help_text="From 1.")
    lot = models.CharField(max_length=20)
    count = models.PositiveIntegerField()
    blank = models.CharField(max_length=32)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    fate = models.CharField(max_length=8, choices=Fate.choices, blank=True)
    decided_for = models.CharField(max_length=32, blank=True)
    decided_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+")
    decided_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]

    def is_open(self, now: str) -> bool:
        """Whether the part is another by ``now``, and nobody said what happens to these."""
        return self.blank not in ("", now) and self.decided_for != now

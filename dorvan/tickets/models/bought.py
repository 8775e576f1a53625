"""What is bought in for a kit, counted for the batch."""

import math

from django.conf import settings
from django.db import models

PIECES, LENGTH, LINING = "pieces", "length", "lining"


class BoughtIn(models.Model):
    """Cleats, rivets and pins by the piece, edging by length (mm), lining by area.

    ``amount`` is for one assembly; of a lining it is left out, the area being that of
    the lead piece's faces.
    """

    KINDS = [(PIECES, "pieces"), (LENGTH, "length"), (LINING, "lining of a thickness")]
    lead = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="bought_in")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=KINDS, default=PIECES)
    amount = models.FloatField(default=0, help_text="For one assembly: a count, or mm.")
    thickness = models.FloatField(default=0, help_text="Of a lining, mm.")
    awaited = models.BooleanField(default=False, help_text="Nothing is cut before it is here.")
    expected = models.DateField(null=True, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]

    @property
    def each(self) -> float:
        """For one assembly: pieces, mm, or mm² of lining."""
        if self.kind != LINING:
            return self.amount
        return self.lead.figures.part.sheet.face_area

    @property
    def total(self) -> float:
        """For the batch; whole pieces."""
        total = self.each * self.lead.quantity
        return math.ceil(total - 1e-9) if self.kind == PIECES else total

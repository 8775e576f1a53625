"""What was sent to a supplier and what came back, each only added to."""

from django.conf import settings
from django.db import models

from dorvan.suppliers.models import Supplier
from dorvan.tickets.models import Ticket


class Sent(models.Model):
    """A pack that left: the part file as it was, and for whom."""

    ticket = models.ForeignKey(Ticket, models.PROTECT, related_name="sent")
    supplier = models.ForeignKey(Supplier, models.PROTECT, related_name="sent")
    part = models.JSONField()
    quantity = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Returned(models.Model):
    """A piece that came back, as it was measured: ``rows`` as a check sheet keeps them; ``k`` the one it was bent by,
    where its legs tell."""

    sent = models.ForeignKey(Sent, models.PROTECT, related_name="returned")
    piece = models.PositiveIntegerField()
    rows = models.JSONField()
    k = models.FloatField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @property
    def out(self) -> list[dict]:
        """The rows out of tolerance."""
        return [row for row in self.rows if row["verdict"] != "good"]

"""How a shop joins the pieces of a kit, where it is otherwise than the part says; and joints of its own."""

from django.conf import settings
from django.db import models

from bendcore.families.joint import KINDS, Joint
from dorvan.tickets.models import Ticket


class Join(models.Model):
    """Of a kit's lead, or a piece of it. ``key`` names one of the part's joints; without, it is one of the shop's own,
    ``length`` mm long, so many ``times`` to each. What is None is the part's, or the trade's start."""

    ticket = models.ForeignKey(Ticket, models.CASCADE, related_name="joins")
    key = models.CharField(max_length=40, blank=True)
    place = models.CharField(max_length=80, blank=True)
    length = models.FloatField(default=0)
    times = models.PositiveIntegerField(default=1)
    kind = models.CharField(max_length=10, choices=list(KINDS.items()))
    count = models.PositiveIntegerField(null=True, blank=True)
    pitch = models.FloatField(null=True, blank=True)
    end = models.FloatField(null=True, blank=True)
    sealed = models.BooleanField(default=False)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["ticket", "key"], condition=~models.Q(key=""),
                                               name="one_choice_a_joint")]

    @property
    def own(self) -> Joint:
        """A joint of the shop's own."""
        return Joint(f"own:{self.pk}", self.place, self.length, self.kind, self.times)

"""A drawing that was handed in and takes longer to read than a page waits."""

from django.conf import settings
from django.db import models


class Reading(models.Model):
    """The file as sent and what was said with it; ``ticket`` once there is one."""

    name = models.CharField(max_length=60)
    data = models.BinaryField()
    unit = models.CharField(max_length=8)
    without = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    ticket = models.ForeignKey("tickets.Ticket", models.SET_NULL, null=True, related_name="+")

"""A photograph of the sample a part is made after, beside its drawing."""

from django.conf import settings
from django.db import models


class Photograph(models.Model):
    ticket = models.OneToOneField("tickets.Ticket", models.CASCADE, related_name="photograph")
    jpeg = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

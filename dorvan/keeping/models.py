"""Keys of entries that devices kept."""

from django.conf import settings
from django.db import models


class Taken(models.Model):
    """An entry with this key was written."""

    key = models.UUIDField(unique=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

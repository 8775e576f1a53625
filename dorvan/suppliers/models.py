"""A supplier as its profile says it, and which of them a ticket goes to."""

from functools import lru_cache

from django.conf import settings
from django.db import models

from bendcore.files import read_json
from bendcore.suppliers.profile import Profile, read_profile
from dorvan.versions.models import Versioned


@lru_cache(maxsize=32)
def parsed(text: str) -> Profile:
    """A profile from its file's text; refuses what is none, at the field."""
    return read_profile(read_json(text))


class Supplier(Versioned):
    name = models.CharField(max_length=80, unique=True)
    file = models.TextField(help_text="A dorvan-supplier file, as text.")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def profile(self) -> Profile:
        """What it can do."""
        return parsed(self.file)

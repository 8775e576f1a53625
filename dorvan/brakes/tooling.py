"""Noses, shims, slip sheets and bars: what a hand brake bends round, one row each."""

from django.conf import settings
from django.db import models


class Tooling(models.Model):
    """``size`` is a nose's or bar's edge radius, a shim's or slip sheet's thickness, mm."""

    class Kind(models.TextChoices):
        NOSE = "nose", "nose"
        BOTTOM = "bottom", "bottoming punch"
        BAR = "bar", "bar"
        SHIM = "shim", "radius shim"
        SLIP = "slip", "slip sheet"

    ROUND = (Kind.NOSE, Kind.BOTTOM, Kind.BAR)

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=8, choices=Kind.choices)
    size = models.FloatField()
    rated = models.FloatField(null=True, blank=True, help_text="Mild steel on the plate at full length, mm")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["kind", "size", "name"]

    def __str__(self) -> str:
        return self.name

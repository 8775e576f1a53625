"""Guesses at many names from one place. (Guesses at one name are kept from going on by axes.)"""

from axes.models import AccessAttempt
from django.conf import settings
from django.db.models import Count, Sum
from django.utils import timezone

NAMES, GUESSES = 6, 24
"""So many names, and wrong passwords in all, from one place within the time that a name is locked for: nobody signs in
from there for as long. A shop whose tablets share one address does not come near it."""


def guessed_from(place: str | None) -> bool:
    """Whether somebody at this address tries one name after another."""
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    found = AccessAttempt.objects.filter(ip_address=place, attempt_time__gt=since).aggregate(
        names=Count("username", distinct=True), guesses=Sum("failures_since_start"))
    return found["names"] >= NAMES and found["guesses"] >= GUESSES

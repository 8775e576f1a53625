"""The shop's settings: one row, looked up now and then and not with every page."""

import time
import uuid
import zoneinfo
from functools import lru_cache

from django.conf import settings
from django.db import models, transaction

from bendcore.formats.letterhead import Letterhead
from bendcore.tolerance import CLASS_TITLES, MEDIUM
from dorvan.versions.models import Versioned

LASTS = 20
"""Another server on the same data takes so long to see a change, s; the one that made it sees it at once."""


@lru_cache(maxsize=1)
def zones() -> tuple[str, ...]:
    """Every time zone by name, those of places only."""
    return tuple(sorted(name for name in zoneinfo.available_timezones() if "/" in name
                        and not name.startswith(("Etc/", "SystemV/", "posix", "right"))) + ["UTC"])


class Shop(Versioned):
    uid = models.UUIDField(default=uuid.uuid4, editable=False, help_text="Which shop this is, among all of them.")
    name = models.CharField(max_length=80, blank=True)
    mark = models.BinaryField(default=bytes, blank=True, help_text="A small JPEG.")
    unit = models.CharField(max_length=2, choices=[("mm", "mm"), ("in", "inch")], blank=True, default="")
    tape = models.PositiveSmallIntegerField(default=32)
    general_tolerance = models.CharField(max_length=1, choices=list(CLASS_TITLES.items()),
                                         default=MEDIUM)
    first_hour = models.BooleanField(default=False, help_text="The rack leads to the first steps.")
    zone = models.CharField(max_length=60, blank=True, default="")

    @classmethod
    def now(cls) -> "Shop":
        """The settings in force; those a shop begins with until somebody sets one."""
        global _held
        if _held is None or time.monotonic() - _held[0] > LASTS:
            _held = time.monotonic(), cls.objects.first() or cls()
        return _held[1]

    @classmethod
    def row(cls) -> "Shop":
        """The row to be changed, made when there is none."""
        return cls.objects.get_or_create(pk=1)[0]

    @property
    def letterhead(self) -> Letterhead:
        """For what is printed."""
        return Letterhead(self.name, bytes(self.mark or b""))

    @property
    def clock(self) -> zoneinfo.ZoneInfo:
        """The time zone of the shop: its own, or the server's."""
        return zoneinfo.ZoneInfo(self.zone or settings.TIME_ZONE)

    def put(self, by, field: str, said: str, **values) -> None:
        """Write what was set, on record with the version; raises Moved where somebody was quicker."""
        with transaction.atomic():
            self.move_on(by, [field], said, **values)
            transaction.on_commit(forget)


_held: tuple[float, Shop] | None = None


def forget() -> None:
    """Look the settings up anew when they are asked for next."""
    global _held
    _held = None

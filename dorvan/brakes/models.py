"""The shop's brakes, each kept as its open file."""

import json
from collections.abc import Collection
from functools import lru_cache

from django.conf import settings
from django.contrib.auth.base_user import AbstractBaseUser
from django.db import models, transaction

from bendcore.brakes.brake import Brake as Machine
from bendcore.brakes.brake import read_brake
from bendcore.brakes.measured.described import kind_of, not_measured
from bendcore.brakes.press import PressBrake
from bendcore.files import read_json
from dorvan.versions.models import Versioned

from .tooling import Tooling

__all__ = ["Brake", "KnownPart", "Tooling", "parsed", "written"]


@lru_cache(maxsize=32)
def parsed(text: str) -> Machine:
    """A brake of any kind from its file's text."""
    return read_brake(read_json(text))


def written(data: dict) -> str:
    """A brake file as it is kept."""
    return json.dumps(data, ensure_ascii=False, indent=1)


NAMED = 6
"""Of more sizes that were not measured only so many are named."""


@lru_cache(maxsize=32)
def unmeasured(text: str) -> list[str]:
    """What of a brake file stands at its start value."""
    return not_measured(read_json(text))


class Brake(Versioned):
    name = models.CharField(max_length=80, unique=True)
    file = models.TextField(help_text="A dorvan-brake file, as text.")

    hands = models.ManyToManyField(settings.AUTH_USER_MODEL, blank=True, related_name="brakes",
                                   help_text="Who may use it; everybody where nobody is named.")

    class Meta:
        ordering = ["name"]

    def may_use(self, user: AbstractBaseUser) -> bool:
        """Whether somebody may bend on it."""
        named = {hand.pk for hand in self.hands.all()}
        return not named or user.pk in named

    def __str__(self) -> str:
        return self.name

    def rewrite(self, by, things: Collection[str], said: str, data: dict) -> None:
        """Keep its file as it is now, with what was touched and done; raises Moved as ``move_on`` does."""
        text = written(data)
        with transaction.atomic():
            self.move_on(by, things, said, file=text)

    @property
    def is_described(self) -> bool:
        """Whether it was made of measured sizes, and can be measured again."""
        return kind_of(read_json(self.file)) is not None

    @property
    def machine(self) -> Machine:
        """The brake of whichever kind."""
        return parsed(self.file)

    @property
    def not_measured(self) -> list[str]:
        """What of it stands at a start value, because nobody measured it yet."""
        return unmeasured(self.file)

    @property
    def unsaid(self) -> str:
        """The same in a line; of many the first few."""
        names = self.not_measured
        more = len(names) - NAMED
        return ", ".join(names) if more <= 1 else f"{', '.join(names[:NAMED])} and {more} more"

    @property
    def press(self) -> PressBrake | None:
        """The same where it is a press, whose tools are chosen."""
        return self.machine if isinstance(self.machine, PressBrake) else None


class KnownPart(models.Model):
    """A part of which the shop knows whether it can be bent on a brake, whatever its model says."""

    brake = models.ForeignKey(Brake, models.CASCADE, related_name="known")
    name = models.CharField(max_length=120)
    part = models.JSONField(help_text="Complete, as it would be on this brake.")
    fitted = models.BooleanField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name

"""The shop's hours, who is there, and plans as they were made; each only added to."""

import json
from datetime import time
from functools import cached_property

from django.conf import settings
from django.db import models
from django.utils import timezone

from bendcore.day.calendar import Calendar, Hours
from bendcore.day.data import read_plan, read_work
from bendcore.day.work import DayPlan, Work

MOST_PUT = 400
"""So many times tasks may be put elsewhere before a page must be loaded anew."""
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


class ShopHours(models.Model):
    """When the shop works, from now on: the last counts. ``stretches`` are texts as ``07:30``, Monday is 0."""

    stretches = models.JSONField()
    weekdays = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @classmethod
    def now(cls) -> Hours:
        """The hours in force."""
        last = cls.objects.last()
        return hours_of(last.stretches, last.weekdays) if last else Hours()

    @property
    def said(self) -> str:
        """In words."""
        days = " ".join(WEEKDAYS[n] for n in self.weekdays)
        return f"{days}, " + ", ".join(f"{a}-{b}" for a, b in self.stretches)


def hours_of(stretches: list, weekdays: list) -> Hours:
    """Hours as they are kept."""
    return Hours(tuple((time.fromisoformat(a), time.fromisoformat(b)) for a, b in stretches), tuple(weekdays))


def kept_hours(hours: Hours) -> dict:
    """Hours to be kept."""
    return {"stretches": [[a.isoformat("minutes"), b.isoformat("minutes")] for a, b in hours.stretches],
            "weekdays": list(hours.weekdays)}


class ShopRates(models.Model):
    """What cutting, marking out and walking take in this shop, s, from now on: the last counts; None where it is
    learnt, or the start value."""

    cut = models.FloatField(null=True, blank=True)
    mark = models.FloatField(null=True, blank=True)
    walk = models.FloatField(null=True, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @property
    def said(self) -> str:
        """In words."""
        return ", ".join(f"{name} {value:g} s" for name, value in (("cut", self.cut), ("mark", self.mark),
                                                                  ("walk", self.walk)) if value is not None) or "learnt"


class Hand(models.Model):
    """How somebody works: whether as a second pair of hands too; whether in the plan at all."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE, related_name="hand")
    helps = models.BooleanField(default=True)
    planned = models.BooleanField(default=True)


class Away(models.Model):
    """Somebody is not there."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="away")
    begin = models.DateTimeField()
    end = models.DateTimeField()
    note = models.CharField(max_length=80, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")

    class Meta:
        ordering = ["begin"]

    @property
    def said(self) -> str:
        """Who and when, in words."""
        begin, end = (timezone.localtime(at) for at in (self.begin, self.end))
        return f"{self.user}: {begin:%Y-%m-%d %H:%M} to {end:%Y-%m-%d %H:%M}" + (f", {self.note}" if self.note else "")


class Plan(models.Model):
    """A plan as it was asked for: ``begin`` and ``hours`` turn its minutes into times, ``work`` is what is planned,
    ``told`` what is not and why, ``laid`` the plan itself, None until it is worked out."""

    begin = models.DateTimeField()
    hours = models.JSONField()
    work = models.JSONField()
    told = models.JSONField(default=list)
    laid = models.JSONField(null=True)
    follows = models.ForeignKey("self", models.SET_NULL, null=True, related_name="+",
                                help_text="The plan in which the task was put elsewhere.")
    put = models.CharField(max_length=60, blank=True, help_text="That task.")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def since(self, shown: "Plan") -> list["Plan"] | None:
        """The plans from the one shown to this, in which tasks were put elsewhere; None where it is another plan."""
        found, plan = [], self
        while plan is not None and plan.pk != shown.pk and len(found) < MOST_PUT:
            found.append(plan)
            plan = plan.follows
        return found if plan is not None and plan.pk == shown.pk else None

    @cached_property
    def calendar(self) -> Calendar:
        """Its minutes as times of the shop."""
        return Calendar(timezone.localtime(self.begin), hours_of(**self.hours))

    @cached_property
    def core(self) -> Work:
        """What is planned."""
        return read_work(self.work)

    @property
    def asked(self) -> str:
        """The work as text: by this it is worked out, watched and stopped."""
        return json.dumps(self.work, sort_keys=True)

    @property
    def found(self) -> DayPlan | None:
        """The plan, once it is worked out."""
        return self.laid and read_plan(self.laid, self.core)

"""What must be true before a ticket is released or cut: what holds it, what was tried, what a lead let pass and why."""

from django.conf import settings
from django.db import models

from bendcore.said import unpacked

MEASURED, ARRIVED, ALLOWANCE = "measured", "arrived", "allowance"
ORDER, MOCK_UP, OUTSIDE = "order", "mock-up", "outside"
POINTS = {
    MEASURED: "Measured twice, nothing to wait for",
    ARRIVED: "Parts bought in have arrived",
    ALLOWANCE: "Allowance from a proof bend or an adopted K",
    ORDER: "Bend order proved",
    MOCK_UP: "Mock-up tried: paper, card or thin wood",
    OUTSIDE: "The supplier can make it",
}
"""What may be asked for, by its word."""
HELD = {
    MEASURED: "not measured yet",
    ARRIVED: "parts to come",
    ALLOWANCE: "no proof bend",
    ORDER: "no order yet",
    MOCK_UP: "no mock-up",
    OUTSIDE: "not for this supplier",
}
"""What each is while it is open, in a few words."""
PLAIN = "plain"
JOBS = {
    PLAIN: ("plain part", (MEASURED, ARRIVED, ORDER)),
    "fitted": ("fits a place or another part", (MEASURED, ARRIVED, ALLOWANCE, ORDER, MOCK_UP)),
    "batch": ("many alike", (MEASURED, ARRIVED, ALLOWANCE, ORDER)),
    "outside": ("bent by a supplier", (MEASURED, ARRIVED, OUTSIDE)),
    "trial": ("a piece to try something", ()),
}
"""Kinds of job by their words: for people, and what each asks for unless the shop says otherwise (*start*)."""


class Hold(models.Model):
    """Something that a ticket waits for, told by ``source`` (a site sheet), which alone puts it there and takes it
    away; ``until`` is the day by which it is expected, where that is known."""

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="holds")
    source = models.CharField(max_length=40)
    what = models.JSONField(help_text="In words, as bendcore.said packs them.")
    until = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    @property
    def said(self) -> str:
        """In words, for a reader's units."""
        return unpacked(self.what)


class MockUp(models.Model):
    """A mock-up was tried and fits, for the blank as it stood (``key``)."""

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="mock_ups")
    key = models.CharField(max_length=64)
    note = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Opened(models.Model):
    """A lead opened the gate at one point, and said why. It holds while the point ``said`` the same."""

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="opened")
    point = models.CharField(max_length=20)
    said = models.TextField()
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Asks(models.Model):
    """What the shop asks for of one kind of job, from now on; the last counts."""

    job = models.CharField(max_length=20)
    points = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @classmethod
    def now(cls) -> dict[str, tuple[str, ...]]:
        """By kind of job the points asked for."""
        found = {job: points for job, (_, points) in JOBS.items()}
        for row in cls.objects.all():
            if row.job in found:
                found[row.job] = tuple(point for point in POINTS if point in row.points)
        return found

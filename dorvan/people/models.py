"""Who works here. Two roles: the bench does the work, a lead also decides."""

from django.contrib.auth.models import AbstractUser
from django.db import models

from bendcore.units import Reading


class User(AbstractUser):
    class Role(models.TextChoices):
        BENCH = "bench", "Bench"
        LEAD = "lead", "Lead"

    TAPES = [(0, "decimals"), (16, "sixteenths"), (32, "thirty-seconds"), (64, "sixty-fourths")]
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.BENCH)
    unit = models.CharField(max_length=2, choices=[("mm", "mm"), ("in", "inch")], default="mm",
                            help_text="Units figures are shown in.")
    tape = models.PositiveSmallIntegerField(choices=TAPES, default=32, help_text="How inches are read.")

    known_as = models.CharField(max_length=150, blank=True, default="",
                                help_text="The name before any other: entries kept on devices go by it.")
    phrase_ends = models.DateTimeField(null=True, blank=True,
                                       help_text="Until when a phrase for once lets in; none of one's own.")
    pin = models.CharField(max_length=128, blank=True, default="", help_text="Its hash; empty for none.")
    pin_wrong = models.PositiveSmallIntegerField(default=0, help_text="Wrong ones since the last right one.")
    included = models.BooleanField(default=False, help_text="Reads the angle included between the legs.")

    @property
    def is_lead(self) -> bool:
        return self.role == self.Role.LEAD

    @property
    def device_name(self) -> str:
        """The name that entries kept on devices go by: it stays as people are renamed."""
        return self.known_as or self.username

    @property
    def units(self) -> Reading:
        """The units this person reads, with the tape he reads them on, and how he measures angles."""
        return Reading(self.unit, self.tape, self.included)

    @units.setter
    def units(self, unit: str):
        self.unit = str(unit)


class Device(models.Model):
    """A shared tablet that a lead trusts: people who have a PIN take over from each other there."""

    name = models.CharField(max_length=60)
    secret = models.CharField(max_length=64, unique=True, help_text="Hash of what the device is known by.")
    by = models.ForeignKey(User, models.PROTECT, related_name="+")
    trusted = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(auto_now_add=True)
    withdrawn = models.DateTimeField(null=True)

    class Meta:
        ordering = ["name"]


class Deed(models.Model):
    """One act on record: who, when, what, and how it was before. Rows are only added."""

    class What(models.TextChoices):
        JOB = "job", "Kind of job"
        STRUCTURAL = "structural", "Structural part"
        ARCHIVE = "archive", "On or off the rack"
        REMOVE = "remove", "Taken off for good"
        OPENED = "opened", "Gate opened"
        ASKS = "asks", "What the gate asks for"
        SAMPLE = "sample", "Sample dropped or taken back"
        ABSENCE = "absence", "Absence"
        HOURS = "hours", "Working hours"
        RATES = "rates", "What work takes"
        PERSON = "person", "People"
        DEVICE = "device", "Shared tablets"
        SHOP = "shop", "Settings of the shop"

    by = models.ForeignKey(User, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True, db_index=True)
    what = models.CharField(max_length=20, choices=What.choices)
    before = models.CharField(max_length=300, blank=True)
    after = models.CharField(max_length=300, blank=True)
    ticket = models.CharField(max_length=20, blank=True, db_index=True, help_text="Its tag; it may be gone by now.")
    reason = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-id"]

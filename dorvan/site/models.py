"""A visit as it was noted: what was measured, every reading of it, the rules, and the sizes they set."""

from collections.abc import Iterable

from django.conf import settings
from django.db import models

from bendcore.site.measured import ALLOWED, KINDS, Kind, settle
from bendcore.site.rules import Rule
from bendcore.site.sheet import Measured, Sheet
from dorvan.tickets.models import Ticket
from dorvan.versions.models import Versioned


class Visit(Versioned):
    """A place that was measured. ``sketch`` holds lines and dimensions on a grid: ``kind`` (edge, dimension), ``name``
    and two points, see :mod:`dorvan.drawings.site`."""

    number = models.PositiveIntegerField(unique=True)
    name = models.CharField(max_length=120)
    place = models.CharField(max_length=200, blank=True)
    on = models.DateField()
    note = models.TextField(blank=True)
    sketch = models.JSONField(default=list, blank=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"S-{self.number:04d}"

    def sheet(self, drafts: Iterable["SizeRule"] = ()) -> Sheet:
        """All of it for the core, with rules as they are meant to be in place of those kept, or beside them."""
        drafts = list(drafts)
        things = {thing.name: thing.measured for thing in self.things.prefetch_related("readings")}
        rules = [*self.rules.exclude(pk__in=[rule.pk for rule in drafts if rule.pk]), *drafts]
        names = (*things, *(rule.name for rule in rules))
        return Sheet(things, {rule.name: rule.core(names) for rule in rules})


class Thing(models.Model):
    """Something measured, under the name that rules call it by. ``allowed`` is how far two readings may differ, mm or
    degrees, the tape's unless said; ``awaits`` a part still to come that it hangs on."""

    visit = models.ForeignKey(Visit, models.CASCADE, related_name="things")
    name = models.CharField(max_length=40)
    kind = models.CharField(max_length=12, choices=[(key, kind.title) for key, kind in KINDS.items()])
    to = models.CharField(max_length=12, blank=True)
    allowed = models.FloatField(null=True, blank=True)
    awaits = models.CharField(max_length=120, blank=True)
    until = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["visit", "name"], name="one_thing_a_name")]

    @property
    def sort(self) -> Kind:
        """Its kind, as the core has it."""
        return KINDS[self.kind]

    @property
    def apart(self) -> float:
        """How far two readings may differ."""
        return ALLOWED[self.sort.dimension] if self.allowed is None else self.allowed

    @property
    def kept(self) -> list["Reading"]:
        """Readings that were not struck out, oldest first."""
        return [reading for reading in self.readings.all() if reading.struck_by_id is None]

    @property
    def measured(self) -> Measured:
        """What its readings come to."""
        settled = settle([reading.values for reading in self.kept], self.apart, self.sort)
        return Measured(self.sort.dimension, settled, self.awaits, self.sort.several)


class Reading(models.Model):
    """One reading: a value, or one for each side, mm or degrees, as it was ``typed``. Never changed; a slip is struck
    out."""

    thing = models.ForeignKey(Thing, models.CASCADE, related_name="readings")
    values = models.JSONField()
    typed = models.CharField(max_length=400)
    who = models.CharField(max_length=60)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    struck_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, blank=True, related_name="+")
    key = models.UUIDField(null=True, help_text="Given by the page: sent twice, it is one reading and not two.")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["thing", "key"], name="one_reading_a_key")]


class SizeRule(models.Model):
    """A size that follows from what was measured, as a person wrote it, in whose units bare numbers are."""

    visit = models.ForeignKey(Visit, models.CASCADE, related_name="rules")
    name = models.CharField(max_length=40)
    text = models.CharField(max_length=200)
    units = models.CharField(max_length=2, default="mm")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["visit", "name"], name="one_rule_a_name")]

    def core(self, names: tuple[str, ...]) -> Rule:
        """The rule, read with the names there are."""
        return Rule(self.text, self.units, tuple(name for name in names if name != self.name))


class Use(models.Model):
    """A rule sets a size of a ticket's part: ``field`` below its shape. ``given`` is what it set last, None before."""

    rule = models.ForeignKey(SizeRule, models.CASCADE, related_name="uses")
    ticket = models.ForeignKey(Ticket, models.CASCADE, related_name="site_uses")
    field = models.CharField(max_length=80)
    given = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["ticket", "field"], name="one_rule_a_field")]


class Picture(models.Model):
    """A photograph of the place."""

    visit = models.ForeignKey(Visit, models.CASCADE, related_name="pictures")
    jpeg = models.BinaryField()
    caption = models.CharField(max_length=120, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

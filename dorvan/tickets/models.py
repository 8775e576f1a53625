"""A ticket carries one part from a description to a checked piece.

The part file is the truth; every change is an :class:`Edit`, and undo only moves
the ticket's place among them. Release freezes a :class:`Revision`.
"""

from django.conf import settings
from django.db import models, transaction
from django.urls import reverse

from dorvan.brakes.models import Brake

from . import derived

STAGES = ("shape", "stock", "layout", "order", "bend", "check")


class Ticket(models.Model):
    number = models.PositiveIntegerField(unique=True)
    part = models.JSONField()
    quantity = models.PositiveIntegerField(default=1)
    brake = models.ForeignKey(Brake, models.PROTECT, null=True, blank=True)
    punch = models.CharField(max_length=80, blank=True)
    die = models.CharField(max_length=80, blank=True)
    bend_order = models.JSONField(default=list, blank=True)
    place = models.PositiveIntegerField(default=0)
    order_key = models.CharField(max_length=64, blank=True, help_text="What order_found was found for.")
    order_found = models.BooleanField(default=False)
    seen_layout = models.BooleanField(default=False)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"{self.tag} {self.name}"

    def get_absolute_url(self) -> str:
        return reverse("tickets:shape", args=[self.number])

    @property
    def tag(self) -> str:
        return f"T-{self.number:04d}"

    @property
    def name(self) -> str:
        return self.part.get("name", "")

    @property
    def figures(self) -> derived.Figures:
        return derived.figures(self.part)

    @property
    def revision(self) -> "Revision | None":
        return self.revisions.last()

    @property
    def mounted(self):
        """The brake with only the tools chosen for this ticket on it."""
        if not self.brake:
            return None
        return self.brake.press.with_tools([self.punch] if self.punch else None, [self.die] if self.die else None)

    @property
    def order_asked(self) -> tuple:
        """All that the order depends on."""
        return (self.part, self.brake.file if self.brake else "", self.punch, self.die, self.bend_order or None)

    @property
    def ordered(self) -> dict | None:
        """The order in force: the one chosen, or the best. Remembers whether there is one,
        so that the rack need not search."""
        if not self.brake or self.part_has_no_bends:
            return None
        found, key = derived.order(*self.order_asked), derived.digest(self.order_asked)
        if (self.order_key, self.order_found) != (key, found["feasible"]):
            self.order_key, self.order_found = key, found["feasible"]
            Ticket.objects.filter(pk=self.pk).update(order_key=key, order_found=found["feasible"])
        return found

    @property
    def order_is_known(self) -> bool:
        """Whether an order was found for the ticket as it stands."""
        return self.order_found and self.order_key == derived.digest(self.order_asked)

    @property
    def order_is_missing(self) -> bool:
        """Whether it was looked for, for the ticket as it stands, and there is none."""
        return not self.order_found and self.order_key == derived.digest(self.order_asked)

    @property
    def part_has_no_bends(self) -> bool:
        return not self.figures.part.shape.all_bends

    def reached(self) -> dict[str, bool]:
        """Which stages are filled in."""
        revision = self.revision
        bends = not self.part_has_no_bends
        return {
            "shape": bends, "stock": bends, "layout": self.seen_layout,
            "order": self.order_is_known or bool(revision and revision.is_current),
            "bend": bool(revision and revision.runs.exists()),
            "check": bool(revision and revision.sheets.exists()),
        }

    @transaction.atomic
    def change(self, part: dict, note: str, by) -> None:
        """Take a new part file, dropping what had been undone."""
        self.edits.filter(place__gt=self.place).delete()
        if not self.edits.exists():
            Edit.objects.create(ticket=self, place=0, part=self.part, note="begun", by=by)
        self.place += 1
        Edit.objects.create(ticket=self, place=self.place, part=part, note=note, by=by)
        self.part = part
        self._trim_order()
        self.save()

    @transaction.atomic
    def move_to(self, place: int) -> bool:
        """Undo or redo to another edit; False when there is none."""
        edit = self.edits.filter(place=place).first()
        if edit is None:
            return False
        self.part, self.place = edit.part, place
        self._trim_order()
        self.save()
        return True

    def _trim_order(self):
        """A tried order lasts only while it names this part's bends."""
        names = {b.id for b in self.figures.part.shape.all_bends}
        if set(self.bend_order) != names:
            self.bend_order = []

    @property
    def can_undo(self) -> bool:
        return self.place > 0

    @property
    def can_redo(self) -> bool:
        return self.edits.filter(place__gt=self.place).exists()


class Edit(models.Model):
    """One change of the part file, kept for undo and for the record."""

    ticket = models.ForeignKey(Ticket, models.CASCADE, related_name="edits")
    place = models.PositiveIntegerField()
    part = models.JSONField()
    note = models.CharField(max_length=120)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["ticket", "place"], name="one_edit_a_place")]


class Revision(models.Model):
    """What was released: part, brake and order as they stood. Never changed."""

    ticket = models.ForeignKey(Ticket, models.PROTECT, related_name="revisions")
    letter = models.CharField(max_length=3)
    part = models.JSONField()
    brake_file = models.TextField()
    order = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["ticket", "letter"], name="one_revision_a_letter")]

    @property
    def figures(self) -> derived.Figures:
        return derived.figures(self.part)

    @property
    def is_current(self) -> bool:
        return self.part == self.ticket.part

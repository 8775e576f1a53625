"""A cutting plan as it was asked for and laid out, and which of its sheets were cut."""

from django.conf import settings
from django.db import models
from django.db.models.expressions import RawSQL

from bendcore.cutting.wish import CUTS, LEFTOVERS, SHEETS
from dorvan.versions.models import Versioned


def name_of(number: int) -> str:
    """What a plan of this number is called."""
    return f"C-{number:04d}"


class Plans(models.QuerySet):
    def in_hand(self):
        """Plans of which sheets are still to be cut."""
        return self.filter(is_done=False)

    def counted(self):
        """Plans to be listed: their blanks counted as ``blanks_in_all``, what is large left where it is."""
        count = RawSQL("(SELECT SUM(json_extract(value, '$.count')) FROM json_each(blanks))", ())
        return self.annotate(blanks_in_all=count).defer("blanks", "laid", "sheets")


class CuttingPlan(Versioned):
    """Blanks of one stock on sheets. ``blanks`` are frozen as they were when it was made, by ticket number, with
    their linework (none in plans of earlier versions); ``laid`` is
    the plan, None until it is worked out. Lengths in mm."""

    class Way(models.TextChoices):
        SHEAR = "shear", "shear: cuts right through"
        SAW = "saw", "snips or saw: anywhere"
        CUTTER = "cutter", "cutter: true shapes"

    class Wish(models.TextChoices):
        SHEETS = SHEETS, "whole sheets: a leftover is opened where it saves one"
        LEFTOVERS = LEFTOVERS, "leftovers: they stay on their rack"
        CUTS = CUTS, "cuts: as little stock opened as can be, then fewest cuts"

    number = models.PositiveIntegerField(unique=True)
    material = models.CharField(max_length=60)
    thickness = models.FloatField()
    wish = models.CharField(max_length=10, choices=Wish.choices, default=Wish.SHEETS, help_text="What is saved.")
    way = models.CharField(max_length=10, choices=Way.choices, default=Way.SHEAR)
    kerf = models.FloatField(default=0.0)
    margin = models.FloatField(default=0.0)
    blanks = models.JSONField(default=dict)
    sheets = models.JSONField(default=list)
    laid = models.JSONField(null=True)
    by_hand = models.BooleanField(default=False)
    is_done = models.BooleanField(default=False, help_text="Every sheet of it is cut, or it was put away.")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    objects = Plans.as_manager()

    class Meta:
        ordering = ["-number"]

    def __str__(self) -> str:
        return name_of(self.number)

    @property
    def count(self) -> int:
        """How many blanks."""
        return sum(blank["count"] for blank in self.blanks.values())

    @property
    def cut_sheets(self) -> set[int]:
        """Numbers of the sheets that are cut, from 0."""
        done: dict[int, bool] = {}
        for row in self.done.all():
            done[row.sheet] = row.what == SheetDone.What.CUT
        return {sheet for sheet, cut in done.items() if cut}


class SheetDone(models.Model):
    """A sheet of a plan was cut, or that was taken back. Only added to; ``leftovers`` are the codes put back."""

    class What(models.TextChoices):
        CUT = "cut", "cut"
        UNDONE = "undone", "taken back"

    plan = models.ForeignKey(CuttingPlan, models.PROTECT, related_name="done")
    sheet = models.PositiveIntegerField()
    what = models.CharField(max_length=8, choices=What.choices)
    leftovers = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

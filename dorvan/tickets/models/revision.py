"""What was released, and the stops that a lead let pass."""

from dataclasses import dataclass
from functools import cached_property

from django.conf import settings
from django.db import models

from bendcore.order.plan import Plan
from bendcore.quality.checklist import to_check

from ..results import derived


@dataclass(frozen=True)
class Tally:
    """Pieces that are to be checked: ``good`` by measure or decision, ``out`` with nothing decided yet, ``open`` not
    measured."""

    good: int
    out: int
    open: int

    @property
    def is_done(self) -> bool:
        """Whether each is measured and good, or decided."""
        return not self.out and not self.open


class Revision(models.Model):
    """What was released: part, brake and order as they stood. Never changed; how its pieces were ``checked`` is kept
    beside it."""

    ticket = models.ForeignKey("tickets.Ticket", models.PROTECT, related_name="revisions")
    letter = models.CharField(max_length=3)
    part = models.JSONField(help_text="Complete: the shop's tools and metal values in it.")
    overrides = models.JSONField(default=list, help_text="Stops a lead overrode, with the reason")
    brake_file = models.TextField()
    also_file = models.TextField(blank=True, default="", help_text="Of the brake it goes on to, if it does.")
    order = models.JSONField()
    choices = models.JSONField(default=dict, help_text="Tools and order asked for: punch, die, bend_order")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    elsewhere = models.BooleanField(default=False, help_text="In another shop: nothing is bent by it here.")
    checked = models.JSONField(null=True, help_text="How many pieces are good, out and open, as the floor keeps it.")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["ticket", "letter"], name="one_revision_a_letter")]

    @classmethod
    def frozen(cls, ticket, plan: Plan, by) -> "Revision":
        """The ticket as it stands and the order found for it, to be saved as its next revision."""
        passed = [{"where": o.where, "message": o.message, "reason": o.reason, "by": str(o.by), "at": o.at.isoformat()}
                  for o in ticket.overrides.select_related("by")]
        files = [brake.file if brake else "" for brake in (ticket.brake, ticket.also)]
        return cls(ticket=ticket, letter=letter(ticket.revisions.count()), part=ticket.joined, brake_file=files[0],
                   also_file=files[1], order=plan.written(ticket.part["units"]), choices=asked_of(ticket),
                   by=by, overrides=passed)

    @property
    def figures(self) -> derived.Figures:
        return derived.figures(self.part)

    @cached_property
    def plan(self) -> Plan:
        """The order that was released."""
        return Plan.read(self.order).with_faces(lambda: self.figures.part.strip)

    def count_checked(self) -> None:
        """Keep how its pieces stand after they were checked: of each the newest sheet, and what was decided on it."""
        sheets = {sheet.piece: sheet for sheet in self.sheets.prefetch_related("decisions")}
        if not sheets:
            return
        scrapped = set(self.log.filter(what="scrapped").values_list("piece", flat=True))
        count = self.ticket.quantity + len(scrapped)
        pieces = to_check([n for n in range(1, count + 1) if n not in scrapped])
        stands = [sheet.good or bool(sheet.decisions.all()) for piece, sheet in sheets.items() if piece not in scrapped]
        self.checked = {"good": sum(stands), "out": len(stands) - sum(stands),
                        "open": sum(piece not in sheets for piece in pieces)}
        self.save(update_fields=["checked"])

    @property
    def tally(self) -> Tally | None:
        """How its pieces were checked; None while none is."""
        return Tally(**self.checked) if self.checked else None

    @property
    def is_bent(self) -> bool:
        """Whether it is bent in steps, not made by its card."""
        return bool(self.plan.steps)

    @property
    def brake_files(self) -> tuple[str, ...]:
        """Of the brakes it is bent on."""
        return tuple(filter(None, (self.brake_file, self.also_file)))

    @property
    def is_current(self) -> bool:
        """Whether part, allowance, brake, tools and order of the ticket are what was released."""
        ticket = self.ticket
        return (_as_drawn(self.part) == _as_drawn(ticket.joined)
                and {"important": []} | self.choices == asked_of(ticket)
                and self.brake_files == ticket.brake_files)


def _as_drawn(part: dict) -> dict:
    """The part without what its sheet is coated with: another coat is no other part."""
    return part | {"stock": {key: value for key, value in part["stock"].items() if key != "finish"}}


RELEASED = ("punch", "die", "bend_order", "important")


def asked_of(ticket) -> dict:
    """The choices that a released order was found for."""
    return {name: getattr(ticket, name) for name in RELEASED}


def letter(n: int) -> str:
    """a, b, … z, aa, ab, …"""
    text = chr(97 + n % 26)
    return text if n < 26 else letter(n // 26 - 1) + text


class Override(models.Model):
    """A lead let a stop pass, and said why. It holds while the stop says the same."""

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="overrides")
    code = models.CharField(max_length=40)
    where = models.CharField(max_length=200)
    message = models.TextField()
    reason = models.CharField(max_length=300)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

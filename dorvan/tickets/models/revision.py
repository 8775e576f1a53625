"""What was released, and the stops that a lead let pass."""

from functools import cached_property

from django.conf import settings
from django.db import models

from bendcore.order.plan import Plan

from ..results import derived


class Revision(models.Model):
    """What was released: part, brake and order as they stood. Never changed."""

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
        return (self.part == ticket.joined and {"important": []} | self.choices == asked_of(ticket)
                and self.brake_files == ticket.brake_files)


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

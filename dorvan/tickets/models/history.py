"""Every change of a ticket, one after another: undo is a place among them."""

from django.conf import settings
from django.db import models, transaction

CHOICES = ("quantity", "brake_id", "punch", "die", "lot_id", "nose_id", "shim_id", "slip_id", "follows_shop",
           "bend_order", "important", "also_id", "role")
"""What is chosen on a ticket beside its part; undone together with it."""

STATE = ("part", "place", *CHOICES)
"""What an edit changes of a ticket."""


def write(*edits: "Edit") -> None:
    """Write edits as :meth:`Ticket.drafted` made them, all or none."""
    with transaction.atomic():
        for edit in edits:
            edit.ticket.keep(*STATE)
            edit.ticket.edits.filter(place__gte=edit.place).delete()
            if edit.begun:
                Edit.objects.get_or_create(ticket=edit.ticket, place=0, defaults={
                    name: getattr(edit.begun, name) for name in ("part", "choices", "note", "by", "stamp")})
            edit.save()


def undo_redo(ticket) -> tuple[str, bool]:
    """What undo takes back, in words, and whether there is anything to be done again: in one look."""
    if ticket.last_edit:
        return ticket.last_edit.note, False
    notes = dict(ticket.edits.filter(place__in=(ticket.place, ticket.place + 1)).values_list("place", "note"))
    return notes.get(ticket.place, "") if ticket.can_undo else "", ticket.place + 1 in notes


def still_there(name: str, pk) -> bool:
    """Whether what a choice points to still exists."""
    model = Edit._meta.get_field("ticket").related_model._meta.get_field(name.removesuffix("_id")).related_model
    return model.objects.filter(pk=pk).exists()


class Edit(models.Model):
    """One change of the part file or of the choices, kept for undo and for the record."""

    ticket = models.ForeignKey("tickets.Ticket", models.CASCADE, related_name="edits")
    place = models.PositiveIntegerField()
    part = models.JSONField()
    choices = models.JSONField(default=dict)
    stamp = models.CharField(max_length=16, blank=True, db_index=True)
    note = models.CharField(max_length=120)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    begun: "Edit | None" = None
    """How the ticket stood before its first edit, to be written with that."""

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["ticket", "place"], name="one_edit_a_place")]

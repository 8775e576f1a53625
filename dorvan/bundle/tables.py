"""What a bundle holds: every table of the shop that is its record, in an order in which each row stands after those it
points to; and what of it can be handed to a shop that has a record of its own."""

from functools import cache
from graphlib import TopologicalSorter

from django.apps import apps
from django.db import models

LEFT_OUT = {
    "longwork.Asked": "work under way", "keeping.Taken": "what devices sent is in the tables it went to",
    "people.Device": "a tablet is trusted by one shop", "people.User_groups": "not used",
    "people.User_user_permissions": "not used", "bundle.Origin": "stands with each row",
    "tickets.KeptOrder": "found again: a proof is not taken from elsewhere", "tickets.Reading": "drawings half read in"}
"""Tables of ours that no bundle holds, and why."""
HIDDEN = {"people.User": {"password", "last_login", "is_superuser", "is_staff", "first_name", "last_name", "email",
                          "phrase_ends", "pin", "pin_wrong", "date_joined"},
          "shop.Shop": {"uid"}, "tickets.Ticket": {"card", "card_key"}}
"""Columns that stay at home: ways in, which shop this is, and a picture that is drawn anew."""
PEOPLE, SHOP = "people.User", "shop.Shop"
OWNED = {
    "brakes.KnownPart": "brake", "tickets.BoughtIn": "lead", "tickets.BlankCut": "ticket", "tickets.Hold": "ticket",
    "tickets.MockUp": "ticket", "tickets.Edit": "ticket", "tickets.Photograph": "ticket",
    "tickets.Revision": "ticket", "floor.Run": "revision", "floor.StepRecord": "run",
    "floor.LogEntry": "revision", "floor.CheckSheet": "revision", "floor.CheckPhoto": "sheet",
    "floor.Decision": "sheet", "joining.Join": "ticket", "outside.Sent": "ticket", "outside.Returned": "sent"}
"""Tables whose rows belong to a document that can be handed on, by the column that says to which. What a lead let pass
is not among them: another shop's lead lets it pass or does not."""
DOCUMENTS = ("brakes.Tooling", "brakes.Brake", "suppliers.Supplier", "tickets.Ticket")
"""What can be handed on."""
EMPTY = ("tickets.Ticket", "brakes.Brake", "brakes.Tooling", "stockroom.Lot", "ledger.Pair", "site.Visit",
         "cutting.CuttingPlan", "suppliers.Supplier", "day.Plan")
"""A shop without a row in any of these is empty: a whole shop moves in."""


@cache
def tables() -> dict[str, type[models.Model]]:
    """Every table of a bundle by its label, each after those that it points to."""
    found = {model._meta.label: model for model in apps.get_models(include_auto_created=True)
             if model.__module__.startswith("dorvan.") and model._meta.label not in LEFT_OUT}
    sorter = TopologicalSorter({label: {field.related_model._meta.label for field in pointers(model)} - {label}
                                for label, model in sorted(found.items())})
    return {label: found[label] for label in sorter.static_order() if label in found}


def columns(model: type[models.Model]) -> list[models.Field]:
    """The columns of a table that a bundle holds, its key first."""
    return [field for field in model._meta.concrete_fields if field.name not in HIDDEN.get(model._meta.label, ())]


def pointers(model: type[models.Model]) -> list[models.ForeignKey]:
    """Those that point to rows of other tables."""
    return [field for field in columns(model) if field.is_relation]

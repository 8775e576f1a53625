"""What stands beside a ticket, seen in the look that fetches it: where there is nothing, nothing is asked later."""

from functools import cache

from django.db.models import Exists, F, Model, OuterRef, prefetch_related_objects

BESIDE = ("revisions", "pieces", "overrides", "blanks_cut")
"""What a page of the bench asks for of every ticket, and few have."""
_FETCHED = "_prefetched_objects_cache"  # where Django keeps them


@cache
def _look(model: type[Model]):
    """(the query, an empty answer by relation), made once: putting it together takes longer than asking it."""
    related = {name: model._meta.get_field(name) for name in BESIDE}
    there = {f"has_{name}": Exists(one.related_model.objects.filter(**{one.field.name: OuterRef("pk")}).order_by())
             for name, one in related.items()}
    nothing = {name: one.related_model.objects.none() for name, one in related.items()}
    for answer in nothing.values():
        len(answer)  # evaluated: even nothing is put into SQL first
    return model.objects.annotate(**there, photographed=F("photograph__at")), nothing


def with_beside(model: type[Model], number: int):
    """The ticket (``model``) of this number, with ``photographed``, when the sample was, or None. Relations without a
    row stand as fetched, so that asking for them costs nothing until one is made by them. Raises DoesNotExist."""
    query, nothing = _look(model)
    ticket = query.get(number=number)
    setattr(ticket, _FETCHED, {name: nothing[name] for name in BESIDE if not getattr(ticket, f"has_{name}")})
    return ticket


def fetch(ticket, *names: str) -> None:
    """Fetch these relations if they are not, since they are asked for all over a page."""
    if missing := [name for name in names if name not in getattr(ticket, _FETCHED, ())]:
        prefetch_related_objects([ticket], *missing)

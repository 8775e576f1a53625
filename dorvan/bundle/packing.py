"""Writing a bundle: ``docs/bundle.md`` says what stands in it."""

import hashlib
import json
import zipfile
from collections.abc import Iterable, Iterator
from typing import BinaryIO

from django.core.serializers.json import DjangoJSONEncoder
from django.db import models
from django.utils import timezone

from bendcore.errors import Refusal
from bendcore.formats.export import export
from dorvan.shop.models import Shop
from dorvan.stockroom.models import MaterialValue
from dorvan.tickets.models import Ticket

from .models import Origin
from .tables import DOCUMENTS, OWNED, PEOPLE, columns, pointers, tables

FORMAT, VERSION = "dorvan-bundle", 1
ABOUT = "A bundle of a Dorvan shop. tables/ is what is read in again; the rest is the same for other programs.\n"


def pack_shop(out: BinaryIO, by) -> None:
    """The whole shop."""
    rows = {label: model._default_manager.order_by("pk") for label, model in tables().items()}
    _write(out, "shop", by, rows, Ticket.objects.filter(archived=False))


def pack_ticket(out: BinaryIO, by, ticket: Ticket) -> None:
    """A ticket, its followers where it leads a kit, all that was recorded of them, and the brakes and tools they are
    for."""
    some = Ticket.objects.filter(models.Q(pk=ticket.pk) | models.Q(lead=ticket.pk))
    found: dict[str, models.QuerySet] = {"tickets.Ticket": some}
    for field in pointers(Ticket):
        label = field.related_model._meta.label
        if label in DOCUMENTS and label != "tickets.Ticket":
            keys = list(some.exclude(**{field.name: None}).values_list(field.attname, flat=True))
            rows = field.related_model._default_manager.filter(pk__in=keys)
            found[label] = found[label] | rows if label in found else rows
    for label, model in tables().items():
        if owner := OWNED.get(label):
            above = model._meta.get_field(owner).related_model._meta.label
            if above in found:
                found[label] = model._default_manager.filter(**{f"{owner}__in": found[above].values("pk")})
    people = set()
    for rows in found.values():
        for field in pointers(rows.model):
            if field.related_model._meta.label == PEOPLE:
                people |= set(rows.order_by().values_list(field.attname, flat=True))
    found[PEOPLE] = tables()[PEOPLE].objects.filter(pk__in=people - {None})
    _write(out, "ticket", by, {label: found[label].order_by("pk") for label in tables() if label in found}, some)


def _write(out: BinaryIO, of: str, by, rows: dict[str, models.QuerySet], some: Iterable[Ticket]) -> None:
    shop = Shop.row()
    origins = {(one.table, one.ours): one for one in Origin.objects.all()}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        pictures: dict[str, tuple[str, int, str]] = {}
        keys = {label: set(found.values_list("pk", flat=True)) for label, found in rows.items()}
        counts = {}
        for label, found in rows.items():
            with box.open(f"tables/{label}.jsonl", "w") as file:
                counts[label] = 0
                for row in found.iterator(chunk_size=500):
                    data = _row(row, keys)
                    if label == "tickets.Ticket" and (metal := MaterialValue.of(row.part["stock"]["material"])):
                        data["metal"] = metal  # what this shop says of it: another may not know it
                    if origin := origins.get((label, row.pk)):
                        data["origin"] = [str(origin.shop), origin.theirs]
                    for name in [name for name, value in data.items() if isinstance(value, memoryview | bytes)]:
                        blob = bytes(data[name])
                        data[name] = hashlib.sha256(blob).hexdigest() if blob else ""
                        if blob:
                            pictures[data[name]] = label, row.pk, name
                    file.write(json.dumps(data, cls=_Exact, ensure_ascii=False).encode() + b"\n")
                    counts[label] += 1
        for digest, (label, pk, name) in sorted(pictures.items()):
            blob = tables()[label]._default_manager.values_list(name, flat=True).get(pk=pk)
            box.writestr(f"pictures/{digest}.jpg", bytes(blob))
        for name, text in _open_formats(some, rows):
            box.writestr(name, text)
        box.writestr("README.txt", ABOUT)
        box.writestr("bundle.json", json.dumps({
            "format": FORMAT, "version": VERSION, "of": of, "shop": {"uid": str(shop.uid), "name": shop.name},
            "made": timezone.now().isoformat(), "by": by.username, "rows": counts}, indent=1))


class _Exact(DjangoJSONEncoder):
    """Times to the microsecond: Django's own cuts them to the millisecond."""

    def default(self, value):
        return value.isoformat() if hasattr(value, "isoformat") else super().default(value)


def _row(row: models.Model, keys: dict[str, set]) -> dict:
    """A row by its columns; a pointer out of the bundle is none."""
    found = {}
    for field in columns(type(row)):
        value = getattr(row, field.attname)
        if field.is_relation and value not in keys.get(field.related_model._meta.label, ()):
            value = None
        found[field.attname] = value
    return found


def _open_formats(some: Iterable[Ticket], rows) -> Iterator[tuple[str, str]]:
    """The same for other programs: part files, blanks, bends; brakes and suppliers."""
    for ticket in some:
        yield f"tickets/{ticket.tag}/part.json", json.dumps(ticket.joined, indent=1) + "\n"
        for ending in ("dxf", "csv"):
            try:
                yield f"tickets/{ticket.tag}/{'blank.dxf' if ending == 'dxf' else 'bends.csv'}", export(
                    ticket.figures.part, ending)
            except Refusal:  # a part without that: its part file says all there is
                continue
    for label, folder in (("brakes.Brake", "brakes"), ("suppliers.Supplier", "suppliers")):
        for one in rows.get(label, ()):
            yield f"{folder}/{one.pk}.json", one.file

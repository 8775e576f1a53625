"""How the pieces of each revision were checked, counted once from what is on record."""

from django.db import migrations

EVERY = 10


def count(apps, schema_editor):
    revisions, entries = apps.get_model("tickets", "Revision"), apps.get_model("floor", "LogEntry")
    for revision in revisions.objects.filter(sheets__isnull=False).distinct().select_related("ticket"):
        sheets = {sheet.piece: sheet for sheet in revision.sheets.order_by("id").prefetch_related("decisions")}
        scrapped = set(entries.objects.filter(revision=revision, what="scrapped").values_list("piece", flat=True))
        pieces = [n for n in range(1, revision.ticket.quantity + len(scrapped) + 1) if n not in scrapped]
        asked = {*pieces[:1], *pieces[EVERY - 1::EVERY], *pieces[-1:]}
        stands = [all(row["verdict"] == "good" for row in sheet.rows) or bool(sheet.decisions.all())
                  for piece, sheet in sheets.items() if piece not in scrapped]
        revision.checked = {"good": sum(stands), "out": len(stands) - sum(stands), "open": len(asked - set(sheets))}
        revision.save(update_fields=["checked"])


class Migration(migrations.Migration):

    dependencies = [("floor", "0006_sure"), ("tickets", "0011_checked")]
    operations = [migrations.RunPython(count, migrations.RunPython.noop, elidable=True)]

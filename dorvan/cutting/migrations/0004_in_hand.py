from django.db import migrations, models


def those_cut_are_done(apps, schema_editor):
    """Plans of which every sheet is cut are not in hand any more."""
    CuttingPlan = apps.get_model("cutting", "CuttingPlan")
    for plan in CuttingPlan.objects.filter(laid__isnull=False).prefetch_related("done").iterator(chunk_size=100):
        cut = {row.sheet: row.what == "cut" for row in plan.done.order_by("id")}
        if len(plan.laid["sheets"]) == sum(cut.values()):
            CuttingPlan.objects.filter(pk=plan.pk).update(is_done=True)


class Migration(migrations.Migration):

    dependencies = [
        ("cutting", "0001_as_of_2026_12"),
    ]

    operations = [
        migrations.AddField(
            model_name="cuttingplan",
            name="is_done",
            field=models.BooleanField(default=False, help_text="Every sheet of it is cut, or it was put away."),
        ),
        migrations.RunPython(those_cut_are_done, migrations.RunPython.noop),
    ]

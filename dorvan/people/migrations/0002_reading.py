"""How a person reads inches; whoever reads them already, reads thirty-seconds as before."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("people", "0001_initial")]
    operations = [
        migrations.RenameField("user", "units", "unit"),
        migrations.AddField("user", "tape", models.PositiveSmallIntegerField(
            choices=[(0, "decimals"), (16, "sixteenths"), (32, "thirty-seconds"), (64, "sixty-fourths")],
            default=32, help_text="How inches are read.")),
    ]

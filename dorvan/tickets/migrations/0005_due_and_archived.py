"""When a ticket is wanted, and tickets that are done with."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tickets", "0004_nothing_lost")]
    operations = [
        migrations.AddField("ticket", "due", models.DateField(null=True, blank=True)),
        migrations.AddField("ticket", "archived", models.BooleanField(
            default=False, help_text="Off the rack, its record kept.")),
    ]

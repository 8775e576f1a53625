from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("people", "0002_reading")]

    operations = [migrations.AddField("user", "included", models.BooleanField(
        default=False, help_text="Reads the angle included between the legs."))]

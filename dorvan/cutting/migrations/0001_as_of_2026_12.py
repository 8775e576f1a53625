import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('cutting', '0001_initial'), ('cutting', '0002_wish'), ('cutting', '0003_versions')]

    initial = True

    dependencies = [
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='CuttingPlan',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField(unique=True)),
                ('material', models.CharField(max_length=60)),
                ('thickness', models.FloatField()),
                ('way', models.CharField(choices=[('shear', 'shear: cuts right through'), ('saw', 'snips or saw: anywhere'), ('cutter', 'cutter: true shapes')], default='shear', max_length=10)),
                ('kerf', models.FloatField(default=0.0)),
                ('margin', models.FloatField(default=0.0)),
                ('blanks', models.JSONField(default=dict)),
                ('sheets', models.JSONField(default=list)),
                ('laid', models.JSONField(null=True)),
                ('by_hand', models.BooleanField(default=False)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('wish', models.CharField(choices=[('sheets', 'whole sheets: a leftover is opened where it saves one'), ('leftovers', 'leftovers: they stay on their rack'), ('cuts', 'cuts: as little stock opened as can be, then fewest cuts')], default='sheets', help_text='What is saved.', max_length=10)),
                ('version', models.PositiveIntegerField(default=0)),
            ],
            options={
                'ordering': ['-number'],
            },
        ),
        migrations.CreateModel(
            name='SheetDone',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('sheet', models.PositiveIntegerField()),
                ('what', models.CharField(choices=[('cut', 'cut'), ('undone', 'taken back')], max_length=8)),
                ('leftovers', models.JSONField(default=list)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('plan', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='done', to='cutting.cuttingplan')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
    ]

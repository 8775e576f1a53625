import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('brakes', '0001_initial'), ('brakes', '0002_stock_and_ledger'), ('brakes', '0003_at_the_brake'), ('brakes', '0004_versions'), ('brakes', '0005_known_parts')]

    initial = True

    dependencies = [
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='Tooling',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60, unique=True)),
                ('kind', models.CharField(choices=[('nose', 'nose'), ('bottom', 'bottoming punch'), ('bar', 'bar'), ('shim', 'radius shim'), ('slip', 'slip sheet')], max_length=8)),
                ('size', models.FloatField()),
                ('rated', models.FloatField(blank=True, help_text='Mild steel on the plate at full length, mm', null=True)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['kind', 'size', 'name'],
            },
        ),
        migrations.CreateModel(
            name='Brake',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80, unique=True)),
                ('file', models.TextField(help_text='A dorvan-brake file, as text.')),
                ('hands', models.ManyToManyField(blank=True, help_text='Who may use it; everybody where nobody is named.', related_name='brakes', to=settings.AUTH_USER_MODEL)),
                ('version', models.PositiveIntegerField(default=0)),
            ],
            options={
                'ordering': ['name'],
            },
        ),
        migrations.CreateModel(
            name='KnownPart',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('part', models.JSONField(help_text='Complete, as it would be on this brake.')),
                ('fitted', models.BooleanField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('brake', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='known', to='brakes.brake')),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
    ]

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('stockroom', '0001_stock_and_ledger'), ('stockroom', '0002_stock_moves')]

    initial = True

    dependencies = [
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='Lot',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('code', models.CharField(max_length=20, unique=True)),
                ('material', models.CharField(max_length=60)),
                ('thickness', models.FloatField()),
                ('readings', models.JSONField(blank=True, default=list, help_text='Caliper readings, mm')),
                ('supplier', models.CharField(blank=True, max_length=80)),
                ('length', models.FloatField()),
                ('width', models.FloatField()),
                ('count', models.PositiveIntegerField(default=1)),
                ('grain', models.CharField(choices=[('length', 'along the length'), ('width', 'along the width'), ('unknown', 'not known')], default='length', max_length=10)),
                ('surface', models.CharField(choices=[('bare', 'bare'), ('film', 'film on one side'), ('galvanised', 'galvanised'), ('painted', 'painted')], default='bare', max_length=12)),
                ('note', models.CharField(blank=True, max_length=200)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('cut_from', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='leftovers', to='stockroom.lot')),
            ],
            options={
                'ordering': ['-id'],
            },
        ),
        migrations.CreateModel(
            name='StockMove',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('change', models.IntegerField()),
                ('why', models.CharField(max_length=120)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('lot', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='moves', to='stockroom.lot')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='MaterialValue',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('material', models.CharField(max_length=60)),
                ('key', models.CharField(max_length=40)),
                ('value', models.JSONField()),
                ('status', models.CharField(choices=[('start', 'start'), ('measured', 'measured')], max_length=10)),
                ('source', models.CharField(max_length=200)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['id'],
                'indexes': [models.Index(fields=['material', 'key'], name='stockroom_m_materia_d2d3d3_idx')],
            },
        ),
    ]

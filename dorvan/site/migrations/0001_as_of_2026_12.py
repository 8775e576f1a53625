import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('site', '0001_initial'), ('site', '0002_versions')]

    initial = True

    dependencies = [
        ('tickets', '0010_supplier'),
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='Visit',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField(unique=True)),
                ('name', models.CharField(max_length=120)),
                ('place', models.CharField(blank=True, max_length=200)),
                ('on', models.DateField()),
                ('note', models.TextField(blank=True)),
                ('sketch', models.JSONField(blank=True, default=list)),
                ('version', models.PositiveIntegerField(default=0, help_text='Counts changes of its rules and names.')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-number'],
            },
        ),
        migrations.CreateModel(
            name='Thing',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=40)),
                ('kind', models.CharField(choices=[('opening', 'opening'), ('width', 'width'), ('height', 'height'), ('under', 'height under something'), ('length', 'length'), ('centres', 'distance between centres'), ('radius', 'radius'), ('diameter', 'diameter'), ('diagonals', 'both diagonals'), ('sides', 'perimeter, by its sides'), ('places', 'one size at several places'), ('angle', 'angle'), ('given', 'given: a clearance, a travel')], max_length=12)),
                ('to', models.CharField(blank=True, max_length=12)),
                ('allowed', models.FloatField(blank=True, null=True)),
                ('awaits', models.CharField(blank=True, max_length=120)),
                ('until', models.DateField(blank=True, null=True)),
                ('visit', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='things', to='site.visit')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='SizeRule',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=40)),
                ('text', models.CharField(max_length=200)),
                ('units', models.CharField(default='mm', max_length=2)),
                ('visit', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rules', to='site.visit')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Picture',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('jpeg', models.BinaryField()),
                ('caption', models.CharField(blank=True, max_length=120)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('visit', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pictures', to='site.visit')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Reading',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('values', models.JSONField()),
                ('typed', models.CharField(max_length=400)),
                ('who', models.CharField(max_length=60)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('key', models.UUIDField(help_text='Given by the page: sent twice, it is one reading and not two.', null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('struck_by', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('thing', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='readings', to='site.thing')),
            ],
            options={
                'ordering': ['id'],
                'constraints': [models.UniqueConstraint(fields=('thing', 'key'), name='one_reading_a_key')],
            },
        ),
        migrations.CreateModel(
            name='Use',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('field', models.CharField(max_length=80)),
                ('given', models.FloatField(blank=True, null=True)),
                ('rule', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='uses', to='site.sizerule')),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='site_uses', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
                'constraints': [models.UniqueConstraint(fields=('ticket', 'field'), name='one_rule_a_field')],
            },
        ),
        migrations.AddConstraint(
            model_name='thing',
            constraint=models.UniqueConstraint(fields=('visit', 'name'), name='one_thing_a_name'),
        ),
        migrations.AddConstraint(
            model_name='sizerule',
            constraint=models.UniqueConstraint(fields=('visit', 'name'), name='one_rule_a_name'),
        ),
        migrations.AlterField(
            model_name='visit',
            name='version',
            field=models.PositiveIntegerField(default=0),
        ),
    ]

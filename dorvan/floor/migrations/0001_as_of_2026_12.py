import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('floor', '0001_initial'), ('floor', '0002_initial'), ('floor', '0003_stock_and_ledger'), ('floor', '0004_at_the_brake'), ('floor', '0005_after_a_check'), ('floor', '0006_sure'), ('floor', '0007_checked')]

    initial = True

    dependencies = [
        ('brakes', '0003_at_the_brake'),
        ('tickets', '0001_initial'),
        ('tickets', '0006_orders_kept'),
        ('tickets', '0011_checked'),
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='CheckSheet',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('piece', models.PositiveIntegerField()),
                ('rows', models.JSONField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='sheets', to='tickets.revision')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Run',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('piece', models.PositiveIntegerField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='runs', to='tickets.revision')),
            ],
            options={
                'ordering': ['piece'],
            },
        ),
        migrations.CreateModel(
            name='StepRecord',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('step', models.PositiveIntegerField()),
                ('angle', models.FloatField(blank=True, null=True)),
                ('leg', models.FloatField(blank=True, help_text='Measured, mm', null=True)),
                ('leg_wanted', models.FloatField(blank=True, help_text='mm', null=True)),
                ('leg_side', models.CharField(choices=[('stop side', 'between bend and stop'), ('far side', 'on the far side')], default='stop side', max_length=10)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('run', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='records', to='floor.run')),
            ],
            options={
                'ordering': ['run__piece', 'step', 'id'],
            },
        ),
        migrations.AddConstraint(
            model_name='run',
            constraint=models.UniqueConstraint(fields=('revision', 'piece'), name='one_run_a_piece'),
        ),
        migrations.AddField(
            model_name='checksheet',
            name='blank',
            field=models.JSONField(blank=True, default=dict, help_text='By row of bends its length before bending, mm'),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='back',
            field=models.FloatField(blank=True, help_text='Stop or line set further from the bend, mm', null=True),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='further',
            field=models.FloatField(blank=True, help_text='Set further than planned, degrees', null=True),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='jogged',
            field=models.BooleanField(default=False, help_text='Struck in taps, not in one stroke.'),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='key',
            field=models.UUIDField(help_text='Given by the card: sent twice, it is kept once.', null=True, unique=True),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='leg_name',
            field=models.CharField(blank=True, max_length=80),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='what',
            field=models.CharField(choices=[('bent', 'bent'), ('undone', 'not bent after all')], default='bent', max_length=10),
        ),
        migrations.CreateModel(
            name='Decision',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(choices=[('use', 'use it as it is'), ('save', 'save it'), ('scrap', 'scrap it')], max_length=10)),
                ('words', models.CharField(max_length=300)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('sheet', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='decisions', to='floor.checksheet')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='ShiftCheck',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('looked_to', models.JSONField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('brake', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='shift_checks', to='brakes.brake')),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.RemoveField(
            model_name='steprecord',
            name='leg_side',
        ),
        migrations.CreateModel(
            name='LogEntry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('piece', models.PositiveIntegerField(blank=True, null=True)),
                ('step', models.PositiveIntegerField(blank=True, null=True)),
                ('what', models.CharField(choices=[('scrapped', 'scrapped'), ('paused', 'paused'), ('resumed', 'went on'), ('handed over', 'handed over'), ('guard muted', 'guard muted'), ('guard restored', 'guard restored'), ('closed', 'closed'), ('next time', 'for next time')], max_length=20)),
                ('words', models.CharField(blank=True, max_length=300)),
                ('key', models.UUIDField(null=True, unique=True)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('revision', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='log', to='tickets.revision')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='CheckPhoto',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('jpeg', models.BinaryField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('sheet', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='photographs', to='floor.checksheet')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.AddField(
            model_name='checksheet',
            name='sure',
            field=models.JSONField(blank=True, default=list, help_text='Dimensions asked about, measured again and found so.'),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='sure',
            field=models.BooleanField(default=False, help_text='Asked about, measured again, and found so.'),
        ),
        migrations.AddField(
            model_name='steprecord',
            name='depth',
            field=models.FloatField(blank=True, help_text='Set on the machine, mm', null=True),
        ),
    ]

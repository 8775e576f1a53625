import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('tickets', '0001_initial'), ('tickets', '0002_stock_and_ledger'), ('tickets', '0003_kits'), ('tickets', '0004_nothing_lost'), ('tickets', '0005_due_and_archived'), ('tickets', '0006_orders_kept'), ('tickets', '0007_structural'), ('tickets', '0008_sizes'), ('tickets', '0009_gate'), ('tickets', '0010_supplier'), ('tickets', '0011_checked'), ('tickets', '0012_blanks_cut'), ('tickets', '0013_long_work'), ('tickets', '0014_elsewhere')]

    initial = True

    dependencies = [
        ('brakes', '0001_initial'),
        ('brakes', '0002_stock_and_ledger'),
        ('stockroom', '0001_stock_and_ledger'),
        ('suppliers', '0001_initial'),
        ("people", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name='Ticket',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField(unique=True)),
                ('part', models.JSONField()),
                ('quantity', models.PositiveIntegerField(default=1)),
                ('punch', models.CharField(blank=True, max_length=80)),
                ('die', models.CharField(blank=True, max_length=80)),
                ('bend_order', models.JSONField(blank=True, default=list)),
                ('place', models.PositiveIntegerField(default=0)),
                ('order_key', models.CharField(blank=True, help_text='What order_found was found for.', max_length=64)),
                ('order_found', models.BooleanField(default=False)),
                ('seen_layout', models.BooleanField(default=False)),
                ('changed_at', models.DateTimeField(auto_now=True)),
                ('brake', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.PROTECT, to='brakes.brake')),
                ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('follows_shop', models.BooleanField(default=False, help_text="Allowance by the ledger, or the shop's default.")),
                ('lot', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='tickets', to='stockroom.lot')),
                ('nose', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='brakes.tooling')),
                ('shim', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='brakes.tooling')),
                ('slip', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='brakes.tooling')),
                ('clearance', models.FloatField(blank=True, help_text='To its mate at either side, mm.', null=True)),
                ('lead', models.ForeignKey(blank=True, help_text='The ticket whose kit this piece belongs to.', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='pieces', to='tickets.ticket')),
                ('made', models.JSONField(blank=True, default=dict, help_text='Sizes measured on the finished piece.')),
                ('per_assembly', models.PositiveIntegerField(default=1)),
                ('role', models.CharField(blank=True, help_text='Drawn from the lead, as this mate of it.', max_length=20)),
                ('card', models.JSONField(blank=True, default=dict, help_text='What the rack shows of it.')),
                ('card_key', models.CharField(blank=True, help_text='What the card was made for.', max_length=64)),
                ('version', models.PositiveIntegerField(default=0, help_text='Counts what was written.')),
                ('due', models.DateField(blank=True, null=True)),
                ('archived', models.BooleanField(default=False, help_text='Off the rack, its record kept.')),
                ('also', models.ForeignKey(blank=True, help_text='The brake that a part may go on to from the first.', null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='brakes.brake')),
                ('important', models.JSONField(blank=True, default=list, help_text='Legs to be gauged directly.')),
                ('structural', models.BooleanField(default=False, help_text='A structural or safety part.')),
                ('sizes', models.JSONField(blank=True, default=dict, help_text='Of a size of its lead: fields below shape, as typed.')),
                ('job', models.CharField(default='plain', help_text='What the gate before cutting asks for.', max_length=20)),
                ('supplier', models.ForeignKey(blank=True, help_text='Who bends it, if that is not this shop.', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='tickets', to='suppliers.supplier')),
            ],
            options={
                'ordering': ['-number'],
            },
        ),
        migrations.CreateModel(
            name='Override',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('code', models.CharField(max_length=40)),
                ('where', models.CharField(max_length=200)),
                ('message', models.TextField()),
                ('reason', models.CharField(max_length=300)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='overrides', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Photograph',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('jpeg', models.BinaryField()),
                ('at', models.DateTimeField(auto_now=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='photograph', to='tickets.ticket')),
            ],
        ),
        migrations.CreateModel(
            name='Edit',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('place', models.PositiveIntegerField()),
                ('part', models.JSONField()),
                ('note', models.CharField(max_length=120)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='edits', to='tickets.ticket')),
                ('choices', models.JSONField(default=dict)),
                ('stamp', models.CharField(blank=True, db_index=True, max_length=16)),
            ],
            options={
                'ordering': ['place'],
                'constraints': [models.UniqueConstraint(fields=('ticket', 'place'), name='one_edit_a_place')],
            },
        ),
        migrations.CreateModel(
            name='KeptOrder',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=64, unique=True)),
                ('engine', models.PositiveIntegerField(default=1)),
                ('order', models.JSONField()),
                ('at', models.DateTimeField(auto_now_add=True)),
            ],
        ),
        migrations.CreateModel(
            name='BoughtIn',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('kind', models.CharField(choices=[('pieces', 'pieces'), ('length', 'length'), ('lining', 'lining of a thickness')], default='pieces', max_length=10)),
                ('amount', models.FloatField(default=0, help_text='For one assembly: a count, or mm.')),
                ('thickness', models.FloatField(default=0, help_text='Of a lining, mm.')),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('lead', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='bought_in', to='tickets.ticket')),
                ('awaited', models.BooleanField(default=False, help_text='Nothing is cut before it is here.')),
                ('expected', models.DateField(blank=True, null=True)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Asks',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('job', models.CharField(max_length=20)),
                ('points', models.JSONField(default=list)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Hold',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('source', models.CharField(max_length=40)),
                ('what', models.JSONField(help_text='In words, as bendcore.said packs them.')),
                ('until', models.DateField(blank=True, null=True)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='holds', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='MockUp',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=64)),
                ('note', models.CharField(blank=True, max_length=200)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='mock_ups', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Opened',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('point', models.CharField(max_length=20)),
                ('said', models.TextField()),
                ('reason', models.CharField(max_length=300)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='opened', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='BlankCut',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('plan', models.CharField(max_length=12)),
                ('sheet', models.PositiveIntegerField(help_text='From 1.')),
                ('lot', models.CharField(max_length=20)),
                ('count', models.PositiveIntegerField()),
                ('blank', models.CharField(max_length=32)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('fate', models.CharField(blank=True, choices=[('use', 'use them as they are'), ('scrap', 'scrap them, cut anew')], max_length=8)),
                ('decided_for', models.CharField(blank=True, max_length=32)),
                ('decided_at', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('decided_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='blanks_cut', to='tickets.ticket')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Reading',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('data', models.BinaryField()),
                ('unit', models.CharField(max_length=8)),
                ('without', models.JSONField(default=list)),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='tickets.ticket')),
            ],
        ),
        migrations.CreateModel(
            name='Revision',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('letter', models.CharField(max_length=3)),
                ('part', models.JSONField(help_text="Complete: the shop's tools and metal values in it.")),
                ('brake_file', models.TextField()),
                ('order', models.JSONField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('ticket', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='revisions', to='tickets.ticket')),
                ('overrides', models.JSONField(default=list, help_text='Stops a lead overrode, with the reason')),
                ('choices', models.JSONField(default=dict, help_text='Tools and order asked for: punch, die, bend_order')),
                ('also_file', models.TextField(blank=True, default='', help_text='Of the brake it goes on to, if it does.')),
                ('checked', models.JSONField(help_text='How many pieces are good, out and open, as the floor keeps it.', null=True)),
                ('elsewhere', models.BooleanField(default=False, help_text='In another shop: nothing is bent by it here.')),
            ],
            options={
                'ordering': ['id'],
                'constraints': [models.UniqueConstraint(fields=('ticket', 'letter'), name='one_revision_a_letter')],
            },
        ),
    ]

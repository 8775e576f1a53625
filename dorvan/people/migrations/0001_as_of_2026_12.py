import django.contrib.auth.models
import django.contrib.auth.validators
import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    replaces = [('people', '0001_initial'), ('people', '0002_reading'), ('people', '0003_included'), ('people', '0004_deeds'), ('people', '0005_phrases'), ('people', '0006_tablets')]

    initial = True

    dependencies = [
        ('auth', '0012_alter_user_first_name_max_length'),
    ]

    operations = [
        migrations.CreateModel(
            name='User',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('password', models.CharField(max_length=128, verbose_name='password')),
                ('last_login', models.DateTimeField(blank=True, null=True, verbose_name='last login')),
                ('is_superuser', models.BooleanField(default=False, help_text='Designates that this user has all permissions without explicitly assigning them.', verbose_name='superuser status')),
                ('username', models.CharField(error_messages={'unique': 'A user with that username already exists.'}, help_text='Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.', max_length=150, unique=True, validators=[django.contrib.auth.validators.UnicodeUsernameValidator()], verbose_name='username')),
                ('first_name', models.CharField(blank=True, max_length=150, verbose_name='first name')),
                ('last_name', models.CharField(blank=True, max_length=150, verbose_name='last name')),
                ('email', models.EmailField(blank=True, max_length=254, verbose_name='email address')),
                ('is_staff', models.BooleanField(default=False, help_text='Designates whether the user can log into this admin site.', verbose_name='staff status')),
                ('is_active', models.BooleanField(default=True, help_text='Designates whether this user should be treated as active. Unselect this instead of deleting accounts.', verbose_name='active')),
                ('date_joined', models.DateTimeField(default=django.utils.timezone.now, verbose_name='date joined')),
                ('role', models.CharField(choices=[('bench', 'Bench'), ('lead', 'Lead')], default='bench', max_length=10)),
                ('unit', models.CharField(choices=[('mm', 'mm'), ('in', 'inch')], default='mm', help_text='Units figures are shown in.', max_length=2)),
                ('groups', models.ManyToManyField(blank=True, help_text='The groups this user belongs to. A user will get all permissions granted to each of their groups.', related_name='user_set', related_query_name='user', to='auth.group', verbose_name='groups')),
                ('user_permissions', models.ManyToManyField(blank=True, help_text='Specific permissions for this user.', related_name='user_set', related_query_name='user', to='auth.permission', verbose_name='user permissions')),
                ('tape', models.PositiveSmallIntegerField(choices=[(0, 'decimals'), (16, 'sixteenths'), (32, 'thirty-seconds'), (64, 'sixty-fourths')], default=32, help_text='How inches are read.')),
                ('included', models.BooleanField(default=False, help_text='Reads the angle included between the legs.')),
                ('known_as', models.CharField(blank=True, default='', help_text='The name before any other: entries kept on devices go by it.', max_length=150)),
                ('phrase_ends', models.DateTimeField(blank=True, help_text="Until when a phrase for once lets in; none of one's own.", null=True)),
                ('pin', models.CharField(blank=True, default='', help_text='Its hash; empty for none.', max_length=128)),
                ('pin_wrong', models.PositiveSmallIntegerField(default=0, help_text='Wrong ones since the last right one.')),
            ],
            options={
                'verbose_name': 'user',
                'verbose_name_plural': 'users',
                'abstract': False,
            },
            managers=[
                ('objects', django.contrib.auth.models.UserManager()),
            ],
        ),
        migrations.CreateModel(
            name='Deed',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True, db_index=True)),
                ('what', models.CharField(choices=[('job', 'Kind of job'), ('structural', 'Structural part'), ('archive', 'On or off the rack'), ('remove', 'Taken off for good'), ('opened', 'Gate opened'), ('asks', 'What the gate asks for'), ('sample', 'Sample dropped or taken back'), ('absence', 'Absence'), ('hours', 'Working hours'), ('person', 'People'), ('device', 'Shared tablets'), ('shop', 'Settings of the shop')], max_length=20)),
                ('before', models.CharField(blank=True, max_length=300)),
                ('after', models.CharField(blank=True, max_length=300)),
                ('ticket', models.CharField(blank=True, db_index=True, help_text='Its tag; it may be gone by now.', max_length=20)),
                ('reason', models.CharField(blank=True, max_length=300)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-id'],
            },
        ),
        migrations.CreateModel(
            name='Device',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('secret', models.CharField(help_text='Hash of what the device is known by.', max_length=64, unique=True)),
                ('trusted', models.DateTimeField(auto_now_add=True)),
                ('seen', models.DateTimeField(auto_now_add=True)),
                ('withdrawn', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['name'],
            },
        ),
    ]

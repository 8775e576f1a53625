"""``manage.py restore FILE``: a backup put in place of the shop's data, which are kept beside it."""

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

from dorvan.keeping.copies import Unfit, check, put_back
from dorvan.keeping.open import is_open


class Command(BaseCommand):
    help = "Put a backup in place of the shop's database and bring it up to this version. Stop the server first."

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path)

    def handle(self, *args, file: Path, **options):
        if not file.exists():
            raise CommandError(f"{file} is not there.")
        if is_open(settings.DATA_DIR):
            raise CommandError("Dorvan is running on this shop. Stop it, then restore.")
        connection.close()
        try:
            kept = put_back(file, Path(settings.DATABASES["default"]["NAME"]))
            call_command("migrate", verbosity=0)
            self.stdout.write(f"{check(Path(settings.DATABASES['default']['NAME']))} tickets are back."
                              + (f" What was there before is in {kept}." if kept else ""))
        except (OSError, Unfit) as error:
            raise CommandError(f"{file}: {error}") from None

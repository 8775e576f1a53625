"""``manage.py backup FILE``: the whole shop in one file, made while people work."""

import os
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from dorvan.keeping.copies import Unfit, check, copy


class Command(BaseCommand):
    help = "Copy the shop's database, photographs included, while it is in use."

    def add_arguments(self, parser):
        parser.add_argument("file", type=Path, help="the file to be made; an existing one is not overwritten")

    def handle(self, *args, file: Path, **options):
        if file.exists():
            raise CommandError(f"{file} is there already: choose another name.")
        os.umask(0o077)  # the copy holds all that the shop keeps
        try:
            copy(Path(settings.DATABASES["default"]["NAME"]), file)
            self.stdout.write(f"{check(file)} tickets copied to {file}, checked.")
        except (OSError, Unfit) as error:
            raise CommandError(f"{file}: {error}") from None

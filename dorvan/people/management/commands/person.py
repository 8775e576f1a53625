"""``manage.py person NAME``: somebody who may sign in, or a new pass phrase for one who does."""

import getpass
import sys

from axes.utils import reset
from django.core.management.base import BaseCommand, CommandError

from bendcore.errors import Refusal
from dorvan.people.joining import join
from dorvan.people.models import User


class Command(BaseCommand):
    help = "Make a person, or change role and pass phrase of one; the first of a shop should be a lead."

    def add_arguments(self, parser):
        parser.add_argument("name")
        parser.add_argument("--role", choices=User.Role.values, help="bench unless said otherwise")
        parser.add_argument("--units", choices=["mm", "in"], help="mm unless said otherwise")
        parser.add_argument("--stdin", action="store_true", help="read the pass phrase from standard input")

    def handle(self, *args, name, role, units, **options):
        person = User.objects.filter(username=name).first() or User(username=name)
        person.role, person.units = role or person.role, units or person.units
        person.phrase_ends = None
        word = sys.stdin.readline().rstrip("\n") if options["stdin"] else getpass.getpass("Pass phrase: ")
        if not options["stdin"] and word != getpass.getpass("Once more: "):
            raise CommandError("The two are not the same; nothing was changed.")
        try:
            join(person, word)
        except Refusal as refusal:
            raise CommandError(f"{refusal.message}.") from None
        reset(username=name)
        self.stdout.write(f"{name} may sign in as {person.get_role_display().lower()}.")

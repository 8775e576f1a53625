"""Fill an empty shop with the demo scenario: Tarn Lane Sheet Works fits out a honey house.

All names, sizes and readings are invented. A shop that has tickets is left alone.
"""

import json
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from bendcore.formats.part import read_part
from dorvan.brakes.models import Brake
from dorvan.floor.models import CheckSheet, Run, StepRecord
from dorvan.people.models import User
from dorvan.tickets.models import Revision, Ticket

PEOPLE = [("ines", "bench", "honey-bench-1"), ("otto", "lead", "honey-lead-1")]


class Command(BaseCommand):
    help = "Load the demo scenario into an empty shop."

    @transaction.atomic
    def handle(self, *args, **options):
        if Ticket.objects.exists():
            self.stdout.write("The shop has tickets already; nothing was changed.")
            return
        people = {name: self._person(name, role, word) for name, role, word in PEOPLE}
        folder = Path(settings.BASE_DIR) / "demo"
        text = (folder / "press-60t.json").read_text("utf-8")
        brake, _ = Brake.objects.get_or_create(name=json.loads(text)["name"], defaults={"file": text})
        for row in json.loads((folder / "tickets.json").read_text("utf-8")):
            self._ticket(row, brake, people)
        self.stdout.write(f"{Ticket.objects.count()} tickets on the rack.")

    def _person(self, name, role, word):
        person, made = User.objects.get_or_create(username=name, defaults={"role": role})
        if made:
            person.set_password(word)
            person.save()
        return person

    def _ticket(self, row, brake, people):
        read_part(row["part"])
        ticket = Ticket.objects.create(
            number=row["number"], part=row["part"], quantity=row["quantity"],
            brake=brake if row.get("brake", True) else None, punch=row.get("punch", ""), die=row.get("die", ""),
            seen_layout=row.get("seen", False), made_by=people["ines"])
        if "readings" not in row:
            if row.get("seen"):
                _ = ticket.ordered  # looked for once, so that the rack knows
            return
        revision = Revision.objects.create(ticket=ticket, letter="a", part=ticket.part, brake_file=brake.file,
                                           order=ticket.ordered, by=people["otto"])
        for piece, angles in enumerate(row["readings"], 1):
            run = Run.objects.create(revision=revision, piece=piece, by=people["ines"])
            for step, angle in enumerate(angles, 1):
                StepRecord.objects.create(run=run, step=step, angle=angle, by=people["ines"])
        if "errors" in row:
            rows = [{"name": d.name, "title": d.title, "nominal": d.nominal, "tolerance": d.tolerance, "unit": d.unit,
                     "measured": round(d.nominal + error, 2), "verdict": d.verdict(d.nominal + error)}
                    for d, error in zip(revision.figures.dimensions, row["errors"], strict=False)]
            CheckSheet.objects.create(revision=revision, piece=1, rows=rows, by=people["ines"])

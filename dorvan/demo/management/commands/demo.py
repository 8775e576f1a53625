"""Fill an empty shop with the demo scenario: Tarn Lane Sheet Works fits out a honey house.

All names, sizes and readings are invented. A shop that has tickets is left alone.
"""

import json
from datetime import date
from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from bendcore.floor.setup import CHECKS
from bendcore.formats.samples import read_samples
from bendcore.part import read_part
from bendcore.quality.checksheet import CheckRow
from dorvan.brakes.models import Brake, Tooling
from dorvan.floor.models import CheckSheet, Run, ShiftCheck, StepRecord
from dorvan.floor.run import Progress
from dorvan.learning.adoption import adopt_fit
from dorvan.learning.intake import take_in
from dorvan.learning.planning import begin_proof, bend_of
from dorvan.ledger import fits
from dorvan.ledger.models import Chart, Pair, Rules, Sample
from dorvan.longwork.desks import orders
from dorvan.people.models import User
from dorvan.stockroom.models import Lot, MaterialValue, put_in
from dorvan.suppliers.models import Supplier
from dorvan.tickets import kits
from dorvan.tickets.file.changes import from_lot
from dorvan.tickets.models import Revision, Ticket
from dorvan.tickets.models.gate import PLAIN
from dorvan.tickets.pages.cards import keep_card

from ...site import fill_site, in_days

PEOPLE = [("ines", "bench", "honey-bench-1"), ("otto", "lead", "honey-lead-1")]


BRAKES = ("press-60t", "finger-1270", "leaf-2000", "bench-bars", "folding-tongs")
"""The shop's brakes, by file; the first is a ticket's where its row says nothing else."""


class Command(BaseCommand):
    help = "Load the demo scenario into an empty shop."

    def handle(self, *args, **options):
        with orders.patiently(), transaction.atomic():
            self._fill()

    def _fill(self):
        if Ticket.objects.exists():
            self.stdout.write("The shop has tickets already; nothing was changed.")
            return
        people = {name: self._person(name, role, word) for name, role, word in PEOPLE}
        folder = Path(settings.BASE_DIR) / "demo"
        brakes = {name: self._brake(folder / f"{name}.json") for name in BRAKES}
        self._stockroom(json.loads((folder / "stockroom.json").read_text("utf-8")), people["otto"])
        for file in json.loads((folder / "suppliers.json").read_text("utf-8")):
            Supplier.objects.create(name=file["name"], file=json.dumps(file, indent=1), by=people["otto"])
        for row in json.loads((folder / "tickets.json").read_text("utf-8")):
            self._ticket(row, brakes, people)
        self._ledger(folder, people["otto"])
        fill_site(json.loads((folder / "site.json").read_text("utf-8")), people)
        for ticket in Ticket.objects.all():
            keep_card(ticket)
        self.stdout.write(f"{Ticket.objects.count()} tickets on the rack, "
                          f"{Sample.objects.count()} samples in the ledger.")

    def _stockroom(self, shop, by):
        for row in shop["lots"]:
            put_in(Lot(by=by, **row | {"cut_from": Lot.objects.filter(code=row.get("cut_from")).first()}), "came in")
        for row in shop["tooling"]:
            Tooling.objects.create(by=by, **row)
        for row in shop["values"]:
            MaterialValue.objects.create(by=by, **row)
        Chart.objects.create(by=by, **shop["chart"])
        Rules.objects.create(default={"method": "generic"})

    def _ledger(self, folder, by):
        for entry in read_samples((folder / "ledger.csv").read_text("utf-8")):
            take_in(entry, by)
        shop = json.loads((folder / "stockroom.json").read_text("utf-8"))
        for row in shop["adopt"]:
            pair = Pair.objects.get(material=row["material"], tool=row["tool"])
            adopt_fit(pair, fits.known(pair), row["reason"], by)
        self._proof(shop["proof"], by)

    def _proof(self, row, by):
        """A proof bend half done: two strips measured, the shanks of the third being tried."""
        ticket = Ticket.objects.get(number=row["ticket"])
        proof = begin_proof(bend_of(ticket), by, ticket=ticket)
        proof.tries, proof.drafts = row["tries"], row["drafts"]
        proof.save()
        for n, readings in enumerate(row["strips"], 1):
            Sample.objects.create(pair=proof.pair, proof=proof, strip=n, ticket=ticket, lot=proof.lot, who=by.username,
                                  on=date(2026, 6, 18), readings=readings, radius_by=row["radius_by"][n - 1])

    def _person(self, name, role, word):
        person, made = User.objects.get_or_create(username=name, defaults={"role": role})
        if made:
            person.set_password(word)
            person.save()
        return person

    def _piece(self, row, people):
        """A piece drawn from the ticket that leads its kit."""
        lead = Ticket.objects.get(number=row["lead"])
        piece = Ticket(number=row["number"], part=lead.part | {"name": row["name"]}, lead=lead, role=row["role"],
                       per_assembly=row["each"], quantity=lead.quantity * row["each"], made_by=people["ines"],
                       brake=lead.brake, seen_layout=True)
        piece.part = kits.drawn(piece)
        piece.save()

    def _brake(self, file):
        text = file.read_text("utf-8")
        return Brake.objects.get_or_create(name=json.loads(text)["name"], defaults={"file": text})[0]

    def _ticket(self, row, brakes, people):
        if "lead" in row:
            self._piece(row, people)
            return
        lot = Lot.objects.filter(code=row.get("lot")).first()
        part = from_lot(row["part"], lot) if lot and "readings" not in row else row["part"]
        read_part(part)
        ticket = Ticket.objects.create(
            number=row["number"], part=part, quantity=row["quantity"],
            brake=brakes.get(row.get("brake", BRAKES[0])), punch=row.get("punch", ""), die=row.get("die", ""),
            seen_layout=row.get("seen", False), made_by=people["ines"],
            follows_shop=row.get("follows", False), lot=lot, job=row.get("job", PLAIN), due=in_days(row.get("due")),
            supplier=Supplier.objects.filter(name=row.get("supplier")).first())
        for item in row.get("bought", []):
            ticket.bought_in.create(by=people["otto"], **item)
        if "readings" not in row:
            if row.get("seen") and ticket.figures.part.shape.is_strip:
                ticket.note_order(ticket.ordered)  # looked for once, so that the rack knows
            return
        revision = Revision.frozen(ticket, ticket.ordered, people["otto"])
        revision.save()
        if row.get("looked_over"):
            ShiftCheck.objects.create(brake=ticket.brake, looked_to=list(CHECKS[ticket.brake.machine.kind]),
                                      by=people["ines"])
        for piece, angles in enumerate(row["readings"], 1):
            run = Run.objects.create(revision=revision, piece=piece, by=people["ines"])
            for step, angle in enumerate(angles, 1):
                depths = row.get("depths", [])
                depth = depths[piece - 1][step - 1] if depths else None
                now = Progress(revision).now(piece, step)
                StepRecord.objects.create(run=run, step=step, angle=angle, depth=depth, by=people["ines"],
                                          further=now.degrees, back=now.back)
        if "errors" in row:
            found = [(d, [round(d.nominal + off, 2) for off in (error if isinstance(error, list) else [error])])
                     for d, error in zip(revision.figures.dimensions, row["errors"], strict=False)]
            rows = [CheckRow(d, sizes[0], tuple(sizes[1:])).written() for d, sizes in found]
            CheckSheet.objects.create(revision=revision, piece=1, rows=rows, by=people["ines"])
            revision.count_checked()

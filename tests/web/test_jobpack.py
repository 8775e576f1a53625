"""The job pack: one PDF, read back."""

import io
import math
from datetime import date

import numpy as np
from pypdf import PdfReader

from bendcore.floor.setup import set_ups
from dorvan.joining.listing import rows_of
from dorvan.site.models import SizeRule, Thing, Use, Visit
from dorvan.tickets.models import Ticket
from tests.core.panels import panels_file
from tests.core.samples import part_file
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class JobPack(ShopCase):
    def pack(self, number, **chosen):
        answer = self.client.get(f"/t/{number}/pack/printed.pdf", chosen)
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"))
        return [" ".join(page.extract_text().split()) for page in PdfReader(io.BytesIO(answer.content)).pages]

    def test_it_holds_all_that_belongs_to_a_ticket(self):
        Ticket.objects.filter(number=7).update(due=date(2026, 7, 3))
        pages = self.pack(7)
        text = " ".join(pages)
        for words in ("T-0007 sample", "Due 2026-07-03", "Cut list", "Marking out", "Bend order", "Set-up",
                      "Check sheet", "60 t press brake", "Guards and light curtain",
                      "opens the run cards"):
            self.assertIn(words, text)
        self.assertNotIn("OPEN: Bend order", text)
        part = self.ticket.figures.part
        for leg in part.shape.legs:
            self.assertIn(f"{leg.size:.1f} mm", text)
        self.assertIn(f"{part.flat.size[0]:.2f}".rstrip("0"), text)
        plan = self.ticket.ordered
        order = text[text.index("Bend order"):]
        places = [order.index(f"{step.bend_to:.1f}°".replace(".0°", "°")) for step in plan.steps[:1]]
        self.assertTrue(all(place > 0 for place in places))
        self.assertTrue(all("T-0007" in page for page in pages))
        sheet, = set_ups(part, plan.steps, [self.brake.press])
        for words in ("middle of the machine", "from the left end", "ram", "bed",
                      *(f"{piece.length:.1f}" for _, pieces in sheet.mounted[0].pieces for piece in pieces)):
            self.assertIn(words, text[text.index("Set-up"):])
        checks = text[text.rindex("Check sheet"):]
        drawn, listed = checks[:checks.index("Dimension")], checks[checks.index("Dimension"):]
        for leg in part.shape.legs:  # in the drawing and in the list
            self.assertIn(leg.id, drawn)
            self.assertIn(f"Leg {leg.id}", listed)

    def test_every_step_is_drawn_before_and_after_and_set_and_what_has_nothing_to_say_is_left_out(self):
        self.client.post("/t/7/change/", {"field": "stock.good_side", "value": "down"}, headers={"HX-Request": "true"})
        self.ticket.refresh_from_db()
        answer = self.client.get("/t/7/pack/printed.pdf", {"cards": "on", "joins": "on"})
        pages = PdfReader(io.BytesIO(answer.content)).pages
        text = " ".join(" ".join(page.extract_text().split()) for page in pages)
        steps = self.ticket.ordered.steps
        pictures = [np.asarray(image.image.convert("L")) for page in pages for image in page.images]
        self.assertEqual(len(pictures), 2 * len(steps))
        for picture in pictures:
            self.assertGreater(len(np.unique(picture)), 5)
        for n, step in enumerate(steps, 1):
            self.assertIn(f"{n}. Bend {step.bends[0]}", text)
            self.assertIn(f"stop {step.gauge.stop:.2f}".rstrip("0"), text)
        self.assertEqual(text.count("Set, from the right end"), len(steps))
        self.assertIn("hatched is the good side", text)
        self.assertNotIn("Join list", text)
        flat = self.ticket.figures.part.flat
        marked = self.pack(7, marking="on")[0]
        for bend in flat.bends:
            self.assertIn(f"{bend.bend.id} {bend.at[1]:.2f}".rstrip("0"), marked)
        self.assertIn("drawn shorter along the bends", marked)

    def test_marks_that_find_no_room_beside_the_blank_stand_in_their_list(self):
        edges = 60
        ring = [[300 * math.cos(math.tau * n / edges), 300 * math.sin(math.tau * n / edges)] for n in range(edges)]
        walls = [{"edge": n, "length": 12, "direction": "up"} for n in range(1, edges + 1)]
        Ticket.objects.create(number=61, part=panels_file(walls, ring), quantity=1, made_by=self.bench)
        self.assertIn("Panel P60", " ".join(self.pack(61, marking="on")))
        legs = [12] * 30
        bends = [(90, "up" if n % 4 < 2 else "down") for n in range(29)]
        Ticket.objects.create(number=62, part=part_file(legs, bends, width=40), quantity=1, made_by=self.bench)
        self.assertIn("B29", self.pack(62, marking="on")[0])

    def test_it_holds_a_kit_with_its_site_sheet_in_the_readers_inches(self):
        lead = Ticket.objects.create(number=60, part=tray_file(), quantity=2, made_by=self.bench)
        self.client.post("/t/60/kit/sizes/", {"table": "name,count,length\nLow,3,150\n"})
        visit = Visit.objects.create(number=4, name="Wall", on=date(2026, 6, 1), made_by=self.bench)
        thing = Thing.objects.create(visit=visit, name="niche", kind="opening")
        for _ in range(2):
            thing.readings.create(values=[203.2], typed="8 in", who="ines", by=self.bench)
        rule = SizeRule.objects.create(visit=visit, name="long", text="niche")
        Use.objects.create(rule=rule, ticket=lead, field="length")
        self.bench.units = "in"
        self.bench.save()
        text = " ".join(self.pack(60))
        for words in ("S-0004 Wall", "niche", "8.0 in", "long", "Low", "corner front-right", "Pieces 4 8"):
            self.assertIn(words, text)
        self.assertEqual(len(rows_of(lead)), 2)

    def test_only_what_is_chosen(self):
        text = " ".join(self.pack(7, check="on"))
        self.assertIn("Check sheet", text)
        self.assertNotIn("Marking out", text)
        self.assertContains(self.client.get("/t/7/pack/"), "Make the PDF")

"""The rack looked through: every ticket is found by what it is, and by nothing else."""

import datetime
import re

from django.utils import timezone

from bendcore.families import FAMILIES
from bendcore.quality.checksheet import CheckRow, Dimension
from dorvan.floor.models import CheckSheet
from dorvan.tickets.models import Revision, Ticket
from dorvan.tickets.models.cut import BlankCut
from tests.core.samples import part_file
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Rack(ShopCase):
    def setUp(self):
        super().setUp()
        tray = tray_file() | {"name": "Uncapping tray"}
        tray["stock"]["material"] = "stainless-304"
        sharp = part_file(radius=0.1) | {"name": "Queen clip 100%"}
        rail = part_file() | {"name": "Rail"}
        for number, part, brake in ((8, tray, None), (9, sharp, self.brake), (120, rail, None)):
            Ticket.objects.create(number=number, part=part, brake=brake, made_by=self.bench)
        for number in Ticket.objects.values_list("number", flat=True):
            self.client.get(f"/t/{number}/card/")

    def found(self, **asked) -> list[int]:
        page = self.client.get("/", asked)
        self.assertEqual(page.status_code, 200)
        return [int(n) for n in re.findall(r'class="no">T-(\d+)<', page.content.decode())]

    def test_by_words_number_metal_and_brake(self):
        everything = [120, 9, 8, 7]
        for asked, numbers in (({}, everything), ({"q": "tray"}, [8]), ({"q": "RAIL"}, [120]), ({"q": "t-0120"}, [120]),
                               ({"q": "9"}, [9]), ({"q": "100%"}, [9]), ({"q": "_"}, []), ({"q": "no such"}, []),
                               ({"metal": "stainless-304"}, [8]), ({"metal": "mild-steel", "q": "rail"}, [120]),
                               ({"brake": self.brake.pk}, [9, 7]), ({"brake": "²"}, everything),
                               ({"state": "x", "sort": "x", "page": "²"}, everything)):
            self.assertEqual(self.found(**asked), numbers, asked)

    def test_by_state_and_why_it_is_held(self):
        self.assertEqual(self.found(state="stopped"), [9])
        self.assertContains(self.client.get("/?state=stopped"), "radius too sharp for the metal (B1, B2)")
        self.assertEqual(self.found(state="open"), [120, 9, 8, 7])
        revision = self.release()
        self.assertEqual((self.found(state="open"), self.found(state="released")), ([120, 9, 8], [7]))
        good, out = ([CheckRow(Dimension("L1", "Leg L1", 30, 0.2), size).written()] for size in (30.0, 33.0))
        for piece, rows, where in ((1, good, "1 good"), (2, out, "1 out, to be decided"), (3, good, "2 good")):
            CheckSheet.objects.create(revision=revision, piece=piece, rows=rows, by=self.bench)
            revision.count_checked()
            self.assertEqual((self.found(state="released"), self.found(state="checked")), ([7], []))
            self.assertContains(self.client.get("/"), where)
        self.assertEqual(self.found(state="out"), [7])
        sheet = CheckSheet.objects.get(piece=2)
        self.client.post(f"/t/7/check/{sheet.pk}/decide/", {"what": "use", "words": "fits all the same"})
        self.assertEqual((self.found(state="released"), self.found(state="checked")), ([], [7]))
        self.assertEqual(self.found(state="out"), [])
        self.client.post("/t/7/set-up/", {"quantity": "12", "stage": "stock"})
        self.assertEqual(self.found(state="checked"), [])
        self.assertContains(self.client.get("/"), "2 to measure")

    def test_by_due_date_and_name(self):
        for number, day in ((8, "2026-12-01"), (7, "2026-11-30")):
            self.assertEqual(self.client.post(f"/t/{number}/set-up/", {"due": day, "stage": "stock"}).status_code, 200)
        self.assertEqual(self.found(sort="due"), [7, 8, 120, 9])
        self.assertContains(self.client.get("/"), "due 30 Nov")
        self.assertEqual(self.found(sort="name"), [9, 120, 8, 7])
        answer = self.client.post("/t/8/set-up/", {"due": "soon", "stage": "stock"}, headers={"HX-Request": "true"})
        self.assertContains(answer, "is not a day", status_code=422)
        self.assertContains(answer, 'value="soon"', status_code=422)
        self.assertEqual(Ticket.objects.get(number=8).due, datetime.date(2026, 12, 1))
        self.client.post("/t/8/set-up/", {"due": "", "stage": "stock"})
        self.assertIsNone(Ticket.objects.get(number=8).due)

    def test_what_wants_doing_comes_first_and_what_is_late_says_so(self):
        yesterday = timezone.localdate() - datetime.timedelta(days=1)
        Ticket.objects.filter(number=8).update(due=yesterday)
        Ticket.objects.filter(number=7).update(due=yesterday - datetime.timedelta(days=1))
        self.assertEqual(self.found(), [7, 8, 120, 9])
        self.assertContains(self.client.get("/"), "■ late, due", count=2)
        Revision.objects.create(ticket=self.ticket, letter="a", part=part_file(), order={}, by=self.bench,
                                checked={"good": 1, "out": 0, "open": 0})
        self.assertEqual(self.found(), [8, 120, 9, 7])  # what was checked wants nothing more
        self.assertEqual(self.found(sort="new"), [120, 9, 8, 7])
        Revision.objects.update(checked={"good": 0, "out": 1, "open": 0})  # a piece to be decided
        Ticket.objects.filter(number=8).update(due=timezone.localdate())
        self.assertEqual(self.found(), [7, 8, 120, 9])
        self.assertContains(self.client.get("/"), "■ late, due", count=1)

    def test_a_card_tells_how_many_blanks_are_cut_and_leads_to_what_holds_it(self):
        lot = {"plan": "C-0001", "sheet": 1, "lot": "L-1", "blank": "", "by": self.bench}
        for count, fate in ((2, ""), (1, "scrap")):
            BlankCut.objects.create(ticket=Ticket.objects.get(number=7), count=count, fate=fate, **lot)
        page = self.client.get("/t/7/card/").content.decode()
        self.assertIn("2 of 3 blanks cut", page)
        held = re.search(r'<a class="next held" href="([^"]+)"', page)
        self.assertEqual(held[1], "/t/7/gate/")

    def test_a_new_ticket_begins_like_another_or_from_a_picture(self):
        page = self.client.get("/tickets/begin/").content.decode()
        for family in FAMILIES:
            self.assertTrue(family == "flat" or f'value="{family}"' in page, family)
        self.assertEqual(re.findall(r"/t/(\d+)/duplicate/", page), ["120", "9", "8", "7"])
        self.assertEqual(re.findall(r"/t/(\d+)/duplicate/", self.client.get("/tickets/begin/?q=120").content.decode()),
                         ["120"])

    def test_archived_is_off_the_rack_and_comes_back(self):
        self.client.post("/t/9/archive/")
        self.assertEqual((self.found(), self.found(state="archived")), ([120, 8, 7], [9]))
        self.assertEqual(self.client.get("/t/9/").status_code, 200)
        self.client.post("/t/9/archive/", {"back": "1"})
        self.assertEqual((self.found(), self.found(state="archived")), ([120, 9, 8, 7], []))

    def test_what_was_asked_for_stays_from_page_to_page(self):
        Ticket.objects.bulk_create(Ticket(number=n, part=part_file() | {"name": "Rail & more"}, made_by=self.bench)
                                   for n in range(200, 250))
        page = self.client.get("/?q=rail+%26&sort=name").content.decode()
        onward = re.search(r'href="(\?[^"]+)" rel="next"', page)[1].replace("&amp;", "&")
        self.assertIn("25 to 48 of 50", self.client.get("/" + onward).content.decode())

"""Ways that ended nowhere: bookmarks, part files, duplicates, drawings without units, hand work on bars."""

import io
import json

import ezdxf
from django.core.files.uploadedfile import SimpleUploadedFile

from dorvan.brakes.models import Brake
from dorvan.floor.models import ShiftCheck
from dorvan.tickets.models import Ticket
from tests.core.samples import ROOT, part_file, tray_file
from tests.core.transitions import square_to_round_file
from tests.web.base import ShopCase


def drawing(units, size, layer="0"):
    doc = ezdxf.new("R2010")
    doc.units = units
    space = doc.modelspace()
    space.add_lwpolyline([(0, 0), (size, 0), (size, size / 2), (0, size / 2)], close=True, dxfattribs={"layer": layer})
    space.add_line((0, size / 9), (size, size / 9), dxfattribs={"layer": "SCRIBBLE"})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


class WaysThatEnd(ShopCase):
    def read_in(self, content, name="plate.dxf", **form):
        before = Ticket.objects.count()
        answer = self.client.post("/tickets/read-in/", {"file": SimpleUploadedFile(name, content)} | form, follow=True)
        return answer, Ticket.objects.latest("number") if Ticket.objects.count() > before else None

    def test_an_address_that_only_takes_posts_leads_back(self):
        for address, page in (("/t/7/change/", "/t/7/"), ("/t/7/bend/record/", "/t/7/bend/"),
                              ("/t/7/check/save/", "/t/7/check/"), ("/cutting/new/", "/cutting/"),
                              ("/t/7/kit/add/", "/t/7/kit/"), ("/day/new/", "/day/"), ("/tickets/new/", "/")):
            answer = self.client.get(address, follow=True)
            self.assertEqual((answer.status_code, answer.redirect_chain[-1][0]), (200, page), address)
        self.assertEqual(self.client.delete("/t/7/change/").status_code, 405)

    def test_a_part_file_handed_on_is_read_in(self):
        text = self.client.get("/t/7/file/part/").content
        _, ticket = self.read_in(text, "own.json")
        self.assertEqual(ticket.part["shape"], self.ticket.part["shape"])
        self.assertEqual(ticket.figures.part.flat.size, self.ticket.figures.part.flat.size)
        for bad in (b"{}", b"[1]", b"no", b'{"format": "dorvan-part", "version": 1}', b'{"format":"dorvan-flat"}'):
            answer, ticket = self.read_in(bad, "own.json")
            self.assertIsNone(ticket)
            self.assertContains(answer, "Not read in")

    def test_a_ticket_is_duplicated_with_its_choices(self):
        self.client.post("/t/7/duplicate/")
        other = Ticket.objects.latest("number")
        self.assertEqual((other.part["shape"], other.brake, other.punch, other.die),
                         (self.ticket.part["shape"], self.ticket.brake, self.ticket.punch, self.ticket.die))
        self.assertFalse(other.is_released)

    def test_a_drawing_says_its_units_or_is_asked(self):
        for units, size in ((6, 0.2), (4, 200), (5, 20)):
            _, ticket = self.read_in(drawing(units, size))
            self.assertAlmostEqual(ticket.figures.part.flat.size[0], 200, 6)
        answer, ticket = self.read_in(drawing(0, 8))
        self.assertIsNone(ticket)
        self.assertContains(answer, "choose what it was drawn in")
        _, ticket = self.read_in(drawing(0, 8), unit="in")
        self.assertAlmostEqual(ticket.figures.part.flat.size[0], 203.2, 6)
        _, ticket = self.read_in(drawing(4, 200), without="scribble, other")
        self.assertEqual(ticket.part["shape"]["bends"], [])

    def test_a_square_to_round_in_two_is_made_by_hand_over_bars(self):
        bars = Brake.objects.create(name="bars", file=(ROOT / "demo" / "bench-bars.json").read_text("utf-8"))
        data = square_to_round_file(square={"length": 400, "width": 300}, round={"diameter": 250, "offset": [40, 0]},
                                    height=220, facets=4, pieces=2)
        ticket = Ticket.objects.create(number=30, part=data, brake=bars, quantity=1, made_by=self.bench, job="trial")
        for page in ("order", "bend", "setup", "check", "kit"):
            self.assertEqual(self.client.get(f"/t/30/{page}/").status_code, 200, page)
        self.assertContains(self.client.get("/t/30/order/"), "by hand over")
        self.client.post("/t/30/kit/add/", {"what": "mate:piece-2", "each": "1"})
        self.assertEqual(ticket.pieces.get().part["shape"]["piece"], 2)
        refused = self.client.post("/t/30/kit/add/", {"what": "mate:piece-2", "each": "1"})
        self.assertContains(refused, "is in the kit already", status_code=422)
        self.assertEqual(self.client.post("/t/30/release/").status_code, 302)
        ShiftCheck.objects.create(brake=bars, looked_to=["all"], by=self.bench)
        self.client.post("/t/30/bend/record/", {"piece": 1})
        self.assertContains(self.client.get("/t/30/bend/"), "All bent")
        self.client.post("/t/30/check/save/", {"piece": 1, "height": "220"})
        self.assertContains(self.client.get("/t/30/card/"), "1 good")

    def test_what_is_invited_to_be_empty_may_be(self):
        Ticket.objects.create(number=31, part=square_to_round_file(facets=4), made_by=self.bench)
        self.client.post("/t/31/change/", {"field": "shape.facets", "value": ""})
        self.assertNotIn("facets", Ticket.objects.get(number=31).part["shape"])

    def test_a_tab_eased_more_than_asked_is_told(self):
        data = tray_file(radius=1)
        data["shape"]["walls"]["left"]["inside_radius"] = 8
        data["shape"]["corners"] = {"style": "tab", "gap": 0.5, "tab": {"width": 20, "ease": 1}}
        Ticket.objects.create(number=32, part=data, made_by=self.bench)
        self.assertContains(self.client.get("/t/32/layout/"), "is eased in by")

    def test_springback_begins_with_the_metal_and_a_stated_nothing_stays(self):
        self.client.post("/tickets/new/", {"name": "x", "family": "profile"})
        ticket = Ticket.objects.latest("number")
        where = f"/t/{ticket.number}/change/"
        for metal, wanted in (("stainless-304", 2.5), ("aluminium-5052-h32", 2.0), ("mild-steel", 1.0)):
            self.client.post(where, {"field": "stock.material", "value": metal})
            ticket = Ticket.objects.get(pk=ticket.pk)
            self.assertAlmostEqual(ticket.figures.part.stock.springback, wanted, delta=0.05)
        self.client.post(where, {"field": "stock.springback", "value": "0"})
        self.client.post(where, {"field": "stock.material", "value": "stainless-304"})
        ticket = Ticket.objects.get(pk=ticket.pk)
        stock = ticket.figures.part.stock
        self.assertEqual((stock.springback, stock.springback_from), (0, "given"))
        self.client.post(where, {"field": "stock.springback", "value": ""})
        self.assertAlmostEqual(Ticket.objects.get(pk=ticket.pk).figures.part.stock.springback, 2.5, delta=0.05)

    def test_the_log_tells_a_correction_from_a_leg_of_its_name(self):
        self.release()
        self.client.post("/t/7/bend/record/", {"piece": 1, "step": 1, "angle": "89", "leg": "30.1"})
        page = self.client.get("/t/7/log/")
        self.assertContains(page, "set back")
        self.bench.unit = "in"
        self.bench.save()
        self.assertContains(self.client.get("/t/7/log/"), "1.185")
        self.assertEqual(json.loads(self.client.get("/t/7/file/part/").content)["shape"]["legs"],
                         part_file()["shape"]["legs"])

"""Settings of the shop: where each is used, and that nobody writes over another."""

import io

from PIL import Image
from pypdf import PdfReader

from dorvan.people.models import Deed, User
from dorvan.shop.models import Shop, forget
from dorvan.tickets.models import Ticket
from tests.web.base import ShopCase


class Settings(ShopCase):
    def setUp(self):
        super().setUp()
        self.addCleanup(forget)
        self.client.force_login(self.lead)

    def set(self, field, value, status=302, **form):
        with self.captureOnCommitCallbacks(execute=True):
            answer = self.client.post("/shop/set/", {"field": field, "value": value, **form})
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer

    def test_the_name_and_mark_are_on_papers(self):
        picture = io.BytesIO()
        Image.new("RGB", (60, 40), "black").save(picture, "PNG")
        picture.seek(0)
        picture.name = "mark.png"
        self.assertEqual(self.images(), 0)
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(self.client.post("/shop/mark/take/", {"mark": picture}).status_code, 302)
        self.set("name", "Nine Elms Folding")
        text = " ".join(page.extract_text() for page in self.printed().pages)
        self.assertEqual(text.count("Nine Elms Folding"), len(self.printed().pages))
        self.assertGreater(self.images(), 0)
        self.assertContains(self.client.get("/t/7/marking-out/"), "Nine Elms Folding")
        self.assertEqual(self.client.get("/shop/mark/")["Content-Type"], "image/jpeg")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post("/shop/mark/take/", {"without": "1"})
        self.assertEqual((self.images(), self.client.get("/shop/mark/").status_code), (0, 404))
        self.assertEqual(self.client.post("/shop/mark/take/", {"mark": io.BytesIO(b"no picture")}).status_code, 422)

    def printed(self):
        return PdfReader(io.BytesIO(self.client.get("/t/7/pack/printed.pdf", {"cut": "on"}).content))

    def images(self):
        return sum(len(page.images) for page in self.printed().pages)

    def test_new_people_read_as_the_shop_says(self):
        for value, unit, tape in (("16", "in", 16), ("mm", "mm", 32), ("", "in", 64)):
            User.objects.filter(pk=self.lead.pk).update(unit="in", tape=64)
            self.set("reading", value)
            self.client.post("/people/add/", {"name": f"new-{value}", "role": "bench"})
            found = User.objects.get(username=f"new-{value}")
            self.assertEqual((found.unit, found.tape), (unit, tape))

    def test_a_new_ticket_has_the_shops_tolerances_and_keeps_them(self):
        self.set("tolerance", "f")
        self.client.post("/tickets/new/", {"name": "fine"})
        fine, before = Ticket.objects.get(part__name="fine"), Ticket.objects.get(number=7)
        self.set("tolerance", "c")
        fine, before = (Ticket.objects.get(pk=one.pk).figures.part for one in (fine, before))
        self.assertEqual((fine.tolerance(200), before.tolerance(200)), (0.2, 0.5))
        number = Ticket.objects.get(part__name="fine").number
        self.client.post(f"/t/{number}/change/", {"field": "general_tolerance", "value": "v"},
                         headers={"HX-Request": "true"})
        self.assertEqual(Ticket.objects.get(number=number).figures.part.tolerance(200), 2.5)

    def test_pages_tell_the_time_of_the_shops_clock(self):
        Deed.objects.create(by=self.lead, what="hours", before="a", after="b")
        at = Deed.objects.get().at
        for zone in ("Asia/Kathmandu", "America/St_Johns", ""):
            self.set("zone", zone)
            self.assertContains(self.client.get("/people/log/"), f"{at.astimezone(Shop.now().clock):%-d %b %Y %H:%M}")
        self.assertContains(self.set("zone", "Mars/Olympus", 422), "is none that is known here", status_code=422)

    def test_what_two_set_at_once_is_told_and_every_act_is_on_record(self):
        self.set("name", "One", seen="0")
        self.set("name", "Two", 409, seen="0")
        self.set("tolerance", "f", seen="0")  # another thing
        self.assertEqual((Shop.now().name, Shop.now().general_tolerance), ("One", "f"))
        self.assertEqual([(d.before, d.after) for d in Deed.objects.filter(what="shop")], [
            ("Lengths where a drawing is silent: m", "Lengths where a drawing is silent: f"),
            ("Name of the shop: not said", "Name of the shop: One")])
        for field, value in (("tolerance", "x"), ("reading", "cubits"), ("mark", "x")):
            self.set(field, value, 422)

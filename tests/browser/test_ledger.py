"""Stockroom, comparison, proof bend with drill shanks, adoption, and two people at one ticket."""

from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from dorvan.ledger.models import Sample
from dorvan.people.models import User
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file
from tests.web.ledgers import fill_ledger, lot


class Learning(BrowserCase):
    def ticket(self, **fields):
        return Ticket.objects.create(number=7, brake=self.brake, die="V 8", made_by=self.user,
                                     **{"part": part_file()} | fields)

    def fill(self, **fields):
        for name, text in fields.items():
            field = self.find(f"[name={name}]")
            field.clear()
            field.send_keys(text)

    def test_a_lot_goes_on_the_shelf_and_onto_a_ticket(self):
        self.ticket()
        self.go("/stockroom/")
        self.accessible()
        self.fill(code="L-40", thickness="16", readings="1.02 1.04", length="2000", width="1000")
        self.find(".card-form .btn").click()
        self.wait(lambda: "16 ga is" in self.text())
        self.assertIn("16 ga is 1.52 mm steel, 1.61 mm galvanised, 1.59 mm stainless, 1.29 mm aluminium", self.text())
        self.assertEqual(self.find("[name=readings]").get_attribute("value"), "1.02 1.04")
        self.fill(thickness="1 mm")
        self.find(".card-form .btn").click()
        self.wait(lambda: Lot.objects.exists())
        for page in ("/stockroom/materials/", "/stockroom/materials/mild-steel/", "/stockroom/gauges/", "/brakes/"):
            self.go(page)
            self.accessible()
        self.go("/t/7/stock/")
        self.redrawn(lambda: Select(self.find("#lot")).select_by_index(1))
        self.assertIn("Measured 1.03", self.text())
        self.redrawn(lambda: self.find("#tool-radius").click())
        self.assertIn("Inside radius, by the tool", self.text())
        self.accessible()

    def test_the_schools_are_seen_at_one_glance(self):
        self.ticket()
        self.go("/t/7/proof/")
        rows = [row for row in self.all(".schools tbody tr") if row.find_elements(By.CSS_SELECTOR, ".num")]
        self.assertGreaterEqual(len(rows), 8)
        bottom = max(row.rect["y"] + row.rect["height"] for row in rows)
        self.assertLess(bottom, self.browser.execute_script("return innerHeight"))
        self.assertIn("too long", self.find("#largest").text)
        blank = self.find(".big").text
        self.redrawn(lambda: Select(self.find("#method")).select_by_value("din6935"))
        self.assertNotEqual(self.find(".big").text, blank)
        self.accessible()

    def test_a_proof_bend_with_shanks_to_an_adopted_k(self):
        self.ticket(follows_shop=True)
        fill_ledger(self.user, n=4)
        self.go("/t/7/proof/")
        self.find("#begin-proof").click()
        self.wait(lambda: self.has("#strip-form"))
        self.accessible()
        self.fill(strip="100", leg_a="45", leg_b="56.98", angle="90.5", thickness="1.0", bent_to="91.6")
        for _ in range(12):
            if not self.has("#light"):
                break
            size = float(self.find("#try small").text.split(" mm")[0])
            self.redrawn(lambda s=size: self.find("#light" if s / 2 > 1.32 else "#dark").click())
        self.assertIn("between 1.3mm and 1.35mm", self.find("#bracket").text.replace(" mm", "mm"))
        self.assertEqual(self.find("#s-leg_b").get_attribute("value"), "56.98")
        self.find("#save-strip").click()
        self.wait(lambda: "What the strips say" in self.text())
        self.assertEqual(self.find("#save-strip").text, "Save strip 2")
        self.accessible()
        self.assertEqual(Sample.objects.count(), 5)

        self.browser.find_element(By.PARTIAL_LINK_TEXT, "These samples").click()
        self.wait(lambda: self.has("#adopt"))
        self.accessible()
        self.assertIn("follows: takes it over", self.text())
        self.find("#why-adopt").send_keys("five strips")
        self.find("#adopt").click()
        self.wait(lambda: "Taken over by T-0007" in self.text())
        self.assertIn("five strips", self.text())
        self.go("/t/7/proof/")
        self.assertIn("Shop ledger", self.find(".schools .chosen").text)
        self.stayed_here()

    def test_a_ledger_of_many_pages_on_a_phone(self):
        self.ticket()
        pair = fill_ledger(self.user, bad=(1,))
        lot(self.user)
        self.size(390, 844)
        for page in ("/ledger/", f"/ledger/{pair.pk}/", "/proofs/new/", "/t/7/proof/", "/t/7/stock/", "/stockroom/"):
            self.go(page)
            self.accessible()
        self.stayed_here()


class TwoPeople(BrowserCase):
    def test_the_second_is_told_and_both_are_kept(self):
        ticket = Ticket.objects.create(number=7, brake=self.brake, part=part_file(), made_by=self.user)
        otto = User.objects.create_user("otto", password="tin-snips-9")
        self.go("/t/7/")
        part = part_file([35, 60, 30])
        ticket.change(part, "leg", otto)
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L1']", "42"))
        self.assertIn("Otto changed this ticket", self.find("#meanwhile").text)
        self.assertIn("Leg L1 = 42", self.find("#meanwhile").text)
        self.assertEqual(self.find("[aria-label^='Leg L1']").get_attribute("value"), "35.0")
        self.accessible()
        self.redrawn(lambda: self.find("#put-mine").click())
        self.assertEqual(self.find("[aria-label^='Leg L1']").get_attribute("value"), "42")
        self.browser.execute_script("document.activeElement.blur()")
        self.redrawn(lambda: self.find("#undo").click())
        self.assertEqual(self.find("[aria-label^='Leg L1']").get_attribute("value"), "35.0")

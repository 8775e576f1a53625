"""Blanks dragged, laid out anew and cut, through a real browser."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from dorvan.cutting.models import CuttingPlan
from dorvan.stockroom.models import Lot, put_in
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file


class Cutting(BrowserCase):
    def test_a_plan_is_made_moved_by_hand_and_cut(self):
        part = part_file([60, 120, 60], [(90, "up"), (90, "up")], width=300)
        ticket = Ticket.objects.create(number=31, part=part, quantity=4, job="trial", made_by=self.user)
        stock = ticket.figures.part.stock
        put_in(Lot(code="S-9", material=stock.material.name, thickness=stock.thickness, length=1000, width=600, count=2,
                   by=self.user), "came in")
        self.go("/cutting/")
        self.accessible()
        self.find("[name=t31]").send_keys("3")
        self.find("[name=t31]").find_element(By.XPATH, "ancestor::form").find_element(By.CSS_SELECTOR, ".btn").click()
        self.wait(lambda: self.has("[data-piece='T-0031.1']"))
        self.accessible()
        self.assertIn("no plan needs fewer", self.text())
        before = CuttingPlan.objects.get().laid["placed"][0]
        piece = self.find(f"[data-piece='{before[0]}'] path")
        ActionChains(self.browser).drag_and_drop_by_offset(piece, 120, -60).perform()
        self.wait(lambda: CuttingPlan.objects.get().by_hand)
        after = next(row for row in CuttingPlan.objects.get().laid["placed"] if row[0] == before[0])
        self.assertGreater(after[2], before[2] + 20)
        self.assertGreater(after[3], before[3] + 10)
        self.find("#by-hand [name=x]").clear()
        self.find("#by-hand [name=x]").send_keys("-40")
        self.find("#by-hand .btn").click()
        self.wait(lambda: "leaves the sheet" in self.text())
        self.assertFalse(self.find("button[value=cut]").is_enabled())
        self.accessible()
        self.size(390, 844)
        self.find(".card-form.row .btn").click()
        self.wait(lambda: "leaves the sheet" not in self.text())
        self.find("button[value=cut]").click()
        self.wait(lambda: "taken out of the stockroom" in self.text())
        self.assertEqual(Lot.objects.get(code="S-9").count, 1)
        self.accessible()
        self.stayed_here()

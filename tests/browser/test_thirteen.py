"""Thirteen boxes of the demo from the site sheet to the day, and a pack for a supplier, through a real browser."""

import io
import zipfile
from pathlib import Path

import ezdxf
from django.core.management import call_command
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from bendcore.day.work import faults
from dorvan.cutting.models import CuttingPlan
from dorvan.day.models import Plan
from dorvan.site.models import Visit
from dorvan.suppliers.models import Supplier
from dorvan.tickets import gate
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase

WALLS = ",".join(f"walls.{side}.height" for side in ("front", "right", "back", "left"))
TABLE = f"name,count,length,width,{WALLS}\n" + "\n".join(
    f"Feed box {letter},{count},box length,box width," + ",".join([f"height {letter} less clearance"] * 4)
    for letter, count in zip("ABCDE", (2, 3, 3, 2, 2), strict=True))


class Shop(BrowserCase):
    def setUp(self):
        super().setUp()
        call_command("demo", stdout=io.StringIO())

    def act(self, form: str, **typed):
        """Fill a form of the page in and send it."""
        for name, text in typed.items():
            field = self.find(f"{form} [name={name}]")
            if field.tag_name == "select":
                Select(field).select_by_value(text)
            else:
                field.clear()
                field.send_keys(text)
        button = self.find(f"{form} button")
        self.browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
        button.click()


class Thirteen(Shop):
    def test_from_the_tape_to_the_day(self):
        self._measure()
        self._sizes()
        self._gate()
        self._cut()
        self._day()
        self.stayed_here()

    def _measure(self):
        self.go("/site/1/")
        self.accessible()
        self.assertIn("needs a second reading", self.text())
        self.find("[aria-label='Reading of height E']").send_keys("108.5", Keys.ENTER)
        self.wait(lambda: "108.25 mm" in self.text())
        sketch, edges = self.find("svg[data-sketch]"), len(self.all(".site-edge"))
        for x, y in ((-180, 40), (150, 40)):
            ActionChains(self.browser).move_to_element_with_offset(sketch, x, y).click().perform()
        self.wait(lambda: len(self.all(".site-edge")) == edges + 1)
        self.assertEqual(Visit.objects.get(number=1).sketch[-1]["kind"], "edge")

    def _sizes(self):
        self.go("/site/1/?ticket=170")
        self.open("textarea[name=table]")
        self.browser.execute_script("document.querySelector('textarea[name=table]').value = arguments[0]", TABLE)
        self.find("textarea[name=table]").find_element(By.XPATH, "ancestor::form").submit()
        self.wait(lambda: "5 sizes of T-0170" in self.text())
        self.accessible()
        lead = Ticket.objects.get(number=170)
        boxes = [lead, *lead.pieces.all()]
        self.assertEqual(sum(box.quantity for box in boxes), 13)
        heights = {round(box.figures.part.shape.walls["front"].leg.size, 2) for box in boxes}
        self.assertEqual(len(heights), 5)
        self.find("[aria-label='Reading of clearance']").send_keys("2.5", Keys.ENTER)
        self.wait(lambda: "Feed box E follows" in self.text())
        high = lead.pieces.get(part__name="Feed box E").figures.part.shape
        self.assertAlmostEqual(high.walls["left"].leg.size, 108.25 - 2.5)
        self.assertAlmostEqual(high.length.size, 250.5 - 5)

    def _gate(self):
        self.numbers = [170, *Ticket.objects.get(number=170).pieces.values_list("number", flat=True)]
        for number in self.numbers:
            self.go(f"/t/{number}/order/")
            self.wait(lambda: self.has(".film .frame"), 60)
        self.go("/t/170/gate/")
        self.accessible()
        self.find("[name=note]").send_keys("card, goes in")
        self.find("button[value='mock-up']").click()
        self.wait(lambda: "mock-up is noted" in self.text())
        self.open("[name=reason]")
        self.find("[name=reason]").send_keys("tried on an offcut")
        self.find("button[value=open]").click()
        self.wait(lambda: "Nothing holds release" in self.text())
        for ticket in Ticket.objects.filter(number__in=self.numbers):
            self.assertEqual(gate.shut(ticket), [], ticket)

    def _cut(self):
        self.go("/cutting/")
        for ticket in Ticket.objects.filter(number__in=self.numbers):
            self.find(f"[name=t{ticket.number}]").send_keys(str(ticket.quantity))
        self.find("[name=t170]").find_element(By.XPATH, "ancestor::form").find_element(By.CSS_SELECTOR, ".btn").click()
        self.wait(lambda: self.has(".nest"), 40)
        self.assertEqual(CuttingPlan.objects.get().count, 13)
        for _ in range(len(self.all("section.nest"))):
            self.find("button[value=cut]").click()
            self.wait(lambda: "taken out of the stockroom" in self.text())
        self.assertFalse(self.has("button[value=cut]"))

    def _day(self):
        self.go("/day/")
        self.accessible()
        for number in self.numbers:
            self.browser.execute_script(f"document.querySelector('[name=t{number}]').checked = true")
        self.find("#choose .btn:last-child").click()
        self.wait(lambda: self.has(".board"), 60)
        self.accessible()
        plan = Plan.objects.get()
        self.assertEqual(faults(plan.core, plan.found.placed), [])
        self.assertEqual(len(plan.found.placed), len(self.numbers))
        bar = self.all("[data-board] [data-task] rect")[0]
        ActionChains(self.browser).drag_and_drop_by_offset(bar, 140, 0).perform()
        self.wait(lambda: self.has(".bar-task.fixed"), 60)
        self.assertEqual(faults(Plan.objects.last().core, Plan.objects.last().found.placed), [])
        bar = self.find("[data-lanes=by] [data-task]")
        name, lanes = bar.get_attribute("data-task"), self.all("[data-lanes=by] .lane")
        tops = [one.rect["y"] for one in lanes]
        here = max(n for n, top in enumerate(tops) if top <= bar.rect["y"] + 8)
        there = lanes[1 - here].get_attribute("data-row")
        ActionChains(self.browser).drag_and_drop_by_offset(
            bar.find_element(By.TAG_NAME, "rect"), 0, round(tops[1 - here] - tops[here])).perform()
        self.wait(lambda: self.has(".board") and Plan.objects.last().laid and Plan.objects.last().put == name, 60)
        task = next(task for task in Plan.objects.last().core.tasks if task.id == name)
        self.assertEqual(task.by, there)
        self.size(390, 844)
        self.accessible()


class Outside(Shop):
    def test_a_suppliers_pack_is_opened_and_read_back(self):
        self.go("/t/171/outside/")
        self.accessible()
        self.assertIn("a tab to be cut off goes into the pack", self.text())
        folder = Path(self.browser.capabilities["chrome"]["userDataDir"]).parent / "packs"
        self.browser.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(folder)})
        self.find("[name=note]").send_keys("burr inwards")
        self.find("form[action$='/pack/'] .btn").click()
        self.wait(lambda: list(folder.glob("*-pack.zip")))
        box = zipfile.ZipFile(next(folder.glob("*-pack.zip")))
        doc = ezdxf.read(io.StringIO(box.read("T-0171.dxf").decode()))
        self.assertTrue(any(e.dxf.layer == "BEND_UP" for e in doc.modelspace().query("LINE")))
        notes = box.read("T-0171-notes.txt").decode()
        for words in ("burr inwards", "cut them off", "Pieces: 12"):
            self.assertIn(words, notes)
        self.go("/t/171/outside/")
        self.find("#r-0").send_keys("90", Keys.ENTER)
        self.wait(lambda: "Piece 1" in self.text())
        self.go(f"/suppliers/{Supplier.objects.earliest('pk').pk}/")
        self.accessible()
        self.assertIn("What came back", self.text())
        self.stayed_here()

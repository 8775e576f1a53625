"""From an empty rack to a saved check sheet, as a person goes."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from dorvan.floor.models import CheckSheet
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file


class Journey(BrowserCase):
    def test_from_an_empty_rack_to_a_check_sheet_on_the_desk(self):
        self.journey(1280, 800)

    def test_from_an_empty_rack_to_a_check_sheet_on_a_tablet(self):
        self.journey(1024, 768)

    def journey(self, width, height):
        self.size(width, height)
        self.go("/")
        self.assertIn("The rack is empty", self.text())
        self.accessible()
        self.find("#new-ticket").click()
        self.wait(lambda: self.has("#new-name"))
        self.accessible()
        self.find("#new-name").send_keys("Frame rest", Keys.ENTER)
        self.wait(lambda: self.has("#bench[data-stage=shape]"))

        # Shape: one more bend, sizes typed on the drawing, Enter from one to the next
        self.redrawn(lambda: self.find("#add-bends").click())
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L1']", "18"))
        self.assertEqual(self.browser.switch_to.active_element.get_attribute("aria-label")[:8], "Angle B1")
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L2']", "2 3/8 in"))
        self.redrawn(lambda: self.type_into("[aria-label^='Angle B2']", "60"))
        blank = self.find(".big").text
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L3']", "-5"))
        self.assertIn("must be greater than 0", self.text())
        self.assertEqual(self.find("[aria-label^='Leg L3']").get_attribute("value"), "-5")
        self.assertEqual(self.find(".big").text, blank)
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L3']", "30"))
        self.accessible()

        # Stock: material, and a die from the table
        self.find("[data-key='2']").click()
        self.redrawn(lambda: self.find("#material").send_keys("304 stainless"))
        die = "//tr[th[starts-with(., 'V 8')]][1]//button"
        self.redrawn(lambda: self.browser.find_element(By.XPATH, die).click())
        self.assertIn("✓ Chosen", self.text())
        self.redrawn(lambda: self.type_into("#quantity", "2"))
        self.accessible()

        # Layout: the three kinds of line, the folded part, a working
        self.find("[data-key='4']").click()
        self.wait(lambda: self.has(".folded[data-ready] canvas"))
        shown = {kind: self.find(f"path.line.{kind}").is_displayed() for kind in ("centre", "tangent", "sight")}
        self.assertEqual(shown, {"centre": True, "tangent": False, "sight": False})
        self.all(".switch button")[2].click()
        self.wait(lambda: self.find("path.line.sight").is_displayed())
        self.find("[data-working='B1.deduction']").click()
        self.wait(lambda: "BD = 2·OSSB − BA" in self.find("#w-B1\\.deduction").text)
        self.accessible()
        self.find("body").send_keys(Keys.ESCAPE)

        # Order: found, played, another one dragged
        self.find("[data-key='5']").click()
        self.wait(lambda: "It can be made" in self.text())
        self.wait(lambda: self.all(".machine path.tool"))
        before = self.find(".phase").text
        self.find("#scrub").send_keys(Keys.HOME)
        self.wait(lambda: self.find(".phase").text != before)
        self.accessible()
        first = self.all("[data-bend]")[0].get_attribute("data-bend")
        self.redrawn(lambda: self.all("[data-bend]")[1].find_element(By.CSS_SELECTOR, "[data-nudge='-1']").click())
        self.assertNotEqual(self.all("[data-bend]")[0].get_attribute("data-bend"), first)
        self.assertIn("Your order", self.text())
        self.redrawn(lambda: self.find("#best").click())

        # Bend: release, a reading that corrects the next step, every step ticked
        self.find("[data-key='7']").click()
        self.release()
        self.accessible()
        self.find("#angle").send_keys("61")
        self.find("#leg").send_keys("30.2")
        self.find("#tick").click()
        self.wait(lambda: "step 2 of 2" in self.text())
        self.find("#tick").click()
        self.wait(lambda: "Check piece 1" in self.text())

        # Check: the list filled from the keyboard, saved
        self.browser.find_element(By.PARTIAL_LINK_TEXT, "Check piece 1").click()
        self.wait(lambda: self.has("#m-L1"))
        self.accessible()
        self.find("#m-L1").click()
        for reading in ("18.1", "90.4", "60.2"):
            self.browser.switch_to.active_element.send_keys(reading, Keys.ENTER)
        self.find("#save-check").click()
        self.wait(lambda: "measured by ines" in self.text())
        self.accessible()
        self.assertEqual([r["measured"] for r in CheckSheet.objects.get().rows], [18.1, 90.4, 60.2])
        self.find("[data-key='1']")
        self.go("/")
        self.wait(lambda: "1 good" in self.text() and "1 to measure" in self.text())  # the card fetches itself
        self.accessible()
        self.stayed_here()


class Trays(BrowserCase):
    def test_from_an_empty_rack_to_the_marking_out_sheet(self):
        self.go("/tickets/begin/")
        self.find("[name=family][value=tray]").click()
        self.find("#new-name").send_keys("Drip tray", Keys.ENTER)
        self.wait(lambda: self.has("#bench[data-stage=shape]"))
        self.redrawn(lambda: self.type_into("[aria-label^='Length']", "300"))
        self.redrawn(lambda: self.type_into("[aria-label^='Height of the left']", "2 in"))
        self.take("front", "corners")
        self.redrawn(lambda: self.find("[aria-label='Add: Front wall, lip']").click())
        self.wait(lambda: self.has("[aria-label='Front wall, lip direction: in, turn it out']"), 20)
        self.redrawn(lambda: self.find("[aria-label='Front wall, lip direction: in, turn it out']").click())
        self.choose("shape.corners.style", "butt")
        self.pick("whole")
        self.redrawn(lambda: self.find("#add-holes").click())
        blank = self.find(".big").text
        self.redrawn(lambda: self.type_into("[aria-label^='Height of the left']", "1"))
        self.assertIn("must be more than", self.text())
        self.assertEqual(self.find(".big").text, blank)
        self.accessible()
        shape = Ticket.objects.get().part["shape"]
        self.assertEqual((shape["length"], shape["walls"]["left"]["height"]), ("300", "2 in"))
        self.assertEqual(shape["walls"]["front"]["lip"]["direction"], "out")
        for page in ("stock", "proof", "order", "bend", "layout"):
            self.go(f"/t/101/{page}/")
            self.accessible()
        self.wait(lambda: self.has(".folded[data-ready] canvas"))
        self.find("#marking-out").click()
        self.wait(lambda: "Marks along the left edge" in self.text())
        self.accessible()
        self.stayed_here()


class Drawing(BrowserCase):
    def ticket(self, **fields):
        return Ticket.objects.create(number=7, brake=self.brake, made_by=self.user, **{"part": part_file()} | fields)

    def test_a_strip_is_drawn_point_to_point(self):
        self.ticket()
        self.go("/t/7/")
        self.find("#draw").click()
        board = self.find("#board")
        for x, y in ((-200, 100), (0, 103), (4, -60)):
            ActionChains(self.browser).move_to_element_with_offset(board, x, y).click().perform()
        self.redrawn(lambda: self.find("#draw-done").click())
        shape = Ticket.objects.get(number=7).part["shape"]
        self.assertEqual([(b["angle"], b["direction"]) for b in shape["bends"]], [(90, "up")])

    def test_undo_by_key_and_units_by_key(self):
        self.ticket()
        self.go("/t/7/")
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L1']", "35"))
        self.browser.execute_script("document.activeElement.blur()")
        undo = ActionChains(self.browser).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL)
        self.redrawn(undo.perform)
        self.assertEqual(self.find("[aria-label^='Leg L1']").get_attribute("value"), "30.0")
        self.browser.execute_script("document.activeElement.blur()")
        self.find("body").send_keys("u")
        self.wait(lambda: "in" in self.find(".big u").text)

    def test_a_part_that_cannot_be_bent_says_why_and_what_helps(self):
        self.ticket(part=part_file([40, 36, 40]), punch="Straight 85", die="V 8")
        self.go("/t/7/order/")
        self.assertIn("meets the punch by", self.text())
        self.wait(lambda: self.has("path.metal.hit"))
        self.accessible()
        self.find("#remedies button").click()
        self.wait(lambda: "Other tools from the rack do it" in self.text(), 30)
        self.redrawn(lambda: self.find("#remedies .small").click())
        self.assertIn("It can be made", self.text())

    def test_every_page_stays_on_this_machine_and_is_accessible_on_a_phone(self):
        self.ticket()
        self.size(390, 844)
        self.go("/t/7/bend/")
        self.release()
        for page in ("/", "/t/7/", "/t/7/stock/", "/t/7/layout/", "/t/7/order/",
                     "/t/7/setup/", "/t/7/bend/", "/t/7/check/", "/practice/",
                     "/brakes/", "/stockroom/"):
            self.go(page)
            self.accessible()
            if "bend" in page:
                wide = self.browser.execute_script(
                    "return Math.max(...[...document.querySelectorAll('main section, main header')]"
                    ".map(e => e.getBoundingClientRect().right))")
                self.assertLessEqual(wide, 390)
        self.stayed_here()

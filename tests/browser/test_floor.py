"""At the brake on a tablet: a tick while the server is away, a batch that drifts, a failed check, a lesson."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from dorvan.floor.models import Decision, StepRecord
from dorvan.floor.run import Progress
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file
from tests.widths import SIZES


class AtTheBrake(BrowserCase):
    def setUp(self):
        super().setUp()
        Ticket.objects.create(number=7, part=part_file(), brake=self.brake, punch="Straight 85", die="V 8", quantity=12,
                              seen_layout=True, made_by=self.user)
        self.size(820, 1180)
        self.go("/t/7/bend/")
        self.release()

    def online(self, is_on):
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {
            "offline": not is_on, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1})

    def tick(self, piece, step, angle=""):
        self.go(f"/t/7/bend/?piece={piece}&step={step}")
        self.find("#angle").send_keys(str(angle))
        self.goes_on(lambda: self.find("#tick").click())
        self.assertTrue(StepRecord.objects.filter(run__piece=piece, step=step).exists())

    def test_a_tick_while_the_server_is_away_is_kept_and_sent_once(self):
        self.find("#angle").send_keys("88.5")
        self.online(False)
        for _ in range(2):
            self.find("#tick").click()
            self.wait(lambda: "Kept on this device: 1 entry" in self.text())
        self.assertFalse(StepRecord.objects.exists())
        self.online(True)
        self.wait(lambda: "step 2 of 2" in self.text(), 20)
        self.assertEqual(StepRecord.objects.get().angle, 88.5)
        self.assertFalse(self.find("#kept-here").is_displayed())

    def test_the_brake_is_seen_from_the_front_a_piece_leads_to_its_place_and_a_step_to_its_section(self):
        ticket = Ticket.objects.get()
        long = "Left-hand frame-rest rail of the second uncapping bench"
        ticket.change(ticket.part | {"name": long}, "name", self.user)
        for unit in ("mm", "in"):
            User.objects.update(unit=unit)
            for width, height in ((1280, 800), (768, 1024), (390, 844)):
                self.size(width, height)
                self.go("/t/7/setup/")
                self.accessible()
                self.assertLessEqual(self.browser.execute_script("return document.documentElement.scrollWidth"), width)
                self.assertEqual(self.overlapping(".front text"), [])
                whole, seen = self.browser.execute_script(
                    "const h = document.querySelector('h1'); return [h.scrollWidth, h.clientWidth]")
                self.assertLessEqual(whole, seen)
        self.size(1280, 800)
        self.go("/t/7/setup/")
        piece = self.find(".front-piece")
        self.browser.execute_script("arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", piece)
        self.wait(lambda: self.has(".tool-piece:target"))
        self.assertIn(piece.find_element(By.CSS_SELECTOR, "text").text, self.find(".tool-piece:target").text)
        first = self.find(".set-section text").text
        self.goes_on(lambda: self.all(".step-no")[1].click())
        self.assertNotEqual(self.find(".set-section text").text, first)
        self.assertIn("Step 2", self.find(".set-section figcaption").text)

    def test_three_taps_lead_from_the_rack_to_the_first_tick_and_one_to_what_holds_a_ticket(self):
        Ticket.objects.create(number=8, part=part_file([80, 40, 80]), brake=self.brake, punch="Straight 85", die="V 8",
                              made_by=self.user)
        self.go("/")
        self.wait(lambda: self.has('a.card[href="/t/7/setup/"], a.card[href="/t/7/bend/"]'))
        taps = 1
        self.goes_on(lambda: self.find('a.card[href="/t/7/setup/"], a.card[href="/t/7/bend/"]').click())
        if not self.has("#tick"):
            taps += 1
            self.goes_on(lambda: self.find('a.btn[href="/t/7/bend/"]').click())
        self.goes_on(lambda: self.find("#tick").click())
        self.assertTrue(StepRecord.objects.filter(run__piece=1, step=1).exists())
        self.assertLessEqual(taps + 1, 3)
        self.go("/")
        self.wait(lambda: self.has('a.held[href="/t/8/gate/"]'))
        self.goes_on(lambda: self.find('a.held[href="/t/8/gate/"]').click())
        self.assertIn("bend order proved", self.text().lower())

    def test_the_figures_of_a_card_are_read_from_two_metres_at_any_size(self):
        for unit in ("mm", "in"):
            User.objects.update(unit=unit)
            for width, height in SIZES:
                self.size(width, height)
                self.go("/t/7/bend/")
                small, spilt = self.browser.execute_script("""
const figures = [...document.querySelectorAll(".card-figures dd")], card = document.querySelector(".card-figures");
return [figures.map((e) => parseFloat(getComputedStyle(e).fontSize)).filter((px) => px < 28),
  figures.filter((e) => e.getBoundingClientRect().bottom > card.getBoundingClientRect().bottom).length];""")
                self.assertEqual((small, spilt), ([], 0), (unit, width))

    def test_a_batch_that_drifts_is_seen_and_corrected(self):
        for piece, angle in ((1, 89.6), (2, 89.3), (3, 88.8)):
            self.tick(piece, 1, angle)
            self.tick(piece, 2)
        self.go("/t/7/bend/?piece=4&step=1")
        self.assertEqual(len(self.all(".drift circle")), 3)
        self.assertIn("further", self.find(".note.caution:not(#kept-here)").text)
        self.accessible()
        self.find("details.rare summary").click()
        self.find("[name=words]").send_keys("lot changed")
        self.find("button[value=scrapped]").click()
        self.wait(lambda: "Piece 5 of 13" in self.text())

    def test_a_failed_check_says_what_it_came_from(self):
        ties = Progress(Ticket.objects.get().revision).ties
        offset = next(s for s in ties.lasting if s[0] == "stop-offset")
        self.go("/t/7/check/")
        self.browser.execute_script("document.querySelector(`[data-dim='L2'] .reach`).dispatchEvent("
                                    "new MouseEvent('click', {bubbles: true}))")
        self.assertEqual(self.browser.execute_script("return document.activeElement.id"), "m-L2")
        self.find("#m-B1").click()
        self.assertEqual({one.get_attribute("data-of") for one in self.all("tr.lit")}, {"B1"})
        self.assertTrue(self.has("g.lit[data-dim='B1']"))
        self.assertIn("90", self.find("[data-lit]").text)
        self.assertEqual(self.overlapping(".checked text"), [])
        for leg in ("L1", "L2", "L3"):
            size = ties.dimensions[leg].nominal + 0.5 * ties.effect(leg, offset)
            for field in (leg, f"{leg}~1"):
                self.browser.find_element(By.ID, f"m-{field}").send_keys(f"{size:.2f}")
        self.browser.find_element(By.ID, "m-B1").send_keys("90")
        self.find("#save-check").click()
        self.wait(lambda: "stands off, every bend alike" in self.text())
        self.assertIn("times its size", self.find("[data-lit]").text)
        self.assertTrue(self.has("g.out[data-dim='L1'] .off"))
        for width, height in ((390, 844), (768, 1024), (1280, 800)):
            self.size(width, height)
            self.accessible()
            self.assertLessEqual(self.browser.execute_script("return document.documentElement.scrollWidth"), width)
        self.find("[name=words]").send_keys("mate is made to it")
        self.find("button[value=use]").click()
        self.wait(lambda: "mate is made to it" in self.text())
        self.assertEqual(Decision.objects.get().what, "use")

    def test_a_lesson_on_a_phone(self):
        self.size(390, 844)
        self.go("/practice/")
        self.accessible()
        self.find("button[value=first-angle]").click()
        self.wait(lambda: self.has("#bend-one"))
        for _ in range(3):
            self.find("#bend-one").click()
            self.wait(lambda: not self.has("button[value=hint]:disabled"))
            self.find("button[value=hint]").click()
            self.wait(lambda: "What Dorvan would set next" in self.text())
            told = self.browser.find_elements(By.XPATH, "//td[starts-with(., 'bend to')]")[0].text
            field = self.find("#to-0")
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(told.removeprefix("bend to "))
        self.find("#bend-one").click()
        self.wait(lambda: len(self.all("tbody tr")) >= 4)
        self.wait(lambda: self.find("button[value=shown]").click() or True)  # the page may be drawn anew meanwhile
        self.wait(lambda: "A setter who corrects by all readings" in self.text())
        self.accessible()

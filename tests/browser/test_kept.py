"""Entries kept on a device while the server is away: whose they are, two tabs, what is refused, what always fails."""

import io
import tempfile
from pathlib import Path
from unittest import mock

from PIL import Image
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from dorvan import pictures
from dorvan.floor.models import CheckSheet, StepRecord
from dorvan.floor.pages import bend
from dorvan.ledger.models import Sample
from dorvan.longwork.desk import Working
from dorvan.people import pins
from dorvan.people.models import User
from dorvan.site.models import Visit
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file


class KeptHere(BrowserCase):
    def setUp(self):
        super().setUp()
        self.other = User.objects.create_user("otto", password="tin-snips-9", role="lead")
        Ticket.objects.create(number=7, part=part_file(), brake=self.brake, punch="Straight 85", die="V 8", quantity=12,
                              seen_layout=True, made_by=self.user)
        self.go("/t/7/bend/")
        self.release()
        self.home = self.browser.current_window_handle

    def tearDown(self):
        for handle in self.browser.window_handles:
            if handle != self.home:
                self.browser.switch_to.window(handle)
                self.browser.close()
        self.browser.switch_to.window(self.home)
        self.online(True)
        self.blocked()
        self.go("/people/reading/")
        self.browser.execute_async_script(
            "const done = arguments[0]; const gone = indexedDB.deleteDatabase('dorvan');"
            "gone.onsuccess = gone.onblocked = gone.onerror = () => done();")
        super().tearDown()

    def online(self, is_on):
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {
            "offline": not is_on, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1})

    def typed(self, angle):
        field = self.find("#angle")
        field.clear()
        field.send_keys(str(angle))
        self.find("#tick").click()

    def told(self, words, seconds=20):
        self.wait(lambda: words in self.find("#kept-here").text, seconds)

    def sign_in_as(self, name):
        self.wait(lambda: not self.find("form[action$='sign-out/'] button").click())  # the page may be drawn anew
        self.wait(lambda: self.has("#id_username"))
        self.find("#id_username").send_keys(name)
        self.find("#id_password").send_keys("tin-snips-9", Keys.ENTER)
        self.wait(lambda: self.has("#new-ticket"))

    def test_it_goes_out_under_whoever_made_it_and_nobody_else(self):
        self.go("/t/7/bend/?piece=1&step=1")
        self.online(False)
        self.typed("88.5")
        self.told("Kept on this device: 1 entry")
        self.online(True)
        with mock.patch.object(bend, "Progress", side_effect=RuntimeError):  # the server answers, but not this
            self.sign_in_as("otto")
        self.told("1 by ines, sent when ines is signed in here")
        self.go("/t/7/bend/?piece=2&step=1")
        self.typed("89")
        self.wait(lambda: StepRecord.objects.count() == 1)
        self.assertEqual([(r.by, r.angle) for r in StepRecord.objects.all()], [(self.other, 89.0)])
        self.sign_in_as("ines")
        self.wait(lambda: StepRecord.objects.filter(angle=88.5).exists(), 20)
        self.assertEqual(StepRecord.objects.get(angle=88.5).by, self.user)
        self.wait(lambda: not self.find("#kept-here").is_displayed())

    def blocked(self, *addresses):
        """Pages come, but what is sent to these addresses never arrives."""
        self.browser.execute_cdp_cmd("Network.enable", {})
        self.browser.execute_cdp_cmd("Network.setBlockedURLs", {"urls": addresses})

    def take_over(self, name, pin):
        self.find("#take-over").click()
        self.wait(lambda: self.has(".names"))
        self.accessible()
        self.find(f".name:has([value={name}])").click()
        self.find("#pin").send_keys(pin, Keys.ENTER)
        self.wait(lambda: self.has("#tick"))  # on where it was

    def test_two_people_take_over_with_a_pin_and_each_entry_goes_out_under_its_own_name(self):
        for person, pin in ((self.user, "481516"), (self.other, "605142")):
            pins.set_pin(person, pin, pin)
        self.go("/people/")
        self.find("#device").send_keys("press bench")
        self.find("#trust").click()
        self.wait(lambda: self.has(".devices"))
        self.blocked("*/record/")
        for turn, (name, pin) in enumerate((("otto", "605142"), ("ines", "481516"), ("otto", "605142")), 1):
            self.go(f"/t/7/bend/?piece={turn}&step=1")
            self.take_over(name, pin)
            self.typed(88 + turn / 2)
            self.told(f"Kept on this device: {(1, 1, 2)[turn - 1]} entr")
        self.blocked()
        self.wait(lambda: StepRecord.objects.filter(by=self.other).count() == 2, 30)
        self.told("1 by ines, sent when ines is signed in here")
        self.take_over("ines", "481516")
        self.wait(lambda: StepRecord.objects.count() == 3, 30)
        self.assertEqual(sorted((r.angle, r.by.username) for r in StepRecord.objects.all()),
                         [(88.5, "otto"), (89.0, "ines"), (89.5, "otto")])

    def test_two_tabs_lose_nothing_and_send_each_once(self):
        tabs = [self.home]
        self.browser.switch_to.new_window("tab")
        tabs.append(self.browser.current_window_handle)
        for piece, tab in enumerate(tabs, 1):
            self.browser.switch_to.window(tab)
            self.go(f"/t/7/bend/?piece={piece}&step=1")
        for tab in tabs:
            self.browser.switch_to.window(tab)
            self.online(False)
        for turn in range(2):
            for n, tab in enumerate(tabs, 1):
                self.browser.switch_to.window(tab)
                self.typed(f"8{7 + turn}.{n}")
                self.told("Kept on this device")
        for tab in tabs:
            self.browser.switch_to.window(tab)
            self.online(True)
        self.wait(lambda: StepRecord.objects.count() >= 2, 25)
        self.wait(lambda: not self.find("#kept-here").is_displayed(), 25)
        self.assertEqual(sorted(r.angle for r in StepRecord.objects.all()), [88.1, 88.2])

    def test_what_is_refused_is_shown_to_its_author_and_blocks_nothing_else(self):
        self.go("/t/7/bend/?piece=1&step=1")
        self.online(False)
        self.typed("not an angle")
        self.told("1 entry")
        self.browser.execute_script("document.querySelector('[name=piece]').value = '3';"
                                    "document.querySelector('.measure').dataset.kept = 't7-3';"
                                    "document.querySelector('.measure [name=key]').value = "
                                    "'aaaaaaaa-aaaa-4aaa-8aaa-aaaaaaaaaaaa'")
        self.typed("89.2")
        self.told("2 entries")
        self.online(True)
        self.wait(lambda: StepRecord.objects.filter(run__piece=3).exists(), 20)
        self.told("1 refused: look at it")
        self.assertIn("■ Refused", self.find("#kept-here").text)
        self.accessible()
        self.blocked("*/log/")
        self.open("form[data-kept='t7-log']")
        self.find("form[data-kept='t7-log'] .btn, form[data-kept='t7-log'] button").click()
        self.told("2 entries")
        self.go("/ledger/")  # wherever he is, and whatever becomes of those behind it
        self.told("1 refused")
        self.find("[data-do=look]").click()
        self.wait(lambda: self.has("#angle[aria-invalid]"))
        self.assertEqual(self.find("#angle").get_attribute("value"), "not an angle")
        self.blocked()
        self.typed("89.9")
        self.wait(lambda: StepRecord.objects.filter(run__piece=1, angle=89.9).exists())

    def test_one_that_always_fails_does_not_hold_the_rest(self):
        real = bend.released_or_404

        def failing(number):
            raise RuntimeError("a fault of the server")

        self.go("/t/7/check/?piece=1")
        self.online(False)
        for leg in ("L1", "L2", "L3"):
            self.browser.find_element(By.ID, f"m-{leg}").send_keys("30" if leg != "L2" else "60")
        self.find("#save-check").click()
        self.told("1 entry")
        self.online(True)
        self.wait(lambda: CheckSheet.objects.count() == 1 and not self.find("#kept-here").is_displayed(), 20)
        self.go("/t/7/bend/?piece=2&step=1")
        with mock.patch.object(bend, "released_or_404", failing):
            self.typed("90")
            self.told("1 entry")
            self.told("1 refused", 60)
        self.assertIn("500", self.find("#kept-here").text)
        self.assertIs(bend.released_or_404, real)
        self.find("[data-do=look]").click()
        self.wait(lambda: StepRecord.objects.filter(angle=90).exists())

    def test_trial_strips_wait_one_after_the_other(self):
        self.client.force_login(self.user)
        self.go(self.client.post("/proofs/begin/", {"ticket": "7"})["Location"])
        self.online(False)
        for n, leg in enumerate(("56.98", "57.02"), 1):
            for name, text in {"strip": "100", "leg_a": "45", "leg_b": leg, "angle": "90.5", "thickness": "1.0",
                               "inside_radius": "1.3"}.items():
                self.find(f"#s-{name}").send_keys(text)
            self.find("#save-strip").click()
            self.told(f"{n} entr")
            self.wait(lambda n=n: self.find("#save-strip").text == f"Save strip {n + 1}")
        self.assertEqual(self.find("#s-leg_b").get_attribute("value"), "")
        self.online(True)
        self.wait(lambda: Sample.objects.count() == 2, 25)
        self.assertEqual([(s.strip, s.readings["leg_b"]) for s in Sample.objects.order_by("strip")],
                         [(1, 56.98), (2, 57.02)])

    def test_a_photograph_waits_too_and_is_kept_once(self):
        visit = Visit.objects.create(number=1, name="Niche", on="2026-11-30", made_by=self.user)
        self.go("/site/1/")
        file = Path(tempfile.mkdtemp()) / "niche.png"
        Image.new("RGB", (640, 480), (90, 40, 20)).save(file)
        self.online(False)
        self.open("[name=photograph]")
        self.find("[name=photograph]").send_keys(str(file))
        self.find("[name=caption]").send_keys("the niche", Keys.ENTER)
        self.told("1 entry")
        with mock.patch.object(pictures, "once", side_effect=Working):  # the first time it is not made small yet
            self.online(True)
            self.wait(lambda: self.has("#kept-here") and pictures.once.called, 20)
        self.wait(lambda: visit.pictures.exists(), 25)
        self.wait(lambda: not self.find("#kept-here").is_displayed())
        self.assertEqual([(p.caption, Image.open(io.BytesIO(p.jpeg)).size) for p in visit.pictures.all()],
                         [("the niche", (640, 480))])

    def test_readings_on_site_wait_their_turn_and_survive_a_restart(self):
        self.go("/site/")
        self.find("[name=name]").send_keys("Niche", Keys.ENTER)
        self.wait(lambda: Visit.objects.exists())
        visit = Visit.objects.get()
        for name in ("niche", "sill"):
            visit.things.create(name=name, kind="width")
        self.go(f"/site/{visit.number}/")
        self.online(False)
        for text in ("310", "311"):
            for form in self.all(".things form[data-many]"):
                form.find_element(By.NAME, "reading").send_keys(text, Keys.ENTER)
        self.told("4 entries")
        self.browser.switch_to.new_window("tab")  # the tablet is taken up again
        again = self.browser.current_window_handle
        self.browser.switch_to.window(self.home)
        self.browser.get("about:blank")
        self.browser.switch_to.window(again)
        self.go("/ledger/")
        self.wait(lambda: sum(t.readings.count() for t in visit.things.all()) == 4, 25)
        for thing in visit.things.all():
            self.assertEqual([r.typed for r in thing.readings.order_by("pk")], ["310 mm", "311 mm"])

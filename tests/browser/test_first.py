"""Somebody new, told only that ``make run`` serves a shop: from nothing to a marked-out tray, every click counted."""

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from bendcore.units import MM_PER
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase

MOST_CLICKS = 18
PHRASE = "four-brass-rules-and-a-scriber"


class Newcomer(BrowserCase):
    def setUp(self):
        self.size(1280, 800)
        self.browser.delete_all_cookies()
        self.clicks = 0

    def click(self, css):
        self.clicks += 1
        self.find(css).click()

    def pick(self, css, title):
        self.clicks += 2
        Select(self.find(css)).select_by_visible_text(title)

    def size_of(self, css, text):
        self.clicks += 1
        self.redrawn(lambda: self.type_into(css, text))

    def test_a_tray_six_by_six_by_three_of_22_ga_with_tabs(self):
        self.go("/")
        self.wait(lambda: self.has("#phrase"))
        self.accessible()
        self.find("#name").send_keys("ada")  # it has the focus already
        for field in ("#phrase", "#again"):
            self.find(field).send_keys(PHRASE)  # reached by Tab
        self.pick("#reading", "Inches, to 1/32")
        self.click(".gate .btn")
        self.wait(lambda: self.has("#new-ticket"))
        self.assertTrue(User.objects.get().is_lead)
        self.assertIn("The rack is empty", self.text())
        self.accessible()
        self.click("[name=family][value=tray]")
        self.click("#new-name")
        self.find("#new-name").send_keys("Box", Keys.ENTER)
        self.wait(lambda: self.has("#bench[data-stage=shape]"))
        number = Ticket.objects.get().number
        for name, size in (("shape.length", "6"), ("shape.width", "6"), *(
                (f"shape.walls.{side}.height", "3") for side in ("front", "right", "back", "left"))):
            self.size_of(f"[data-field='{name}']", size)
        self.click("details.hand[data-hand=corners] summary")
        self.redrawn(lambda: self.pick("[data-field='shape.corners.style']", "tab"))
        self.click(".ruler a[data-key='2']")
        self.wait(lambda: self.has("#bench[data-stage=stock]"))
        self.size_of("[data-field='stock.thickness']", "22 ga")
        self.click(".ruler a[data-key='4']")
        self.wait(lambda: self.has("#marking-out"))
        self.click("#marking-out")
        self.wait(lambda: "Marks along" in self.text())
        self.accessible()
        self.stayed_here()
        part = Ticket.objects.get(number=number).figures.part
        self.assertAlmostEqual(part.stock.thickness / MM_PER["in"], 0.0299, 4)
        self.assertEqual((part.shape.length.size, part.shape.width.size), (6 * MM_PER["in"],) * 2)
        self.assertIn("tab", Ticket.objects.get().part["shape"]["corners"]["style"])
        page = self.text()
        for told in ("mild steel", "in"):
            self.assertIn(told, page)
        self.assertNotIn(" mm", page)
        self.assertLessEqual(self.clicks, MOST_CLICKS)

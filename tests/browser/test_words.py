"""Any word asked for where it stands: by key, in the list, by a tap on the drawing; nothing else happens meanwhile."""

from selenium.webdriver.common.keys import Keys

from dorvan.glossary import terms
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.trays import tray_file

MIDDLE = """const want = arguments[0], main = document.getElementById("main");
const walk = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
for (let n = walk.nextNode(); n; n = walk.nextNode()) {
  const at = n.data.search(new RegExp(`(?<!\\\\p{L})${want}(?!\\\\p{L})`, "iu"));
  if (at < 0 || !n.parentElement.closest(arguments[1])?.getClientRects().length) continue;
  const r = new Range(); r.setStart(n, at); r.setEnd(n, at + want.length);
  const b = r.getBoundingClientRect(); return [b.left + b.width / 2, b.top + b.height / 2];
}"""

TAP = """const [clientX, clientY] = arguments;
document.elementFromPoint(clientX, clientY).dispatchEvent(new MouseEvent("click", {
  bubbles: true, cancelable: true, clientX, clientY}))"""


class Words(BrowserCase):
    def means(self):
        return self.find(".asked-means").text

    def test_every_word_can_be_asked_for_where_it_stands(self):
        Ticket.objects.create(number=9, part=tray_file(), made_by=self.user)
        meant = {name: term.means for term in terms() for name in term.names}
        self.go("/t/9/layout/")
        self.wait(lambda: self.has(".folded[data-ready]"))
        before = self.find("main").get_attribute("innerHTML")
        self.find("body").send_keys("?")
        self.wait(lambda: self.has("#asked:not([hidden]) [data-term]"))
        self.accessible()
        listed = {button.text for button in self.all("[data-term]")}
        self.assertLessEqual({"blank", "K", "brake"}, listed)
        self.assertLessEqual(listed, set(meant))
        self.find("[data-term=blank]").click()
        self.assertEqual(self.means(), f"blank {meant['blank']}")
        here = self.browser.current_url
        x, y = self.browser.execute_script(MIDDLE, "order", ".ruler a")
        self.browser.execute_script(TAP, x, y)
        self.assertEqual((self.means(), self.browser.current_url), (f"order {meant['order']}", here))
        self.find("body").send_keys(Keys.ESCAPE)
        self.assertFalse(self.find("#asked").is_displayed())
        self.assertEqual(self.find("main").get_attribute("innerHTML"), before)
        self.find(".ruler a[data-key='4']").click()
        self.wait(lambda: self.has("#bench"))

    def test_it_fits_a_phone(self):
        self.size(390, 844)
        self.go("/words/")
        self.find("#ask").click()
        self.wait(lambda: self.has("#asked:not([hidden]) [data-term]"))
        self.assertLessEqual(self.browser.execute_script("return document.documentElement.scrollWidth"), 390)
        box = self.find("#asked").rect
        self.assertLessEqual(box["x"] + box["width"], 390)

"""What a redraw must leave alone: texts on their way, opened details, the working that is being read."""

from selenium.webdriver.common.keys import Keys

from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.samples import part_file
from tests.core.trays import tray_file

TYPE = """for (const [field, text] of arguments[0]) {
  const input = document.querySelector(`[data-field="${field}"]`);
  input.value = text;
  input.dispatchEvent(new Event("change", { bubbles: true }));
}"""


class Redraws(BrowserCase):
    def ticket(self, part):
        Ticket.objects.create(number=9, part=part, made_by=self.user)
        self.go("/t/9/")

    def part(self):
        return Ticket.objects.get(number=9).part

    def value(self, field):
        return self.find(f"[data-field='{field}']").get_attribute("value")

    def typed(self, *fields):
        self.browser.execute_script(TYPE, fields)

    def offline(self, is_so):
        self.browser.execute_cdp_cmd("Network.emulateNetworkConditions", {
            "offline": is_so, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1})

    def test_fields_changed_faster_than_they_are_drawn(self):
        self.ticket(tray_file())
        self.typed(("shape.length", "210"), ("shape.width", "130"), ("shape.walls.front.height", "41"))
        self.wait(lambda: self.part()["shape"]["walls"]["front"]["height"] == "41")
        shape = self.part()["shape"]
        self.assertEqual((shape["length"], shape["width"]), ("210", "130"))

    def test_a_field_behind_a_wrong_one_waits_until_that_is_right(self):
        self.ticket(tray_file())
        self.typed(("shape.length", "wide"), ("shape.width", "130"))
        self.wait(lambda: "You typed" in self.text())
        self.assertIn("You typed “wide”", self.text())
        self.assertEqual((self.value("shape.length"), self.value("shape.width")), ("wide", "130"))
        self.assertNotEqual(self.part()["shape"]["width"], "130")
        self.typed(("shape.length", "215"))
        self.wait(lambda: (self.part()["shape"]["length"], self.part()["shape"]["width"]) == ("215", "130"))

    def test_a_text_being_typed_is_kept_and_goes_on(self):
        self.ticket(tray_file())
        width = self.find("[data-field='shape.width']")
        width.click()
        width.send_keys(Keys.CONTROL, "a")
        width.send_keys("13")
        self.typed(("shape.length", "210"))
        self.wait(lambda: self.part()["shape"]["length"] == "210")
        self.browser.switch_to.active_element.send_keys("5", Keys.ENTER)
        self.wait(lambda: self.part()["shape"]["width"] == "135")
        self.assertEqual(self.part()["shape"]["length"], "210")

    def test_fields_typed_into_show_their_own_values_when_rows_come_and_go(self):
        self.ticket(tray_file(walls={side: {"height": 30} for side in ("front", "right", "back", "left")}))
        for field, text in (("shape.length", "300"), ("name", "Drip tray"), ("shape.corners.gap", "0.4"),
                            ("shape.walls.front.angle", "80"), ("shape.walls.front.height", "41")):
            if field == "shape.corners.gap":
                self.take("corners", "front", "right")
            self.redrawn(lambda f=field, t=text: self.type_into(f"[data-field='{f}']", t))
        self.redrawn(lambda: self.type_into("[data-field='shape.width']", "1/x"))
        for style in ("butt", "open"):
            self.choose("shape.corners.style", style)
        self.redrawn(lambda: self.find("[aria-label='Add: Right wall, hem']").click())
        self.redrawn(lambda: self.find("#undo").click())
        self.assertEqual((self.value("name"), self.value("shape.corners.gap")), ("Drip tray", "0.4"))

    def test_what_the_server_writes_otherwise_is_shown_so(self):
        self.ticket(tray_file())
        before = self.value("shape.length")
        self.redrawn(lambda: self.type_into("[data-field='shape.length']", f"  {before} "))
        self.assertEqual(self.value("shape.length"), before)

    def test_details_and_the_working_stay_open_and_are_of_the_part_as_it_is(self):
        self.ticket(part_file())
        self.find("details.hand:not([data-unlisted]) summary").click()
        self.find(".figure[data-working=blank]").click()
        self.wait(lambda: self.find("#w-blank").text)
        before = self.find("#w-blank").text
        self.redrawn(lambda: self.type_into("[data-field='shape.legs[0]']", "77"))
        self.wait(lambda: self.find("#w-blank").text != before)
        self.assertTrue(self.has("details[open]"))
        self.accessible()

    def test_undo_lets_go_of_what_waited(self):
        self.ticket(tray_file())
        self.redrawn(lambda: self.typed(("shape.width", "125")))
        self.typed(("shape.length", "wide"), ("shape.width", "130"))
        self.wait(lambda: "You typed" in self.text())
        self.redrawn(lambda: self.find("#undo").click())
        self.redrawn(lambda: self.typed(("shape.length", "215")))
        self.assertNotIn(self.part()["shape"]["width"], ("125", "130"))

    def test_who_was_signed_out_keeps_what_was_typed(self):
        self.ticket(tray_file())
        self.browser.delete_cookie("sessionid")
        self.typed(("shape.length", "222"))
        self.wait(lambda: "you were signed out" in self.text())
        self.assertEqual(self.value("shape.length"), "222")

    def test_a_change_without_an_answer_is_said_and_sent_again(self):
        self.ticket(tray_file())
        self.offline(True)
        self.typed(("shape.length", "222"))
        self.wait(lambda: "Dorvan did not answer" in self.text())
        self.assertEqual(self.value("shape.length"), "222")
        self.accessible()
        self.offline(False)
        self.find("[data-field='shape.length']").send_keys(Keys.ENTER)
        self.wait(lambda: self.part()["shape"]["length"] == "222")
        self.wait(lambda: "Dorvan did not answer" not in self.text())

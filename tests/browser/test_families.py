"""A journey for every family beyond the strip and the tray, through a real browser."""

import tempfile
from pathlib import Path

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from bendcore.formats.export import export
from bendcore.part import read_part
from bendcore.solids import kernel
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core import kernel as made
from tests.core.plates import plate_file
from tests.core.trays import tray_file


class Families(BrowserCase):
    def begin(self, family, name):
        self.go("/tickets/begin/")
        self.find(f"[name=family][value={family}]").click()
        self.find("#new-name").send_keys(name, Keys.ENTER)
        self.wait(lambda: self.has("#bench[data-stage=shape]"))
        return Ticket.objects.get(part__name=name).number

    def press(self, label):
        self.redrawn(lambda: self.find(f"[aria-label='{label}']").click())

    def laid_out(self, number):
        """The layout, the folded part and the marking-out sheet of a part as it stands."""
        self.go(f"/t/{number}/layout/")
        self.wait(lambda: self.has(".folded[data-ready] canvas"))
        self.accessible()
        self.find("#marking-out").click()
        self.wait(lambda: "Marks along" in self.text())
        self.accessible()
        self.stayed_here()

    def test_a_plate(self):
        number = self.begin("plate", "Bracket")
        self.take("F1")
        self.redrawn(lambda: self.type_into("[aria-label^='Length of flange F1']", "25 inside"))
        self.press("Add: Flange F1, return")
        self.pick("edge-3")
        self.press("Add a flange: Edge 3")
        self.wait(lambda: self.has("details.hand[data-hand=F2]"))
        self.pick("edge-2")
        self.press("Move flange F2 to edge 2")
        self.pick("whole")
        self.redrawn(lambda: self.find("#add-slots").click())
        self.pick("slot-1")
        self.redrawn(lambda: self.type_into("[data-field='shape.slots[0].width']", "900"))
        self.assertIn("You typed “900”", self.text())
        self.assertEqual([hand.get_attribute("data-hand") for hand in self.all("details.hand[open]")], ["slot-1"])
        self.accessible()
        self.pick("corner-3")
        self.redrawn(lambda: self.type_into("[data-field='shape.outline[2][0]']", "160"))
        shape = Ticket.objects.get(number=number).part["shape"]
        self.assertEqual((shape["flanges"][0]["length"], shape["flanges"][1]["edge"]),
                         ({"length": "25", "dims": "inside"}, 2))
        self.laid_out(number)

    def test_a_sleeve_and_its_caps(self):
        number = self.begin("sleeve", "Duct")
        self.browser.execute_script("document.querySelector('form.fit').closest('details').open = true")
        self.find("[aria-label='Its two sizes']").send_keys("140 x 90")
        self.redrawn(lambda: self.find(".fit .small").click())
        self.assertEqual(self.find("[aria-label^='Width']").get_attribute("value"), "around 140 with 0.5")
        self.press("Add: Flanges at the start")
        self.take("S")
        self.choose("shape.seam.kind", "butt")
        self.accessible()
        self.find("#kit").click()
        self.wait(lambda: "Add a piece" in self.text())
        self.goes_on(lambda: self.find(".kit-side .btn").click())
        self.wait(lambda: "follows it" in self.text())
        self.find("[name=name][placeholder]").send_keys("Rivets")
        self.find("[name=amount]").send_keys("12", Keys.ENTER)
        self.wait(lambda: "Rivets" in self.text())
        self.accessible()
        cap = Ticket.objects.get(role="cap")
        self.assertAlmostEqual(cap.figures.part.shape.length.outside, 141 + 3 + 0.6 + 3)
        self.laid_out(number)

    def test_a_guard_and_its_side_plates(self):
        number = self.begin("guard", "Hood")
        self.redrawn(lambda: self.type_into("[aria-label^='Leg L2']", "130"))
        self.take("front", "corners")
        self.press("Turned edge at the front, direction: in, turn it out")
        self.choose("shape.corners.style", "bypass")
        self.pick("corner-4")
        self.press("Take out: Corner 4")
        self.accessible()
        self.assertEqual(len(Ticket.objects.get(number=number).figures.part.shape.panels), 3)
        self.laid_out(number)

    def test_a_transition_in_two_pieces(self):
        number = self.begin("transition", "Chute")
        self.redrawn(lambda: self.type_into("[aria-label^='Height']", "150"))
        self.redrawn(lambda: self.type_into("[aria-label^='Top moved right']", "-25"))
        self.press("Add: Flange at the top")
        self.assertIn("stand", self.text())
        self.redrawn(lambda: self.type_into("[data-field='shape.pieces']", "2"))
        self.accessible()
        self.find("#kit").click()
        self.wait(lambda: "Add a piece" in self.text())
        self.goes_on(lambda: self.find(".kit-side .btn").click())
        self.assertIn("follows it", self.text())
        shapes = [t.part["shape"] for t in Ticket.objects.order_by("number")]
        self.assertEqual([shape.get("piece", 1) for shape in shapes], [1, 2])
        self.assertEqual(shapes[1]["top"]["offset"][0], "-25 mm")
        self.laid_out(number)

    def test_a_chain_rolled_on_a_phone(self):
        number = self.begin("chain", "Horn")
        self.take("S2")
        self.redrawn(lambda: self.type_into("[data-field='shape.stations[1].turn']", "12"))
        self.redrawn(lambda: self.type_into("[data-field='shape.stations[1].turn']", "140"))
        self.assertIn("too short for the turns", self.text())
        self.accessible()
        self.go(f"/t/{number}/kit/")
        self.find("button[value=mates]").click()
        self.wait(lambda: "2 pieces belong" in self.text())
        self.laid_out(number)
        self.size(390, 844)
        self.go(f"/t/{number}/bend/")
        self.assertIn("hold the small end back", self.text())
        self.find(".sheet .btn").click()
        self.wait(lambda: self.has("#tick"))
        self.accessible()
        self.find("#tick").click()
        self.wait(lambda: "All rolled" in self.text())
        self.go(f"/t/{number}/check/")
        self.find("[name=first-circle]").send_keys("120.2")
        self.find("#save-check").click()
        self.wait(lambda: "✓ Good" in self.text())
        self.accessible()

    def test_a_housing_with_a_window_and_two_tabs_from_nothing(self):
        number = self.begin("panels", "Housing")
        self.pick("P1-side-1")
        self.press("Add a panel here: Panel P1, its start side")
        self.wait(lambda: self.has("details.hand[data-hand=P3]"))
        self.take("P1")
        self.press("Add a panel: Panel P1, its end side")
        self.wait(lambda: self.has("details.hand[data-hand=P4]"))
        self.take("P4")
        self.redrawn(lambda: self.type_into("[aria-label='Panel P4, left free at its start']", "8"))
        self.take("P1")
        self.press("Add a window: Panel P1")
        self.wait(lambda: self.has("details.hand[data-hand=window-1]"))
        self.take("window-1")
        self.redrawn(lambda: self.type_into("[aria-label='Window 1, radius of its corners']", "40"))
        self.assertIn("half its smaller side", self.text())
        self.redrawn(lambda: self.type_into("[aria-label='Window 1, radius of its corners']", "2"))
        self.accessible()
        shape = Ticket.objects.get(number=number).part["shape"]
        self.assertEqual([(one.get("on", 0), one["edge"]) for one in shape["panels"]], [(0, 1), (1, 2), (1, 1), (1, 3)])
        self.assertEqual((shape["windows"][0]["on"], shape["panels"][3]["start"]), (1, "8"))
        self.laid_out(number)
        self.go(f"/t/{number}/order/")
        self.wait(lambda: "Panel P1" in self.text())
        self.accessible()

    def test_a_rib_hammered_over_its_block(self):
        number = self.begin("rib", "Rib")
        self.redrawn(lambda: self.type_into("[aria-label^='Rise of edge 3']", "26"))
        self.redrawn(lambda: self.type_into("[aria-label^='Flange, outside']", "1"))
        self.assertIn("which its bend takes", self.text())
        self.redrawn(lambda: self.type_into("[aria-label^='Flange, outside']", "16"))
        self.pick("edge-2")
        self.press("Add a curve: Edge 2")
        self.wait(lambda: self.has("details.hand[data-hand=curve-3]"))
        self.accessible()
        self.pick("whole")
        self.redrawn(lambda: self.find("#add-holes").click())
        self.assertTrue(self.all(".scribed.flute"))
        shape = Ticket.objects.get(number=number).part["shape"]
        self.assertEqual((shape["edges"][2]["edge"], shape["edges"][0]["rise"], len(shape["holes"])), (2, "26", 1))
        self.go(f"/t/{number}/layout/")
        self.assertIn("Form block A4", self.text())
        self.laid_out(number)
        self.assertIn("centre of edge 3", self.text())
        self.go(f"/t/{number}/bend/")
        self.assertIn("arrows on both blocks point at each other", self.text())
        self.find(".sheet .btn").click()
        self.wait(lambda: self.has("#tick"))
        self.accessible()
        self.find("#tick").click()
        self.wait(lambda: "All hammered" in self.text())
        self.go(f"/t/{number}/check/")
        self.find("[name=flange]").send_keys("16.1")
        self.find("#save-check").click()
        self.wait(lambda: "✓ Good" in self.text())
        self.stayed_here()

    def test_a_flat_from_a_drawing(self):
        part = read_part(plate_file())
        with tempfile.TemporaryDirectory() as folder:
            for name, text in (("good.svg", export(part, "svg")), ("bad.svg", BAD)):
                Path(folder, name).write_text(text)
            self.go("/tickets/begin/")
            self.find("#drawing").send_keys(f"{folder}/bad.svg")
            self.find(".read-in .small").click()
            self.wait(lambda: "loose line" in self.text())
            self.assertEqual(len(self.all(".refused .ring")), 2)
            self.accessible()
            self.find("#drawing").send_keys(f"{folder}/good.svg")
            self.find(".read-in .small").click()
            self.wait(lambda: self.has("#bench[data-stage=shape]"))
        ticket = Ticket.objects.get()
        self.assertEqual(len(ticket.part["shape"]["bends"]), len(part.sheet.bends))
        self.take("B1")
        self.redrawn(lambda: self.type_into("[data-field='shape.bends[0].angle']", "60"))
        self.accessible()
        self.laid_out(ticket.number)

    def test_the_folded_part_is_pointed_at_and_cut(self):
        Ticket.objects.create(number=9, part=tray_file(width=30, walls={
            "front": {"height": 60, "angle": 135}, "back": {"height": 60, "angle": 135}}), made_by=self.user)
        self.go("/t/9/")
        self.assertGreaterEqual(len(self.all("path.conflict")), 2)
        self.assertIn("into each other when folded", self.text())
        self.go("/t/9/space/")
        self.wait(lambda: self.has(".folded[data-ready] canvas") and self.has(".cutaway"))
        canvas = self.find(".folded canvas")
        for dx, dy in ((0, 0), (-20, 0), (0, 30), (40, 20), (-60, -30), (60, 40)):
            ActionChains(self.browser).move_to_element_with_offset(canvas, dx, dy).click().perform()
        self.wait(lambda: self.find("#between").text)
        Select(self.find("#cut select")).select_by_value("y")
        self.wait(lambda: "across the width" in self.find("#section").text)
        self.type_into("#cut [name=at]", "900")
        self.wait(lambda: "misses the part" in self.find("#section").text)
        self.browser.find_element(By.CSS_SELECTOR, "[data-near=front]").click()
        self.accessible()

    def test_a_tray_opened_as_panels_is_given_a_notch(self):
        number = self.begin("tray", "Feeder")
        before = Ticket.objects.get(number=number).figures.part
        self.browser.execute_script("document.querySelector('[value=panels]').closest('details').open = true")
        self.redrawn(lambda: self.find("[name=action][value=panels] ~ button").click())
        ticket = Ticket.objects.get(number=number)
        self.assertEqual(ticket.kind, "panels")
        self.assertAlmostEqual(ticket.figures.part.sheet.face_area, before.sheet.face_area, 3)
        ring = ticket.part["shape"]["panels"][0]["outline"]
        far = next(k for k in range(1, len(ring)) if ring[k - 1][1] == ring[k][1] == max(up for _, up in ring))
        self.pick(f"P1-side-{far}")
        self.press(f"Add: cut a notch here: Panel P1, its edge {far}")
        self.wait(lambda: self.has("details.hand[data-hand=notch-1]"))
        self.take("notch-1")
        self.redrawn(lambda: self.type_into("[aria-label='Notch 1, width']", "400"))
        self.redrawn(lambda: self.type_into("[aria-label='Notch 1, depth']", "5"))
        self.redrawn(lambda: self.type_into("[aria-label='Notch 1, width']", "20"))
        self.choose("shape.notches[0].form", "vee")
        self.accessible()
        area = Ticket.objects.get(number=number).figures.part.sheet.face_area
        self.assertAlmostEqual(before.sheet.face_area - area, 20 * 5 / 2, delta=0.1)
        self.pick(f"P1-corner-{far}")
        self.redrawn(lambda: self.type_into(f"[data-field='shape.panels[0].outline[{far - 1}][1]']", "25"))
        self.assertLess(Ticket.objects.get(number=number).figures.part.sheet.face_area, area)
        self.accessible()
        self.laid_out(number)

    def test_a_solid_read_in_is_laid_out_and_gets_its_order_and_its_files(self):
        if not kernel.is_there():
            self.skipTest("the kernel of solids is an extra")
        body = made.rounded(made.joined(made.box((0, 0, 0), (120, 60, 1.5)), made.box((118.5, 0, 0), (120, 60, 40))),
                            [((118.5, 30, 1.5), 1.5), ((120, 30, 0), 3)])
        with tempfile.NamedTemporaryFile(suffix=".step") as file:
            Path(file.name).write_bytes(made.as_step(made.cut(body, made.rod((40, 30, -1), (0, 0, 1), 6, 9))))
            self.go("/tickets/begin/")
            self.find("#drawing").send_keys(file.name)
            self.goes_on(lambda: self.find(".read-in button").click())
        self.assertIn("2 flat faces, 1 bend", self.text())
        self.accessible()
        ticket = Ticket.objects.get()
        self.assertEqual(ticket.part["stock"]["thickness"], 1.5)
        self.laid_out(ticket.number)
        self.go(f"/t/{ticket.number}/order/")
        self.wait(lambda: "Panel P1" in self.text())
        part = ticket.figures.part
        self.assertAlmostEqual(max(part.flat.size), 160 - part.sheet.bends[0].figures.deduction, 3)


BAD = ('<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
       '<path d="M0,0 H90 V60 H0 Z"/><path d="M20,20 L50,40"/></svg>')

"""The bench sheet of a tray or a plate: one thing in hand, picked on the drawing or on the sheet."""

import math

from selenium.webdriver.common.keys import Keys

from bendcore.edits import new_part
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.plates import plate_file
from tests.core.trays import tray_file


class Hand(BrowserCase):
    """One thing in hand: no bench sheet is longer than the screen, and the whole is one step back."""

    def fits(self, what):
        tall = self.browser.execute_script(
            "const s = document.querySelector('.sheet'); return [s.scrollHeight, s.clientHeight]")
        self.assertLessEqual(tall[0], tall[1], what)

    def shown(self):
        return [thing.get_attribute("data-hand") for thing in self.all("details.hand") if thing.is_displayed()]

    def each_in_turn(self, part, things):
        Ticket.objects.create(number=7, made_by=self.user, part=part)
        self.go("/t/7/")
        self.wait(lambda: self.has("[data-pick]"))
        self.assertEqual(self.shown(), things)
        self.fits("whole")
        for thing in things:
            self.find(f"details.hand[data-hand='{thing}'] summary").click()
            self.assertEqual(self.shown(), [thing])
            self.fits(thing)
            self.accessible()
            self.find(f"details.hand[data-hand='{thing}'] summary").click()
        self.assertEqual(self.shown(), things)

    def test_a_tray_with_four_walls_lips_and_hems(self):
        sides = ("front", "right", "back", "left")
        rims = {"height": 60, "lip": {"width": 15, "direction": "in"},
                "hem": {"length": 8, "gap": 0, "direction": "in"}}
        self.each_in_turn(tray_file(length=300, width=300, walls={side: rims for side in sides},
                                    corners={"style": "tab", "gap": 0.5, "tab": {"width": 15}}),
                          ["left", "right", "front", "back", "corners"])

    def test_a_plate_with_six_flanges(self):
        ring = [[round(120 * way(n * math.pi / 3), 3) for way in (math.cos, math.sin)] for n in range(6)]
        flanges = [{"edge": n, "length": 20, "direction": "up", "return": {"length": 12, "direction": "up"}}
                   for n in range(1, 7)]
        self.each_in_turn(plate_file(outline=ring, flanges=flanges),
                          [f"F{n}" for n in range(1, 7)])

    def test_every_thing_of_every_family_is_taken_in_hand_where_it_lies(self):
        """Whatever can be tapped on a drawing opens its own rows, or leads to its input."""
        for number, kind in enumerate(("profile", "tray", "plate", "sleeve", "guard"), 20):
            Ticket.objects.create(number=number, brake=self.brake, made_by=self.user, part=new_part(kind, "mm", kind))
            self.go(f"/t/{number}/")
            self.wait(lambda: self.has("[data-pick]"))
            for pick in [p.get_attribute("data-pick") for p in self.all("[data-pick]:not([data-pick=whole])")]:
                self.pick(pick)
                if self.has(f"[data-pick='{pick}'][data-focus]"):
                    focus = self.browser.switch_to.active_element.get_attribute("data-field")
                    self.assertEqual(focus, self.find(f"[data-pick='{pick}']").get_attribute("data-focus"))
                    continue
                self.assertEqual(self.shown(), [pick], kind)
                self.assertTrue(self.all(f"details[data-hand='{pick}'] :is(input, button, select)"), (kind, pick))
                self.fits((kind, pick))

    def test_the_drawing_is_walked_with_tab_and_opened_with_enter(self):
        Ticket.objects.create(number=7, brake=self.brake, made_by=self.user, part=tray_file())
        self.go("/t/7/")
        self.wait(lambda: self.has("[data-pick]"))
        picked = self.find("[data-pick=right]")
        self.browser.execute_script("arguments[0].focus()", picked)
        picked.send_keys(Keys.ENTER)
        self.assertEqual(self.shown(), ["right"])
        self.redrawn(lambda: self.type_into("[data-field='shape.walls.right.angle']", "80"))
        self.assertEqual(self.shown(), ["right"])  # what is in hand stays there
        self.redrawn(lambda: self.type_into("[data-field='shape.walls.right.angle']", "800"))
        self.assertIn("You typed “800”", self.text())
        self.find("details.hand[data-hand=right] summary").click()
        self.assertTrue(self.find("[data-field=name]").is_displayed())
        self.pick("left")
        self.assertFalse(self.find("[data-field=name]").is_displayed())
        self.pick("whole")
        self.assertEqual(self.all("details.hand[open]"), [])

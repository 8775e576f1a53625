"""Orders in the browser: a tray fails, the reason is read, a way out taken; a route; an order chosen step by step."""

import json
from unittest.mock import patch

from dorvan.brakes.models import Brake
from dorvan.tickets.models import Ticket
from tests.core.samples import ROOT, part_file, tray_file

from .base import BrowserCase


class FingerBrake(BrowserCase):
    @patch.dict("os.environ", {"DORVAN_SEARCH_SECONDS": "300"})  # a busy machine takes thrice as long
    def test_find_fail_read_why_take_a_way_out_and_bend(self):
        text = (ROOT / "demo" / "finger-1270.json").read_text("utf-8")
        finger = Brake.objects.create(name=json.loads(text)["name"], file=text)
        walls = {side: {"height": 140} for side in ("left", "right", "front", "back")}
        Ticket.objects.create(number=7, part=tray_file(walls=walls), brake=finger, made_by=self.user)
        self.go("/t/7/order/")
        self.wait(lambda: "No order" in self.text(), 30)
        self.assertIn("meets the beam", " ".join(self.text().split()))
        self.find("#remedies button").click()
        self.wait(lambda: "Make the walls" in self.text(), 240)
        self.assertIn("cannot all be made", " ".join(self.text().split()))
        self.accessible()
        note = next(n for n in self.all(".note.good") if "Make the walls" in n.text)
        note.find_element("css selector", "button").click()
        self.wait(lambda: "It can be made" in self.text(), 30)
        self.assertLess(Ticket.objects.get(number=7).figures.part.shape.legs[2].size, 140)
        self.go("/t/7/")  # where nothing is to be told, nothing is taken away
        self.wait(lambda: not self.all(".order-look"), 20)
        self.assertTrue(self.all("#bench .stage"))
        Ticket.objects.filter(number=7).update(part=tray_file(walls=walls), order_key="")
        self.go("/t/7/stock/")
        self.wait(lambda: "Measure the machine before you cut" in self.text(), 20)
        self.accessible()
        self.find("#limits button").click()
        self.wait(lambda: "deepest channel" in self.find("#limits").text.lower() and "button" not in
                  self.find("#limits").get_attribute("innerHTML"), 240)
        self.accessible()
        Ticket.objects.filter(number=7).update(part=tray_file())
        self.go("/t/7/order/")
        self.wait(lambda: "It can be made" in self.text(), 30)
        self.wait(lambda: self.all(".machine path.tool.finger"))
        self.assertTrue(self.all(".step-sheet:not([hidden]) .pieces rect"))
        self.assertIn("Under the clamp", self.text())
        self.accessible()
        self.find("#every-brake button").click()
        self.wait(lambda: len(self.all("#every-brake .every tr")) == 2, 30)
        self.accessible()
        for _ in range(3):
            self.find("[aria-label='Step on']").click()
        self.wait(lambda: "4 of 4" in self.text())

        self.find("[data-key='7']").click()
        self.release()
        self.assertIn("Sight line", self.text())
        self.accessible()
        self.find("#angle").send_keys("88")
        self.find("#tick").click()
        self.wait(lambda: "step 2 of 4" in self.text())

    def test_a_route_over_two_brakes(self):
        """The solid leaf brake cannot bend the tray; with the finger brake after it, it is bent."""
        brakes = {}
        for name in ("leaf-2000", "finger-1270"):
            text = (ROOT / "demo" / f"{name}.json").read_text("utf-8")
            brakes[name] = Brake.objects.create(name=json.loads(text)["name"], file=text)
        Ticket.objects.create(number=8, part=tray_file(), brake=brakes["leaf-2000"], made_by=self.user)
        self.go("/t/8/order/")
        self.wait(lambda: "No order" in self.text(), 30)
        self.find("#every-brake button").click()
        self.wait(lambda: "✓" in self.find("#every-brake").text, 40)
        self.accessible()
        self.find(f"[aria-label='Then on to {brakes['finger-1270'].name}']").click()
        self.wait(lambda: "It can be made" in self.text(), 30)
        self.assertIn("goes over where that is cheaper", " ".join(self.text().split()))
        self.assertIn(brakes["finger-1270"].name, self.find(".step-sheet:not([hidden])").text)
        self.accessible()


class Choosing(BrowserCase):
    def test_look_in_space_keep_a_step_gauge_a_leg_directly_and_print(self):
        press = Brake.objects.get(name="60 t press brake")
        part = part_file([14, 40, 120, 40, 14], [(90, "up")] * 4)
        Ticket.objects.create(number=7, part=part, brake=press, punch="Straight 85", die="V 8", made_by=self.user)
        self.go("/t/7/order/")
        self.wait(lambda: "It can be made" in self.text(), 30)
        self.find("#in-space").click()
        self.wait(lambda: self.browser.execute_script(
            "const i = document.querySelector('.in-space'); return !i.hidden && i.complete && i.naturalWidth > 0"), 20)
        self.find("[aria-label='Step on']").click()
        self.wait(lambda: "/2/" in self.find(".in-space").get_attribute("src"))
        self.find("#in-space").click()
        self.wait(lambda: self.all("#sizes .spread tr"), 20)
        self.accessible()
        self.find("[aria-label='Gauge L1 directly']").click()
        self.wait(lambda: self.all("#sizes [aria-pressed='true']"), 30)
        self.assertEqual(Ticket.objects.get(number=7).important, ["L1"])
        self.find("#why button").click()
        self.wait(lambda: "best instead" in self.find("#why").text, 30)
        self.accessible()
        self.find("[data-keep='1']").click()
        self.wait(lambda: self.all("[data-keep='1'][aria-pressed='true']"), 30)
        self.assertEqual(len(Ticket.objects.get(number=7).bend_order), 1)
        self.find("#best").click()
        self.wait(lambda: not self.all("[data-keep][aria-pressed='true']"), 30)
        self.go("/t/7/order/sheet/")
        self.assertEqual(len(self.all(".bend-steps svg.scene")), 4)
        self.accessible()

"""A tray on a finger brake: it fails, the reason is read, a way out taken, and it is bent."""

import json

from dorvan.brakes.models import Brake
from dorvan.tickets.models import Ticket
from tests.core.samples import ROOT, tray_file

from .base import BrowserCase


class FingerBrake(BrowserCase):
    def test_find_fail_read_why_take_a_way_out_and_bend(self):
        text = (ROOT / "demo" / "finger-1270.json").read_text("utf-8")
        finger = Brake.objects.create(name=json.loads(text)["name"], file=text)
        walls = {side: {"height": 140} for side in ("left", "right", "front", "back")}
        Ticket.objects.create(number=7, part=tray_file(walls=walls), brake=finger, made_by=self.user)
        self.go("/t/7/order/")
        self.wait(lambda: "No order" in self.text(), 30)
        self.assertIn("meets the beam", " ".join(self.text().split()))
        self.find("#remedies button").click()
        self.wait(lambda: "Make the walls" in self.text(), 60)
        for side in walls:
            walls[side]["height"] = 60
        ticket = Ticket.objects.get(number=7)
        ticket.change(tray_file(walls=walls), "lower", self.user)
        self.go("/t/7/order/")
        self.wait(lambda: "It can be made" in self.text(), 30)
        self.wait(lambda: self.all(".machine path.tool.finger"))
        self.assertTrue(self.all(".step-sheet:not([hidden]) .pieces rect"))
        self.assertIn("Under the clamp", self.text())
        self.accessible()
        self.find("#every-brake button").click()
        self.wait(lambda: len(self.all(".every tr")) == 2, 30)
        self.accessible()
        for _ in range(3):
            self.find("[aria-label='Step on']").click()
        self.wait(lambda: "4 of 4" in self.text())

        self.find("[data-key='6']").click()
        self.find(".sheet .btn").click()
        self.wait(lambda: self.has("#tick"))
        self.assertIn("Sight line", self.text())
        self.accessible()
        self.find("#angle").send_keys("88")
        self.find("#tick").click()
        self.wait(lambda: "step 2 of 4" in self.text())

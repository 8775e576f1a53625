"""What an order does to the sizes, beside 100,000 parts folded from their stop contacts.

The judge bends metal (``dorvan.simulated.metal``): it knows where a line really lies in it, where it stands at the
stop, and measures folded parts. It shares no code with the sums it judges.
"""

import random
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from bendcore.floor.rows import rows, strokes
from bendcore.order.accuracy.stackup import stack_up
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.quality.spreads import Spreads
from dorvan.simulated.metal import Metal
from tests.often import often

from .samples import brake, part_file, press, random_part, tray_file
from .sleeves import sleeve_file

PARTS = 100_000
SPREADS = Spreads()
NONE = Spreads(**{name: 0.0 for name in vars(SPREADS)})
COMMON = replace(SPREADS, stop_repeat=0.0, scribing=0.0, angle=0.0)
ALONE = replace(NONE, stop_repeat=0.2, scribing=0.15, angle=0.4)
TURNED = replace(NONE, springback=1.0)


class Shop:
    """Many pieces of one row of bends, and what is off with them."""

    def __init__(self, row, spreads, seed=5):
        rng = np.random.default_rng(seed)

        def off(sigma):
            return rng.normal(0, sigma, PARTS) if sigma else np.zeros(PARTS)

        figures = [bend.figures for bend in row.bends]
        springback = off(spreads.springback)
        t, k = figures[0].thickness * (1 + off(spreads.thickness)), figures[0].k + off(spreads.k)
        self.stop, self.off, self.spreads = off(spreads.stop_offset), off, spreads
        self.metal = Metal(row, t, k)
        for i, f in enumerate(figures):
            self.metal.bend(i, f.angle * (1 + springback / 90) + off(spreads.angle))

    def press(self, steps, height):
        for s in strokes(self.metal.row, steps):
            line = steps[s.step].gauge.kind == "line"
            error = self.off(self.spreads.scribing) if line else self.stop + self.off(self.spreads.stop_repeat)
            self.metal.strike(s.bend, s.right, error, steps[s.step].gauge.stop, s.over, height)

    def hand(self, steps):
        for s in strokes(self.metal.row, steps):
            self.metal.clamp(s.bend, not s.right, self.off(self.spreads.scribing))


class StackUpTests(SimpleTestCase):
    def compare(self, expected, simulated, words):
        for name, values in simulated.items():
            row = expected[name]
            if values.std() < 1e-3:
                self.assertLess(row.sigma, 2e-3)
                continue
            self.assertAlmostEqual(row.sigma / values.std(), 1.0, delta=0.03, msg=f"{words} {name}")
            self.assertAlmostEqual(row.dimension.nominal + row.mean, values.mean(),
                                   delta=0.03 * values.std() + 1e-3, msg=f"{words} {name}")
            if words[1] == "turned":  # not normal where a flange at the stop is open or overbent
                continue
            good = (np.abs(values - row.dimension.nominal) <= row.dimension.tolerance).mean()
            self.assertAlmostEqual(row.chance, good, delta=0.03, msg=f"{words} {name}")

    def test_strips_on_a_press(self):
        rng, machine, told, kinds = random.Random(8), press(["Swan neck 85"], ["V 8"]), 0, set()
        while told < often(8):
            part = random_part(rng, 4, 2)
            plan = plan_order(part, machine)
            if not plan.feasible or any(bend.is_hem for bend in part.sheet.bends):
                continue
            told += 1
            kinds |= {step.gauge.kind for step in plan.steps}
            row, = rows(part)
            for words, spreads in (("all", SPREADS), ("common", COMMON), ("alone", ALONE), ("turned", TURNED)):
                shop = Shop(row, spreads)
                shop.press(plan.steps, machine.stops.contact_height)
                expected = {row.dimension.name: row for row in stack_up(part, plan.steps, [machine], spreads)}
                self.compare(expected, shop.metal.legs(), (told, words))
        self.assertGreaterEqual(kinds, {"edge", "face"})

    def test_trays_on_a_finger_brake(self):
        machine = brake("finger-1270")
        for height in (25, 40):
            walls = {side: {"height": height} for side in ("left", "right", "front", "back")}
            part = read_part(tray_file(walls=walls))
            plan = plan_order(part, machine)
            self.assertTrue(plan.feasible)
            expected = {row.dimension.name: row for row in stack_up(part, plan.steps, [machine])}
            for row in rows(part):
                shop = Shop(row, SPREADS)
                shop.hand(plan.steps)
                self.compare(expected, shop.metal.legs(), (height, "all"))

    def test_flanges_of_a_sleeve_on_a_hand_brake(self):
        """A flange at an end hangs on one bend, and carries no panel's name: what moves it is its own side."""
        machine = brake("leaf-2000")
        part = read_part(sleeve_file(end_flange={"width": 15, "direction": "out"}))
        plan = plan_order(part, machine)
        spreads = replace(SPREADS, springback=0.5, scribing=0.01)  # so that it shows which side takes the metal
        expected = {row.dimension.name: row for row in stack_up(part, plan.steps, [machine], spreads)}
        row = next(row for row in rows(part) if "end-flange" in row.legs)
        self.assertEqual(dict(zip(row.legs, row.faces, strict=True)), {"long": "P1", "end-flange": "P1-end"})
        shop = Shop(row, spreads)
        shop.hand(plan.steps)
        made = shop.metal.legs()
        made["end-flange"] = made["end-flange"] - shop.metal.t * np.tan(shop.metal.angle[-1] / 2)
        self.assertEqual(set(made), {"long", "end-flange"})  # the flange is measured from the panel's outer face
        self.compare(expected, made, ("sleeve", "all"))

    def test_what_is_common_adds_up_and_what_is_not_adds_as_squares(self):
        """Four alike bends along a strip take K's error four times; of the overall length that is what counts."""
        part = read_part(part_file([30, 30, 30], [(90, "up"), (90, "down")]))
        plan = plan_order(part, press(["Swan neck 85"], ["V 8"]))
        only = stack_up(part, plan.steps, [press(["Swan neck 85"], ["V 8"])], replace(NONE, k=0.02))
        closing = max(row.sigma for row in only if row.dimension.name.startswith("L"))
        taken = np.radians(90) * part.stock.thickness * 0.02
        gauged = {step.bends[0]: step.gauge.kind for step in plan.steps}
        self.assertEqual(len(gauged), 2)
        self.assertAlmostEqual(closing / taken, 1.5 if "face" in gauged.values() else 1.0, places=6)

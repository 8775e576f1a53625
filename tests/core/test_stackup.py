"""What an order does to the sizes, beside 100,000 parts folded from their stop contacts.

The judge below bends strips: it knows where a line really lies in the metal, where the metal stands at the stop, and
measures folded parts. It shares no code with the sums it judges.
"""

import random
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from bendcore.order.planning import plan_order
from bendcore.order.stackup import stack_up
from bendcore.part import read_part
from bendcore.quality.spreads import Spreads

from .samples import brake, part_file, press, random_part, tray_file

PARTS = 100_000
SPREADS = Spreads()
NONE = Spreads(**{name: 0.0 for name in vars(SPREADS)})
COMMON = replace(SPREADS, stop_repeat=0.0, scribing=0.0, angle=0.0)
ALONE = replace(NONE, stop_repeat=0.2, scribing=0.15, angle=0.4)
TURNED = replace(NONE, springback=1.0)


class Shop:
    """Many pieces of one strip of bends in a row: ``lines`` where each bend is drawn in the metal, ``long`` the
    metal's length."""

    def __init__(self, bends, lines, long, spreads, seed=5):
        self.bends, self.lines, self.long = bends, lines, long
        rng = np.random.default_rng(seed)

        def off(sigma):
            return rng.normal(0, sigma, PARTS) if sigma else np.zeros(PARTS)

        t, springback = bends[0].figures.thickness, off(spreads.springback)
        self.t, k, self.stop = t * (1 + off(spreads.thickness)), off(spreads.k), off(spreads.stop_offset)
        self.angle = [np.radians(b.figures.angle * (1 + springback / 90) + off(spreads.angle)) for b in bends]
        self.taken = [a * (b.figures.inside_radius + (b.figures.k + k) * self.t)
                      for a, b in zip(self.angle, bends, strict=True)]
        self.off, self.spreads = off, spreads
        self.low, self.high = [None] * len(bends), [None] * len(bends)
        """Where each zone really begins and ends in the metal."""

    def press(self, i, step, height):
        """Bend ``i`` struck over its middle; the metal to one side of it at the stop."""
        right = step["right"]
        error = self.stop + self.off(self.spreads.stop_repeat)
        if step["kind"] == "line":
            middle = self.lines[i] + self.off(self.spreads.scribing)
        elif step["kind"] == "edge":
            edge = self.long if right else 0.0
            middle = edge - step["stop"] - error if right else edge + step["stop"] + error
        else:
            j = step["over"]
            stands = self.stands(j, right, self.bends[i].sign, height)
            middle = (self.low[j] + stands - step["stop"] - error if right
                      else self.high[j] - stands + step["stop"] + error)
        self.low[i], self.high[i] = middle - self.taken[i] / 2, middle + self.taken[i] / 2

    def stands(self, j, right, sign, height):
        """How far the flange of bend ``j`` reaches beyond where its zone begins, at heights a stop can touch."""
        bend, up = self.bends[j], self.bends[j].sign == sign
        r, t, a = bend.figures.inside_radius, self.t, self.angle[j]
        end = (self.lines[j + 1] if right and j + 1 < len(self.lines) else self.long if right
               else self.lines[j - 1] if j else 0.0)
        flange = abs(end - self.lines[j]) - bend.figures.allowance / 2
        turn = np.linspace(0, 1, 60)[:, None] * a
        y, z = (r + t) * np.sin(turn), (r + t) * (1 - np.cos(turn))
        far = np.minimum(flange, np.maximum((height - z[-1]) / np.maximum(np.sin(a), 1e-9), 0.0))
        y = np.concatenate([y, [y[-1] + far * np.cos(a)]])
        z = np.concatenate([z, [z[-1] + far * np.sin(a)]])
        if not up:  # hangs from the sheet's top, the stop stands on the die
            z = t - z
            last = np.arccos(np.clip(r / (r + t), -1, 1))
            y = np.concatenate([y, [(r + t) * np.sin(np.minimum(last, a))]])
            z = np.concatenate([z, [np.zeros(PARTS)]])
        return np.where((z >= -1e-9) & (z <= height + 1e-9), y, -np.inf).max(axis=0)

    def hand(self, i, held_low):
        """Bend ``i`` made to a scribed line: the tangent line of the side held lies there."""
        half = self.bends[i].figures.allowance / 2
        if held_low:
            self.low[i] = self.lines[i] - half + self.off(self.spreads.scribing)
            self.high[i] = self.low[i] + self.taken[i]
        else:
            self.high[i] = self.lines[i] + half - self.off(self.spreads.scribing)
            self.low[i] = self.high[i] - self.taken[i]

    def legs(self):
        """Outside sizes of the finished legs, apex to apex: outer faces laid out and met with each other."""
        stops = [np.zeros(PARTS), *(v for pair in zip(self.low, self.high, strict=True) for v in pair),
                 np.full(PARTS, self.long)]
        found = []
        for n in range(len(self.bends) + 1):
            size = stops[2 * n + 1] - stops[2 * n]
            for bend in (n - 1, n):
                if 0 <= bend < len(self.bends):
                    f, a = self.bends[bend].figures, self.angle[bend]
                    # where the outer faces meet: the far face starts at (R sin a, R - R cos a), R = r + t
                    far = (f.inside_radius + self.t) * np.array([np.sin(a), 1 - np.cos(a)])
                    size = size + far[0] - far[1] * np.cos(a) / np.sin(a)
            found.append(size)
        return found


def steps_of(part, plan):
    """The plan's strokes on a strip: which bend, which side is held, what bears on the stop."""
    flats = [name for name, _ in part.strip.flats]
    names = [bend.id for bend in part.strip.bends]
    for step in plan.steps:
        i = names.index(step.bends[0])
        right = flats.index(step.held) > i
        over = flats.index(step.gauge.of) - (1 if right else 0) if step.gauge.kind == "face" else None
        yield i, {"right": right, "kind": step.gauge.kind, "stop": step.gauge.stop, "over": over}


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
        while told < 8:
            part = random_part(rng, 4, 2)
            plan = plan_order(part, machine)
            if not plan.feasible or any(bend.is_hem for bend in part.sheet.bends):
                continue
            told += 1
            steps = list(steps_of(part, plan))
            kinds |= {step["kind"] for _, step in steps}
            for words, spreads in (("all", SPREADS), ("common", COMMON), ("alone", ALONE), ("turned", TURNED)):
                shop = Shop(part.strip.bends, [bend.x for bend in part.strip.bends], part.strip.length, spreads)
                for i, step in steps:
                    shop.press(i, step, machine.stops.contact_height)
                expected = {row.dimension.name: row for row in stack_up(part, plan.steps, [machine], spreads)}
                legs = {leg.id: size for leg, size in zip(part.shape.legs, shop.legs(), strict=True)}
                self.compare(expected, legs, (told, words, steps))
        self.assertGreaterEqual(kinds, {"edge", "face"})

    def test_trays_on_a_finger_brake(self):
        machine = brake("finger-1270")
        for height in (25, 40):
            walls = {side: {"height": height} for side in ("left", "right", "front", "back")}
            part = read_part(tray_file(walls=walls))
            plan = plan_order(part, machine)
            self.assertTrue(plan.feasible)
            held = {step.bends[0]: step.held for step in plan.steps}
            expected = {row.dimension.name: row for row in stack_up(part, plan.steps, [machine])}
            for low, across, high in (("left", "length", "right"), ("front", "width", "back")):
                at = {line.bend.id: line.line[0][across == "width"] for line in part.flat.bends}
                shop = Shop([part.sheet.bend[low], part.sheet.bend[high]], [at[low], at[high]],
                            part.flat.size[across == "width"], SPREADS)
                shop.hand(0, held[low] == low)
                shop.hand(1, held[high] == "base")
                self.compare(expected, dict(zip((low, across, high), shop.legs(), strict=True)), (height, "all"))

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

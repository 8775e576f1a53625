"""The brake from the front: what is seen lies where the set-up sheet and the brake's file say."""

import random
from dataclasses import replace

from django.test import SimpleTestCase
from shapely import box

from bendcore.floor.front import fronts
from bendcore.floor.setup import long_of, set_ups, stretch
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from dorvan.drawings.front import WIDTH, front_view
from tests.core.guards import guard_file
from tests.core.samples import brake, part_file, press, random_part
from tests.core.trays import tray_file


def seen_of(part, machine):
    plan = plan_order(part, machine)
    sheet, = set_ups(part, plan.steps, [machine])
    return sheet, fronts(part, plan.steps, sheet, [machine])


class FromTheFront(SimpleTestCase):
    def test_a_press(self):
        machine = press(["Straight 85"], ["V 8"])
        part = read_part(part_file([30, 60, 30], [(90, "up"), (90, "up")], width=300))
        sheet, (seen,) = seen_of(part, machine)
        blocks = {one.name: one for one in seen.blocks}
        self.assertEqual((blocks["bed"].x0, blocks["bed"].x1), (-1025, 1025))
        self.assertEqual(blocks["bed"].z1, -machine.dies[0].height)
        self.assertEqual(blocks["ram"].z0, machine.punches[0].height)
        inner = machine.between_frames / 2
        self.assertEqual((blocks["left frame"].x1, blocks["right frame"].x0), (-inner, inner))
        self.assertEqual(seen.bend, (-150, 150))
        self.assertEqual(seen.blank, (-150, 150))
        self.assertEqual(len([one for one in seen.blocks if one.kind == "stop"]), 2)
        told = [(p.length, p.start, p.end) for _, pieces in sheet.mounted[0].pieces for p in pieces]
        self.assertEqual([(p.at.length, p.at.start, p.at.end) for p in seen.pieces], told)
        self.assertEqual(seen.datum, 1025 + min(p.at.start for p in seen.pieces))
        _, (wide,) = seen_of(read_part(part_file([30, 60], [(90, "up")], width=480)), machine)
        ends = sorted((p.at.start, p.at.end) for p in wide.pieces if p.group == "punch")
        self.assertEqual(len(ends), 2)
        self.assertEqual(sorted((p.at.start, p.at.end) for p in wide.pieces if p.group == "die"), ends)
        self.assertGreater(ends[1][0] - ends[0][1], 0.05)

    def test_fingers_with_a_gap_and_a_blank_that_reaches_past_the_bend(self):
        part = read_part(tray_file(walls={"left": {"height": 30}, "front": {"height": 30}}))
        _, views = seen_of(part, brake("finger-1270"))
        for seen in views:
            spans = sorted((p.at.start, p.at.end) for p in seen.pieces)
            self.assertTrue(all(b[0] - a[1] > -1e-9 for a, b in zip(spans, spans[1:], strict=False)))
            self.assertLessEqual(seen.blank[0], seen.bend[0])
            self.assertGreaterEqual(seen.blank[1], seen.bend[1])
            self.assertGreater(seen.blank[1] - seen.blank[0], seen.bend[1] - seen.bend[0] + 25)

    def test_bends_of_one_stroke_lie_about_the_middle_together(self):
        data = tray_file(walls={"left": {"height": 30}})
        part = read_part(data)
        name, = [bend.id for bend in part.sheet.bends]
        self.assertEqual(stretch(part, (name,)), (0.0, long_of(part, (name,))))
        guard = read_part(guard_file(front={"width": 14, "direction": "out"}))
        rows = [line for line in guard.flat.bends if line.at and line.at[0] == "y"]
        level = max((line.at[1] for line in rows), key=lambda at: sum(line.at[1] == at for line in rows))
        names = [line.bend.id for line in rows if abs(line.at[1] - level) < 1e-6]
        self.assertGreater(len(names), 1)
        xs = [x for line in rows if line.bend.id in names for x, _ in line.line]
        low, high = stretch(guard, names)
        self.assertAlmostEqual(high - low, max(xs) - min(xs))

    def test_a_blank_reaches_further_to_the_side_where_it_does(self):
        walls = {"front": {"height": 30}, "left": {"height": 70}}
        part = read_part(tray_file(walls=walls))
        plan = plan_order(part, brake("finger-1270"))
        sheet, = set_ups(part, plan.steps, [brake("finger-1270")])
        for held in ("base", "front"):
            step = next(replace(step, held=held) for step in plan.steps if step.bends == ("front",))
            seen, = fronts(part, [step], replace(sheet, strokes=sheet.strokes[:1], mounted=()), [brake("finger-1270")])
            left, right = seen.bend[0] - seen.blank[0], seen.blank[1] - seen.bend[1]
            # with the base to the back he stands at the front, the left wall on his left; turned round on his right
            self.assertEqual(left > right, held == "base", (held, left, right))

    def test_bars_with_clamps_beyond_the_blank(self):
        _, (seen,) = seen_of(read_part(part_file([30, 40], [(90, "up")], width=300)), brake("bench-bars"))
        clamps = [one for one in seen.blocks if one.kind == "clamp"]
        self.assertEqual(len(clamps), 2)
        self.assertTrue(all(one.x1 <= seen.blank[0] or one.x0 >= seen.blank[1] for one in clamps))
        self.assertIsNone(seen.datum)

    def test_the_drawing_is_to_scale_within_its_frame_and_no_label_lies_on_another(self):
        rng = random.Random(8)
        works = [(random_part(rng, 3, 1), press(["Straight 85"], ["V 8"])) for _ in range(6)]
        works += [(read_part(tray_file(length=rng.randint(90, 400), width=rng.randint(90, 300))), brake("finger-1270"))
                  for _ in range(4)]
        for part, machine in works:
            for seen in seen_of(part, machine)[1]:
                for units in ("mm", "in"):
                    drawn = front_view(seen, part.stock.thickness, units)
                    scales = {round(one["w"] / one["piece"].at.length, 2) for one in drawn["pieces"]}
                    self.assertLess(max(scales) - min(scales), 0.02 if len(scales) > 1 else 1, scales)
                    labels = [box(p["x_label"] - p["wide"] / 2, p["at"] - 11, p["x_label"] + p["wide"] / 2, p["at"])
                              for p in drawn["pieces"]]
                    for n, one in enumerate(labels):
                        x0, y0, x1, y1 = one.bounds
                        self.assertTrue(x0 >= 0 and x1 <= WIDTH and y0 >= 0 and y1 <= drawn["height"] - 40, one.bounds)
                        self.assertFalse(any(one.intersects(other) for other in labels[:n]))

"""What an order tells the person at the brake, reckoned apart from how it is found."""

import math
import random
from dataclasses import replace

from django.test import SimpleTestCase

from bendcore.brakes.choice import usual_opening
from bendcore.brakes.press import read_press
from bendcore.order.advice.remedies import find_remedies
from bendcore.order.planning import plan_order
from bendcore.order.states.moves import MADE, Job
from bendcore.part import read_part
from tests.core.samples import order_result, part_file, press, press_file, random_part

PAIR = (["Straight 85"], ["V 8"])


def long_tools() -> dict:
    """The demo brake with tools enough for its whole length."""
    data = press_file()
    for tool in (*data["punches"], *data["dies"]):
        tool["lengths"] = [835, 835, 415]
    return data


def to_start(step: dict) -> bool:
    """Whether a strip's start lies towards the stop: leg L1 lies before B1."""
    return step["held"] == f"L{step['bends'][0][1:]}"


class WhatIsSaid(SimpleTestCase):
    def test_the_punch_comes_down_on_the_face_that_a_bend_folds_towards(self):
        rng, seen = random.Random(3), set()
        for _ in range(12):
            part = random_part(rng, 4)
            ways = {b.id: b.direction for b in part.shape.bends}
            for step in order_result(part, press(*PAIR))["steps"]:
                up = ways[step["bends"][0]] == "up"
                self.assertEqual(step["face_up"], "top" if up else "bottom")
                seen.add(step["face_up"])
        self.assertEqual(seen, {"top", "bottom"})

    def test_turning_is_said_exactly_when_face_or_end_change(self):
        rng, said = random.Random(5), set()
        for _ in range(24):
            steps = order_result(random_part(rng, 5), press(*PAIR))["steps"]
            for before, step in zip(steps, steps[1:], strict=False):
                notes = " ".join(step["notes"])
                over, around = before["face_up"] != step["face_up"], to_start(before) != to_start(step)
                self.assertEqual("Turn the sheet over" in notes, over, (before, step))
                self.assertEqual("end for end" in notes, around, (before, step))
                said.add((over, around))
        self.assertLessEqual({(False, False), (True, False), (False, True)}, said)

    def test_a_part_that_stands_round_the_punch_is_slid_off_its_end(self):
        """A flange over the web, its free leg turned in behind the punch: the ram cannot go up past it."""
        brake = press(["Straight 85", "Swan neck 85"], ["V 8"])
        around = order_result(read_part(part_file([14, 40, 60, 40], [(90, "up")] * 3)), brake, ["B1", "B2", "B3"])
        self.assertTrue(around["feasible"])
        said = [any("Slide" in note for note in step["notes"]) for step in around["steps"]]
        self.assertEqual(said, [False, False, True])
        plain = order_result(read_part(part_file([25, 60, 25])), brake)
        self.assertFalse(any("Slide" in note for step in plain["steps"] for note in step["notes"]))

    def test_a_sheet_wider_than_the_space_between_the_frames_cannot_reach_between_them(self):
        """The frames stand 180 mm behind the bend line; either leg is longer."""
        brake = read_press(long_tools())
        for width, between in ((1580, True), (1620, False)):
            result = order_result(read_part(part_file([220, 240], [(90, "up")], width=width)), brake)
            self.assertEqual("frame" in {hit["tool"] for hit in result["hits"]}, not between, width)
            short = order_result(read_part(part_file([120, 240], [(90, "up")], width=width)), brake)
            self.assertEqual(short["hits"], [])

    def test_closing_a_hem_takes_four_times_the_force_of_a_bend(self):
        """1.42·σ·t²·L/V with V = 6 t, times four: between three and five times the brake's force decides."""
        part = part_file([30, 60], [(90, "up")], start_hem={"length": 10, "gap": 0, "direction": "up"}, width=800)
        read = read_part(part)
        t, tensile = read.stock.thickness, read.stock.material.tensile_mpa
        bend = 1.42 * tensile * t * t * 800 / (6 * t) / 1000
        for times, ok in ((3.8, False), (4.2, True)):
            data = press_file() | {"tonnage_kn": times * bend}
            result = order_result(read, read_press(data))
            self.assertEqual(result["feasible"], ok, times)
            self.assertEqual("force" in {r["code"] for r in result["reasons"]}, not ok)

    def test_what_is_heavy_or_long_is_turned_by_two(self):
        """Above 20 kg or 1200 mm a flip and a turn cost the factor more."""
        costs = press_file() | {"costs": {"two_person_factor": 3, "flip": 10, "turn": 7}}
        costs |= {"between_frames": 4000, "length": 4000}
        for tool in (*costs["punches"], *costs["dies"]):
            tool["lengths"] = [835, 835, 415]
        brake = read_press(costs)

        def handled(width, leg=160, thickness=1.0, angle=90):
            z = read_part(part_file([leg, 60, leg], [(angle, "up"), (angle, "down")], width=width, thickness=thickness,
                                    radius=1.2 * thickness))
            found = order_result(z, brake)
            self.assertTrue(found["feasible"])
            return z.mass_kg, found["cost_seconds"]

        (light, one), (_, two) = handled(1190), handled(1210)
        self.assertLess(light, 20)
        self.assertGreaterEqual(two - one, 14)
        (less, few), (more, many) = handled(1150, 330, 3.0, 20), handled(1150, 350, 3.0, 20)
        self.assertTrue(less < 20 < more)
        self.assertGreaterEqual(many - few, 14)

    def test_only_a_whole_order_is_called_the_best(self):
        self.assertTrue(order_result(read_part(part_file()), press(*PAIR))["optimal"])
        blocked = order_result(read_part(part_file([50, 50, 50, 47], [(90, "up")] * 3)), press(*PAIR))
        self.assertEqual((blocked["feasible"], blocked["optimal"]), (False, False))

    def test_the_trial_told_is_the_least_bad_of_every_tool(self):
        """The one die wide enough is the last on the rack: with six tried it was never looked at."""
        data = press_file()
        narrow = next(d for d in data["dies"] if d["name"] == "V 8")
        data["dies"] = [narrow | {"name": f"Blunt {n}", "angle": 120} for n in range(6)] + [narrow]
        data["punches"] = data["punches"][:1]
        result = order_result(read_part(part_file([50, 50, 50, 47], [(90, "up")] * 3)), read_press(data))
        self.assertEqual({hit["die"] for hit in result["hits"]}, {"V 8"})
        self.assertEqual(result["reasons"], [])

    def test_the_usual_opening_is_one_rule_for_the_rack_and_for_the_order(self):
        for thickness, opening in ((1.0, 6), (2.9, 17.4), (8.0, 64), (12.0, 132)):
            self.assertAlmostEqual(usual_opening(thickness), opening)
        data = press_file()
        die = data["dies"][3]
        data["dies"] = [die | {"name": f"V {v}", "v": v} for v in (100, 140)]
        job = Job.of(read_part(part_file()), read_press(data))
        stroke = job.stroke((0,), MADE)
        thick = replace(stroke, figures=replace(stroke.figures, thickness=12.0))  # 11 t is 132; 8 t would be 96
        on = job.brakes[0]
        self.assertEqual(on.mounts[on.mounts_for(thick)[0]].die.v, 140)

    def test_a_leg_too_short_for_the_die_has_a_way_out_that_works(self):
        data, brake = part_file([4, 60, 30]), press()
        blocked = plan_order(read_part(data), brake)
        self.assertEqual([why.code for why in blocked.reasons], ["short-leg"])
        found = [remedy.written("mm") for remedy in find_remedies(data, brake, brake, blocked).remedies]
        self.assertEqual(sorted(r["kind"] for r in found), ["longer-leg", "narrower-v"])
        found = next(r for r in found if r["kind"] == "longer-leg")
        legs = dict(zip(found["faces"], found["lengths"], strict=True))
        self.assertEqual(list(legs), ["L1"])
        longer = order_result(read_part(part_file([legs["L1"], 60, 30])), brake)
        shorter = order_result(read_part(part_file([legs["L1"] - 0.6, 60, 30])), brake)
        self.assertEqual((longer["feasible"], shorter["feasible"]), (True, False))


class Drawn(SimpleTestCase):
    def test_a_label_that_says_no_number_is_no_label(self):
        import io

        import ezdxf

        from bendcore.formats.dxf_in import read_dxf

        for text, told in (("B1 up 9.9.9 R2", None), ("B1 down . R.", None), ("B1 down ٣٠ R2", None),
                           ("B1 down 45 R2.5", (45, 2.5)), ("B1 down 45.5 R1e-5", (45.5, 1e-5))):
            drawing = ezdxf.new("R2010")
            drawing.units = 4
            space = drawing.modelspace()
            space.add_lwpolyline([(0, 0), (100, 0), (100, 50), (0, 50)], close=True)
            space.add_line((50, 0), (50, 50))
            space.add_text(text).set_placement((50, 25))
            out = io.StringIO()
            drawing.write(out)
            bend = read_dxf(out.getvalue().encode()).shape["bends"][0]
            with self.subTest(text):
                self.assertEqual((bend["angle"], bend.get("inside_radius")), told or (90, None))
                self.assertTrue(math.isfinite(bend["angle"]))

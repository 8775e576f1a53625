"""The press brake: its file, the pieces chosen, its limits, the stroke, the stop and the way out."""

import itertools
import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon, box
from shapely.affinity import translate

from bendcore.brakes.press import choose_lengths, read_press
from bendcore.errors import Refusal
from bendcore.order.collide import deepest, inset, swept
from bendcore.order.explain import examine
from bendcore.order.frames import step_frames
from bendcore.order.gauge import natural_gauge, within_reach
from bendcore.order.limits import flat_needed, tool_reasons
from bendcore.order.moves import MADE, Job, Move, Tools
from bendcore.order.poses import Stroke, daylight
from bendcore.order.proof import Prover, bits
from bendcore.part import read_part
from tests.core.samples import order_result, part_file, press, press_file


def job_of(part=None, **changes):
    return Job.of(read_part(part or part_file()), read_press(press_file() | changes))


class Rack(SimpleTestCase):
    @given(st.lists(st.sampled_from([10.0, 20.0, 40.0, 50.0, 100.0, 200.0, 415.0]), min_size=1, max_size=8),
           st.floats(1, 900))
    def test_pieces_are_chosen_as_by_trying_all(self, owned, width):
        chosen = choose_lengths(tuple(owned), width)
        sums = [(round(sum(s), 6), len(s)) for n in range(1, len(owned) + 1) for s in itertools.combinations(owned, n)
                if sum(s) >= width]
        if not sums:
            self.assertIsNone(chosen)
        else:
            self.assertEqual((round(sum(chosen), 6), len(chosen)), min(sums))

    def test_a_turned_tool_is_another_tool(self):
        brake = press()
        names = [p.name for p in brake.punches]
        self.assertIn("Swan neck 85, turned", names)
        one, two = (next(p for p in brake.punches if p.name == n) for n in ("Swan neck 85", "Swan neck 85, turned"))
        self.assertEqual([(-y, z) for y, z in one.section], list(two.section))
        self.assertEqual(one.height, 122)

    def test_inches_are_the_same_brake(self):
        def inches(value):
            if isinstance(value, list):
                return [inches(v) for v in value]
            return value / 25.4
        data = press_file()
        sizes = ("length", "between_frames", "open_height", "stroke")
        for key in (*sizes, "ram_section", "table_section", "frame_section"):
            data[key] = inches(data[key])
        for tool in data["punches"] + data["dies"]:
            for key in ("tip_radius", "v", "shoulder_radius", "section", "lengths"):
                if key in tool:
                    tool[key] = inches(tool[key])
        data["stops"] = {k: v if k == "count" else inches(v) for k, v in data["stops"].items()}
        brake = read_press(data | {"units": "in"})
        self.assertAlmostEqual(brake.length, 2050)
        np.testing.assert_allclose(brake.dies[2].section, press().dies[2].section, atol=1e-9)

    def test_what_is_wrong_with_a_tool_is_named(self):
        for where, change, path in (("punches", {"section": [[0, -5], [5, 5], [-5, 5]]}, "punches[0].section"),
                                    ("dies", {"v": 0}, "dies[0].v"),
                                    ("dies", {"shoulder_radius": 9}, "dies[0].shoulder_radius"),
                                    ("dies", {"lengths": []}, "dies[0].lengths"),
                                    ("dies", {"name": "V 8"}, "dies[1].name")):
            data = press_file()
            data[where][0] |= change
            with self.assertRaises(Refusal) as caught:
                read_press(data)
            self.assertEqual(caught.exception.path, path)

    def test_only_the_named_tools_stay(self):
        brake = press().with_tools(["Acute 30"], ["V 16"])
        self.assertEqual(([p.name for p in brake.punches], [d.name for d in brake.dies]),
                         (["Acute 30"], ["V 16", "Flattener"]))


class Limits(SimpleTestCase):
    def codes(self, part=None, **changes):
        job = job_of(part, **changes)
        return {r.code for r in tool_reasons(job, 0, MADE, job.mounts[0])}

    def test_each_limit_speaks_for_itself(self):
        self.assertEqual(self.codes(), set())
        self.assertEqual(self.codes(part_file(width=1700)), {"tool-length"})
        self.assertEqual(self.codes(part_file(width=2100)), {"tool-length", "machine-length"})
        self.assertEqual(self.codes(part_file(bends=[(100, "up"), (90, "up")])), {"tool-angle"})
        self.assertEqual(self.codes(part_file(springback=6.0)), {"tool-angle"})
        self.assertEqual(self.codes(tonnage_kn=5), {"force"})
        self.assertEqual(self.codes(open_height=160), {"open-height"})
        data = press_file()
        for die in data["dies"]:
            die["max_kn_per_m"] = 10
        job = Job.of(read_part(part_file()), read_press(data))
        self.assertEqual({r.code for r in tool_reasons(job, 0, MADE, job.mounts[0])}, {"tool-force"})

    def test_a_leg_may_be_just_long_enough(self):
        brake = press(["Straight 85"], ["V 12"])
        job = Job.of(read_part(part_file()), brake)
        figures = job.strip.bends[0].figures
        least = flat_needed(job, 0, MADE, job.mounts[0].die) + 1.0 + figures.deduction / 2
        for leg, feasible in ((least + 0.01, True), (least - 0.01, False)):
            result = order_result(read_part(part_file([leg, 60, 30])), brake)
            self.assertEqual(result["feasible"], feasible)
        self.assertEqual({r["code"] for r in result["reasons"]}, {"short-leg"})


class Strokes(SimpleTestCase):
    @given(st.floats(1, 90), st.sampled_from([6, 8, 12, 16]))
    def test_legs_rest_on_the_shoulders_and_the_punch_on_the_arc(self, angle, v):
        die = next(d for d in press().dies if d.v == v)
        job = Job.of(read_part(part_file()), press())
        figures = job.strip.bends[0].figures
        stroke = Stroke(figures, 0.0, die)
        pose = stroke.pose(angle)
        (y0, z0), (y1, z1) = pose.place(np.array([[0.0, -1.0], [50.0, -1.0]]), 1)
        run = math.dist((y0, z0), (y1, z1))
        centre = (v / 2, -die.shoulder_radius)
        away = abs((y1 - y0) * (z0 - centre[1]) - (y0 - centre[0]) * (z1 - z0)) / run
        self.assertAlmostEqual(away, die.shoulder_radius, 6)
        (yi, zi), = pose.place(np.array([[0.0, 0.0]]), 1)
        radius = figures.radius_at(angle)
        h = math.radians(angle) / 2
        self.assertAlmostEqual(yi, radius * math.sin(h), 6)
        self.assertAlmostEqual(zi - stroke.punch_tip(angle), radius * (1 - math.cos(h)), 6)

    def test_a_flat_sheet_lies_on_the_die(self):
        stroke = Stroke(Job.of(read_part(part_file()), press()).strip.bends[0].figures, 0.8, press().dies[0])
        placed = stroke.pose(0).place(np.array([[0.0, 0.0], [10.0, -1.0]]), -1)
        self.assertAlmostEqual(placed[0, 1], 1.0, 4)
        self.assertAlmostEqual(placed[1, 1], 0.0, 4)
        self.assertAlmostEqual(stroke.punch_tip(0), 1.0, 4)

    def test_a_nose_larger_than_the_radius_stands_higher(self):
        figures = Job.of(read_part(part_file(radius=0.6)), press()).strip.bends[0].figures
        small, large = (Stroke(figures, nose, press().dies[1]).punch_tip(90) for nose in (0.6, 3.0))
        self.assertAlmostEqual(large - small, 2.4 * (math.sqrt(2) - 1), 6)

    @given(st.floats(-20, 20), st.floats(-20, 20))
    def test_what_is_swept_is_what_any_place_on_the_way_covers(self, dy, dz):
        shape = Polygon([(0, 0), (8, 0), (8, 6), (4, 2), (0, 6)])
        region = swept(shape, dy, dz)
        for share in (0, 0.37, 1):
            there = translate(shape, dy * share, dz * share)
            self.assertAlmostEqual(region.intersection(there).area, there.area, 6)

    def test_depth_is_how_far_in(self):
        tool = box(0, 0, 40, 20)
        parts = np.array([box(-5, 5, 3, 8), box(10, 5, 30, 50), box(50, 0, 60, 5)])
        for part, deep in zip(parts, (3, 10, 0), strict=True):
            self.assertAlmostEqual(deepest(np.array([part]), tool)[0], deep, 2)
        self.assertEqual(deepest(parts, tool)[1], 1)
        self.assertAlmostEqual(inset(tool).bounds[0], 0.05)

    def test_daylight_is_what_the_tools_leave(self):
        brake = press()
        self.assertEqual(daylight(brake, brake.punches[0], brake.dies[0]), 300 - 105 - 60)
        self.assertEqual(daylight(brake, None, brake.dies[-1]), 300 - 60 - 60)


class Stops(SimpleTestCase):
    def gauge(self, angle, direction, first="up"):
        job = Job.of(read_part(part_file([40, 60, 40], [(angle, direction), (90, first)])), press())
        return job, natural_gauge(job, (2, 0), 1, "start"), job.strip.bends[0].figures

    def test_against_a_flange_past_square_its_outermost_tangent(self):
        job, gauge, figures = self.gauge(120, "up")
        flat = dict(job.strip.flats)["L2"]
        self.assertAlmostEqual(gauge.stop, job.strip.bends[1].figures.allowance / 2 + flat + figures.inside_radius + 1)

    def test_against_a_leaning_flange_at_the_stops_height(self):
        job, gauge, figures = self.gauge(45, "up")
        flat = dict(job.strip.flats)["L2"]
        base = job.strip.bends[1].figures.allowance / 2 + flat + figures.outside_setback
        self.assertAlmostEqual(gauge.stop, base + 12 / math.tan(math.radians(45)))

    def test_hanging_and_standing_square_flanges_gauge_alike(self):
        up, down = self.gauge(90, "up")[1], self.gauge(90, "down")[1]
        self.assertAlmostEqual(up.stop, down.stop)

    def test_out_of_reach_means_a_scribed_line(self):
        job = job_of(stops={"min": 200, "max": 300})
        self.assertFalse(within_reach(job, natural_gauge(job, (0, 0), 0, "start")))
        result = order_result(read_part(part_file()), read_press(press_file() | {"stops": {"min": 200, "max": 300}}))
        self.assertEqual({s["gauge"]["from"] for s in result["steps"]}, {"line"})
        self.assertEqual(result["cost_seconds"], 2 * 12 + 2 * 30)

    def test_a_tall_stop_in_the_way_is_not_used(self):
        """A hanging flange swings out against a stop that reaches below the die's top."""
        low = {"min": 6, "max": 600, "section": [[0, -60], [0, 12], [60, 12], [60, -60]]}
        part = read_part(part_file([30, 50, 40], [(90, "down"), (90, "up")]))
        for stops, clear in ((low, False), ({"min": 6, "max": 600}, True)):
            job = Job.of(part, read_press(press_file() | {"stops": stops}))
            gauge = natural_gauge(job, (2, 0), 1, "start")
            self.assertEqual(bool(Prover(job).stop_mask((2, 0), 1, 2, "start", gauge, 1)), clear)


class WaysOut(SimpleTestCase):
    """What stands round the punch comes off its end, unless the side frames are in the way."""

    def test_frames_close_to_the_part_shut_it_in(self):
        part = read_part(part_file([30, 25, 40]))
        wide, tight = (Job.of(part, read_press(press_file() | {"between_frames": width})) for width in (1600, 500))
        free, shut = Prover(wide), Prover(tight)
        self.assertTrue(all(free.slides_off(t) for t in wide.mounts if sum(t.die.lengths) > 400))
        lost = 0
        for levels in itertools.product((0, 2), repeat=2):
            for i, held in itertools.product(range(2), ("start", "end")):
                if levels[i]:
                    continue
                masks = free.mask(levels, i, MADE, held), shut.mask(levels, i, MADE, held)
                self.assertEqual(masks[0] | masks[1], masks[0])
                for m in bits(masks[0] & ~masks[1]):
                    trial = examine(shut, levels, Move(i, MADE, held, tight.mounts[m]))
                    phases = {h.phase for h in trial.hits}
                    self.assertTrue(phases == {"after"} or {r.code for r in trial.reasons} == {"no-way-out"})
                    lost += 1
        self.assertGreater(lost, 0)

    def test_masks_and_close_looks_agree(self):
        """What the tables say of a move is what looking at it piece by piece says."""
        job = Job.of(read_part(part_file([22, 30, 45, 30], [(90, "up"), (90, "down"), (90, "up")])),
                     press(["Straight 85", "Swan neck 85"], ["V 8"]))
        prover = Prover(job)
        seen = set()
        for levels in itertools.product((0, 2), repeat=3):
            for i, held in itertools.product(range(3), ("start", "end")):
                if levels[i]:
                    continue
                mask = prover.mask(levels, i, MADE, held)
                for m, tools in enumerate(job.mounts):
                    trial = examine(prover, levels, Move(i, MADE, held, tools))
                    fine = not trial.hits and not trial.reasons
                    seen.add(fine)
                    self.assertEqual(bool(mask >> m & 1), fine, (levels, i, held, tools.key, trial))
        self.assertEqual(seen, {True, False})
        self.assertEqual(list(bits(0b10110)), [1, 2, 4])

    def test_frames_show_the_stroke_from_open_to_open(self):
        job = Job.of(read_part(part_file()), press(["Straight 85"], ["V 8"]))
        tools = Tools(job.brake.punches[0], job.brake.dies[0])
        data = step_frames(Prover(job), (0, 0), Move(0, MADE, "end", tools), 61.0)
        self.assertEqual([f["phase"] for f in data["frames"]][:3], ["before"] * 3)
        lifts = [f["lift"] for f in data["frames"]]
        self.assertEqual(lifts[0], lifts[-1])
        self.assertEqual(min(lifts), min(f["lift"] for f in data["frames"] if f["phase"] != "before"))
        for frame in data["frames"]:
            area = sum(Polygon(p["points"]).area for p in frame["part"])
            self.assertAlmostEqual(area / job.strip.length, 1.0, 1)
        self.assertEqual(min(y for y, _ in data["still"]["stop"]), 61.0)

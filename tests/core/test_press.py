"""The press brake: its file, the pieces chosen, its limits, the stroke, the stop and the way out."""

import itertools
import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon, box
from shapely.affinity import translate

from bendcore.brakes.on_press import DIE, PUNCH
from bendcore.brakes.pieces import MOST_GAP, Block, best_set, least_stack, place, sets_for
from bendcore.brakes.press import read_press
from bendcore.brakes.setting import HELD
from bendcore.brakes.shapes import inset, swept
from bendcore.brakes.travel import Travel, daylight
from bendcore.errors import Refusal
from bendcore.order.contact.collide import deepest
from bendcore.order.explain.examine import examine
from bendcore.order.explain.frames import step_frames
from bendcore.order.planning import plan_order
from bendcore.order.proof.gauge import LINE, natural_gauge
from bendcore.order.proof.prover import Prover
from bendcore.order.states.body import CHILD, PARENT
from bendcore.order.states.moves import MADE, Job, Move
from bendcore.part import read_part
from tests.core.samples import order_result, part_file, press, press_file


def job_of(part=None, **changes):
    return Job.of(read_part(part or part_file()), read_press(press_file() | changes))


class Rack(SimpleTestCase):
    @given(st.lists(st.sampled_from([10.0, 20.0, 40.0, 50.0, 100.0, 200.0, 415.0]), min_size=1, max_size=8),
           st.integers(1, 900))
    def test_pieces_are_chosen_as_by_trying_all(self, owned, need):
        """The fewest that reach over the need with gaps of at most 10 mm and fit; the shortest run without gaps."""
        owned, room = tuple(owned), need + 36
        sets = [s for n in range(1, len(owned) + 1) for s in itertools.combinations(owned, n)]
        fit = [s for s in sets if sum(s) <= room + 1e-9 and sum(s) + MOST_GAP * (len(s) - 1) >= need - 1e-6]
        chosen = best_set(owned, need, room)
        self.assertEqual(chosen and (len(chosen), round(-sum(chosen), 6)),
                         min(((len(s), round(-sum(s), 6)) for s in fit), default=None))
        self.assertAlmostEqual(least_stack(owned, need), min((sum(s) for s in sets if sum(s) >= need - 1e-6),
                                                             default=sum(owned)), 6)

    def test_pieces_stand_where_they_reach_and_nothing_is_in_the_way(self):
        block = Block(-2.0, 3.0, 137.0, 141.0)
        taken = sets_for((100.0, 40.0, 25.0), [(block.need, block.room)])[0]
        placed = place(block, taken)
        self.assertTrue(block.start <= placed[0].start <= block.latest)
        self.assertTrue(block.earliest <= placed[-1].end <= block.end)
        self.assertLessEqual(placed[1].start - placed[0].end, MOST_GAP)
        two = sets_for((50.0, 50.0, 30.0), [(48, 52), (75, 82)])
        self.assertEqual(two, ((50.0,), (50.0, 30.0)))
        self.assertIsNone(sets_for((50.0, 30.0), [(48, 52), (75, 82)]))

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
        prover = Prover(job_of(part, **changes))
        on, stroke = prover.job.brakes[0], prover.job.stroke((0,), MADE)
        return {r.code for r in on.reasons(stroke, 0) + prover.short_pieces(on, 0, (0,))}

    def test_each_limit_speaks_for_itself(self):
        self.assertEqual(self.codes(), set())
        self.assertEqual(self.codes(part_file(width=1800)), {"tool-length"})
        self.assertEqual(self.codes(part_file(width=2100)), {"tool-length", "machine-length"})
        self.assertEqual(self.codes(part_file(bends=[(100, "up"), (90, "up")])), {"tool-angle"})
        self.assertEqual(self.codes(part_file(springback=6.0)), {"tool-angle"})
        self.assertEqual(self.codes(tonnage_kn=5), {"force"})
        self.assertEqual(self.codes(open_height=160), {"open-height"})
        data = press_file()
        for die in data["dies"]:
            die["max_kn_per_m"] = 10
        self.assertEqual(self.codes(dies=data["dies"]), {"tool-force"})

    def test_a_leg_may_be_just_long_enough(self):
        brake = press(["Straight 85"], ["V 12"])
        job = Job.of(read_part(part_file()), brake)
        figures = job.body.bends[0].figures
        least = job.brakes[0].need(job.stroke((0,), MADE), 0, HELD) + figures.outside_setback
        for leg, feasible in ((least + 0.01, True), (least - 0.01, False)):
            result = order_result(read_part(part_file([leg, 60, 30])), brake)
            self.assertEqual(result["feasible"], feasible)
        self.assertEqual({r["code"] for r in result["reasons"]}, {"short-leg"})


class Strokes(SimpleTestCase):
    @given(st.floats(1, 90), st.sampled_from([6, 8, 12, 16]))
    def test_legs_rest_on_the_shoulders_and_the_punch_on_the_arc(self, angle, v):
        die = next(d for d in press().dies if d.v == v)
        job = Job.of(read_part(part_file()), press())
        figures = job.body.bends[0].figures
        y, z, h, tip = Travel(figures, 0.0, die).at(angle)

        def at(s, n):
            return y + s * math.cos(h) - n * math.sin(h), z + s * math.sin(h) + n * math.cos(h)
        (y0, z0), (y1, z1) = at(0.0, -1.0), at(50.0, -1.0)
        run = math.dist((y0, z0), (y1, z1))
        centre = (v / 2, -die.shoulder_radius)
        away = abs((y1 - y0) * (z0 - centre[1]) - (y0 - centre[0]) * (z1 - z0)) / run
        self.assertAlmostEqual(away, die.shoulder_radius, 6)
        yi, zi = at(0.0, 0.0)
        radius = figures.radius_at(angle)
        self.assertAlmostEqual(yi, radius * math.sin(h), 6)
        self.assertAlmostEqual(zi - tip, radius * (1 - math.cos(h)), 6)

    def test_a_flat_sheet_lies_on_the_die(self):
        _, z, h, tip = Travel(job_of().body.bends[0].figures, 0.8, press().dies[0]).at(0)
        self.assertAlmostEqual(z, 1.0, 4)
        self.assertAlmostEqual(h, 0.0, 6)
        self.assertAlmostEqual(tip, 1.0, 4)

    def test_a_nose_larger_than_the_radius_stands_higher(self):
        figures = job_of(part_file(radius=0.6)).body.bends[0].figures
        small, large = (Travel(figures, nose, press().dies[1]).at(90)[3] for nose in (0.6, 3.0))
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
        flat = next(leg.flat for leg in job.part.shape.legs if leg.id == "L2")
        return (job.body.bends[1].figures.allowance / 2 + flat, job.body.bends[0].figures,
                natural_gauge(job, job.body.half((1,), PARENT), (2,), 12.0))

    def test_against_a_flange_past_square_its_outermost_tangent(self):
        run, figures, gauge = self.gauge(120, "up")
        self.assertAlmostEqual(gauge.stop, run + figures.inside_radius + 1)

    def test_against_a_leaning_flange_at_the_stops_height(self):
        run, figures, gauge = self.gauge(45, "up")
        self.assertAlmostEqual(gauge.stop, run + figures.outside_setback + 12 / math.tan(math.radians(45)))

    def test_hanging_and_standing_square_flanges_gauge_alike(self):
        self.assertAlmostEqual(self.gauge(90, "up")[2].stop, self.gauge(90, "down")[2].stop)

    def test_out_of_reach_means_a_scribed_line(self):
        result = order_result(read_part(part_file()), read_press(press_file() | {"stops": {"min": 200, "max": 300}}))
        self.assertEqual({s["gauge"]["from"] for s in result["steps"]}, {"line"})
        self.assertEqual(result["cost_seconds"], 2 * 12 + 2 * 30)

    def test_a_tall_stop_in_the_way_is_not_used(self):
        """A hanging flange swings out against a stop that reaches below the die's top."""
        low = {"min": 6, "max": 600, "section": [[0, -60], [0, 12], [60, 12], [60, -60]]}
        part = read_part(part_file([30, 50, 40], [(90, "down"), (90, "up")]))
        for stops, clear in ((low, False), ({"min": 6, "max": 600}, True)):
            job = Job.of(part, read_press(press_file() | {"stops": stops}))
            gauge, free = Prover(job).gauge((2, 0), Move(0, (1,), MADE, PARENT))
            self.assertNotEqual(gauge.kind, LINE)
            self.assertEqual(bool(free & 1), clear)


class WaysOut(SimpleTestCase):
    """What stands round the punch comes off its end, unless the side frames are in the way."""

    @staticmethod
    def mounts(prover, levels, move):
        return {need.mount for need in prover.mountings.all[prover.mounting(levels, move)]}

    def test_frames_close_to_the_part_shut_it_in(self):
        part = read_part(part_file([30, 25, 40]))
        free, shut = (Prover(Job.of(part, read_press(press_file() | {"between_frames": w}))) for w in (1600, 500))
        lost = 0
        for levels in itertools.product((0, 2), repeat=2):
            for i, side in itertools.product(range(2), (CHILD, PARENT)):
                if levels[i]:
                    continue
                move = Move(0, (i,), MADE, side)
                wide, tight = self.mounts(free, levels, move), self.mounts(shut, levels, move)
                self.assertLessEqual(tight, wide)
                for m in wide - tight:
                    self.assertEqual({r.code for r in examine(shut, levels, move, m).reasons}, {"no-way-out"})
                    lost += 1
        self.assertGreater(lost, 0)

    def test_masks_and_close_looks_agree(self):
        """What the tables say of a move is what looking at it piece by piece says."""
        prover = Prover(Job.of(read_part(part_file([22, 30, 45, 30], [(90, "up"), (90, "down"), (90, "up")])),
                               press(["Straight 85", "Swan neck 85"], ["V 8"])))
        seen = set()
        for levels in itertools.product((0, 2), repeat=3):
            for i, side in itertools.product(range(3), (CHILD, PARENT)):
                if levels[i]:
                    continue
                move = Move(0, (i,), MADE, side)
                able = self.mounts(prover, levels, move)
                for m in range(len(prover.job.brakes[0].mounts)):
                    trial = examine(prover, levels, move, m)
                    fine = not trial.hits and not trial.reasons
                    seen.add(fine)
                    self.assertEqual(m in able, fine, (levels, move, m, trial))
        self.assertEqual(seen, {True, False})

    def test_frames_show_the_stroke_from_open_to_open(self):
        part, brake = read_part(part_file()), press(["Straight 85"], ["V 8"])
        prover, plan = Prover(Job.of(part, brake)), plan_order(part, brake)
        data = step_frames(prover, (0, 0), Move(0, (0,), MADE, CHILD), 0, plan.steps[0])
        self.assertEqual([f["phase"] for f in data["frames"]][:3], ["before"] * 3)
        lifts = [f["shifts"][PUNCH][1] for f in data["frames"]]
        self.assertEqual(lifts[0], lifts[-1])
        self.assertEqual(min(lifts), min(f["shifts"][PUNCH][1] for f in data["frames"] if f["phase"] != "before"))
        for frame in data["frames"]:
            area = sum(Polygon(p["points"]).area for p in frame["part"] if p["cut"])
            self.assertAlmostEqual(area / part.flat.size[0], 1.0, 1)
        self.assertIn(DIE, data["still"])

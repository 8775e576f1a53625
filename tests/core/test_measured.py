"""Brakes and tools made of measured sizes: against points by hand, against the demo's drawn files, at random."""

import json
import math
from functools import lru_cache

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from bendcore.brakes.brake import read_brake
from bendcore.brakes.drawn import section_at, with_pieces, with_section, written_pieces
from bendcore.brakes.measured.compared import laid_over
from bendcore.brakes.measured.described import (
    KINDS,
    TOOLS,
    another_opening,
    begun,
    copied,
    kind_of,
    lent,
    made_again,
    not_measured,
    renamed,
    retired,
    taken,
    with_size,
    with_stop_moved,
    with_tool,
    without,
)
from bendcore.brakes.measured.measure import Unit
from bendcore.errors import Refusal
from bendcore.order.proof.prover import Prover
from bendcore.order.search.finding import find
from bendcore.order.states.moves import Job
from bendcore.part import read_part
from bendcore.units import MM_PER, Reading, read_force
from tests.core.samples import ROOT, part_file
from tests.core.trays import tray_file

DEMO = {"leaf": "leaf-2000", "finger": "finger-1270", "bars": "bench-bars", "tongs": "folding-tongs",
        "press": "press-60t"}


@lru_cache
def drawn(name: str) -> dict:
    return json.loads((ROOT / "demo" / f"{DEMO[name]}.json").read_text("utf-8"))


def measured(kind: str, units: str = "mm", **sizes) -> dict:
    """A brake of these sizes, in mm or degrees, typed one by one as somebody reading ``units`` would."""
    data = begun(KINDS[kind], f"A {kind}", units)
    for name, value in sizes.items():
        one = KINDS[kind].measure(name)
        typed = f"{value / MM_PER[units]:.6f}" if one.unit is Unit.LENGTH else f"{value}"
        data = with_size(data, name, typed, units)
    return data


def apart(one, other) -> float:
    """How far at most a corner of either outline lies from the other outline: own arithmetic, point to line."""
    def off(p, ring):
        found = []
        for (ax, ay), (bx, by) in zip(ring, [*ring[1:], ring[0]], strict=True):
            long = (bx - ax) ** 2 + (by - ay) ** 2
            t = max(0.0, min(1.0, ((p[0] - ax) * (bx - ax) + (p[1] - ay) * (by - ay)) / long)) if long else 0.0
            found.append(math.dist(p, (ax + t * (bx - ax), ay + t * (by - ay))))
        return min(found)
    return max(max(off(p, other) for p in one), max(off(p, one) for p in other))


# Brakes nobody of the demo has, their points set down by hand from a sketch with these sizes on it.
SIX = {
    "small finger": ("finger", {
        "length": 760, "thickness": 1.2, "swing": 120, "nose_radius": 0.5, "nose_angle": 45, "finger_height": 80,
        "finger_depth": 60, "foot_height": 40.6, "stem": 8, "beam_back": 30, "beam_front": 110, "beam_top": 45,
        "beam_depth": 95, "beam_height": 140, "bed_front": 25, "bed_under": 50, "bed_depth": 120, "bed_height": 75,
        "leaf_edge": 12, "leaf_slope": 20}, {
        "finger_section": [(0, 0), (60, 0), (60, 80), (52, 80), (40, 40.6), (0, 0.6)],
        "beam_section": [(30, 80), (95, 80), (95, 140), (45, 140), (30, 110)],
        "bed_section": [(0, 0), (120, 0), (120, -75), (50, -75), (0, -25)],
        "leaf_section": [(0, 0), (0, -12), (-20, -40), (-60, -40), (-60, 0)]}),
    "long finger": ("finger", {
        "finger_height": 150, "finger_depth": 100, "foot_height": 60.6, "nose_angle": 45, "stem": 10, "beam_back": 55,
        "beam_front": 200, "beam_top": 80, "beam_depth": 160, "beam_height": 260, "leaf_depth": 90,
        "leaf_height": 55}, {
        "finger_section": [(0, 0), (100, 0), (100, 150), (90, 150), (60, 60.6), (0, 0.6)],
        "beam_section": [(55, 150), (160, 150), (160, 260), (80, 260), (55, 200)],
        "leaf_section": [(0, 0), (0, -14), (-26, -55), (-90, -55), (-90, 0)]}),
    "narrow leaf": ("leaf", {
        "nose_height": 20.6, "nose_depth": 35, "nose_angle": 45, "beam_back": 28, "beam_front": 60, "beam_top": 28,
        "beam_depth": 90, "beam_height": 60, "bed_front": 100, "bed_height": 100, "leaf_edge": 50, "leaf_height": 50}, {
        "finger_section": [(0, 0), (35, 0), (35, 20.6), (20, 20.6), (0, 0.6)],
        "beam_section": [(28, 20.6), (90, 20.6), (90, 60), (28, 60)],
        "bed_section": [(0, 0), (160, 0), (160, -100), (0, -100)],
        "leaf_section": [(0, 0), (0, -50), (-80, -50), (-80, 0)]}),
    "angle bars": ("bars", {
        "length": 920, "dressed": 45, "land": 6, "bar_depth": 50, "bar_height": 38, "backing_depth": 44,
        "backing_height": 70, "clamp_depth": 160, "edge_radius": 1, "min_hold": 12, "min_flange": 6, "opening": 40}, {
        "bar_section": [(0, 0), (50, 0), (50, 38), (32, 38), (0, 6)],
        "backing_section": [(0, 0), (44, 0), (44, -70), (0, -70)]}),
    "old press": ("press", {
        "length": 1250, "between_frames": 1050, "capacity": 250, "open_height": 240, "stroke": 100, "throat": 100,
        "holder_width": 44, "holder_height": 40, "ram_wide_at": 80, "ram_front": 22, "ram_back": 50, "table_width": 60,
        "table_height": 30, "bed_wide_at": 50, "bed_width": 90, "stop_least": 10}, {
        "ram_section": [(-22, 0), (22, 0), (22, 40), (50, 80), (50, 400), (-22, 400)],
        "table_section": [(-30, 0), (30, 0), (30, -30), (45, -50), (45, -700), (-45, -700), (-45, -50), (-30, -30)],
        "frame_section": [(100, -700), (520, -700), (520, 900), (100, 900)]}),
    "deep press": ("press", {
        "length": 3100, "between_frames": 2550, "capacity": 1000, "open_height": 380, "stroke": 200, "throat": 400,
        "holder_width": 80, "holder_height": 90, "ram_wide_at": 90, "ram_front": 60, "ram_back": 60, "table_width": 60,
        "table_height": 120, "bed_wide_at": 120, "bed_width": 180, "stop_above": 20, "stop_below": 2,
        "stop_depth": 90}, {
        "ram_section": [(-40, 0), (40, 0), (40, 90), (60, 90), (60, 400), (-60, 400), (-60, 90), (-40, 90)],
        "table_section": [(-30, 0), (30, 0), (30, -120), (90, -120), (90, -700), (-90, -700), (-90, -120), (-30, -120)],
        "stops.section": [(0, -2), (0, 20), (90, 20), (90, -2)]}),
}


class Sections(SimpleTestCase):
    def test_six_brakes_come_out_as_they_were_drawn_by_hand_in_either_unit(self):
        for units in ("mm", "in"):
            for name, (kind, sizes, sections) in SIX.items():
                data = measured(kind, units, **sizes)
                for place, points in sections.items():
                    made = [(y * MM_PER[units], z * MM_PER[units]) for y, z in section_at(data, place)]
                    with self.subTest(name, units=units, place=place):
                        self.assertLess(apart(made, points), 0.01)

    def test_start_values_are_those_of_a_common_machine(self):
        for kind in DEMO:
            made, by_hand = read_brake(begun(KINDS[kind], "x", "mm")), read_brake(drawn(kind))
            for name, section in vars(by_hand).items():
                if name.endswith("_section"):
                    # a nose drawn by hand stops its slope 2 mm short; the fingers' slope is 0.02° steeper
                    self.assertLess(apart(getattr(made, name), section), 0.15 if name != "finger_section" else 2.1)

    def test_a_vice_is_bars_with_jaws_and_a_channel_bends_as_sharp_as_it_is_deep(self):
        vice = measured("vice", bar_height=16, bar_depth=30, backing_height=20, backing_depth=28)
        for place, points in (("bar_section", [(0, 0), (30, 0), (30, 16), (0, 16)]),
                              ("backing_section", [(0, 0), (28, 0), (28, -20), (0, -20)])):
            self.assertLess(apart([tuple(p) for p in section_at(vice, place)], points), 0.01)
        data, at = with_tool(drawn("press"), TOOLS["u"], "Channel")
        for name, value in (("height", 70), ("back", 25), ("front", 22), ("v", 24), ("depth", 12),
                            ("shoulder_radius", 0)):
            data = with_size(data, name, str(value), "mm", ("dies", at))
        made = data["dies"][at]
        self.assertLess(apart([tuple(p) for p in made["section"]], [
            (25, -70), (25, 0), (12, 0), (12, -12), (-12, -12), (-12, 0), (-22, 0), (-22, -70)]), 0.01)
        self.assertAlmostEqual(made["angle"], 90, 3)  # as deep as half its opening: a square corner just reaches down
        with self.assertRaisesMessage(Refusal, "less than the channel is deep"):
            with_size(data, "height", "12", "mm", ("dies", at))
        more, other = another_opening(data, "dies", at, "Channel, other side")
        self.assertEqual((more["dies"][other]["measured"], more["dies"][other]["lengths"]),
                         ({"as": "u", "sizes": {"height": 70.0}}, made["lengths"]))
        read_brake(more)

    def test_a_drawing_laid_over_a_tool_is_where_it_belongs_and_told_by_its_worst_corner(self):
        for tool in (*drawn("press")["dies"], *drawn("press")["punches"]):
            section = [tuple(p) for p in tool["section"]]
            for shift in ((0, 0), (311.5, -87.25)):
                moved = [(y + shift[0], z + shift[1]) for y, z in section]
                self.assertLess(laid_over(section, moved).apart, 1e-6, tool["name"])
                low = min(range(len(moved)), key=lambda n: (moved[n][1], moved[n][0]))  # a corner of its hull
                moved[low] = (moved[low][0] - 0.3, moved[low][1])
                found = laid_over(section, moved)
                self.assertTrue(0.1 < found.apart < 0.32, (tool["name"], found.apart))
        with self.assertRaises(Refusal):
            laid_over([(0, 0), (1, 0), (1, 1)], [(0, 0), (5, 5), (9, 9)])

    def test_a_plate_may_name_a_shorter_length_and_a_press_may_have_no_stop(self):
        leaf = read_brake(measured("leaf", thickness=1.5, short_length=1000, short_thickness=2.5))
        self.assertEqual([leaf.rated.at(length) for length in (400, 1000, 1000.5, 2000)], [2.5, 2.5, 1.5, 1.5])
        for size, able in ((900, True), (1100, False)):
            part = read_part(part_file([60, 80], [(90, "up")], thickness=2.0, radius=2, width=size))
            self.assertEqual(find(Prover(Job.of(part, leaf))).complete, able, size)
        with self.assertRaisesMessage(Refusal, "less than the whole length"):
            measured("leaf", length=1500, short_length=3000)
        part = read_part(part_file([60, 80], [(90, "up")]))
        press = measured("press")
        for how, cost, at in (("number", 3, True), ("hand", 25, True), ("none", 0, False), ("hand", 25, True)):
            press = with_stop_moved(press, how)
            found = find(Prover(Job.of(part, read_brake(press))))
            gauged = found.steps[0].gauge.stop is not None
            self.assertEqual((read_brake(press).costs.stop_move, gauged), (cost, at), how)
        self.assertEqual(press["stops"], measured("press")["stops"])

    def test_dies_of_the_rack_come_out_of_caliper_and_protractor(self):
        for die in drawn("press")["dies"]:
            kind = TOOLS["flat" if die.get("kind") == "flatten" else "v"]
            half = max(y for y, _ in die["section"])
            sizes = {"v": die.get("v"), "angle": die.get("angle"), "shoulder_radius": die.get("shoulder_radius"),
                     "front": half, "back": half, "width": 2 * half, "height": -min(z for _, z in die["section"])}
            made = kind.made({one.name: sizes[one.name] for one in kind.measures})
            self.assertLess(apart(made["section"], die["section"]), 0.02, die["name"])
        straight = TOOLS["straight"]
        made = straight.made({one.name: one.start for one in straight.measures} | {"angle": 85})
        self.assertLess(apart(made["section"], drawn("press")["punches"][0]["section"]), 0.12)

    def test_a_neck_stands_where_the_caliper_found_it(self):
        kind = TOOLS["offset"]
        sizes = {one.name: one.start for one in kind.measures} | {"throat": 15, "throat_at": 50, "neck": 30}
        at = sorted(y for y, z in kind.made(sizes)["section"] if abs(z - 50) < 1e-9)
        self.assertEqual(at, [-45, -15])

    def test_what_bends_bends_alike_on_the_measured_and_on_the_drawn_brake(self):
        sides = ("left", "right", "front", "back")
        parts = [tray_file(walls={side: {"height": high} for side in sides}) for high in (30, 75)]
        parts += [part_file([25, 40, 25], [(90, "up")] * 2),
                  part_file([20, 30, 60, 15], [(90, "up"), (90, "down"), (45, "up")])]
        for kind in ("finger", "press", "bars"):
            own = drawn(kind)
            told = begun(KINDS[kind], "x", "mm") | {key: own[key] for key in ("punches", "dies") if key in own}
            told.pop("opening", None)  # drawn by hand without limit
            for part in map(read_part, parts):
                one, other = (find(Prover(Job.of(part, read_brake(data)))) for data in (told, own))
                self.assertEqual((one.complete, round(one.cost, 3)), (other.complete, round(other.cost, 3)))


class Sizes(SimpleTestCase):
    def test_what_is_not_measured_says_so_until_it_is(self):
        data = begun(KINDS["bars"], "Bars", "mm")
        self.assertEqual(len(not_measured(data)), 12)
        data = with_size(data, "length", "24 3/8 in", "mm")
        self.assertNotIn("Length of the bars", not_measured(data))
        self.assertAlmostEqual(read_brake(data).length, 619.125)
        self.assertEqual(read_brake(with_size(data, "length", " ", "mm")).length, 600)

    def test_wrong_sizes_are_refused_at_their_place_and_change_nothing(self):
        data = measured("finger", finger_height=80)
        before = json.dumps(data)
        for name, text in (("finger_height", "0"), ("finger_height", "three"), ("swing", "20"),
                           ("girth", "3"), ("", "3"), ("foot_height", "120"), ("beam_front", "70")):
            with self.assertRaises(Refusal) as said:
                with_size(data, name, text, "mm")
            self.assertEqual(said.exception.path, name or "size")
        self.assertEqual(json.dumps(data), before)

    def test_start_values_give_way_to_what_was_measured_and_say_that_they_are_none(self):
        data = with_size(begun(KINDS["finger"], "F", "mm"), "finger_height", "300", "mm")
        rows = {row.measure.name: row for row in taken(data, "mm")}
        self.assertGreater(rows["beam_front"].value, 300)
        self.assertGreaterEqual(rows["beam_height"].value, rows["beam_front"].value)
        self.assertEqual([name for name, row in rows.items() if row.is_measured], ["finger_height"])
        self.assertEqual(with_size(data, "finger_height", "", "mm"), begun(KINDS["finger"], "F", "mm"))

    def test_forces_as_plates_say_them(self):
        for text, units, kn in (("600", "mm", 600), ("60 t", "mm", 588.399), ("66 tons", "mm", 587.165),
                                ("66", "in", 587.165), ("66 US tons", "in", 587.165), ("600 kN", "in", 600)):
            self.assertAlmostEqual(read_force(text, units), kn, 2)
        for text in ("", "much", "60 us kn", "-5", "1e9", "60 t 3"):
            with self.assertRaises(Refusal):
                read_force(text, "mm", "capacity")

    def test_a_leafs_swing_is_read_as_its_reader_measures_angles_and_a_nose_is_not(self):
        data = begun(KINDS["leaf"], "L", "mm")
        between = Reading("mm", included=True)
        self.assertEqual(read_brake(with_size(data, "swing", "45", between)).max_angle, 135)
        self.assertEqual(with_size(data, "nose_angle", "45", between)["measured"]["sizes"], {"nose_angle": 45})

    def test_a_drawn_section_stands_until_it_is_to_be_made_again(self):
        points = [[0, 0], [90, 0], [90, -90], [0, -90]]
        data = with_section(begun(KINDS["leaf"], "L", "mm"), "bed_section", points)
        changed = with_size(data, "bed_depth", "200", "mm")
        self.assertEqual(changed["bed_section"], points)
        self.assertEqual(made_again(changed, "bed_section")["bed_section"][1], [200, 0])
        press = with_section(begun(KINDS["press"], "P", "mm"), "punches[0].section", [[0, 0], [9, 9], [-9, 9]])
        self.assertIsNone(kind_of(press["punches"][0]))
        self.assertEqual(not_measured(press)[-1], "V die")

    def test_fingers_in_one_line_in_the_readers_units(self):
        data = with_pieces(begun(KINDS["finger"], "F", "mm"), "finger_section", "6 × 2; 1 1/2 x3;2", "in")
        self.assertEqual(data["fingers"], [{"width": 152.4, "count": 2}, {"width": 38.1, "count": 3},
                                           {"width": 50.8, "count": 1}])
        self.assertEqual(written_pieces(data, "finger_section", Reading("in", 16)), "6 × 2\n1 1/2 × 3\n2 × 1")

    @given(st.data())
    @settings(max_examples=150, deadline=None)
    def test_any_sizes_make_a_brake_or_are_refused_at_one_of_them(self, draw):
        kind = draw.draw(st.sampled_from([*KINDS.values(), *TOOLS.values()]))
        units = draw.draw(st.sampled_from(("mm", "in")))
        data, tool = begun(kind if not kind.rack else KINDS["press"], "x", units), None
        if kind.rack:
            data, number = with_tool(data, kind, "own")
            tool = (kind.rack, number)
        for one in draw.draw(st.lists(st.sampled_from(kind.measures), max_size=6)):
            share = draw.draw(st.sampled_from((0, 0.02, 0.1, 0.5, 1)))
            value = one.least + share * (one.most - one.least)
            typed = f"{value / MM_PER[units]:.9f}" if one.unit is Unit.LENGTH else f"{value:.6f} kN" if (
                one.unit is Unit.FORCE) else f"{value:.6f}"
            try:
                data = with_size(data, one.name, typed, units, tool)
            except Refusal as refusal:
                self.assertIn(refusal.path, [m.name for m in kind.measures])
                continue
            block = data[kind.rack][tool[1]] if tool else data
            now = {row.measure.name: row.value for row in taken(block, units)}
            self.assertAlmostEqual(now[one.name], value, delta=1e-4)
            spans = kind.spans(now)
            self.assertLessEqual(set(spans), set(now))
        read_brake(json.loads(json.dumps(data)))


class Tools(SimpleTestCase):
    def setUp(self):
        self.press = begun(KINDS["press"], "P", "mm")

    def test_put_up_copied_renamed_put_away_and_taken_off(self):
        data, number = with_tool(self.press, TOOLS["offset"], "Goose")
        self.assertEqual(number, 1)
        data, number = copied(data, "punches", 1, "Goose two")
        data = renamed(data, "punches", 2, "Gander")
        self.assertEqual([t["name"] for t in data["punches"]], ["Straight punch", "Goose", "Gander"])
        away = retired(data, "punches", 1, True)
        self.assertEqual([p.name for p in read_brake(away).punches], ["Straight punch", "Gander"])
        self.assertEqual(len(read_brake(retired(away, "punches", 1, False)).punches), 3)
        self.assertEqual([t["name"] for t in without(data, "punches", 0)["punches"]], ["Goose", "Gander"])
        for wrong in (lambda: copied(data, "punches", 1, "gander"), lambda: renamed(data, "punches", 1, "GANDER"),
                      lambda: retired(data, "dies", 0, True), lambda: without(data, "dies", 0),
                      lambda: with_tool(data, TOOLS["v"], ""), lambda: copied(data, "rams", 0, "x")):
            self.assertRaises(Refusal, wrong)
        self.assertRaises(Refusal, read_brake, self.press | {"dies": [self.press["dies"][0] | {"retired": True}]})

    def test_a_lent_tool_is_the_same_on_a_brake_in_inches(self):
        data, number = with_tool(self.press, TOOLS["v"], "V 20")
        data = with_size(data, "v", "20", "mm", ("dies", number))
        data = with_size(data, "angle", "80", "mm", ("dies", number))
        other = lent(data, "dies", number, begun(KINDS["press"], "Q", "in"))
        one, two = (next(d for d in read_brake(file).dies if d.name == "V 20") for file in (data, other))
        self.assertAlmostEqual(one.v, two.v, 4)
        self.assertEqual(two.angle, 80)
        self.assertLess(apart(one.section, two.section), 1e-3)
        again = with_size(other, "height", "2", "in", ("dies", 1))
        self.assertAlmostEqual(read_brake(again).dies[-1].v, 20, 4)
        self.assertEqual(read_brake(again).dies[-1].angle, 80)

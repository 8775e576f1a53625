"""At the brake, judged by simulated metal that shares no code with the sums: corrections, causes, the set-up sheet."""

import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from bendcore.bending.bend import punch_travel
from bendcore.floor.causes import told, ways_to_save, where_read
from bendcore.floor.corrections import (
    Estimate,
    Instruments,
    estimate,
    in_words,
    k_for_blank,
    next_settings,
    stop_in_words,
)
from bendcore.floor.diagnosis import BLANK, END, OTHER, Diagnosis, Readings, agreeing
from bendcore.floor.reach import nonsense_k, sharpest, within_reach
from bendcore.floor.rows import rows
from bendcore.floor.setup import set_ups
from bendcore.floor.slips import doubts
from bendcore.floor.ties import Bent, Settings
from bendcore.order.plan import Tooling
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.quality.checksheet import CheckRow, dimensions
from bendcore.quality.spreads import SPRINGBACK, STOP_OFFSET
from dorvan.simulated.setter import Setter
from tests.batches import RIGHT, Work, a_piece, corrected, diagnosed, judged, left_alone, strips, trays
from tests.core.samples import brake, part_file, press, tray_file
from tests.core.sleeves import sleeve_file
from tests.often import often


def channel(**changes):
    return Work(part_file([30, 60, 30], [(90, "up"), (90, "up")], **changes), press(["Straight 85"], ["V 8"]))


class Corrections(SimpleTestCase):
    def test_what_is_set_next_brings_every_gauged_leg_to_its_nominal(self):
        """A shop off by 0.4 mm at the stop and 1.5° at the angle: the next piece is neither."""
        for work in (*strips(4), *trays(2)):
            ties = work.ties()
            off = {SPRINGBACK: -1.5, STOP_OFFSET: 0.4}
            sources = [s for s in ties.lasting if s[0] in off]
            names = [name for name, one in ties.dimensions.items() if one.unit != "mm" or name in ties.gauged.values()]
            size = np.array([off[kind] for kind, _ in sources])
            read = dict(zip(names, (ties.effects(names, sources) @ size).tolist(), strict=True))
            known = estimate(ties, [Bent(Settings(), read)] * 40, Instruments(0.001, 0.001))
            settings = next_settings(ties, known)
            for name in names:
                left = read[name] + ties.set_by(name, settings) - ties.set_by(name, Settings())
                self.assertAlmostEqual(left, 0, delta=0.05 if ties.dimensions[name].unit != "mm" else 0.02, msg=name)

    def test_one_reading_counts_as_far_as_it_is_to_be_trusted(self):
        """A stop's offset spreads by 0.3 and a caliper by 0.03: nearly all of it; a scribed line by 0.15 each time, and
        by 0.05 for good: a tenth."""
        for work, low, high in ((channel(), 0.9, 1.0), (trays(1)[0], 0.05, 0.2)):
            ties = work.ties()
            n, leg = next(iter(ties.gauged.items()))
            settings = next_settings(ties, estimate(ties, [Bent(Settings(), {leg: 0.4})]))
            moved = -settings.back[n] * ties.back(leg, n) / 0.4
            self.assertTrue(low < moved < high, (leg, moved))

    def test_a_ledger_moves_what_is_known_as_far_as_it_is_sure(self):
        ties = channel().ties()
        known = Estimate().over(ties.lasting).told((SPRINGBACK, None), 1.2, 0.1)
        mean, sigma = known.of((SPRINGBACK, None))
        self.assertAlmostEqual(mean, 1.2 / 1.01, 6)
        self.assertAlmostEqual(sigma, math.sqrt(0.01 / 1.01), 6)

    def test_every_leg_but_one_of_a_row_is_gauged(self):
        for work in (*strips(6), *trays(2)):
            ties = work.ties()
            for row in ties.rows:
                named = [leg for leg in row.legs if leg in ties.dimensions]
                self.assertEqual(len(set(named) & set(ties.gauged.values())), len(named) - 1, row.legs)
                self.assertEqual(len(set(named) & set(ties.closes_on)), 1)

    def test_batches_come_right_as_soon_as_they_should(self):
        """In small what ``make bench`` does with 300."""
        angles, gauged, closed = corrected(strips(4), 24, 0.2, 0.3)
        self.assertTrue(angles >= 0.9 and gauged >= 0.85 and closed >= 0.85, (angles, gauged, closed))

    def test_words_are_never_a_bare_signed_number(self):
        self.assertEqual((in_words(2.5), in_words(-1), in_words(0)), ("bend 2.5° further", "bend 1° less", "as set"))
        self.assertEqual(stop_in_words(-0.4, lambda mm: f"{mm} mm"), "stop 0.4 mm nearer the bend")


class Causes(SimpleTestCase):
    def test_every_cause_alone_is_found(self):
        """Each cause in turn, eight spreads of its own estimate large, bent in simulated metal and read."""
        for work in (strips(3)[1], trays(1)[0]):
            ties = work.ties()
            diagnosis = Diagnosis(ties)
            settings = next_settings(ties, self.learnt(work, ties))
            for key, spread in diagnosis.spreads().items():
                piece = a_piece(work, ties, settings, key, 8 * spread, np.random.default_rng(5))
                verdict = diagnosis.of(piece)
                self.assertIn(key, {cause.key for cause in verdict.causes}, verdict)
                self.assertTrue(told(verdict.causes[0], ties).correction)
            sound = [diagnosis.of(a_piece(work, ties, settings, None, 0, np.random.default_rng(seed)))
                     for seed in range(6, 26)]
            self.assertLessEqual(sum(bool(verdict.causes) for verdict in sound), 2)  # one in ten may be accused

    def learnt(self, work, ties):
        setter = Setter(work.at(RIGHT, np.random.default_rng(1)), ties)
        for _ in range(30):
            setter.measure(*setter.make())
        return setter.known

    def test_in_small_what_the_bench_counts(self):
        named, accused, sure, right = diagnosed([*strips(2), *trays(1)], 60)
        self.assertTrue(named >= 0.85 and accused <= 0.1 and abs(sure - right) <= 0.1, (named, accused, sure, right))

    def test_misreadings_are_told_from_causes_and_nothing_is_made_worse(self):
        works = [*strips(3), *trays(2)]
        named, misread, accused, bins = judged(works, often(160))
        self.assertTrue(named >= 0.9 and misread >= 0.85 and accused <= 0.1, (named, misread, accused))
        for right, count, stated in bins.values():
            self.assertTrue(count < 40 or abs(right - stated) <= 0.05, bins)
        sets, blanks = left_alone(works, often(120))
        self.assertTrue(sets <= 0.03 and blanks <= 0.03, (sets, blanks))

    def test_a_blank_measured_long_is_taken_out_before_k_is_asked(self):
        """The leg that closes has what the blank had too much: K is right, and stays."""
        for work in (channel(), *strips(2)):
            ties = work.ties()
            diagnosis, row = Diagnosis(ties), ties.rows[0]
            pattern = diagnosis.causes[BLANK, row.legs[0]]
            off = {place: float(effect) for place, effect in zip(diagnosis.places, pattern, strict=True)
                   if place[1] in (END, OTHER) and ties.dimensions[place[0]].unit == "mm"}
            bent = diagnosis.learnt(Settings(), Readings(off, {row.legs[0]: 1.0}))
            self.assertLess(abs(k_for_blank(ties, estimate(ties, [bent]))), 0.01)
            self.assertTrue(any(abs(value) > 0.9 for value in off.values()))

    def test_two_pieces_that_agree_stand_against_a_slip(self):
        ties = channel().ties()
        leg, = ties.closes_on
        row = ties.rows[0]
        one = Readings({(name, END): 0.5 if name == leg else 0.0 for name in ("L1", "L2", "L3")}, {row.legs[0]: 0.0})
        self.assertIn((leg, END), Diagnosis(ties).of(one).doubtful)
        first, second = agreeing([one, one])
        self.assertEqual((Diagnosis(ties).of(first).doubtful, second.sure), ((), frozenset({"L1", "L2", "L3"})))

    def test_readings_in_other_units_of_other_legs_and_the_other_way_are_asked_about(self):
        ties = channel().ties()
        known = Estimate()

        def asked(**measured):
            return doubts(ties, known, Settings(), measured)
        self.assertEqual(asked(L1=30.3, L2=59.8, B1=91.5), {})
        self.assertAlmostEqual(asked(L1=1.18)["L1"].may_be, 29.97, 2)
        self.assertAlmostEqual(asked(B1=9.0)["B1"].may_be, 90.0)
        self.assertAlmostEqual(asked(L2=60 * 25.4)["L2"].may_be, 60.0)
        self.assertEqual(set(asked(L1=60.1, L2=30.2)), {"L1", "L2"})
        self.assertIn("taken for this one", asked(L1=60.1, L2=30.2)["L1"].question)
        self.assertIn("one inch", asked(L1=55.4)["L1"].question)
        self.assertIn("again", asked(L1=47.0)["L1"].question)
        steep = Work(part_file([30, 60], [(60, "up")]), press(["Straight 85"], ["V 8"])).ties()
        self.assertAlmostEqual(doubts(steep, known, Settings(), {"B1": 119.5})["B1"].may_be, 60.5)

    def test_nothing_is_set_by_a_reading_that_nothing_explains_until_it_is_taken_again(self):
        ties = channel().ties()
        for sure in (frozenset(), frozenset({"L1"})):
            known = estimate(ties, [Bent(Settings(), {"L1": 9.0}, sure)])
            back = next_settings(ties, known).back
            self.assertEqual(max(map(abs, back.values())) > 1, bool(sure), back)

    def test_no_card_asks_for_what_machine_or_tool_cannot_do(self):
        work = channel()
        brakes = {work.machine.name: work.machine}
        asked = Settings({"B1": 79.0, "B2": 1.0}, {0: 5000.0, 1: 0.3})
        found = within_reach(asked, work.plan.steps, brakes)
        self.assertEqual((dict(found.settings.further), dict(found.settings.back)), ({"B2": 1.0}, {1: 0.3}))
        first = next(n for n, step in enumerate(work.plan.steps) if "B1" in step.bends)
        self.assertEqual(set(found.left), {first, 0})
        sharp = 180 - 85
        self.assertTrue(all(sharpest(step, work.machine) <= sharp for step in work.plan.steps))
        self.assertIn("ordinary bends", nonsense_k(work.part, -0.3))
        self.assertIsNone(nonsense_k(work.part, 0.05))

    def test_what_cannot_be_told_apart_is_named_together_with_the_reading_that_would(self):
        """All gauged legs long by as much, one end of each read: the stop, or stops that are not square."""
        ties = channel().ties()
        source = next(s for s in ties.lasting if s[0] == STOP_OFFSET)
        off = {(leg, END): 0.4 * ties.effect(leg, source) for leg in (*ties.gauged.values(), *ties.closes_on)}
        verdict = Diagnosis(ties).of(Readings(off))
        self.assertEqual({cause.kind for cause in verdict.causes}, {STOP_OFFSET, "skew"})
        self.assertIn("at the other end", where_read(verdict.separate, ties))

    def test_a_long_blank_is_told_from_a_wrong_stop_by_measuring_it(self):
        ties = channel().ties()
        row, = ties.rows
        leg, = ties.closes_on
        verdict = Diagnosis(ties).of(Readings({(leg, place): 0.6 for place in ("end", "other end")},
                                              {row.legs[0]: 0.6}))
        self.assertEqual(verdict.causes[0].kind, BLANK)
        self.assertIn("cut it 0.6", told(verdict.causes[0], ties).correction)

    def test_what_a_longer_blank_adds_lands_in_the_legs_once(self):
        for work in (*strips(5), *trays(1)):
            diagnosis = Diagnosis(work.ties())
            for key, pattern in diagnosis.causes.items():
                if key[0] == BLANK:
                    at = dict(zip(diagnosis.places, pattern.tolist(), strict=True))
                    legs = next(row.legs for row in diagnosis.ties.rows if row.legs[0] == key[1])
                    self.assertEqual(sum(at[leg, END] for leg in legs), 1.0)

    def test_what_can_be_saved(self):
        part = channel().part
        found = {d.name: d for d in dimensions(part)}
        for name, over, words in (("B1", -3, "further"), ("B1", 3, "open it"), ("L1", 1, "trim"), ("L2", 1, "flatten"),
                                  ("L1", -1, "flatten")):
            row = CheckRow(found[name], found[name].nominal + over)
            self.assertIn(words, ways_to_save(row, part)[0], (name, over))
        self.assertEqual(ways_to_save(CheckRow(found["L1"], 30.0, (30.05,)), part), [])
        painted = replace(part, stock=replace(part.stock, finish="painted"))
        for stock, said in ((part, False), (painted, True)):  # a coat cracks where it is flattened
            told = ways_to_save(CheckRow(found["L2"], found["L2"].nominal + 1), stock)[0]
            self.assertEqual("touch it up" in told, said)


class SetUpSheets(SimpleTestCase):
    def test_a_press(self):
        work = channel()
        sheet, = set_ups(work.part, work.plan.steps, [work.machine])
        die = next(die for die in work.machine.dies if die.name == "V 8")
        for stroke, step in zip(sheet.strokes, work.plan.steps, strict=True):
            at = (1.2, 1.0, die.v, die.shoulder_radius)
            self.assertAlmostEqual(stroke.depth, punch_travel(step.bend_to, *at), 9)
            self.assertAlmostEqual(stroke.degree, punch_travel(step.bend_to + 0.5, *at)
                                   - punch_travel(step.bend_to - 0.5, *at), 4)
            self.assertFalse(stroke.muted)
        reach = [(piece.start, piece.end) for _, pieces in sheet.mounted[0].pieces for piece in pieces]
        self.assertLessEqual(min(low for low, _ in reach), -147)  # 300 mm about the middle, but for 3 mm at each end
        self.assertGreaterEqual(max(high for _, high in reach), 147)

    def test_a_box_on_a_press_says_where_a_guard_would_see_walls(self):
        walls = {side: {"height": 20} for side in ("left", "front")}
        work = Work(tray_file(walls=walls), press(["Straight 85"], ["V 8"]))
        sheet, = set_ups(work.part, work.plan.steps, [work.machine])
        self.assertEqual([stroke.muted for stroke in sheet.strokes], [False, True])

    def test_on_coming_back_from_another_brake_what_is_mounted_then_is_told(self):
        on = press(["Straight 85"], ["V 8", "V 12"])
        part = read_part(part_file([30, 60, 60, 30], [(90, "up")] * 3))
        first, second, third = plan_order(part, press(["Straight 85"], ["V 8"])).steps
        aside = tuple((group, tuple(replace(piece, start=piece.start + 4) for piece in pieces))
                      for group, pieces in second.tools.pieces)
        shifted = replace(second, tools=replace(second.tools, pieces=aside))  # the part lies aside, nothing is changed
        self.assertEqual([group.first for group in set_ups(part, (first, shifted), [on])[0].mounted], [1])
        away = replace(second, brake="2 m leaf brake", tools=Tooling(None, None, ()), change="move")
        for die, mounted in (("V 8", [1]), ("V 12", [1, 3])):
            tools = replace(first.tools, die=die)
            back = replace(third, tools=tools, change="move", bends=first.bends, held=first.held)
            sheet, _ = set_ups(part, (first, away, back), [on, brake("leaf-2000")])
            self.assertEqual([group.first for group in sheet.mounted], mounted)

    def test_hand_brakes(self):
        for name, word in (("finger-1270", "Fingers"), ("leaf-2000", "Setback"), ("bench-bars", "Bars")):
            work = Work(part_file([30, 40], [(90, "up")], width=300), brake(name))
            sheet, = set_ups(work.part, work.plan.steps, [work.machine])
            self.assertIn(word, [row.what for row in sheet.rows])
            self.assertTrue(sheet.checks and sheet.strokes[0].depth is None)


class Rows(SimpleTestCase):
    def test_rows_are_as_long_as_the_blank_and_their_lines_where_it_has_them(self):
        hemmed = part_file([20, 30, 25], start_hem={"length": 10, "gap": 0, "direction": "up"})
        for part in map(read_part, (hemmed, tray_file(), sleeve_file())):
            lines = {line.bend.id: line.line for line in part.flat.bends}
            for row in rows(part):
                if not all(row.legs):
                    continue
                for (one, other), (x, y) in zip(zip(row.bends, row.bends[1:], strict=False),
                                                zip(row.lines, row.lines[1:], strict=False), strict=True):
                    a, b = (np.mean(lines[bend.id], axis=0) for bend in (one, other))
                    self.assertAlmostEqual(float(np.abs(a - b).max()), y - x, 6)

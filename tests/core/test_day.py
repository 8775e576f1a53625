"""The day's plan: against everything tried, looked over by rules of its own, and over the shop's hours."""

import json
import random
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from bendcore.brakes.brake import read_brake
from bendcore.brakes.pieces import Block, place
from bendcore.day import why
from bendcore.day.calendar import Calendar, Hours
from bendcore.day.data import lay_out, plan_data, read_plan, read_work, work_data
from bendcore.day.greedy import greedy
from bendcore.day.improve import HEATS, improved
from bendcore.day.solve import solve
from bendcore.day.times import CUTTING, Batch, Learnt, Rates, learnt, tasks_of
from bendcore.day.work import Person, Placed, Task, Work, cost, faults
from bendcore.errors import Refusal
from bendcore.order.plan import Tooling
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.patience import ENDLESS, Patience
from tests.core.days import best_cost, random_work
from tests.core.samples import ROOT, part_file, press_file
from tests.often import often


class Small(SimpleTestCase):
    def test_a_plan_is_as_good_as_the_best_of_all(self):
        seen = seed = 0
        while seen < often(60):
            rng, seed = random.Random(seed), seed + 1
            work = random_work(rng, rng.randint(2, 6), rng.randint(1, 2), rng.randint(2, 3))
            try:
                work.check()
            except Refusal:
                continue
            seen += 1
            found, first = solve(work, ENDLESS), greedy(work)
            self.assertEqual(faults(work, found.placed), [], seed)
            self.assertEqual(faults(work, first), [], seed)
            self.assertEqual((found.cost, found.bound), (best_cost(work), found.cost), seed)
            self.assertLessEqual(found.cost, cost(first))

    def test_what_was_put_somewhere_stays_and_the_rest_goes_round_it(self):
        work = Work((Task("a", "brake", 30), Task("b", "brake", 10, fixed=20), Task("c", "brake", 15)),
                    (Person("ines", frozenset({"brake"})),))
        found = solve(work, ENDLESS)
        self.assertEqual(faults(work, found.placed), [])
        self.assertEqual(next(one.start for one in found.placed if one.task.id == "b"), 20)
        self.assertEqual(found.cost, 60)
        both = Work((Task("a", "brake", 30, fixed=0), Task("b", "brake", 10, fixed=20)), work.people)
        with self.assertRaises(Refusal):
            solve(both, ENDLESS)

    def test_what_nobody_could_do_is_refused_by_its_task(self):
        ines, otto = Person("ines", frozenset({"brake"})), Person("otto", frozenset(), helps=False)
        for tasks, people in (((Task("a", "leaf", 5),), (ines,)), ((Task("a", "brake", 5, hands=2),), (ines, otto)),
                              ((Task("a", "brake", 0),), (ines,)), ((Task("a", "brake", 5, by="otto"),), (ines, otto)),
                              ((Task("a", "brake", 5, after=("z",)),), (ines,))):
            with self.assertRaises(Refusal) as caught:
                solve(Work(tasks, people), ENDLESS)
            self.assertEqual(caught.exception.path, "a")

    def test_faults_are_seen(self):
        ines, otto = Person("ines", frozenset({"brake"}), away=((50, 60),)), Person("otto", frozenset(), helps=False)
        one, two = Task("a", "brake", 10, 5, "v8"), Task("b", "brake", 10, 5, "v8", ready=8, after=("a",), fixed=15)
        work = Work((one, two), (ines, otto))
        good = (Placed(one, 0, 5, ("ines",)), Placed(two, 15, 0, ("ines",)))
        self.assertEqual(faults(work, good), [])
        for placed in ((good[0], Placed(two, 15, 5, ("ines",))), (good[0], Placed(two, 14, 0, ("ines",))),
                       (good[0], Placed(two, 15, 0, ("otto",))), (good[0], Placed(two, 48, 0, ("ines",))),
                       (Placed(one, 0, 0, ("ines",)), good[1]), (good[0], Placed(two, 15, 0, ()))):
            self.assertNotEqual(faults(work, placed), [])
        hers = Work((replace(one, by="ines"), replace(two, by="otto")), (ines, replace(otto, brakes=ines.brakes)))
        self.assertEqual(faults(hers, [replace(p, task=t) for p, t in zip(good, hers.tasks, strict=True)]),
                         ["b is not done by otto"])


class Large(SimpleTestCase):
    def test_the_plan_it_begins_with_is_sound_and_never_worse_than_by_urgency(self):
        better = 0
        for seed in range(12):
            work = random_work(random.Random(100 + seed), 14, 3, 4)
            first = greedy(work)
            for heat in HEATS:
                found = improved(work, first, ENDLESS, heat, steps=1500)
                self.assertEqual(faults(work, found), [], seed)
                self.assertLessEqual(cost(found), cost(first))
                better += cost(found) < cost(first)
            self.assertEqual(improved(work, first, Patience(0)), first)
        self.assertGreater(better, 10)

    def test_a_week_of_a_shop_is_planned_without_fault_and_better_than_by_urgency(self):
        rng = random.Random(4)
        work = random_work(rng, 40, 4, 5)
        found = solve(work, Patience(60), often(6))
        self.assertEqual(faults(work, found.placed), [])
        self.assertEqual(len(found.placed), 40)
        self.assertLess(found.cost, cost(greedy(work)))
        self.assertLessEqual(found.bound, found.cost)

    def test_it_ends_when_patience_does_and_says_how_far_it_is(self):
        class Told(Patience):
            def note(self, **how_far):
                notes.append(how_far)

        notes = []
        work = random_work(random.Random(1), 40, 4, 5)
        begun = datetime.now(UTC)
        found = solve(work, Told(0), 60)
        self.assertLess((datetime.now(UTC) - begun).total_seconds(), 30)
        self.assertEqual(faults(work, found.placed), [])
        self.assertTrue(notes)


class Told(SimpleTestCase):
    def test_it_is_handed_on_as_text_and_read_back(self):
        work = random_work(random.Random(11), 5, 2, 3)
        again = read_work(json.loads(json.dumps(work_data(work))))
        self.assertEqual(again, work)
        plan = read_plan(json.loads(lay_out(json.dumps(work_data(work)), ENDLESS)), work)
        self.assertEqual(faults(work, plan.placed), [])
        self.assertEqual(read_plan(plan_data(plan), work), plan)

    def test_absences_of_one_person_that_overlap_leave_a_plan(self):
        ada = Person("ada", frozenset({"brake"}), True, ((10, 30), (20, 40), (25, 28)))
        work = Work((Task("t", "brake", 15),), (ada,))
        found = solve(work, ENDLESS, 5)
        self.assertEqual((found.placed[0].start, faults(work, found.placed)), (40, []))

    def test_hand_work_counts_cutting_marking_and_setting_up(self):
        bars, part = read_brake(json.loads((ROOT / "demo" / "bench-bars.json").read_text())), read_part(part_file(
            width=200))
        plan = plan_order(part, bars)
        strokes = sum(step.cost for step in plan.steps)
        for cut in (0, 20):
            task, = tasks_of(Batch("T-1", 20, cut=cut), plan.steps, {bars.name: bars}, bars.name)
            self.assertEqual(task.minutes, -(-(120 + 20 * strokes + 30 * 20 + 60 * (20 - cut)) // 60))
            self.assertEqual(task.setting, 5)
        slow = Rates(cut=90, mark=45, walk=60, pace={bars.name: 1.5})
        task, = tasks_of(Batch("T-1", 20, 2, 5), plan.steps, {bars.name: bars}, bars.name, slow)
        self.assertEqual((task.minutes, task.hands), (-(-(60 + 30 * strokes + 45 * 20 + 90 * 15) // 60), 2))

    def test_blanks_for_a_press_are_cut_before_it_wherever_they_are_not(self):
        brake, part = read_brake(press_file()), read_part(part_file())
        steps = plan_order(part, brake).steps
        for cut, ids in ((0, ["T-1 cut", "T-1"]), (7, ["T-1 cut", "T-1"]), (8, ["T-1"]), (9, ["T-1"])):
            tasks = tasks_of(Batch("T-1", 8, cut=cut), steps, {brake.name: brake}, brake.name)
            self.assertEqual([task.id for task in tasks], ids)
            if cut < 8:
                first, then = tasks
                self.assertEqual((first.brake, first.minutes, then.after), (CUTTING, 2 + 8 - cut, ("T-1 cut",)))

    def test_a_rate_is_learnt_as_far_as_much_was_seen_and_no_odd_one_counts(self):
        self.assertEqual(learnt([], 60), Learnt(60, 60, 0))
        self.assertEqual(learnt([80, 80, 900], 60).value, (8 * 60 + 3 * 80) / 11)
        self.assertAlmostEqual(learnt([80] * 4000, 60).value, 80, delta=0.1)

    def test_a_late_task_says_what_it_waited_for(self):
        a, b = Task("a", "brake", 30), Task("b", "brake", 10, due=20)
        row = (Placed(a, 0, 0, ("ines",)), Placed(b, 30, 0, ("otto",)))
        self.assertEqual(why.why_late(row[1], row), (why.BRAKE, "a"))
        for task, start, others, found in (
                (Task("b", "leaf", 10, due=20), 30, [Placed(a, 0, 0, ("otto",))], (why.PERSON, "a")),
                (Task("b", "leaf", 10, due=20, after=("a",)), 30, [Placed(a, 0, 0, ("x",))], (why.AFTER, "a")),
                (Task("b", "leaf", 10, due=20, ready=15), 15, [], (why.HELD, "")),
                (Task("b", "leaf", 30, due=20), 0, [], (why.LONG, "")),
                (Task("b", "leaf", 30, due=20, fixed=9), 9, [], (why.PUT, ""))):
            one = Placed(task, start, 0, ("otto",))
            self.assertEqual(why.why_late(one, [*others, one]), found)

    def test_times_come_from_the_order_set_up_once_and_strokes_for_every_piece(self):
        brake, part = read_brake(press_file()), read_part(part_file())
        plan = plan_order(part, brake)
        few, many = (tasks_of(Batch("T-1", n, cut=n), plan.steps, {brake.name: brake}, brake.name)[0] for n in (1, 40))
        self.assertEqual((few.setting, many.setting), (3, 3))
        strokes = sum(step.cost for step in plan.steps) - sum(180 for step in plan.steps if step.change == "tools")
        self.assertEqual(many.minutes, -(-(120 + 40 * strokes) // 60))
        self.assertTrue(few.key)
        self.assertEqual(few.key, many.key)
        keys = []
        for widths in ((100.0, 75.0, 50.0), (50.0, 75.0, 100.0), (75.0, 100.0, 50.0)):  # turned round, and another row
            fingers = tuple(place(Block(0.0, 0.0, 225.0, 225.0), widths))
            steps = [replace(plan.steps[0], tools=Tooling(None, None, (("finger", fingers),)))]
            keys.append(tasks_of(Batch("T-1", 1, cut=1), steps, {brake.name: brake}, brake.name)[0].key)
        self.assertEqual(keys[0], keys[1])
        self.assertNotEqual(keys[0], keys[2])


class Hour(SimpleTestCase):
    @given(st.integers(0, 6000), st.integers(0, 20), st.integers(0, 23))
    @settings(max_examples=120, deadline=None)
    def test_minutes_and_moments_are_each_others_inverse(self, minute, day, hour):
        calendar = Calendar(datetime(2026, 6, 1 + day, hour, 10, tzinfo=UTC))
        at = calendar.moment(minute)
        self.assertEqual(calendar.minute(at), minute)
        self.assertIn(at.weekday(), range(5))
        self.assertTrue(any(a <= at.time() < b for a, b in calendar.hours.stretches))
        plain, count = calendar.begin, 0  # minute by minute, as a clock goes
        while plain < at:
            count += plain.weekday() < 5 and any(a <= plain.time() < b for a, b in calendar.hours.stretches)
            plain += timedelta(minutes=1)
        self.assertEqual(count, minute)

    def test_far_ahead_is_still_in_working_hours(self):
        calendar = Calendar(datetime(2026, 6, 1, 9, 0, tzinfo=UTC))
        for minute in (29_000, 40_000, 140_000):
            at = calendar.moment(minute)
            self.assertTrue(any(a <= at.time() < b for a, b in calendar.hours.stretches), at)
            self.assertEqual(Calendar(calendar.begin).minute(at), minute)
        weeks = 140_000 // (5 * 510)  # nine and a half hours a day less the break, five days a week
        self.assertLess(abs((calendar.moment(140_000) - calendar.begin).days - weeks * 7), 8)

    def test_days_and_their_ends(self):
        calendar = Calendar(datetime(2026, 6, 5, 15, 0, tzinfo=UTC))  # a Friday
        self.assertEqual(calendar.end_of(date(2026, 6, 7)), 90)
        self.assertEqual(calendar.start_of(date(2026, 6, 9)), 90 + 510)
        self.assertEqual(calendar.moment(90, ends=True), datetime(2026, 6, 5, 16, 30, tzinfo=UTC))
        self.assertEqual(calendar.moment(90), datetime(2026, 6, 8, 7, 30, tzinfo=UTC))
        self.assertEqual([row[1:] for row in calendar.days(100)], [(0, 90), (90, 600)])
        for hours in (((time(9), time(8)),), (), ((time(8), time(12)), (time(11), time(15)))):
            with self.assertRaises(Refusal):
                Hours(hours)

"""What is handier: long sides that swing and what that costs, wishes and their prices, what the seconds go on."""

import random

from django.test import SimpleTestCase

from bendcore.brakes.press import read_press
from bendcore.order.plan import ONE_SETTING, STILL
from bendcore.order.planning import plan_order
from bendcore.order.proof.prover import Prover
from bendcore.order.search.finding import find
from bendcore.order.search.wishes import COSTS, KEPT, NONE, wishes
from bendcore.order.states.moves import Job
from bendcore.part import read_part

from .judges import least_of_all
from .samples import brake, part_file, press, press_file, random_part, random_tray

FEW = [{"width": w, "count": n} for w, n in ((100, 2), (50, 1), (32, 1), (25, 2))]


def held(plan) -> dict[str, str]:
    return {step.bends[0]: step.held for step in plan.steps}


class LongSides(SimpleTestCase):
    """A panel of 300 mm with a lip at either end."""

    panel = read_part(part_file((20, 300, 25)))

    def test_where_a_swing_costs_nothing_a_lip_is_clamped_rather_than_the_panel_turned(self):
        plan = plan_order(self.panel, brake("leaf-2000", costs={}))
        self.assertEqual(plan.cost, 84)

    def test_where_it_does_the_panel_stays_still_and_is_turned(self):
        plan = plan_order(self.panel, brake("leaf-2000", costs={"swing": 15}))
        self.assertEqual(held(plan), {"B1": "L2", "B2": "L2"})
        lips = 0.0431  # to the middle of their bends, m
        self.assertAlmostEqual(plan.cost, 84 + 4 + 15 * lips, 2)

    def test_two_people_swing_and_turn_at_twice_the_cost(self):
        long = read_part(part_file((20, 300, 25), width=1300))
        plan = plan_order(long, brake("leaf-2000", costs={"swing": 15}))
        self.assertAlmostEqual(plan.cost - 84, 2 * (4 + 15 * 0.0431), 2)

    def test_a_press_charges_no_swing_and_takes_the_lip_to_the_stop_among_equals(self):
        plan = plan_order(read_part(part_file((300, 25), ((90, "up"),))), press(["Straight 85"], ["V 8"]))
        self.assertEqual((held(plan), plan.cost), ({"B1": "L2"}, 12))


class Judged(SimpleTestCase):
    def jobs(self):
        rng = random.Random(21)
        for n in range(8):
            on = (brake("finger-1270", fingers=FEW, costs={"finger_change": 9, "swing": 60}),
                  press(["Straight 85", "Swan neck 85"], ["V 8", "V 12"]))[n % 2]
            yield Job.of(random_part(rng, 3, 2) if n % 2 else random_tray(rng, 3), on)
        hemmed = part_file([30, 60], [(90, "up")], end_hem={"length": 9, "gap": 0, "direction": "up"})
        yield Job.of(read_part(hemmed), press(["Acute 30"], ["V 8 acute", "Flattener"]))

    def test_wishes_cost_what_trying_every_order_says(self):
        seen = set()
        for n, job in enumerate(self.jobs()):
            prover = Prover(job)
            found = find(prover)
            asked = {STILL: {"larger_still": True}, ONE_SETTING: {"changes": False}}
            for wish in wishes(prover, found):
                least = least_of_all(job, **asked[wish.name])
                seen.add((wish.name, wish.state))
                if least is None:
                    self.assertEqual(wish.state, NONE, n)
                else:
                    self.assertAlmostEqual(wish.price, least[0] - found.cost, 6, n)
                    self.assertIn(wish.state, (KEPT, COSTS) if wish.price < 1e-6 else (COSTS,), n)
        self.assertGreaterEqual(len(seen), 4, seen)

    def test_wishes_taken_are_kept_at_the_least_that_is_left_to_them(self):
        """Both at once, either first: the second as far as the first leaves an order that has it."""
        dearer = refused = 0
        for n, job in enumerate(self.jobs()):
            on, free = [on.brake for on in job.brakes], least_of_all(job)
            both = least_of_all(job, changes=False, larger_still=True)
            alone = {ONE_SETTING: least_of_all(job, changes=False), STILL: least_of_all(job, larger_still=True)}
            for first, second in ((ONE_SETTING, STILL), (STILL, ONE_SETTING)):
                plan = plan_order(job.part, on, important=(first, second))
                kept = next(least for least in (both, alone[first], alone[second], free) if least)
                wanted = [alone[first], both if alone[first] else alone[second]]
                self.assertEqual([row.direct for row in plan.important], [least is not None for least in wanted], n)
                self.assertAlmostEqual(plan.cost, kept[0], 6, n)
                self.assertAlmostEqual(plan.cost, free[0] + sum(row.price for row in plan.important), 6, n)
                dearer += plan.cost > free[0] + 1e-6
                refused += any(not row.direct for row in plan.important)
        self.assertGreater(min(dearer, refused), 0)

    def test_what_the_seconds_go_on_adds_up_step_by_step(self):
        kinds = set()
        route = Job.of(random_tray(random.Random(2), 3), brake("leaf-2000", costs={"move": 20}), brake("finger-1270"))
        equal = Job.of(read_part(part_file([30, 60, 30])), read_press(press_file() | {"costs": {"turn": 0}}))
        dear = {"flip": 100, "move": 1}  # so that it goes to the other brake rather than be turned over
        zed = read_part(part_file([60, 200, 60], [(90, "up"), (90, "down")]))
        over = Job.of(zed, brake("leaf-2000", costs=dear), brake("finger-1270", costs=dear))
        for job in (*self.jobs(), route, equal, over):
            plan = plan_order(job.part, [on.brake for on in job.brakes])
            for step in plan.steps:
                self.assertAlmostEqual(sum(one.seconds for one in step.spent), step.cost, 6)
                kinds |= {one.on for one in step.spent}
            self.assertAlmostEqual(sum(seconds for _, _, seconds in plan.spent), sum(s.cost for s in plan.steps), 6)
            self.assertAlmostEqual(sum(step.cost for step in plan.steps), plan.cost, 6)
            self.assertEqual(type(plan).read(plan.written("mm") | {"feasible": True}).spent, plan.spent)
        self.assertLessEqual({"stroke", "scribed_line", "swing", "turn", "stop_move"}, kinds)

"""Why an order is as it is, what is gauged directly, what cannot be together, what a brake can do, and by hand."""

import itertools
import random

from django.test import SimpleTestCase

from bendcore.errors import Refusal
from bendcore.order.advice.handwork import cut_at, half_made, job_of
from bendcore.order.advice.limits import limits
from bendcore.order.explain.why import alternatives, cannot_be_together, reaches
from bendcore.order.plan import STILL
from bendcore.order.planning import plan_order
from bendcore.order.proof.prover import Prover
from bendcore.order.search.astar import Search
from bendcore.order.search.direct import ways
from bendcore.order.search.finding import find
from bendcore.order.search.horizon import Horizon
from bendcore.order.search.many import _of
from bendcore.order.search.walk import moves
from bendcore.order.states.moves import OPEN, Job, advanced
from bendcore.part import read_part
from bendcore.patience import ENDLESS, Counted
from tests.often import IS_THOROUGH

from .judges import brute_force
from .samples import brake, part_file, press, random_part, random_tray, tray_file

PAIR = (["Straight 85"], ["V 8"])


def in_order(prover: Prover, names):
    """The bends one by one in this order, each held on whichever side it goes; None where one does not."""
    job, made, levels = prover.job, [], prover.job.flat
    for i in names:
        move = next((one for one in moves(job, levels) if one.bends == (i,) and prover.can(levels, one)), None)
        if move is None:
            return None
        made, levels = [*made, move], advanced(levels, (i,), move.to)
    return _of(prover, made)


class Why(SimpleTestCase):
    def test_each_choice_beside_the_best_other_one(self):
        """Judged by trying every order of a strip by name: nothing else at a step is cheaper than is told."""
        part, machine = read_part(part_file([20, 45, 60, 25], [(90, "up")] * 3)), press(*PAIR)
        prover = Prover(Job.of(part, machine))
        found = find(prover)
        told = alternatives(prover, found)
        self.assertEqual([row.step for row in told], [1, 2, 3])
        names = [prover.job.body.bends[step.move.bends[0]].id for step in found.steps]
        for row in told:
            begun = names[:row.step - 1]
            others = [plan_order(part, machine, list(order)) for order in itertools.permutations(names)
                      if list(order[:row.step - 1]) == begun and order[row.step - 1] != names[row.step - 1]]
            costs = [plan.cost - found.cost for plan in others if plan.feasible]
            if row.price is None:
                self.assertEqual(costs, [])
            else:
                self.assertGreaterEqual(row.price, -1e-6)
                self.assertLessEqual(row.price, min(costs, default=row.price) + 1e-6)

    def test_the_fewest_bends_that_cannot_be_together(self):
        walls = {side: {"height": 40, "lip": {"width": 18, "direction": "in"}}
                 for side in ("left", "right", "front", "back")}
        for part, machine in ((tray_file(300, 240, walls), brake("finger-1270")),
                              (part_file([80, 40, 80]), press(*PAIR))):
            prover = Prover(Job.of(read_part(part), machine))
            some = {prover.job.body.index[name] for name in cannot_be_together(prover)}
            self.assertGreater(len(some), 1)
            self.assertFalse(reaches(prover, some))
            for i in some:
                self.assertTrue(reaches(prover, some - {i}))

    def test_what_is_left_is_never_told_too_high(self):
        """From the start, and again after all that a search has struck out, against every order tried."""
        rng, more = random.Random(4), 0
        for n in range(10):
            part = random_part(rng, 4, 2) if n % 2 else random_tray(rng, 4)
            job = Job.of(part, press(*PAIR) if n % 2 else brake("finger-1270"))
            least, horizon = brute_force(job), Horizon(Prover(job))
            search = Search(Prover(job), job.made, None, horizon)
            before = search.least
            search.run()
            after = search.least
            self.assertLessEqual(before, after)
            more += after > before
            if least is not None:
                self.assertLessEqual(after - search.slack, least + 1e-6)
        self.assertGreater(more, 3)

    def test_a_stop_not_yet_set_and_a_line_cost_no_move_of_the_stop(self):
        """Legs longer than the stop reaches are bent at a line: of every order, the rest from each of its steps on."""
        for legs, angles in (([1100, 150, 700], (45, 45)), ([700, 80, 700, 700], (30, 45, 45)),
                             ([40, 900, 1200], (90, 90))):
            job = Job.of(read_part(part_file(legs, [(angle, "up") for angle in angles])), press(*PAIR))
            prover, lines = Prover(job), 0
            search = Search(prover, job.made, None, Horizon(prover))
            self.assertLessEqual(search.least - search.slack, brute_force(job) + 1e-6)
            for names in itertools.permutations(range(job.count)):
                found = in_order(prover, names)
                for n, step in enumerate(found.steps if found else (), 1):
                    rest = sum(one.cost for one in found.steps[n:])
                    after = advanced(step.before, step.move.bends, step.move.to)
                    self.assertLessEqual(search._to_come(after, step.lie), rest + search.slack, (legs, names, n))
                    lines += step.gauge.stop is None
            self.assertGreater(lines, 0)

    def test_what_is_struck_out_is_impossible_wherever_it_is(self):
        rng = random.Random(12)
        part = random_tray(rng, 5)
        job = Job.of(part, brake("finger-1270"))
        prover, horizon = Prover(job), Horizon(Prover(job))
        Search(prover, job.made, None, horizon).run()
        judge, struck = Prover(job), 0
        for levels in itertools.product(*[(0, *job.stages(i)) for i in range(job.count)]):
            for move in moves(job, levels):
                if not horizon.may(levels, move):
                    struck += 1
                    self.assertFalse(judge.can(levels, move), (levels, move))
        self.assertGreater(struck, 0)
        self.assertTrue(prover.can((OPEN,) * job.count, next(moves(job, job.flat))))


class Direct(SimpleTestCase):
    def test_a_leg_is_gauged_directly_and_the_price_is_the_least(self):
        part, machine = read_part(part_file([14, 40, 120, 40, 14], [(90, "up")] * 4)), press(*PAIR)
        best = plan_order(part, machine)
        for name in ("L1", "L5", "L2") if IS_THOROUGH else ("L1", "L2"):  # the part is the same from either end
            plan = plan_order(part, machine, important=(name,))
            row, = plan.important
            self.assertTrue(row.direct)
            self.assertAlmostEqual(plan.cost, best.cost + row.price)
            ends = next(leg.ends for leg in part.shape.legs if leg.id == name)
            direct = [step for step in plan.steps if step.bends[0] in ends and step.held == name]
            self.assertTrue(any(step.gauge.kind in ("edge", "face") for step in direct))
            costs = []
            for order in itertools.permutations([bend.id for bend in part.shape.bends]):
                tried = plan_order(part, machine, list(order), important=(name,))
                costs += [tried.cost] if tried.feasible and tried.important[0].direct else []
            self.assertAlmostEqual(plan.cost, min(costs))

    def test_what_is_kept_to_stays_when_more_is_asked_for(self):
        """The leg in the middle is on the larger side of both its bends: it is at the stop, or the smaller side is."""
        part, machine = read_part(part_file([14, 40, 120, 40, 14], [(90, "up")] * 4)), press(*PAIR)
        for asked, kept in ((("L3",), [True]), ((STILL,), [True]), ((STILL, "L3"), [True, False]),
                            (("L3", STILL), [True, False]), ((STILL, "L1"), [True, True])):
            plan = plan_order(part, machine, important=asked)
            self.assertEqual([row.direct for row in plan.important], kept, asked)
            if asked[0] == STILL:
                self.assertEqual({step.bends[0]: step.held for step in plan.steps},
                                 {"B1": "L1", "B2": "L2", "B3": "L4", "B4": "L5"})

    def test_what_cannot_be_gauged_directly_is_said(self):
        plan = plan_order(read_part(tray_file()), brake("finger-1270"), important=("left",))
        self.assertFalse(plan.important[0].direct)
        self.assertIn("no stop", plan.important[0].why)
        strip, machine = read_part(part_file()), press(*PAIR)
        row, = plan_order(strip, machine, important=("across",)).important
        self.assertIn("no leg", row.why)
        with self.assertRaises(Refusal):
            plan_order(strip, machine, important=("roof",))
        with self.assertRaises(Refusal):
            ways(Job.of(strip, machine), "B1")


class ByHand(SimpleTestCase):
    def test_a_bend_half_made_keeps_its_metal(self):
        part = read_part(part_file([150, 40, 150]))
        bend = half_made(part.sheet.bends[0])
        self.assertAlmostEqual(bend.figures.allowance, part.sheet.bends[0].figures.allowance)
        self.assertAlmostEqual(bend.figures.k, part.sheet.bends[0].figures.k)
        self.assertEqual(bend.figures.angle, 45)
        job = job_of(part, part.sheet, [press(*PAIR)])
        self.assertEqual(job.body.flat.size, part.flat.size)

    def test_a_part_cut_in_two_loses_nothing_but_the_bend(self):
        sheet = read_part(tray_file()).sheet
        for bend in sheet.bends:
            one, other = cut_at(sheet, bend)
            self.assertEqual({f.id for f in one.faces} | {f.id for f in other.faces}, {f.id for f in sheet.faces})
            self.assertEqual(len(one.bends) + len(other.bends) + 1, len(sheet.bends))


class Limits(SimpleTestCase):
    def test_a_limit_holds_and_a_little_more_does_not(self):
        machine = brake("finger-1270")
        for limit in limits(tray_file(), machine):
            self.assertIsNotNone(limit.size)
            sizes = {"highest-wall": lambda size: tray_file(300, 300, _walls(size)),
                     "narrowest-tray": lambda size: tray_file(size, size, _walls(25)),
                     "deepest-channel": lambda size: part_file([size, 60, size], radius=1.2, springback=1.0),
                     "shortest-leg": lambda size: part_file([size, 60], [(90, "up")], radius=1.2, springback=1.0)}
            way = -2.0 if limit.name in ("narrowest-tray", "shortest-leg") else 2.0
            for size, wanted in ((limit.size, True), (limit.size + way, False)):
                part = read_part(sizes[limit.name](size))
                prover = Prover(Job.of(part, machine))
                self.assertEqual(reaches(prover, set(range(prover.job.count))), wanted, (limit, size))
        unhurried, seen = limits(tray_file(), machine), set()
        for steps in (0, 3, 40, 200, 700):
            for limit, true in zip(limits(tray_file(), machine, Counted(steps, ENDLESS)), unhurried, strict=True):
                seen.add((limit.unfinished, limit.size is None))
                if not limit.unfinished:
                    self.assertEqual(limit, true)
                elif limit.size is not None:  # what is told does, if not as well as can be
                    way = 1 if true.name in ("narrowest-tray", "shortest-leg") else -1
                    self.assertGreaterEqual(way * (limit.size - true.size), 0, (steps, limit))
        self.assertLessEqual({(True, True), (True, False), (False, False)}, seen)
        none = {limit.name: limit.size for limit in limits(tray_file(), brake("leaf-2000"))}
        self.assertIsNone(none["highest-wall"])  # a solid beam


def _walls(height) -> dict:
    return {side: {"height": height} for side in ("left", "right", "front", "back")}



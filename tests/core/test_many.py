"""Parts with more bends than can be looked through get an order soon, and better ones while there is patience."""

import itertools
import math
import random
import sys
import time

from django.test import SimpleTestCase

from bendcore.order.planning import plan_order
from bendcore.order.proof.bounds import StopMoves
from bendcore.order.proof.gauge import bearing, bearing_ever
from bendcore.order.proof.prover import Prover
from bendcore.order.search.astar import Search
from bendcore.order.search.finding import MOST_BENDS, find
from bendcore.order.search.many import _let_go
from bendcore.order.search.walk import moves
from bendcore.order.states.moves import MADE, SIDES, Job, Lie, Move, advanced
from bendcore.part import read_part
from bendcore.patience import Counted, Patience, Turn
from tests.core.plates import plate_file
from tests.core.samples import brake, part_file, press, random_part
from tests.core.test_section import FaceByFace
from tests.core.test_why import in_order
from tests.core.transitions import square_to_round_file
from tests.often import often

SOON = 10.0


def long_strip(rng: random.Random, most: int = 40) -> dict:
    n = rng.randint(MOST_BENDS + 1, most)
    return part_file([rng.randint(20, 60) for _ in range(n + 1)],
                     [(rng.choice([10, 20, 30, 45]), rng.choice(["up", "down"])) for _ in range(n)],
                     width=rng.choice([200, 600]))


def many_sided_plate(rng: random.Random, most: int = 40) -> dict:
    """A large plate of as many sides as flanges, with a return on each."""
    n = rng.randint(13, most // 2)
    outline = [[700 * math.cos(2 * math.pi * k / n), 700 * math.sin(2 * math.pi * k / n)] for k in range(n)]
    back = {"return": {"length": 15, "direction": rng.choice(["up", "down"])}}
    flanges = [{"edge": k + 1, "length": 30, "direction": "up"} | back for k in range(n)]
    return plate_file(outline=outline, flanges=flanges)


def has_an_order(job: Job, rng: random.Random, seconds: float) -> bool:
    """Found by making whatever can be made next: what is farthest out first, then at random, over and over."""
    prover, until, first = Prover(job), time.monotonic() + seconds, True
    while time.monotonic() < until:
        levels = job.flat
        while levels != job.made and time.monotonic() < until:
            some = list(moves(job, levels))
            if not first:
                rng.shuffle(some)
            move = next((move for move in some if prover.can(levels, move)), None)
            if move is None:
                break
            levels = advanced(levels, move.bends, move.to)
        if levels == job.made:
            return True
        first = False
    return False


class First(Patience):
    """Over as soon as any order is known."""

    known = False

    def note(self, **how_far):
        self.known |= "best" in how_far

    def __call__(self):
        return self.known or super().__call__()


class Many(SimpleTestCase):
    def test_a_strip_of_26_bends_gets_an_order_that_can_be_made(self):
        rng = random.Random(10)
        job = Job.of(read_part(long_strip(rng)), press(["Straight 85"], ["V 8"]))
        self.assertTrue(has_an_order(job, rng, 120))
        found = find(Prover(job), patience=First(12 * SOON))
        self.assertTrue(found.complete)
        judge, levels = FaceByFace(job), job.flat
        for step in found.steps:
            self.assertEqual(levels, step.before)
            self.assertTrue(judge.can(levels, step.move), step.move)
            levels = advanced(levels, step.move.bends, step.move.to)
        self.assertEqual(levels, job.made)
        self.assertAlmostEqual(found.cost, sum(step.cost for step in found.steps))
        strokes = len(found.steps) * job.brakes[0].costs.stroke
        self.assertLessEqual(strokes + StopMoves(job).to_come(job.flat, Lie().stop), found.bound + 1e-6)
        self.assertLess(found.bound, found.cost)

    def test_wherever_the_stop_may_stand_is_foreseen(self):
        rng = random.Random(4)
        for _ in range(often(30)):
            job = Job.of(random_part(rng, 7, 3), press(["Straight 85"], ["V 8"]))
            for _ in range(8):
                half = job.body.half((rng.randrange(job.count),), rng.choice(SIDES))
                levels = tuple(rng.choice((0, *job.stages(i))) for i in half.bends)
                self.assertLessEqual(set(bearing(job, half, levels, 20.0)), set(bearing_ever(job, half, 20.0)))

    def test_a_search_ends_when_it_is_told_to_and_steps_are_not_counted_for_it(self):
        class Told(Patience):
            def is_late(self):
                return True

        part = read_part(part_file([25, 40, 60, 35], [(90, "up")] * 3))
        prover = Prover(Job.of(part, press(["Straight 85"], ["V 8"])))
        search = Search(prover, prover.job.made, None)
        self.assertIsNone(search.run(Told(60)))
        self.assertEqual(search.looked, 0)
        counted = Counted(1, Patience(60))
        self.assertFalse(counted.is_late() or counted.is_late() or counted())
        self.assertTrue(counted() and not counted.is_late())
        self.assertTrue(Counted(1, Told(60)).is_late())
        self.assertFalse(Turn(0.0, whole=Patience(60)).is_late())
        self.assertFalse(Patience(60).within(0.5)())
        self.assertTrue(Patience(-1).within(0.5)() and Patience(60).within(-1.0)())
        whole = Counted(4, Patience(60))
        half = whole.within(0.5)
        self.assertEqual([half(), half(), half()], [False, False, True])
        self.assertEqual([whole(), whole(), whole()], [False, False, True])  # two of its steps were the half's

    def test_where_no_bend_can_be_last_that_is_the_reason(self):
        """A square to round in one piece, of too many bends to look through: closed, it stands round every tool."""
        job = Job.of(read_part(square_to_round_file()), brake("finger-1270"))
        begun = time.monotonic()
        plan = plan_order(job.part, brake("finger-1270"), patience=Patience(12 * SOON))
        self.assertLess(time.monotonic() - begun, 6 * SOON)
        self.assertFalse(plan.feasible or plan.optimal)
        self.assertEqual((plan.reasons[0].code, plan.reasons[0].bend), ("last", ""))
        judge = FaceByFace(job)
        for i, side in itertools.product(range(job.count), SIDES):
            before = tuple(0 if j == i else level for j, level in enumerate(job.made))
            self.assertFalse(judge.can(before, Move(0, (i,), MADE, side)), (i, side))

    def test_it_gets_cheaper_while_one_watches(self):
        class Watching(Patience):
            def note(self, **how_far):
                costs.extend([how_far["best"]] if "best" in how_far else [])

            def __call__(self):
                return len(costs) > 1 and costs[-1] < costs[0] or super().__call__()

        costs, job = [], Job.of(read_part(long_strip(random.Random(10))), press(["Straight 85"], ["V 8"]))
        found = find(Prover(job), patience=Watching(12 * SOON))
        self.assertEqual(costs, sorted(costs, reverse=True))
        self.assertLess(costs[-1], costs[0])
        self.assertLessEqual(found.cost, costs[-1])

    def test_letting_a_few_strokes_go_makes_the_dearest_order_the_cheapest(self):
        """Of a strip whose orders are all tried: no more strokes than are let go, so that one step must find it."""
        job = Job.of(read_part(part_file([25, 40, 60, 35, 25], [(90, "up"), (45, "down"), (45, "up"), (90, "down")])),
                     press(["Straight 85"], ["V 8"]))
        prover = Prover(job)
        orders = [in_order(prover, names) for names in itertools.permutations(range(job.count))]
        best, worst = find(prover), max((one for one in orders if one), key=lambda one: one.cost)
        self.assertGreater(worst.cost, best.cost + 1)
        self.assertAlmostEqual(_let_go(prover, worst, 0, Patience(12 * SOON)).cost, best.cost)
        self.assertIsNone(_let_go(prover, best, 0, Patience(12 * SOON)))


def told(count: int, seed: int) -> None:
    """Of random parts that have an order, how many get one, and how soon."""
    rng, soon, rows = random.Random(seed), 0, []
    while len(rows) < count:
        data = (long_strip if rng.random() < 0.7 else many_sided_plate)(rng, 60)
        job = Job.of(read_part(data), press(["Straight 85"], ["V 8"]))
        if not MOST_BENDS < job.count <= 60 or not has_an_order(job, rng, 40):
            continue
        begun = time.monotonic()
        found = find(Prover(job), patience=First(4 * SOON))
        rows.append(time.monotonic() - begun)
        soon += found.complete and rows[-1] < SOON
        print(f"{job.count} bends: {'cost ' + format(found.cost, '.0f') if found.complete else 'none'}, none under "
              f"{found.bound:.0f}, {rows[-1]:.1f} s", flush=True)
    print(f"{soon} of {count} in {SOON:.0f} s, worst {max(rows):.1f} s")


if __name__ == "__main__":
    told(int(sys.argv[1]) if len(sys.argv) > 1 else 40, int(sys.argv[2]) if len(sys.argv) > 2 else 1)

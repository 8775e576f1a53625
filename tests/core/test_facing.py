"""Left is the operator's left: what is drawn from before the brake, and said of it, is no mirror image."""

import random
from collections import Counter

import numpy as np
from django.test import SimpleTestCase

from bendcore.errors import Refusal
from bendcore.floor.setup import set_ups
from bendcore.order.explain.frames import instants
from bendcore.order.explain.scene import TOOL, solids
from bendcore.order.plan import Placed, Tooling
from bendcore.order.planning import plan_order
from bendcore.order.proof.needs import asked
from bendcore.order.proof.prover import Prover
from bendcore.order.states.facing import LEFT, RIGHT, along
from bendcore.order.states.moves import SIDES, Job, Move
from bendcore.part import read_part
from tests.core.guards import random_guard
from tests.core.panels import sound_panels
from tests.core.plates import random_plate
from tests.core.samples import brake, part_file, press
from tests.core.trays import random_tray, tray_file


def parts(count, seed):
    rng, found = random.Random(seed), []
    while len(found) < count:
        try:
            part = read_part(rng.choice((random_tray, random_plate, random_guard, sound_panels))(rng))
            part.flat.faces  # noqa: B018
        except Refusal:
            continue
        found.append(part)
    return found


class FromBeforeTheBrake(SimpleTestCase):
    def pictured(self, job, i, side):
        """Where faces lie in the flat, and in the picture before a bend of the flat sheet, (n, 2) each."""
        move = Move(0, (i,), job.stages(i)[0], side)
        step = Placed((job.body.bends[i].id,), 90.0, job.body.face_at(i, side), None, Tooling(None, None, ()))
        found = solids(Prover(job), job.flat, move, 0, step, instants(job.stroke(move.bends, move.to))[0])
        found.sort(key=lambda one: np.linalg.norm(np.ptp(one.faces[0], axis=0)))
        whole = {one.name: one.faces[0] for one in found if one.kind != TOOL}  # the largest piece of each face
        return (np.array([np.mean(job.part.flat.faces[name], axis=0) for name in whole]),
                np.array([ring.mean(axis=0)[:2] for ring in whole.values()]))

    def test_the_sheet_lies_before_the_operator_as_it_is_and_not_as_its_mirror(self):
        seen: Counter = Counter()
        for part in parts(16, 4):
            job = Job.of(part, brake("finger-1270"))
            for i, bend in enumerate(job.body.bends):
                for side in SIDES:
                    flat, shown = self.pictured(job, i, side)
                    if len(flat) < 3:
                        continue
                    turn = (flat - flat.mean(axis=0)).T @ (shown - shown.mean(axis=0))
                    spread = np.linalg.svd(turn, compute_uv=False)
                    if spread[1] < 0.02 * spread[0]:
                        continue  # nearly all in a row: where pieces have their middles tells more than they do
                    top_up = 1 if bend.sign > 0 else -1  # seen from above the other side is a mirror image
                    self.assertEqual(np.sign(np.linalg.det(turn)), top_up, (bend.id, side))
                    seen[side, bend.sign] += 1
        self.assertEqual(len(seen), 4, seen)

    def test_pieces_stay_where_they_stand_whichever_half_is_held(self):
        on = press(["Straight 85"], ["V 8"])
        bends = [(90, "up"), (90, "down"), (90, "down"), (90, "up")]
        part = read_part(part_file([18, 24, 48, 24, 18], bends, width=480))
        plan = plan_order(part, on)
        ways = {along(part.flat, step.bends[0], step.held) for step in plan.steps}
        self.assertEqual(len(ways), 2)
        sheet, = set_ups(part, plan.steps, [on])
        self.assertEqual(len(sheet.mounted), 1)
        told = sorted((round(p.start, 3), round(p.end, 3)) for p in sheet.mounted[0].pieces[0][1])
        self.assertNotEqual(told, sorted((-high, -low) for low, high in told))  # else nothing would be seen
        for step in plan.steps:
            way = along(part.flat, step.bends[0], step.held)
            ends = [(way * (p.start - 240), way * (p.end - 240)) for p in step.tools.of("punch")]
            self.assertEqual(sorted((round(min(span), 3), round(max(span), 3)) for span in ends), told)

    def test_the_set_up_says_where_the_pieces_are_that_the_picture_shows(self):
        walls = {"left": {"height": 30}, "front": {"height": 30, "lip": {"width": 10, "direction": "in"}},
                 "back": {"height": 30}}
        rails = [part_file([18, 24, 48], [(90, one), (90, other)], width=480)
                 for one in ("up", "down") for other in ("up", "down")]
        on = press(["Straight 85"], ["V 8"])
        works = [(tray_file(walls=walls), brake("finger-1270")), *((rail, on) for rail in rails)]
        ways = {self.told_and_shown(read_part(data), on) for data, on in works}
        self.assertEqual(ways, {RIGHT, LEFT})

    def told_and_shown(self, part, on) -> int:
        """The first mounting as it is told and as the picture has it; which way the line runs there."""
        plan = plan_order(part, on)
        step, prover = plan.steps[0], Prover(Job.of(part, on))
        job, told = prover.job, set_ups(part, plan.steps, [on])[0].mounted[0]
        i = job.body.index[step.bends[0]]
        side = next(s for s in SIDES if step.held == job.body.face_at(i, s))
        move = Move(0, (i,), job.stages(i)[0], side)
        mounts = job.brakes[0].mounts
        mount = next((n for n, tools in enumerate(mounts) if getattr(tools, "key", None) == step.tools.key), 0)
        shown = solids(prover, job.flat, move, mount, step, instants(job.stroke((i,), move.to))[0])
        middle = job.way(move) * sum(job.reach((i,))) / 2
        for group, pieces in told.pieces:
            names = (group, getattr(getattr(mounts[mount], group, None), "name", group))
            xs = [np.concatenate(one.faces[:2])[:, 0] - middle for one in shown if one.name in names]
            self.assertEqual({(round(float(x.min()), 3), round(float(x.max()), 3)) for x in xs},
                             {(round(p.start, 3), round(p.end, 3)) for p in pieces}, group)
        return job.way(move)

    def test_pieces_beside_walls_in_gaps_are_asked_for_from_left_to_right(self):
        part = read_part(tray_file())
        job = Job.of(part, press(["Straight 85"], ["V 8"]))
        prover = Prover(job)
        for i in range(job.count):
            low, high = job.lines((i,))[0]
            barred = {group: ((low + 20, low + 24),) for group in ("punch", "die")}
            both = [prover.asks(job.brakes[0], 0, Move(0, (i,), 2, side), barred) for side in SIDES]
            if None not in both:
                self.assertEqual([(group, asks[::-1]) for group, asks in both[0]], list(both[1]))
                self.assertNotEqual(both[0], both[1])
        self.assertEqual(asked(()), ())

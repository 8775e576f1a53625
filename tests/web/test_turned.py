"""How the sheet is turned between strokes, as it is drawn: it ends where the next stroke begins, and goes over where
the order says so."""

import json
import random
from collections import Counter

import numpy as np
from django.test import SimpleTestCase

from bendcore.brakes.brake import read_brake
from bendcore.order.explain.turning import Turning, part_of
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.patience import Counted, Patience
from dorvan.drawings.turned import turned_svg
from dorvan.tickets.results import in_brake
from tests.core.samples import ROOT, part_file, press_file
from tests.core.trays import random_tray
from tests.often import often
from tests.web.base import ShopCase


class Turned(SimpleTestCase):
    def orders(self):
        """(part, brake's file, steps) of random strips and trays that can be bent."""
        rng = random.Random(8)
        leaf, press = (ROOT / "demo" / "leaf-2000.json").read_text("utf-8"), json.dumps(press_file())
        for n in range(often(60)):
            part, file = (random_tray(rng), leaf) if n % 6 == 0 else (part_file(
                [rng.randint(30, 90) for _ in range(4)],
                [(90, rng.choice(("up", "down"))) for _ in range(3)]), rng.choice((leaf, press)))
            plan = plan_order(read_part(part), read_brake(json.loads(file)), patience=Counted(200, Patience(30)))
            if plan.feasible:
                yield part, file, plan.steps

    def test_it_ends_where_the_next_stroke_begins_and_goes_over_where_the_order_says_so(self):
        seen = Counter()
        for part, file, steps in self.orders():
            for n in range(1, len(steps)):
                found = in_brake.turned(part, (file,), steps, n)
                if not steps[n].is_turned:
                    continue
                lay, turning = found
                over = any("over" in str(note) for note in steps[n].notes)
                way = turning.at(turning.centre + np.array([[0, 0, 0], [0, 0, 1.0]]))
                self.assertEqual((way[1] - way[0])[2] < -0.1, over, steps[n].notes)
                seen[over] += 1
                lies = in_brake.scene(part, (file,), steps, n, 0)
                ends, here = (np.concatenate([face for one in part_of(bodies) for face in one.faces])
                              for bodies in (lies, turning.of(part_of(lay), 1.0)))
                for points in (ends, here):  # along the brake each stroke is reckoned from its own bend
                    points[:, 0] -= points[:, 0].min()
                away = [ends.min(axis=0) - here.min(axis=0), ends.max(axis=0) - here.max(axis=0)]
                self.assertLess(np.abs(away).max(), 0.05 * ends.max() + 2, (part, n))
        self.assertGreater(min(seen[True], seen[False]), 0)
        self.assertIsNone(in_brake.turned(part, (file,), steps, 0))

    def test_a_movement_begins_where_it_is_goes_evenly_and_keeps_lengths(self):
        rng = np.random.default_rng(2)
        points = rng.normal(size=(9, 3))
        for _ in range(often(20)):
            axis = rng.normal(size=3)
            turning = Turning(points.mean(axis=0), axis / np.linalg.norm(axis), rng.uniform(0.1, 3.1),
                              rng.normal(size=3))
            np.testing.assert_allclose(turning.at(points, 0), points)
            for share in (0.3, 1.0):
                moved = turning.at(points, share)
                np.testing.assert_allclose(np.linalg.norm(moved[1:] - moved[:-1], axis=1),
                                           np.linalg.norm(points[1:] - points[:-1], axis=1))
            half = Turning(turning.centre, turning.axis, turning.angle / 2, turning.shift / 2)
            np.testing.assert_allclose(turning.at(points, 0.5), half.at(points))


class Seen(ShopCase):
    def test_a_card_shows_how_the_sheet_is_turned_where_it_is(self):
        part = part_file((40, 90, 60, 120, 50), [(90, "up"), (90, "up"), (60, "down"), (90, "down")])
        type(self.ticket).objects.filter(number=7).update(part=part, punch="", die="")
        self.release()
        steps = self.client.get("/t/7/bend/?step=2").context["revision"].plan.steps
        turned = [step.is_turned for step in steps]
        self.assertEqual((turned[0], set(turned[1:])), (False, {True, False}))
        for n, is_turned in enumerate(turned, 1):
            page = self.client.get(f"/t/7/bend/?step={n}")
            self.assertEqual("First: how to turn the" in page.content.decode(), is_turned, n)
        self.assertEqual(self.client.get("/t/7/bend/1/turned.svg").status_code, 404)
        n = turned.index(True)
        picture = self.client.get(f"/t/7/bend/{n + 1}/turned.svg").content.decode()
        self.assertEqual((picture.count("<g opacity"), picture.count("stroke-linecap")), (4, 1))
        lay, turning = in_brake.turned(part, (self.brake.file,), steps, n)
        self.assertEqual(picture, turned_svg(lay, turning))

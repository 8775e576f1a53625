"""Openings across a bend: where they are in the blank, what they take of the solid, what is told."""

import math
import random

import shapely
from django.test import SimpleTestCase
from shapely import Polygon, box

from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.families.panels.opened import as_panels
from bendcore.formats.export import export
from bendcore.formats.solid import folded_mesh
from bendcore.part import read_part
from tests.core.panels import panels_file
from tests.often import often

BASE = [[0, 0], [100, 0], [100, 60], [0, 60]]


def part_with(openings, angle=90, direction="up", turned=1, **shape):
    return read_part(panels_file([{"edge": 2, "length": 30, "angle": angle, "direction": direction}], BASE[::turned],
                                 thickness=1.5, radius=2.0, openings=openings, **shape))


class Across(SimpleTestCase):
    def test_the_blank_has_it_whole_and_the_solid_loses_what_arithmetic_says(self):
        rng, seen = random.Random(2), 0
        while seen < often(45):
            angle, way, turned = rng.choice([90, 60, 120]), rng.choice(["up", "down"]), rng.choice([1, -1])
            n, size, x = rng.randint(3, 9), rng.uniform(1, 9), rng.uniform(12, 45)
            y = rng.uniform(-4, 9)
            turns = sorted(rng.uniform(0, 2 * math.pi) for _ in range(n))
            ring = [[x + size * math.cos(a), y + size * math.sin(a)] for a in turns]
            if Polygon(ring).area < 1:
                continue
            plain = part_with([], angle, way, turned)
            bend = plain.sheet.bends[0].figures
            # up from the outside of the bend to across from the parent's tangent line
            zone = box(0, 0, 60, bend.allowance)
            told = Polygon([(u, v - bend.outside_setback + bend.allowance) for u, v in ring])
            try:
                part = part_with([{"on": 1, "outline": ring}], angle, way, turned)
            except Refusal:
                self.assertFalse(box(1, -40, 59, bend.allowance + 20).covers(told) and (told & zone).area > 1)
                continue
            hole, = part.flat.holes
            laid = Polygon([(y if turned > 0 else 60 - y, x - 100 + bend.outside_setback) for x, y in hole.outline()])
            self.assertLess(laid.symmetric_difference(told).area, 1e-6)
            gone = 1.5 * ((told - zone).area + (told & zone).area * math.radians(angle) * (2.0 + 0.75) / bend.allowance)
            before, after = folded_mesh(plain), folded_mesh(part)
            self.assertTrue(after.is_watertight, ring)
            # a notch that comes less than 0.05 mm into a face is let lie on its tangent line
            self.assertAlmostEqual(before.volume - after.volume, gone, delta=0.01 * gone + 0.1)
            crossing = [n for n in check_part(part) if n.code == "opening"]
            self.assertEqual(len(crossing), int((told & zone).area > 1e-6), ring)
            if crossing:
                low, _, high, _ = (told & zone).bounds
                self.assertAlmostEqual(float(str(crossing[0].message).split()[0]), high - low, delta=0.01)
            seen += 1

    def test_several_on_one_bend_and_one_from_the_base(self):
        part = part_with([{"on": 1, "outline": [[10, -4], [20, -4], [20, 6], [10, 6]]},
                          {"outline": [[94, 30], [99, 30], [99, 40], [94, 40]]}],
                         holes=[{"on": 1, "x": 50, "y": 1, "diameter": 9}, {"x": 30, "y": 30, "diameter": 6}])
        self.assertTrue(folded_mesh(part).is_watertight)
        self.assertEqual((len(part.sheet.bends[0].openings), len(part.flat.holes)), (3, 4))
        self.assertIn("LWPOLYLINE", export(part, "dxf"))
        again = read_part(panels_file([], thickness=1.5, radius=2.0) | {"shape": as_panels(part.sheet, 2.0)})
        self.assertAlmostEqual(folded_mesh(again).volume, folded_mesh(part).volume, delta=0.5)
        self.assertEqual(len(again.sheet.bends[0].openings), 3)

    def test_what_leaves_the_sheet_or_crosses_two_bends_is_refused(self):
        for ring in ([[-3, 2], [9, 2], [9, 8]], [[10, 26], [20, 26], [20, 34]], [[56, -4], [63, -4], [60, 8]]):
            with self.assertRaisesMessage(Refusal, "must not run into a bend or off the edge"):
                part_with([{"on": 1, "outline": ring}])
        with self.assertRaisesMessage(Refusal, "opening lies across bend"):
            export(part_with([{"on": 1, "outline": [[20, -4], [30, -4], [30, 6]]}]), "step")

    def test_the_proof_that_nothing_meets_goes_on_with_it(self):
        part = part_with([{"on": 1, "outline": [[20, -4], [30, -4], [30, 6]]}])
        self.assertEqual(part.conflicts, ((), ()))
        self.assertTrue(shapely.is_valid(Polygon(part.flat.outline)))

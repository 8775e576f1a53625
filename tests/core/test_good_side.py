"""The side that is to be spared: where it lies, what touches it, and how its blank lies on the sheet."""

import json
import random
from dataclasses import replace
from itertools import product

import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon
from shapely.affinity import scale

from bendcore.brakes.brake import read_brake
from bendcore.checks.good_side import parted, where_good
from bendcore.checks.rules import check_part
from bendcore.cutting.pieces import pieces_of
from bendcore.floor.good_side import good_side
from bendcore.layout.linework import BEND_DOWN, BEND_UP, linework
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.sheet.fold import fold
from bendcore.sheet.solid import BENEATH, TOP, mesh
from tests.often import often

from .panels import random_panels
from .plates import random_plate
from .samples import ROOT, part_file, press
from .trays import random_tray


def spared(data: dict, **stock):
    return read_part(data | {"stock": data["stock"] | stock})


def random_files(seed: int, count: int):
    rng = random.Random(seed)
    for _ in range(count):
        yield rng.choice([random_tray, random_plate, random_panels])(rng)


class Lies(SimpleTestCase):
    def test_film_paint_and_a_brushed_side_lie_up_unless_something_else_is_said(self):
        for said, good, called in (({"finish": "film"}, "up", "film side"),
                                   ({"finish": "painted", "good_side": "down"}, "down", "colour side"),
                                   ({"finish": "brushed", "good_side": "neither"}, "", "brushed side"),
                                   ({"finish": "galvanised"}, "", "good side"), ({}, "", "good side"),
                                   ({"good_side": "down"}, "down", "good side")):
            stock = spared(part_file(), **said).stock
            self.assertEqual((stock.good, stock.good_called), (good, called))

    def test_outside_and_inside_are_those_of_the_folded_part(self):
        """Where the arc of the good side's surface is the longer of the two, it is outside."""
        seen = 0
        for data in random_files(5, often(60)):
            side = "up" if seen % 2 else "down"
            try:
                part = spared(data, good_side=side)
            except ValueError:
                continue
            outside, inside = parted(part)
            self.assertEqual(len(outside) + len(inside), len(part.sheet.bends))
            for bend in fold(part.sheet, facet=3.0).bends:
                top = np.linalg.norm(np.diff(bend.arc.mean(axis=1), axis=0), axis=1).sum()
                below = bend.arc.mean(axis=1) - part.stock.thickness * bend.normals
                beneath = np.linalg.norm(np.diff(below, axis=0), axis=1).sum()
                self.assertEqual((top > beneath) == (side == "up"), bend.id in outside, (bend.id, data))
                seen += 1
            told = [one for one in check_part(part) if one.code == "good-side"]
            self.assertEqual(bool(told), bool(outside and inside))
        self.assertGreater(seen, 60)

    def test_it_is_said_where_it_lies(self):
        hat = part_file([20, 30, 50, 30, 20], [(90, "up"), (90, "down"), (90, "down"), (90, "up")])
        self.assertEqual(where_good(spared(hat, finish="film")),
                         "the film side lies outside at B2, B3, inside at B1, B4")
        self.assertEqual(where_good(spared(part_file(), good_side="down")), "the good side lies outside at every bend")
        self.assertEqual(where_good(read_part(part_file())), "")

    def test_triangles_of_a_side_lie_on_that_side(self):
        seen = 0
        for data in random_files(9, often(24)):
            try:
                part = read_part(data)
            except ValueError:
                continue
            folded = fold(part.sheet, facet=10.0)
            solid, at = mesh(folded), 0
            faces = {face.id: face for face in folded.faces}
            told = solid.as_dict()["faces"]
            for (name, count), (_, whole, top, beneath) in zip(solid.owners, told, strict=True):
                self.assertEqual(whole, count)
                own, sides = solid.triangles[at:at + count], solid.sides[at:at + count]
                at += count
                self.assertEqual([*sides[:top], *sides[top:top + beneath]], [TOP] * top + [BENEATH] * beneath)
                if name in faces:
                    deep = (own - faces[name].corners[0]) @ faces[name].normal
                    np.testing.assert_allclose(deep[sides == TOP], 0, atol=1e-6)
                    np.testing.assert_allclose(deep[sides == BENEATH], -part.stock.thickness, atol=1e-6)
                    self.assertFalse((np.ptp(deep[sides == 0], axis=1) < 1e-6).any())
                    seen += 1
        self.assertGreater(seen, 20)

    def test_the_good_side_of_a_rolled_cone_is_its_outside(self):
        cone = {"kind": "cone", "dims": "outside", "large": 180, "small": 80, "height": 120}
        solid = read_part(part_file() | {"shape": cone}).formed(10.0)
        outer, inner = (np.linalg.norm(solid.triangles[solid.sides == side][..., :2], axis=2).max()
                        for side in (TOP, BENEATH))
        self.assertAlmostEqual(outer, 90, delta=0.2)
        self.assertLess(inner, 89.5)


class AtAStep(SimpleTestCase):
    def test_what_touches_it_follows_from_which_way_the_bend_goes(self):
        hat = part_file([20, 30, 50, 30, 20], [(90, "up"), (90, "down"), (90, "down"), (90, "up")])
        brakes = [press(["Straight 85"], ["V 8"]), *(read_brake(json.loads((ROOT / "demo" / name).read_text("utf-8")))
                                                     for name in ("leaf-2000.json", "bench-bars.json"))]
        meets = {"press": ("punch", "die"), "leaf": ("clamp", "leaf"), "bench": ("bar", "blows")}
        for brake, side in product(brakes, ("up", "down")):
            part = spared(hat, good_side=side)
            steps = plan_order(part, brake).steps
            self.assertTrue(steps)
            for step in steps:
                found = good_side(part, step, brakes)
                above, below = (words in found.mind for words in meets[brake.kind])
                inside = not part.has_good_outside(step.bends[0])
                self.assertEqual((found.up, above, below), (inside, inside, not inside))
                self.assertEqual(good_side(part, replace(step, brake=""), [brake]), found)
        self.assertIsNone(good_side(read_part(hat), step, brakes))


class Cut(SimpleTestCase):
    def test_a_blank_with_its_good_side_down_lies_turned_over_with_all_that_is_cut_out_of_it(self):
        seen = 0
        for data in random_files(13, often(30)):
            try:
                up, down = (spared(data, good_side=side) for side in ("up", "down"))
            except ValueError:
                continue
            one, other = (next(pieces_of(part, "x", 1)) for part in (up, down))
            middle = (one.length / 2, 0)
            self.assertLess(scale(one.shape, -1, 1, origin=middle).symmetric_difference(other.shape).area, 1e-6)
            self.assertTrue(Polygon(other.outline).exterior.is_ccw == Polygon(one.outline).exterior.is_ccw)
            drawn = linework(up)
            over = drawn.turned_over(one.length)
            for before, after in zip(drawn.contours, over.contours, strict=True):
                mirrored = scale(Polygon(before.ring), -1, 1, origin=middle)
                self.assertLess(mirrored.symmetric_difference(Polygon(after.ring)).area, 1e-6 * mirrored.area + 1e-9)
            for before, after in zip(drawn.strokes, over.strokes, strict=True):
                self.assertEqual({BEND_UP: BEND_DOWN, BEND_DOWN: BEND_UP}.get(before.layer, before.layer), after.layer)
                self.assertEqual(" up " in before.label, " down " in after.label)
                self.assertAlmostEqual(before.start[0] + after.start[0], one.length)
            seen += 1
        self.assertGreater(seen, 5)

    def test_arcs_stay_arcs_on_the_same_side_of_their_chords(self):
        shape = {"kind": "panels", "outline": [[0, 0], [120, 0], [120, 60], [0, 60]],
                 "edges": [{"edge": 2, "rise": 12}, {"edge": 3, "rise": -6}]}
        part = read_part(part_file() | {"shape": shape})
        contour = linework(part).turned_over(part.flat.size[0]).contours[0]
        mirrored = scale(Polygon(linework(part).contours[0].ring), -1, 1, origin=(part.flat.size[0] / 2, 0))
        self.assertEqual(sum(bool(bulge) for *_, bulge in contour.corners), 2)
        self.assertLess(mirrored.symmetric_difference(Polygon(contour.ring)).area, 0.05)

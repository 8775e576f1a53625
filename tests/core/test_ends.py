"""Tapered and snipped strips: the blank is cut straight through every zone, and folds as it lies."""

import random

import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.checks import check_part
from bendcore.part import read_part
from bendcore.sheet import fold
from tests.core.samples import order_result, part_file, press
from tests.core.test_commands import run

HEM = {"length": 9, "gap": 0, "direction": "up"}


def strip(**shape):
    data = part_file([40, 60, 30], [(90, "up"), (60, "down")])
    data["shape"] |= shape
    return data


class Ends(SimpleTestCase):
    def test_the_blank_is_a_trapezium(self):
        part = read_part(strip(taper={"front": {"start": 0, "end": 20}, "back": {"start": 5, "end": 30}}))
        long, wide = part.flat.size[0], 300
        wanted = Polygon([(0, 0), (long, 20), (long, wide - 30), (0, wide - 5)])
        self.assertAlmostEqual(Polygon(part.flat.outline).symmetric_difference(wanted).area, 0, 2)
        self.assertAlmostEqual(part.flat.area, wanted.area, 2)
        for bend in part.flat.bends:
            self.assertAlmostEqual(bend.line[0][1], 20 * bend.line[0][0] / long, 6)

    def test_random_ends_keep_the_blank_and_join_in_space(self):
        rng = random.Random(2)
        for n in range(60):
            shape = {"taper": {side: {end: rng.uniform(0, 60) for end in ("start", "end")}
                               for side in ("front", "back")}}
            if rng.random() < 0.7:
                shape["snips"] = {f"{end}_{side}": {"along": rng.uniform(1, 15), "across": rng.uniform(1, 30)}
                                  for end in ("start", "end") for side in ("front", "back")}
            if rng.random() < 0.5:
                shape |= {"start_hem": HEM, "end_hem": HEM}
                shape.get("snips", {}).clear()
            part, plain = read_part(strip(**shape)), read_part(strip(**{k: v for k, v in shape.items() if "hem" in k}))
            with self.subTest(n, shape=shape):
                self.assertAlmostEqual(part.flat.size[0], plain.flat.size[0], 6)
                box = Polygon([(0, 0), (part.flat.size[0], 0), (part.flat.size[0], 300), (0, 300)])
                cut = sum(part.shape.ends.at(side, x) for side in ("front", "back")
                          for x in np.linspace(0, part.flat.size[0], 20001)) / 20001 * part.flat.size[0]
                self.assertAlmostEqual(part.flat.area / (box.area - cut), 1, 4)
                folded = fold(part.sheet)
                faces = {f.id: f.corners for f in folded.faces}
                for joint, bend in zip(part.sheet.bends, folded.bends, strict=True):
                    for name, row in ((joint.parent, bend.arc[0]), (joint.child, bend.arc[-1])):
                        for point in row:
                            self.assertLess(np.linalg.norm(faces[name] - point, axis=1).min(), 1e-6)

    def test_a_bend_with_no_edge_to_gauge_from_is_told_with_a_tab(self):
        def told(outline, line=((60, 0), (60, 80))):
            shape = {"kind": "flat", "outline": outline, "bends": [{"line": line, "direction": "up"}]}
            return [n for n in check_part(read_part(strip() | {"shape": shape})) if n.code == "gauge-edge"]

        slanted = [[0, 0], [140, 0], [120, 80], [20, 80]]
        notice = told(slanted)[0]
        self.assertEqual((notice.where, notice.severity), ("B1", "note"))
        self.assertIn("60.0 mm from it", notice.ways_out[0])
        self.assertEqual(told([[0, 0], [120, 0], [120, 80], [20, 80]]), [])  # one square edge will do

    def test_a_tapered_strip_has_its_order_and_comes_back_from_its_drawing(self):
        data = strip(taper={"front": {"end": 20}}, snips={"start_back": {"along": 5, "across": 12}})
        status, flat, err = run("flat", data)
        self.assertEqual(status, 0, err)
        found = order_result(read_part(data), press(["Straight 85"], ["V 8"]))
        square = order_result(read_part(strip()), press(["Straight 85"], ["V 8"]))
        self.assertEqual([s["bends"] for s in found["steps"]], [s["bends"] for s in square["steps"]])

    def test_a_snip_within_a_zone_or_too_large_is_refused_at_its_field(self):
        for shape, path in (({"snips": {"start_front": {"along": 39, "across": 5}}}, "snips.start_front.along"),
                            ({"snips": {"end_back": {"along": 29.5, "across": 5}}}, "snips.end_back.along"),
                            ({"taper": {"front": {"start": 400}}}, "taper"),
                            ({"taper": {"front": {"start": -1}}}, "taper.front.start"),
                            ({"snips": {"start_front": {"along": 200, "across": 5}}}, "snips"),
                            ({"snips": {"start_front": {"along": 2}}}, "snips.start_front.across")):
            status, _, err = run("flat", strip(**shape))
            self.assertEqual(status, 2)
            self.assertTrue(err.startswith(f"bendcore: shape.{path}:"), err)

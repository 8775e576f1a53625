"""Sleeves: sizes, seams, end flanges, and what does not close."""

import math
import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.part import read_part
from bendcore.sheet import fold
from bendcore.sheet.clash import clashes, flat_overlaps
from tests.core.sleeves import random_sleeve, sleeve_file
from tests.core.test_commands import run
from tests.core.trays import apart


class Sleeves(SimpleTestCase):
    def test_random_sleeves_lie_flat_and_fold_clear(self):
        rng = random.Random(5)
        for n in range(120):
            data = random_sleeve(rng)
            part = read_part(data)
            with self.subTest(n, shape=data["shape"]):
                self.assertEqual(flat_overlaps(part.sheet), [])
                self.assertEqual(list(clashes(part.sheet)), [])

    def outsides(self, part):
        faces = {f.id: f for f in fold(part.sheet).faces}
        panels = [faces[f"P{n}"] for n in (1, 2, 3, 4)]
        points = np.concatenate([np.concatenate([p.corners, p.corners - part.stock.thickness * p.normal])
                                 for p in panels])
        return faces, sorted(np.ptp(points, axis=0).tolist())

    def test_the_section_closes_at_the_size_of_the_drawing(self):
        for seam in ({"kind": "lap", "lap": 15}, {"kind": "butt", "gap": 0.4}):
            _, sizes = self.outsides(read_part(sleeve_file(seam=seam)))
            for got, wanted in zip(sizes, (80, 120, 200), strict=True):
                self.assertAlmostEqual(got, wanted, 6)
        _, inside = self.outsides(read_part(sleeve_file(dims="inside")))
        self.assertAlmostEqual(inside[0], 82)

    def test_a_butt_seam_stands_its_gap_apart(self):
        faces, _ = self.outsides(read_part(sleeve_file(seam={"kind": "butt", "gap": 0.4})))
        self.assertAlmostEqual(apart(faces["P1"], faces["P4"], 1.0), 0.4, 6)

    def test_a_lapped_flap_lies_on_the_first_panel_with_its_rivets(self):
        part = read_part(sleeve_file(seam={"kind": "lap", "lap": 15, "hole": 3, "holes": 4}))
        faces, _ = self.outsides(part)
        flap, panel = faces["S"], faces["P1"]
        self.assertAlmostEqual(abs((flap.corners[0] - panel.corners[0]) @ panel.normal), 1.0 - 0.0, 6)
        self.assertEqual(len(part.flat.holes), 4)

    def test_a_standing_seam_stands_out_as_high_as_given(self):
        part = read_part(sleeve_file(seam={"kind": "standing", "height": 14, "gap": 0.4}))
        faces = {f.id: f for f in fold(part.sheet).faces}
        flange, panel, base = faces["S"], faces["P4"], faces["P1"]
        outer = base.corners[0] - base.normal  # P1's outer face
        for face in (flange, panel):
            out = max(-(c - outer) @ base.normal for c in face.corners)
            self.assertAlmostEqual(out, 14, 6)
        self.assertAlmostEqual(apart(flange, panel, 1.0), 0.4, 6)
        section = [f.corners - f.normal for name, f in faces.items() if name in ("P2", "P4")]
        self.assertAlmostEqual(abs((section[0][0] - section[1][0]) @ faces["P2"].normal), 120, 6)

    def test_flanges_are_measured_from_the_outer_face(self):
        part = read_part(sleeve_file(start_flange={"width": 18, "direction": "out"},
                                     end_flange={"width": 14, "direction": "in"}))
        faces, _ = self.outsides(part)
        out = faces["P1-start"].corners
        outer = (faces["P1"].corners - faces["P1"].normal)[0]
        self.assertAlmostEqual(max(abs((c - outer) @ faces["P1"].normal) for c in out), 18, 6)
        within = faces["P1-end"].corners
        self.assertAlmostEqual(max(abs((c - outer) @ faces["P1"].normal) for c in within), 14, 6)
        long = np.concatenate([f.corners for f in faces.values()] + [f.corners - f.normal for f in faces.values()])
        self.assertAlmostEqual(np.ptp(long[:, 1]), 200, 6)

    def test_the_girth_is_the_sum_of_what_is_drawn(self):
        part = read_part(sleeve_file(seam={"kind": "butt", "gap": 0}))
        figures = part.shape.bends[0].figures
        girth = 120 - 1 + 80 + 120 + 80 - 1 - 3 * figures.deduction
        self.assertAlmostEqual(part.flat.size[0], girth)
        self.assertAlmostEqual(part.shape.developed_length, girth)
        self.assertAlmostEqual(part.shape.openings()[2][2], math.hypot(118, 78))

    def test_what_cannot_be_a_sleeve_is_refused_at_its_field(self):
        wide, narrow = ({"width": size, "direction": "in"} for size in (60, 1))
        for change, path in (({"seam": {"kind": "lap"}}, "seam.lap"),
                             ({"seam": {"kind": "standing"}}, "seam.height"),
                             ({"seam": {"kind": "standing", "height": 9, "lap": 3}}, "seam.lap"),
                             ({"seam": {"gap": -1}}, "seam.gap"),
                             ({"width": 3}, "width"), ({"length": 0}, "length"), ({"lid": 1}, "lid"),
                             ({"seam": {"kind": "lap", "lap": 9, "hole": 20}}, "seam.hole"),
                             ({"seam": {"kind": "butt", "lap": 9}}, "seam.lap"),
                             ({"start_flange": wide}, "start_flange"), ({"end_flange": narrow}, "end_flange.width")):
            status, _, err = run("flat", sleeve_file(**change))
            self.assertEqual(status, 2, change)
            self.assertTrue(err.startswith(f"bendcore: shape.{path}"), err)

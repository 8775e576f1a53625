"""Joints as they follow from parts, measured again on the folded part, and where their places stand."""

import json
import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from bendcore.errors import Refusal
from bendcore.families.joint import KINDS, RIVET, WELD, Joint
from bendcore.joining.assembly import QUALIFIED, hazards, steps
from bendcore.joining.joints import joints_of
from bendcore.joining.spacing import spaced, start_of
from bendcore.part import read_part
from bendcore.sheet import fold
from tests.core.samples import ROOT, part_file
from tests.core.sleeves import sleeve_file
from tests.core.trays import tray_file

DEMO = {row["number"]: row["part"] for row in json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))
        if "part" in row}


def of(part, **mates):
    return joints_of(read_part(part), mates)


class Joints(SimpleTestCase):
    def test_a_trays_corners(self):
        welded = of(tray_file())
        self.assertEqual([(j.kind, j.times, j.length, j.closes) for j in welded], [(WELD, 4, 40, True)])
        riveted = of(tray_file(corners={"style": "tab", "gap": 0.5, "tab": {"width": 14, "hole": 3.3, "holes": 2}}))
        self.assertEqual([(j.kind, j.times, j.count, j.diameter) for j in riveted], [(RIVET, 4, 2, 3.3)])
        three = tray_file(walls={side: {"height": h} for side, h in (("left", 40), ("front", 30), ("right", 40))})
        self.assertEqual([(j.times, j.length) for j in of(three)], [(2, 30)])
        self.assertEqual(of(part_file()), [])

    @given(st.integers(90, 260), st.integers(60, 200), st.integers(80, 400))
    @settings(max_examples=25, deadline=None)
    def test_a_sleeves_seam_and_caps_are_as_long_as_on_the_folded_part(self, width, height, long):
        part = read_part(sleeve_file(width=width, height=height, length=long))
        found = {j.key: j for j in joints_of(part, {"cap": 2})}
        folded = fold(part.sheet, flat=part.flat)
        corners = np.array([p for face in folded.faces for p in face.corners])
        spans = np.ptp(corners, axis=0)
        self.assertAlmostEqual(found["seam"].length, max(spans, key=lambda s: -abs(s - long)), delta=0.2)
        self.assertEqual((found["cap"].times, found["cap"].length), (2, 2 * (width + height)))

    def test_a_transitions_seam_is_the_edge_between_its_corners(self):
        part = DEMO[158]
        shape = part["shape"] | {"pieces": 1}
        for key in ("piece", "seam"):
            shape.pop(key, None)
        found = [j for j in of(part | {"shape": shape}) if j.key.startswith("seam")]
        self.assertEqual(len(found), 1)
        read = read_part(part | {"shape": shape}).shape
        edges = {round(math.dist(*panel.ends(at)), 3) for panel in read.chain
                 for at, (kind, _) in enumerate(panel.edges) if kind == "side"}
        self.assertIn(round(found[0].length, 3), edges)

    def test_a_chain_is_joined_all_round_between_its_pieces(self):
        part = read_part(DEMO[161])
        rows = part.shape.development(1.0)["pieces"]
        found = [j for j in joints_of(part) if j.key.startswith("joint")]
        self.assertEqual(sum(j.times for j in found), len(rows) - 1)
        for n, joint in enumerate(found):
            self.assertAlmostEqual(joint.length, rows[n]["end_edge"])
            self.assertAlmostEqual(joint.length, rows[n + 1]["start_edge"], delta=1e-3)

    def test_every_family_of_the_demo_says_what_it_can(self):
        for part in DEMO.values():
            for joint in of(part, cap=2, side=2):
                self.assertIn(joint.kind, KINDS)
                self.assertGreater(joint.length, 0)
                self.assertGreater(spaced(joint, 1.0).count, 0)


class Spacing(SimpleTestCase):
    @given(st.floats(20, 3000), st.integers(1, 40), st.floats(0, 10))
    @settings(max_examples=80, deadline=None)
    def test_so_many_between_the_ends_stand_equally(self, long, count, end):
        found = spaced(Joint("", "", long, RIVET), 1.0, count=count, end=end)
        self.assertEqual(found.count, count)
        if count > 1:
            self.assertAlmostEqual(found.places[0], end)
            self.assertAlmostEqual(long - found.places[-1], end)
            self.assertLess(np.ptp(np.diff(found.places)), 1e-6)

    @given(st.floats(20, 3000), st.floats(5, 300), st.sampled_from(["rivet", "spot", "screw", "weld"]))
    @settings(max_examples=80, deadline=None)
    def test_none_is_further_from_the_next_than_the_pitch_and_one_fewer_would_be(self, long, pitch, kind):
        found = spaced(Joint("", "", long, kind), 1.0, pitch=pitch)
        if found.count > 1:
            self.assertLessEqual(max(np.diff(found.places)), pitch + 1e-6)
            self.assertTrue(found.count == 2 or (long - 2 * found.end) / (found.count - 2) > pitch - 1e-6)

    def test_starts_say_where_they_are_from_and_what_cannot_be_is_refused(self):
        for kind in KINDS:
            self.assertTrue(start_of(kind, 1.5).source)
        joint = Joint("", "", 100, RIVET, count=3, diameter=3.3)
        self.assertEqual((spaced(joint, 1).count, spaced(joint, 1).source), (3, "the part's own holes"))
        for asked in ({"pitch": 0}, {"end": 60}, {"count": 0}, {"pitch": 0.001}, {"kind": "glue"}):
            with self.assertRaises(Refusal):
                spaced(Joint("", "", 100, RIVET), 1.0, **asked)


class Assembly(SimpleTestCase):
    def test_what_is_squared_first_names_its_diagonals(self):
        part = read_part(tray_file())
        joints = [(j, j.kind) for j in joints_of(part)]
        said = [str(words) for words in steps(part, joints, lined=True, sealed=True)]
        squared = next(n for n, words in enumerate(said) if words.startswith("Square it"))
        diagonal = dict((title[:1].lower() + title[1:], size) for _, title, size in part.shape.openings())
        for title, size in diagonal.items():
            self.assertIn(f"{title} {size:.2f}".rstrip("0"), said[squared])
        order = [next(n for n, words in enumerate(said) if begins in words) for begins in
                 ("Clean the edges", "tack or cleco", "Square it", "Weld in short", "Line or insulate", "Mastic",
                  "Dress")]
        self.assertEqual(order, sorted(order))

    def test_hazards_fit_the_work_and_welds_are_for_qualified_people(self):
        galvanised = read_part(DEMO[151])
        words = list(hazards(galvanised, [WELD], True))
        self.assertIn(QUALIFIED, words)
        self.assertTrue(any("Zinc" in line for line in words) and any("Sealants" in line for line in words))
        self.assertFalse(any("Arc" in line for line in hazards(galvanised, [RIVET], False)))

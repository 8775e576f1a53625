"""Flanged plates: sizes of the drawing, corners, reliefs, holes and slots."""

import io
import math
import random
from itertools import combinations

import ezdxf
import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.checks import check_part
from bendcore.families.twin import mirrored
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.formats.solid import folded_mesh
from bendcore.part import read_part
from bendcore.quality.comparison import compare
from bendcore.sheet import fold
from bendcore.sheet.clash import clashes, flat_overlaps
from bendcore.sheet.measure import between
from bendcore.units import read_length
from tests.core.plates import plate_file, random_plate
from tests.core.samples import part_file
from tests.core.sleeves import random_sleeve
from tests.core.test_commands import run
from tests.core.trays import apart, random_tray


class Plates(SimpleTestCase):
    def test_random_plates_lie_flat_and_fold_clear(self):
        rng = random.Random(5)
        for n in range(150):
            data = random_plate(rng)
            part = read_part(data)
            with self.subTest(n, shape=data["shape"]):
                self.assertEqual(flat_overlaps(part.sheet), [])
                self.assertEqual(list(clashes(part.sheet)), [])
                self.assertEqual(len(part.flat.bends), len(part.shape.bends))
                flanges = [Polygon(part.flat.faces[f.id]) for f in part.shape.flanges]
                for one, other in combinations(flanges, 2):
                    self.assertGreater(one.distance(other), 0.1)  # a cut passes between them

    def test_flanges_that_meet_stand_the_gap_apart(self):
        """Round polygons of any angles, upright and leaning either way; measured edge against edge."""
        rng = random.Random(9)
        for n in range(40):
            count, gap = rng.randint(3, 7), rng.choice([0.2, 0.5, 2.0])
            corners = sorted((i + rng.uniform(-0.25, 0.25)) * 2 * math.pi / count for i in range(count))
            part = read_part(plate_file(
                outline=[[150 * math.cos(a), 150 * math.sin(a)] for a in corners], gap=gap,
                flanges=[{"edge": e + 1, "length": rng.uniform(25, 32), "angle": rng.uniform(80, 100),
                          "direction": "up"} for e in range(count)]))
            faces = fold(part.sheet).faces[1:]
            for one, other in zip(faces, faces[1:] + faces[:1], strict=True):
                with self.subTest(n, one=one.id, shape=part.shape):
                    self.assertAlmostEqual(apart(one, other, 2.0), gap, delta=0.01)

    def test_unlike_flanges_round_a_many_sided_plate_keep_off_each_other(self):
        rng = random.Random(2)
        for count in (12, 24, 40):
            flanges = [{"edge": e + 1, "length": 22, "direction": "up", "angle": rng.choice([90, 60, 75, 100]),
                        "inside_radius": rng.choice([1, 2.5, 4])} for e in range(count)]
            part = read_part(plate_file(flanges=flanges, outline=[
                [300 * math.cos(2 * math.pi * e / count), 300 * math.sin(2 * math.pi * e / count)]
                for e in range(count)]))
            self.assertEqual((flat_overlaps(part.sheet), list(clashes(part.sheet))), ([], []))
            again = read_part(plate_file() | {"shape": read_dxf(export(part, "dxf").encode()).shape})
            self.assertEqual(len(again.sheet.faces), count + 1)

    def test_finished_sizes_are_those_of_the_outline(self):
        """Outsides of two flanges on opposite edges are the outline's width apart; both as high as given."""
        data = plate_file(flanges=[{"edge": e, "length": 30, "direction": "up"} for e in (1, 2, 3, 4)])
        folded = fold(read_part(data).sheet)
        points = np.concatenate([np.concatenate([f.corners, f.corners - 2 * f.normal]) for f in folded.faces])
        for axis, size in enumerate((150, 100, 30)):
            self.assertAlmostEqual(np.ptp(points[:, axis]), size, 6)

    def test_an_outline_drawn_the_other_way_round_is_the_same_part(self):
        flanges = [{"edge": 1, "start": 20, "end": 5, "length": 30, "direction": "up"}]
        corners = [[0, 0], [150, 0], [150, 100], [0, 100]]
        one = read_part(plate_file(outline=corners, flanges=flanges)).flat
        back = [[150, 0], [0, 0], [0, 100], [150, 100]]  # clockwise; edge 1 is the same line, seen from its other end
        other = read_part(plate_file(outline=back, flanges=[flanges[0] | {"start": 5, "end": 20}])).flat
        self.assertAlmostEqual(Polygon(one.outline).symmetric_difference(Polygon(other.outline)).area, 0, 4)

    def test_a_flange_on_part_of_an_edge_gets_reliefs_past_its_tangent_line(self):
        part = read_part(plate_file(flanges=[{"edge": 1, "start": 40, "end": 30, "length": 30, "direction": "up"}],
                                    relief=3))
        plate = Polygon(part.sheet.face["plate"].outline)
        figures = part.shape.bends[0].figures
        deep = figures.outside_setback + figures.inside_radius + 1
        cut = 80 * figures.outside_setback + 2 * 3 * deep
        self.assertAlmostEqual(plate.area, 150 * 100 - cut, 3)

    def test_meeting_flanges_end_where_their_tangents_cross(self):
        part = read_part(plate_file(gap=1, flanges=[{"edge": e, "length": 30, "direction": "up"} for e in (1, 2)]))
        setback = part.shape.bends[0].figures.outside_setback
        spans = [f.span for f in part.shape.flanges]
        self.assertAlmostEqual(spans[0][1], 150 - setback - 0.5)
        self.assertAlmostEqual(spans[1][0], setback + 0.5)

    def test_blanks_by_school_are_those_of_laying_it_out_again(self):
        data = plate_file(flanges=[{"edge": e, "length": 30, "direction": "up"} for e in (1, 3)])
        rows = {r.title: r for r in compare(read_part(data)).speaking}
        again = read_part(data | {"allowance": {"method": "din6935"}}).flat
        self.assertAlmostEqual(rows["DIN 6935"].across, again.size[1], 6)

    def test_slots_and_holes_are_cut_with_true_arcs(self):
        part = read_part(plate_file(holes=[{"x": 40, "y": 60, "diameter": 8}],
                                    slots=[{"x": 100, "y": 60, "length": 30, "width": 8, "angle": 30}]))
        slot = next(h for h in part.flat.holes if h.is_slot)
        self.assertAlmostEqual(Polygon(slot.outline(200)).area, slot.area, 2)
        drawing = ezdxf.read(io.StringIO(export(part, "dxf")))
        cuts = drawing.modelspace().query("LWPOLYLINE[layer=='CUT']")
        found = [p for p in cuts if any(b for *_, b in p.get_points("xyb"))]
        self.assertEqual([abs(b) for *_, b in found[0].get_points("xyb")], [1, 0, 1, 0])
        ends = [(x, y) for x, y, _ in found[0].get_points("xyb")]
        self.assertAlmostEqual(math.dist(ends[0], ends[1]), 8, 6)
        self.assertIn("A4,4 0 0 0", export(part, "svg"))

    def test_the_solid_has_its_holes_and_its_volume(self):
        data = plate_file(flanges=[], holes=[{"x": 40, "y": 60, "diameter": 20}],
                          slots=[{"x": 100, "y": 60, "length": 30, "width": 8, "angle": 30}])
        part = read_part(data)
        solid = folded_mesh(part)
        self.assertTrue(solid.is_watertight)
        self.assertAlmostEqual(solid.volume / (part.flat.area * 2), 1, 3)

    def test_holes_too_near_a_bend_are_told(self):
        def codes(**shape):
            return {n.code: n for n in check_part(read_part(plate_file(**shape)))}
        self.assertIn("hole 1", codes(holes=[{"x": 40, "y": 9, "diameter": 6}])["hole"].where)
        self.assertNotIn("hole", codes(holes=[{"x": 40, "y": 30, "diameter": 6}]))
        flange = {"edge": 1, "length": 30, "direction": "up", "holes": [{"along": 40, "up": 8, "diameter": 5}]}
        self.assertIn("F1", codes(flanges=[flange])["hole"].where)

    def test_what_cannot_be_a_plate_is_refused_at_its_field(self):
        up = {"edge": 1, "length": 30, "direction": "up"}
        for change, path in (({"outline": [[0, 0], [1, 1], [0, 1], [1, 0]]}, "outline"),
                             ({"outline": [[0, 0], [0, 0], [9, 9]]}, "outline[0]"),
                             ({"flanges": [up | {"edge": 9}]}, "flanges[0].edge"),
                             ({"flanges": [up | {"length": 2}]}, "flanges[0].length"),
                             ({"flanges": [up | {"start": 90, "end": 90}]}, "flanges[0].end"),
                             ({"flanges": [up, up]}, "flanges[1].edge"), ({"relief": 0.5}, "relief"),
                             ({"holes": [{"x": 1, "y": 50, "diameter": 9}]}, "holes[0].x"),
                             ({"slots": [{"x": 50, "y": 50, "length": 5, "width": 9}]}, "slots[0].length"),
                             ({"flanges": [up | {"holes": [{"along": 1, "up": 20, "diameter": 5}]}]},
                              "flanges[0].holes[0].along"),
                             ({"outline": [[0, 0], [150, 0], [150, 6], [0, 6]],
                               "flanges": [up, up | {"edge": 3}]}, "flanges")):
            status, _, err = run("flat", plate_file(**change))
            self.assertEqual(status, 2, change)
            self.assertTrue(err.startswith(f"bendcore: shape.{path}: "), err)


class Twins(SimpleTestCase):
    def test_the_other_hand_is_the_mirror_image_of_every_family(self):
        rng = random.Random(3)
        for n in range(40):
            for maker in (random_plate, random_tray, random_sleeve):
                data = maker(rng)
                data["shape"].pop("slots", None)
                one = read_part(data).flat
                other = read_part(data | {"shape": mirrored(data["shape"], float)}).flat
                x, y = one.size
                if data["shape"]["kind"] == "sleeve":  # read from its other end
                    turned = [(a, y - b) for a, b in one.outline]
                else:
                    turned = [(x - a, b) for a, b in one.outline]
                with self.subTest(n, shape=data["shape"]):
                    left_over = Polygon(turned).symmetric_difference(Polygon(other.outline), grid_size=1e-6).area
                    self.assertLess(left_over, 0.01)

    def test_a_drawn_flat_has_its_other_hand_too(self):
        shape = {"kind": "flat", "outline": [[0, 0], [100, 0], [80, 60], [0, 60]],
                 "bends": [{"line": [[40, 0], [40, 60]], "angle": 60, "direction": "up"}],
                 "holes": [{"x": 15, "y": 40, "diameter": 6, "length": 14, "angle": 30}]}
        data = plate_file()
        one, other = (read_part(data | {"shape": s}).flat for s in (shape, mirrored(shape, float)))
        turned = Polygon([(-x, y) for x, y in one.outline])
        x, y = turned.bounds[:2]
        left, low = Polygon(other.outline).bounds[:2]
        apart = Polygon([(a - x + left, b - y + low) for a, b in turned.exterior.coords])
        self.assertLess(apart.symmetric_difference(Polygon(other.outline), grid_size=1e-6).area, 0.01)
        for mine, theirs in zip(one.bends[0].line, other.bends[0].line, strict=True):
            self.assertAlmostEqual(mine[0] + theirs[0], 100)
        self.assertAlmostEqual(one.holes[0].centre[0] + other.holes[0].centre[0], 100)
        self.assertAlmostEqual(one.holes[0].centre[1], other.holes[0].centre[1])

    def test_holes_in_a_flange_count_from_the_same_corner_on_either_hand(self):
        data = plate_file(flanges=[{"edge": 1, "start": 12, "length": 40, "direction": "up",
                                    "holes": [{"along": 20, "up": 25, "diameter": 6}]}])
        one = read_part(data)
        other = read_part(data | {"shape": mirrored(data["shape"], float)})
        for mine, theirs in zip(one.flat.holes, other.flat.holes, strict=True):
            self.assertAlmostEqual(mine.centre[0] + theirs.centre[0], one.flat.size[0])
            self.assertAlmostEqual(mine.centre[1], theirs.centre[1])
        self.assertEqual(mirrored(mirrored(data["shape"], float), read_length)["flanges"], data["shape"]["flanges"])

    def test_a_strip_is_read_from_its_other_end(self):
        data = part_file([30, 60, 40], [(90, "up"), (60, "down")], start_hem={"length": 9, "direction": "up"})
        twin = mirrored(data["shape"], float)
        self.assertEqual((twin["legs"], "start_hem" in twin, twin["end_hem"]["length"]), ([40, 60, 30], False, 9))
        self.assertAlmostEqual(read_part(data | {"shape": twin}).flat.size[0], read_part(data).flat.size[0])

    def test_measuring_two_faces_as_a_caliper_does(self):
        flanges = [{"edge": e, "length": 30, "direction": "up"} for e in (1, 3)]
        folded = fold(read_part(plate_file(flanges=flanges)).sheet)
        found = between(folded, "F1", "F2")
        self.assertAlmostEqual(found.outside, 100, 6)
        self.assertAlmostEqual(found.inside, 96, 6)
        self.assertAlmostEqual(between(folded, "F1", "plate").angle, 90, 6)
        same = between(folded, "F1", "F1")
        self.assertEqual((round(same.outside, 9), same.inside), (2.0, 0.0))

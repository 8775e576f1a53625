"""Trays: reference numbers, corners by geometry, and what cannot be made."""

import io
import math
import random

import numpy as np
import trimesh
from django.test import SimpleTestCase

from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.formats.export import export
from bendcore.layout.scribed import scribed
from bendcore.part import read_part
from bendcore.quality.checksheet import dimensions
from bendcore.sheet import fold
from bendcore.sheet.clash import Bodies, clashes, depths, flat_overlaps
from bendcore.workings import workings
from tests.core.samples import reference
from tests.core.test_commands import run
from tests.core.trays import apart, random_tray, tray_file

SIDES = ("front", "right", "back", "left")


class Reference(SimpleTestCase):
    def test_reference_trays(self):
        for row in reference("trays"):
            status, flat, err = run("flat", row["part"])
            self.assertEqual(status, 0, err)
            for axis, key in enumerate(("blank_length", "blank_width")):
                size = flat["blank"][("length", "width")[axis]]
                self.assertLessEqual(abs(size - row["expect"][key]), 1e-3 * size)
            for axis, key in enumerate(("bend_centres_x", "bend_centres_y")):
                lines = sorted(b["line"][0][axis] for b in flat["bends"]
                               if abs(b["line"][0][axis] - b["line"][1][axis]) < 1e-6)
                for got, wanted in zip(lines, row["expect"][key], strict=True):
                    self.assertLessEqual(abs(got - wanted), 1e-3 * max(1, wanted))


class Corners(SimpleTestCase):
    def test_random_trays_lie_flat_fold_clear_and_keep_the_gap(self):
        rng = random.Random(5)
        for n in range(120):
            data = random_tray(rng)
            part = read_part(data)
            with self.subTest(n, shape=data["shape"]):
                self.assertEqual(flat_overlaps(part.sheet), [])
                self.assertEqual(list(clashes(part.sheet)), [])
                self.gaps(part)
                self.volume(part)

    def gaps(self, part):
        """Between neighbouring walls, measured on the folded part edge against edge."""
        faces, corners = {f.id: f for f in fold(part.sheet).faces}, part.shape.corners
        if corners.style == "tab":
            return
        for one, other in zip(SIDES, SIDES[1:] + SIDES[:1], strict=True):
            if one in faces and other in faces:
                self.assertAlmostEqual(apart(faces[one], faces[other], part.stock.thickness), corners.gap, delta=0.01)

    def volume(self, part):
        """Folding moves no metal but in the zones, by their own formula."""
        t = part.stock.thickness
        joints = {b.id: math.dist(*b.parent_edge) for b in part.sheet.bends}
        zones_flat = sum(part.shape.bend[n].figures.allowance * long * t for n, long in joints.items())
        folded = 0.0
        for face in fold(part.sheet).faces:
            points = face.corners
            folded += abs(sum(np.cross(points[i], points[i + 1]) for i in range(-1, len(points) - 1)) @ face.normal) / 2
        self.assertAlmostEqual(part.flat.area * t, folded * t + zones_flat, 3)

    def test_the_judge_sees_bodies_that_meet(self):
        def cube(x):
            return np.array([[i, j, k] for i in (x, x + 1) for j in (0, 1) for k in (0, 1)], float)

        axes = np.concatenate([np.eye(3), np.zeros((2, 3))])
        three = np.array([cube(0), cube(0.7), cube(1.2)])
        found = Bodies(("a", "b", "c"), three, np.array([axes] * 3), np.array([axes] * 3))
        near, apart = depths(found, np.array([0, 0]), np.array([1, 2]))
        self.assertAlmostEqual(near, 0.3)
        self.assertLess(apart, 0)

    def test_a_wall_too_near_is_told_as_a_clash(self):
        data = tray_file(width=30, walls={"front": {"height": 60, "angle": 135}, "back": {"height": 60, "angle": 135}})
        notice = next(n for n in check_part(read_part(data)) if n.code == "clash")
        self.assertEqual(notice.severity, "stop")
        self.assertRegex(notice.message, "front and back|back and front")

    def test_who_covers_whom(self):
        for pair, long in (("front", "front"), ("left", "left")):
            part = read_part(tray_file(corners={"style": "butt", "gap": 0.5, "pair": pair}))
            wide = {f.id: np.ptp([y for _, y in f.outline]) for f in part.sheet.faces}
            outer = {"front": 200, "left": 120}
            short = {"front": "left", "left": "front"}[long]
            self.assertAlmostEqual(wide[long], outer[long])
            self.assertAlmostEqual(wide[short], outer[short] - 2 * 1 - 2 * 0.5)

    def test_open_walls_stand_off_by_the_gap_over_root_two(self):
        faces = {f.id: f for f in read_part(tray_file()).sheet.faces}
        ys = [y for _, y in faces["front"].outline]
        self.assertAlmostEqual(max(ys) - min(ys), 200 - 2 - 2 * 0.5 / math.sqrt(2))

    def test_tabs_lie_inside_or_outside_with_their_clearance(self):
        for side in ("inside", "outside"):
            data = tray_file(corners={"style": "tab", "gap": 0.3, "tab": {
                "width": 15, "side": side, "clearance": 0.2, "ease": 4, "hole": 3, "holes": 2}})
            part = read_part(data)
            faces = {f.id: f for f in fold(part.sheet).faces}
            tab, wall = faces["front-tab-left"], faces["left"]
            skins = [c - depth * f.normal for f in (tab, wall) for c in (f.corners[0],) for depth in (0, 1.0)]
            levels = [point @ wall.normal for point in skins]
            between = min(abs(a - b) for a in levels[:2] for b in levels[2:])
            self.assertAlmostEqual(between, 0.2, 6)
            self.assertEqual(len(part.flat.holes), 8)


class Sizes(SimpleTestCase):
    def test_inside_and_outside_give_the_same_tray(self):
        walls = {"left": {"height": 40}, "front": {"height": 30, "lip": {"width": 12, "direction": "in"}}}
        inner = {"left": {"height": 39}, "front": {"height": 28, "lip": {"width": 11, "direction": "in"}}}
        a = read_part(tray_file(walls=walls, length=200, width=120))
        b = read_part(tray_file(walls=inner, length=199, width=119, dims="inside"))
        for one, other in zip(a.flat.outline, b.flat.outline, strict=True):
            self.assertAlmostEqual(one[0], other[0])
            self.assertAlmostEqual(one[1], other[1])

    def test_finished_sizes_are_those_of_the_drawing(self):
        data = tray_file(walls={s: {"height": 40, "lip": {"width": 12, "direction": "in"}} for s in SIDES})
        folded = fold(read_part(data).sheet)
        points = np.concatenate([np.concatenate([f.corners, f.corners - f.normal]) for f in folded.faces])
        for axis, size in enumerate((200, 120, 40)):
            self.assertAlmostEqual(np.ptp(points[:, axis]), size, 6)
        lip = next(f for f in folded.faces if f.id == "front-lip")
        wall = next(f for f in folded.faces if f.id == "front")
        outer = (wall.corners - wall.normal)[:, 1].min()
        self.assertAlmostEqual(lip.corners[:, 1].max() - outer, 12)

    def test_solid_files_are_read_back_at_their_size(self):
        part = read_part(tray_file())
        for ending, sizes in (("stl", (200, 120, 40)), ("glb", (0.2, 0.04, 0.12))):
            solid = trimesh.load(io.BytesIO(export(part, ending)), file_type=ending)
            for got, wanted in zip(solid.extents, sizes, strict=True):
                self.assertAlmostEqual(got / wanted, 1, 3)

    def test_a_lip_turned_out_is_measured_from_the_walls_outer_face(self):
        data = tray_file(walls={"front": {"height": 40, "lip": {"width": 12, "direction": "out"}}})
        faces = {f.id: f for f in fold(read_part(data).sheet).faces}
        outer = (faces["front"].corners - faces["front"].normal)[:, 1].min()
        self.assertAlmostEqual(outer - faces["front-lip"].corners[:, 1].min(), 12)

    def test_a_cap_is_a_tray_upside_down(self):
        up, down = (fold(read_part(tray_file(direction=d)).sheet) for d in ("up", "down"))
        high = max(f.corners[:, 2].max() for f in up.faces)
        low = min(f.corners[:, 2].min() for f in down.faces)
        self.assertAlmostEqual(high - 0, 39)
        self.assertAlmostEqual(low, -40)

    def test_holes_follow_the_base(self):
        data = tray_file(holes=[{"x": 50, "y": 40, "diameter": 10}])
        part = read_part(data)
        left = part.shape.bend["left"].figures
        [hole] = part.flat.holes
        self.assertAlmostEqual(hole.centre[0], 40 - left.outside_setback + left.allowance + 50 - left.outside_setback)
        for spoil, path in (({"x": 3}, "shape.holes[0].x"), ({"y": 119}, "shape.holes[0].y"),
                            ({"diameter": 0}, "shape.holes[0].diameter")):
            data["shape"]["holes"] = [{"x": 50, "y": 40, "diameter": 10} | spoil]
            with self.assertRaises(Refusal) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, path)

    def test_what_cannot_be_a_tray_is_refused_at_its_field(self):
        lips = {s: {"height": 40, "lip": {"width": 70, "direction": "in"}} for s in SIDES}
        low = {"left": {"height": 1}}
        for change, path in (({"walls": {}}, "shape.walls"), ({"walls": low}, "shape.walls.left.height"),
                             ({"walls": {"left": {"height": 40, "angle": 0}}}, "shape.walls.left.angle"),
                             ({"corners": {"gap": -1}}, "shape.corners.gap"), ({"length": 0}, "shape.length"),
                             ({"corners": {"style": "tab"}}, "shape.corners.tab"), ({"walls": lips}, "shape.walls"),
                             ({"corners": {"style": "open", "tab": {"width": 3}}}, "shape.corners.tab"),
                             ({"cross_breaks": {"rise": 0}}, "shape.cross_breaks.rise"),
                             ({"length": 4}, "shape.length"), ({"lid": 1}, "shape.lid"),
                             ({"walls": {"left": {"height": 40, "lip": {"width": 12, "direction": "in"},
                                                  "hem": {"length": 12}}}}, "shape.walls.left.hem.length"),
                             ({"corners": {"style": "tab", "gap": 0.3, "tab": {"width": 14, "hole": 12}}},
                              "shape.corners.tab.hole")):
            status, _, err = run("flat", tray_file(**change))
            self.assertEqual(status, 2, change)
            self.assertTrue(err.startswith(f"bendcore: {path}"), err)

    def test_the_check_sheet_measures_openings(self):
        names = [d.name for d in dimensions(read_part(tray_file()))]
        self.assertIn("diagonal-1", names)
        self.assertEqual(len(names), len(set(names)))

    def test_a_collar_is_pierced_so_that_it_comes_out_as_high_as_drawn(self):
        data = tray_file(holes=[{"x": 60, "y": 60, "diameter": 40, "collar": {"height": 5, "direction": "down"}}])
        part = read_part(data)
        collar, hole = part.shape.collars[0], part.flat.holes[0]
        f = part.shape.bends[0].figures  # the same radius, 90°
        # half a section through its middle: metal from the hole's edge to the tube's end, along the neutral fibre
        flat_to_tangent = collar.inside / 2 + f.outside_setback - collar.pierced / 2
        self.assertAlmostEqual(flat_to_tangent, f.allowance + (5 - f.outside_setback))
        self.assertEqual(hole.diameter, collar.pierced)
        self.assertIn("collar", {what for what, *_ in scribed(part)})
        self.assertAlmostEqual(workings(part)["collar-1"].result, collar.pierced)
        told = {n.code: n for n in check_part(part)}["collar"]
        self.assertEqual((told.severity, "pierce" in told.message), ("note", True))
        for height, words in ((0.5, "at least"), (40, "at most")):
            data["shape"]["holes"][0]["collar"]["height"] = height
            self.assertIn(words, run("flat", data)[2])
        data["shape"]["holes"][0] = {"x": 24, "y": 60, "diameter": 40, "collar": {"height": 8}}
        self.assertIn("shape.holes[0].collar: leaves the base", run("flat", data)[2])

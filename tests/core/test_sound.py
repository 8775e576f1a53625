"""What no cutter could cut and no brake bend is refused or mended, and the judge agrees with what is made."""

import copy
import io
import math
import random

import trimesh
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.formats.results import flat_result, fold_result
from bendcore.part import read_part
from bendcore.sheet import fold
from tests.core.guards import guard_file, random_guard
from tests.core.hard import hard_part
from tests.core.judge import faults
from tests.core.panels import sound_panels
from tests.core.plates import plate_file, random_plate
from tests.core.samples import part_file, random_part
from tests.core.sleeves import random_sleeve, sleeve_file
from tests.core.trays import apart, random_tray, tray_file
from tests.often import often

SQUARE = [[0, 0], [180, 0], [180, 120], [0, 120]]


def made_of(data, thickness, radius) -> dict:
    data = copy.deepcopy(data) | {"inside_radius": radius}
    data["stock"]["thickness"] = thickness
    return data


def judged(data) -> list[str]:
    part = read_part(data)
    return faults(flat_result(part), fold_result(part), part.stock.thickness)


def solid(part):
    return trimesh.load(io.BytesIO(export(part, "stl")), file_type="stl")


def solid_volume(part) -> float:
    """Of the blank, and what zones gain or lose in bending, by their own arcs."""
    t, volume = part.stock.thickness, part.flat.area * part.stock.thickness
    for bend in part.sheet.bends:
        r = bend.figures.radius_at(bend.angle)
        across = math.radians(bend.angle) * ((r + t) ** 2 - r ** 2) / 2 - bend.figures.allowance * t
        volume += across * math.dist(*bend.parent_edge)
    return volume


class Judged(SimpleTestCase):
    def test_random_parts_of_all_families_are_what_they_fold_to(self):
        rng, makers = random.Random(11), (random_tray, random_plate, random_sleeve, random_guard, sound_panels)
        for n in range(often(200)):
            data = makers[n % 5](rng)
            with self.subTest(n, shape=data["shape"]):
                self.assertEqual(judged(data), [])

    def test_hard_parts_are_made_right_or_refused_and_their_solids_are_closed(self):
        rng, made = random.Random(4), 0
        for n in range(often(400)):
            data = hard_part(rng)
            with self.subTest(n, data=data):
                try:
                    part = read_part(data)
                except Refusal:
                    continue
                flat = flat_result(part)
                told = {notice["code"] for notice in flat["notices"]}
                if "flat-overlap" in told:
                    continue
                made += 1
                self.assertEqual(faults(flat, fold_result(part), part.stock.thickness), [])
                if "clash" not in told:
                    shape = solid(part)
                    self.assertTrue(shape.is_watertight and shape.is_winding_consistent)
                    self.assertAlmostEqual(shape.volume / solid_volume(part), 1, delta=1e-3)
        self.assertGreater(made, often(120))

    def test_solids_of_plain_parts_are_closed_and_hold_the_metal_of_their_blank(self):
        rng = random.Random(8)
        makers = (random_tray, random_plate, random_sleeve, random_guard, random_part, sound_panels)
        for n in range(often(48)):
            maker = makers[n % 6]
            part = maker(rng) if maker is random_part else read_part(maker(rng))
            shape = solid(part)
            with self.subTest(n, kind=part.shape.kind):
                self.assertTrue(shape.is_watertight and shape.is_winding_consistent)
                self.assertAlmostEqual(shape.volume / solid_volume(part), 1, delta=1e-3)


    def test_a_leg_narrower_than_a_file_can_tell_is_still_a_solid(self):
        for flat in (5e-5, 2e-6, 0.004):
            shape = solid(read_part(part_file([30, 4.4 + flat, 30], [(90, "up"), (90, "down")])))
            self.assertTrue(shape.is_watertight and shape.volume > 0, flat)


class Corners(SimpleTestCase):
    def refused(self, data, path):
        with self.assertRaises(Refusal) as caught:
            read_part(data)
        self.assertEqual(caught.exception.path, path)
        return caught.exception.message

    def test_a_wall_that_runs_to_a_point_is_refused_at_its_height(self):
        walls = {"left": {"height": 20, "angle": 135}, "front": {"height": 60}}
        for style in ("open", "butt"):
            for more in ({}, {"hem": {"length": 8, "direction": "in"}}):
                data = tray_file(length=60, width=60, corners={"style": style, "gap": 0.5},
                                 walls=walls | {"front": walls["front"] | more})
                self.refused(made_of(data, 2, 2),
                             f"shape.walls.front.{'hem.length' if more and style == 'butt' else 'height'}")

    def test_flanges_end_to_end_are_parted_by_a_slot(self):
        for way in ("up", "down"):
            for free in (90, 90.2):
                data = made_of(plate_file(outline=SQUARE, flanges=[
                    {"edge": 1, "end": free, "length": 30, "direction": "up"},
                    {"edge": 1, "start": free, "length": 30, "direction": way}]), 2, 2)
                part = read_part(data)
                self.assertEqual(judged(data), [])
                one, other = (Polygon(part.flat.faces[name]) for name in ("F1", "F2"))
                self.assertGreaterEqual(one.distance(other), 0.4)

    def test_what_touches_in_the_blank_is_refused(self):
        flanges = [{"edge": 1, "end": 90, "length": 30, "direction": "up"},
                   {"edge": 1, "start": 90, "length": 30, "direction": "down"}]
        self.assertIn("touches", self.refused(plate_file(outline=SQUARE, flanges=flanges, gap=0), "shape.flanges[1]"))

    def test_a_relief_leaves_what_the_next_bend_hangs_on_or_a_web(self):
        turn = math.radians(72)
        obtuse = [[0, 0], [150, 0], [150 + 100 * math.cos(turn), 100 * math.sin(turn)], [0, 100 * math.sin(turn)]]
        for outline in (SQUARE, obtuse):
            for start in (0, 1, 3.9, 5, 6, 6.1, 7, 8.1, 12):
                data = made_of(plate_file(outline=outline, flanges=[
                    {"edge": 1, "length": 30, "direction": "up"},
                    {"edge": 2, "start": start, "length": 30, "direction": "up"}]), 2, 2)
                with self.subTest(start=start, outline=outline):
                    self.assertEqual(judged(data), [])
                    body = Polygon(read_part(data).sheet.face["plate"].outline)
                    webs = body - body.buffer(-0.99, join_style="mitre").buffer(1.0, join_style="mitre")
                    self.assertLess(max((p.area for p in getattr(webs, "geoms", [webs])), default=0), 0.5)

    def test_a_tab_begins_above_the_zone_beside_it(self):
        walls = {side: {"height": 40} for side in ("left", "right", "front", "back")}
        walls["left"]["inside_radius"] = 4
        self.assertEqual(judged(tray_file(walls=walls, corners={"style": "tab", "gap": 0.3,
                                                                "tab": {"width": 12, "ease": 1}})), [])

    def test_the_gap_is_kept_beside_leaning_walls_and_unlike_flanges(self):
        for style, gap, angle in (("butt", 2, 110), ("open", 3, 110), ("butt", 2, 100), ("open", 3, 75),
                                  ("butt", 4, 60)):
            walls = {"left": {"height": 40, "angle": angle}, "front": {"height": 40}}
            part = read_part(made_of(tray_file(walls=walls, corners={
                             "style": style, "gap": gap, "pair": "left"}), 1, 1))
            faces = {face.id: face for face in fold(part.sheet).faces}
            with self.subTest(style=style, gap=gap, angle=angle):
                self.assertAlmostEqual(apart(faces["left"], faces["front"], 1), gap, delta=0.01)
        for one, other in ((90, 30), (45, 90), (120, 30)):
            part = read_part(made_of(plate_file(gap=3, flanges=[
                {"edge": e, "length": 30, "angle": a, "direction": "up"} for e, a in ((1, one), (2, other))]), 2, 0))
            faces = fold(part.sheet).faces
            with self.subTest(one=one, other=other):
                self.assertGreaterEqual(apart(faces[1], faces[2], 2), 3 - 1e-6)

    def test_a_hole_in_a_flange_counts_from_the_edges_first_corner_as_listed(self):
        flange = {"edge": 1, "start": 20, "length": 30, "direction": "up",
                  "holes": [{"along": 25, "up": 15, "diameter": 6}]}
        for corners, more in ((SQUARE, []), (SQUARE, [{"edge": 4, "length": 20, "direction": "up"}]),
                              ([[180, 0], [0, 0], [0, 120], [180, 120]], [])):
            part = read_part(plate_file(outline=corners, flanges=[flange | {"start": 0 if more else 20}, *more]))
            shift = part.flat.shift[0]
            want = corners[0][0] + math.copysign(25 + (0 if more else 20), corners[1][0] - corners[0][0])
            self.assertAlmostEqual(part.flat.holes[0].centre[0] - shift, want, 6)


class Holes(SimpleTestCase):
    def test_holes_on_each_other_are_refused_at_the_second(self):
        hole = {"x": 40, "y": 60, "diameter": 8}
        slot = {"x": 100, "y": 60, "length": 30, "width": 8}
        in_flange = {"edge": 1, "length": 30, "direction": "up", "holes": [{"along": 30, "up": 15, "diameter": 6}] * 2}
        cases = ((plate_file(holes=[hole, hole]), "holes[1]"), (plate_file(holes=[hole, hole | {"x": 48}]), "holes[1]"),
                 (plate_file(holes=[hole | {"x": 100}], slots=[slot]), "slots[0]"),
                 (plate_file(flanges=[in_flange]), "flanges[0].holes[1]"),
                 (tray_file(holes=[hole, hole]), "holes[1]"),
                 (tray_file(holes=[hole | {"diameter": 20, "collar": {"height": 4}}, hole | {"x": 54, "diameter": 4}]),
                  "holes[1]"),
                 (sleeve_file(length=12, seam={"kind": "lap", "lap": 20, "hole": 11, "holes": 1}), "seam.hole"),
                 (sleeve_file(seam={"kind": "lap", "lap": 15, "hole": 6, "holes": 60}), "seam.hole"))
        for data, path in cases:
            with self.subTest(path), self.assertRaises(Refusal) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, f"shape.{path}")

    def test_keys_that_contradict_each_other_in_a_flat_are_refused(self):
        line = {"line": [[40, 0], [40, 60]], "angle": 90, "direction": "up"}
        hole = {"x": 90, "y": 30, "diameter": 8}
        for more, path in (({"holes": [hole | {"length": 4}]}, "holes[0].length"),
                           ({"holes": [hole | {"length": -4}]}, "holes[0].length"),
                           ({"holes": [{"outline": [[80, 20], [90, 20], [90, 30]], "diameter": 8}]},
                            "holes[0].diameter"),
                           ({"bends": [line | {"k": 0.5}]}, "bends[0].k"),
                           ({"bends": [line | {"angle": 180, "inside_radius": 2}]}, "bends[0].inside_radius")):
            shape = {"kind": "flat", "outline": [[0, 0], [120, 0], [120, 60], [0, 60]], "bends": [line]} | more
            with self.subTest(path), self.assertRaises(Refusal) as caught:
                read_part(plate_file() | {"shape": shape})
            self.assertEqual(caught.exception.path, f"shape.{path}")

    def test_an_outline_without_area_is_told_as_such(self):
        with self.assertRaisesMessage(Refusal, "has no area"):
            read_part(plate_file(outline=[[0, 0], [100, 0], [50, 0]], flanges=[]))


class Drawings(SimpleTestCase):
    def test_tapered_and_snipped_strips_come_back_from_their_drawing(self):
        for ends in ({"taper": {"front": {"start": 0, "end": 30}}},
                     {"snips": {"end_back": {"along": 20, "across": 15}}},
                     {"taper": {"front": {"start": 20, "end": 0}, "back": {"start": 0, "end": 40}}}):
            one = read_part(made_of(part_file([30, 60, 30], width=120, **ends), 3, 4))
            other = read_part(made_of(plate_file(), 3, 4) | {"shape": read_dxf(export(one, "dxf").encode()).shape})
            self.assertLess(Polygon(one.flat.outline).symmetric_difference(Polygon(other.flat.outline)).area, 0.01)
            self.assertAlmostEqual(one.sheet.face_area, other.sheet.face_area, 3)

    def test_a_blank_that_lies_on_itself_is_not_exported(self):
        data = made_of(tray_file(corners={"style": "tab", "gap": 0, "tab": {"width": 12, "ease": 0}}), 1, 0)
        for ending in ("dxf", "svg", "pdf"):
            with self.assertRaisesMessage(Refusal, "lie on each other"):
                export(read_part(data), ending)

    def test_a_guard_with_a_spike_is_told_that_no_tool_bends_so_sharp(self):
        guard = guard_file(outline=[[0, 0], [240, 0], [240, 90], [500, 95], [
                           240, 100], [150, 160], [0, 160]], wrapped=[2, 7])
        for side in ("front", "back"):
            del guard["shape"][side]
        self.assertIn("sharp", {notice["code"] for notice in flat_result(read_part(guard))["notices"]})

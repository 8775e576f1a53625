"""Rolled pieces: the blank is rolled up again by own arithmetic and must be the form asked for."""

import io
import math
import random

import ezdxf
import numpy as np
from django.test import SimpleTestCase
from shapely import LineString, Point, Polygon

from bendcore.errors import Refusal
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.formats.results import flat_result
from bendcore.formats.solid import folded_mesh
from bendcore.layout.glue import glue_tabs
from bendcore.part import read_part
from tests.core.rolled import cone_file, random_rolled, rolled_file, tube_file
from tests.core.samples import reference

LIKE = 0.02


class RolledUp:
    """A blank rolled up: of it only the outline is known, and that a cone's apex is at the origin of its face, or that
    a tube's generators run up."""

    def __init__(self, part):
        self.part, shape = part, part.shape
        given, t, k, how = shape.surface, part.stock.thickness, shape.k, shape.dims
        self.is_cone = shape.kind == "cone"
        self.points = np.array(shape.blank)
        self.wall = {"outside": 1 - k, "inside": -k, "neutral": 0}[how] * t
        self.tilts = (given.small_tilt, given.large_tilt) if self.is_cone else (given.start_tilt, given.end_tilt)
        if self.is_cone:
            self.half = math.atan((given.large - given.small) / 2 / given.height)

    def up(self, points):
        """Blank → (angle round the axis, radius, height) on the neutral surface."""
        x, y = points.T
        if not self.is_cone:
            radius = self.part.shape.surface.diameter / 2
            return x / radius, np.full(len(x), radius), y
        s, turned = np.hypot(x, y), np.arctan2(x, -y)
        around = turned / math.sin(self.half) + math.radians(self.part.shape.seam.at) + math.pi
        return around, s * math.sin(self.half), -s * math.cos(self.half)

    def space(self, points):
        around, radius, z = self.up(points)
        return np.column_stack([radius * np.cos(around), radius * np.sin(around), z])


class Rolled(SimpleTestCase):
    def test_reference_developments(self):
        for row in reference("developments"):
            if row["kind"] == "frustum":
                shape = {"kind": "cone", "dims": "neutral", "large": row["large_neutral_diameter"],
                         "small": row["small_neutral_diameter"], "height": row["height"]}
                found = flat_result(read_part(rolled_file(**shape)))["development"]
                for key in ("outer_radius", "inner_radius", "sector_angle"):
                    self.assertAlmostEqual(found[key], row[key], delta=1e-3 * max(1, row[key]))
            elif row["kind"] == "mitred_tube":
                found = flat_result(read_part(tube_file(dims="neutral", diameter=row["neutral_diameter"], length=100,
                                                        end_tilt=row["tilt"])))["development"]
                self.assertAlmostEqual(found["girth"], row["girth"], delta=1e-3 * row["girth"])
                for line in found["generators"]:
                    self.assertAlmostEqual(line["length"] - 100, row["ordinates"][str(line["at"])], delta=1e-3)
            else:
                wide = math.tan(math.radians(row["half_angle"]))
                found = flat_result(read_part(cone_file(
                    dims="neutral", large=2 * row["axis_height"] * wide, small=2 * 40 * wide,
                    height=row["axis_height"] - 40, large_tilt=row["tilt"])))["development"]
                for line in found["generators"]:
                    long = row["generator_lengths"][str(line["at"])]
                    self.assertAlmostEqual(line["to"], long, delta=1e-3 * long)

    def test_rolled_up_again_its_ends_lie_in_their_planes_at_the_sizes_asked_for(self):
        """Corners of the outline that are no seam's lie in one of two planes through the axis at the height asked for,
        and where that plane is square to the axis, at the diameter asked for."""
        rng = random.Random(4)
        for n in range(200):
            data = random_rolled(rng)
            one = RolledUp(read_part(data))
            shape, given = data["shape"], one.part.shape.surface
            z = one.space(one.points)
            levels = [0, shape.get("length")]
            if one.is_cone:
                levels = [-size / 2 / math.tan(one.half) for size in (given.small, given.large)]
                self.assertAlmostEqual(levels[0] - levels[1], shape["height"], 6)
            ways = (1, -1) if one.is_cone else (-1, 1)  # which way the generator at 0° grows
            planes = [level + way * z[:, 0] * math.tan(math.radians(tilt))
                      for level, way, tilt in zip(levels, ways, one.tilts, strict=True)]
            off = np.minimum(*(np.abs(z[:, 2] - plane) for plane in planes))
            seams = sum(2 for width in one.part.shape.seam.added if width)
            self.assertLessEqual((off > LIKE).sum(), seams, n)
            if one.is_cone and not shape["large_tilt"] and shape["dims"] != "neutral":
                radius = np.hypot(*z[np.abs(z[:, 2] - levels[1]) < LIKE].T[:2]).max()
                at_size = 2 * (radius + one.wall / math.cos(one.half))
                self.assertAlmostEqual(at_size, shape["large"], delta=LIKE)

    def test_lengths_and_areas_are_those_of_the_form(self):
        """Fifty curves drawn at random in each blank, by chords, against the same rolled up; the area against slices
        of the form between its ends."""
        rng, numbers = random.Random(7), np.random.default_rng(7)
        for _ in range(60):
            data = random_rolled(rng)
            one = RolledUp(read_part(data))
            for _ in range(50):
                curve = self._curve(one, *one.points[numbers.integers(len(one.points), size=2)], numbers)
                flat, rolled = (np.linalg.norm(np.diff(line, axis=0), axis=1).sum()
                                for line in (curve, one.space(curve)))
                self.assertAlmostEqual(flat, rolled, delta=max(LIKE, 1e-4 * flat))
            added = sum(one.part.shape.seam.added)
            generator = self._seam(one)
            phi = np.linspace(0, 2 * math.pi, 20001)
            low, high = one.part.shape.surface.span(phi)
            strips = (high ** 2 - low ** 2) / 2 * math.sin(one.half) if one.is_cone else (
                (high - low) * one.part.shape.surface.diameter / 2)
            area = float(((strips[:-1] + strips[1:]) / 2 * np.diff(phi)).sum()) + added * generator
            self.assertAlmostEqual(one.part.flat.area, area, delta=1e-4 * area)

    def _curve(self, one, start, end, numbers):
        """From one corner to another, bowed; within a cone's sector: by distance from the apex and turn about it."""
        share = np.linspace(0, 1, 4000)
        bow = np.sin(math.pi * share) * numbers.uniform(-0.1, 0.1)
        if not one.is_cone:
            return start + np.outer(share, end - start) + np.outer(bow, [end[1] - start[1], start[0] - end[0]])
        (r0, r1), (a0, a1) = ((f(*start), f(*end)) for f in (math.hypot, lambda x, y: math.atan2(x, -y)))
        r, a = r0 + (r1 - r0) * share + bow * r0, a0 + (a1 - a0) * share
        return np.column_stack([r * np.sin(a), -r * np.cos(a)])

    def _seam(self, one):
        phi = np.array([math.radians(one.part.shape.seam.at)])
        low, high = one.part.shape.surface.span(phi)
        return float(high[0] - low[0])

    def test_the_solid_is_closed_and_holds_the_metal(self):
        rng = random.Random(9)
        for _ in range(12):
            part = read_part(random_rolled(rng))
            solid = folded_mesh(part)
            seam = sum(part.shape.seam.added) * self._seam(RolledUp(part))
            self.assertTrue(solid.is_watertight)
            self.assertGreater(solid.volume, 0)
            middle = 1 if part.shape.k == 0.5 else 0.97
            self.assertAlmostEqual(solid.volume / ((part.flat.area - seam) * part.stock.thickness), middle, delta=0.04)

    def test_arcs_are_written_as_arcs_and_the_flat_is_read_back(self):
        part = read_part(cone_file(seam={"kind": "lap", "width": 10}))
        drawing = ezdxf.read(io.StringIO(export(part, "dxf")))
        outline = next(iter(drawing.modelspace().query('LWPOLYLINE[layer=="CUT"]')))
        bulges = [bulge for *_, bulge in outline.get_points("xyb") if bulge]
        self.assertLess(len(list(outline)), 16)
        sweep = sum(4 * math.atan(abs(bulge)) for bulge in bulges) / 2
        self.assertAlmostEqual(sweep, part.shape.surface.sector, 6)
        for data in (cone_file(), cone_file(large_tilt=12, small_tilt=-8), tube_file(end_tilt=20)):
            part = read_part(data)
            found = read_dxf(export(part, "dxf").encode())
            again = read_part(data | {"shape": found.shape, "inside_radius": 1})
            self.assertAlmostEqual(again.flat.area, part.flat.area, delta=1e-4 * part.flat.area)


class Refused(SimpleTestCase):
    def test_worst_inputs_are_refused_at_their_field(self):
        bad = ((cone_file(small=180), "shape.small"), (cone_file(small=0.5), "shape.small"),
               (cone_file(large_tilt=70), "shape.large_tilt"),
               (cone_file(small=150, height=60, large_tilt=-45), "shape.large_tilt"),
               (tube_file(length=30, start_tilt=-20, end_tilt=-25), "shape.end_tilt"),
               (tube_file(diameter=0.4), "shape.diameter"), (tube_file(seam={"kind": "lap"}), "shape.seam.width"),
               (tube_file(seam={"kind": "butt", "width": 4}), "shape.seam.width"),
               (tube_file(length=0), "shape.length"))
        for data, field in bad:
            with self.assertRaises(Refusal, msg=field) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, field)


class Models(SimpleTestCase):
    def test_a_paper_model_has_a_tab_along_a_butt_seam(self):
        """The tab stands outside the blank on one seam edge, and its mate on the edge it is rolled round to."""
        for data in (tube_file(end_tilt=15), cone_file(small_tilt=8)):
            part = read_part(data)
            tab, = glue_tabs(part, 8)
            own = Polygon(part.flat.outline)
            self.assertLess(own.intersection(Polygon(tab.outline)).area, 1)
            self.assertLess(own.exterior.distance(Point(tab.mate)), 0.1)
            up = RolledUp(part)
            space = up.space(np.array([tab.outline[0], tab.outline[3]]) - part.flat.shift)
            mate = up.space(np.array([tab.mate]) - part.flat.shift)[0]
            near = LineString(space).distance(Point(mate))
            self.assertLess(near, 0.5)
            self.assertTrue(export(part, "model"))
        self.assertEqual(glue_tabs(read_part(tube_file(seam={"kind": "lap", "width": 8})), 8), [])


class Ends(SimpleTestCase):
    def test_ends_stand_where_the_solids_do(self):
        """Cones and tubes of all kinds, elbows and chains: drawn by their ends they reach as far as their mesh."""
        rng = random.Random(12)
        chain = [{"diameter": 150}, {"length": 110, "diameter": 138, "turn": 18, "plane": 0},
                 {"length": 100, "diameter": 120, "turn": 22, "plane": 40}, {"length": 90, "diameter": 100}]
        parts = [random_rolled(rng) for _ in range(12)] + [
            rolled_file(kind="elbow", diameter=100, radius=160, angle=angle, pieces=4) for angle in (45, 90, 150)] + [
            rolled_file(kind="chain", stations=chain)]
        for data in parts:
            part = read_part(data)
            rings, mesh = np.vstack(part.shape.rings()), folded_mesh(part).triangles.reshape(-1, 3)
            for one, other in ((rings.min(0), mesh.min(0)), (rings.max(0), mesh.max(0))):
                np.testing.assert_allclose(one, other, atol=1.5 * part.stock.thickness + 0.5, err_msg=str(data))

    def test_an_elbow_ends_where_its_radius_says(self):
        rings = read_part(rolled_file(kind="elbow", diameter=100, radius=160, angle=90, pieces=5)).shape.rings()
        self.assertEqual(len(rings), 6)
        np.testing.assert_allclose(np.abs(rings[-1].mean(axis=0)), (160, 0, 160), atol=1e-6)


class Beads(SimpleTestCase):
    def test_a_bead_takes_its_arc_less_its_chord(self):
        plain, beaded = (read_part(tube_file(**more)) for more in ({}, {"bead": {"from": 12, "width": 8, "height": 3}}))
        x = np.linspace(-4, 4, 20001)
        radius = (16 + 9) / 6
        y = np.sqrt(radius ** 2 - x ** 2)
        arc = np.hypot(np.diff(x), np.diff(y)).sum()
        self.assertAlmostEqual(beaded.flat.size[1] - plain.flat.size[1], arc - 8, 4)
        (_, (_, low), (_, high)), = beaded.shape.scribed()
        self.assertEqual(low, high)
        self.assertAlmostEqual(beaded.flat.size[1] - low, 12 + (arc - 8) / 2, 4)
        for bead, path in (({"from": 2, "width": 8, "height": 3}, "from"),
                           ({"from": 12, "width": 4, "height": 3}, "height")):
            with self.assertRaises(Refusal) as caught:
                read_part(tube_file(bead=bead))
            self.assertEqual(caught.exception.path, f"shape.bead.{path}")
        with self.assertRaises(Refusal):
            read_part(tube_file(end_tilt=10, bead={"from": 12, "width": 8, "height": 3}))

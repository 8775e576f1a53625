"""Ribs: measured on the formed solid, against the outline drawn again by own arithmetic."""

import io
import math
import random

import ezdxf
import numpy as np
import trimesh
from django.test import SimpleTestCase
from pypdf import PdfReader
from shapely import LineString, MultiLineString, MultiPoint, Point, Polygon

from bendcore.checks.rules import check_part
from bendcore.errors import Refusal
from bendcore.families.twin import mirrored
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.formats.results import flat_result
from bendcore.formats.solid import folded_mesh
from bendcore.layout.blocks import blocks_of
from bendcore.part import read_part
from tests.core.ribs import random_rib, rib_file
from tests.often import often


def arc(a, b, rise, count=2000):
    """Points along an arc by its chord and rise, to the right positive: on the circle through three points."""
    a, b = np.array(a, float), np.array(b, float)
    if not rise:
        return np.linspace(a, b, count)
    chord = np.linalg.norm(b - a)
    u = (b - a) / chord
    right = np.array([u[1], -u[0]])
    radius = (chord ** 2 / 4 + rise ** 2) / 2 / abs(rise)
    x = np.linspace(-chord / 2, chord / 2, count)
    high = np.sqrt(radius ** 2 - x ** 2) - (radius - abs(rise))
    return (a + b) / 2 + x[:, None] * u + high[:, None] * right * math.copysign(1, rise)


def drawn(shape):
    """The outline as it is told, edge by edge, for one given counter-clockwise without rounded corners."""
    points, rises = shape["outline"], {e["edge"]: e.get("rise", 0) for e in shape.get("edges", ())}
    return [arc(points[i], points[(i + 1) % len(points)], rises.get(i + 1, 0)) for i in range(len(points))]


def rim(part):
    """The formed rim's segments (n, 2, 3), at the inner and at the outer face."""
    mesh = part.formed(5)
    top, bottom = np.split(mesh.edges, 2)
    return top, bottom


def free_edge(part):
    """Of the formed rim what stands highest, in the middle of the sheet: the free edge of a square flange."""
    top, bottom = rim(part)
    middle = (top + bottom) / 2
    high = middle[..., 2].max()
    return middle[(middle[..., 2] > high - 0.03).all(axis=1)]


def length(segments):
    return np.linalg.norm(segments[:, 1] - segments[:, 0], axis=1).sum()


class Formed(SimpleTestCase):
    def test_the_flange_is_as_wide_as_asked_everywhere(self):
        """Outer face: from the outline told to the free edge, square to both, and at the angle asked for."""
        for angle, width in ((90, 18), (90, 9), (70, 22), (105, 15)):
            data = rib_file(flange={"width": width, "angle": angle}, flutes={"width": 12})
            del data["shape"]["flutes"]
            part = read_part(data)
            lines = [LineString(points) for points in drawn(data["shape"])]
            _, outer = rim(part)
            ends = outer.reshape(-1, 3)
            inside = Polygon(np.concatenate(drawn(data["shape"])))
            plan = [Point(p[:2]) for p in ends]
            out = np.array([min(line.distance(p) for line in lines) * (-1 if inside.contains(p) else 1) for p in plan])
            up = ends[:, 2] + part.stock.thickness
            edge = up > up.max() - 1e-4
            self.assertGreater(edge.sum(), 100)
            np.testing.assert_allclose(np.hypot(out[edge], up[edge]), width, atol=0.02)
            np.testing.assert_allclose(np.degrees(np.arctan2(up[edge], out[edge])), angle, atol=0.1)
            told = MultiPoint([p for line in lines for p in line.coords[300:-300:50]])
            high = up.max() - part.stock.thickness - 1e-4
            foot = MultiLineString([seg[:, :2] for seg in outer if (seg[:, 2] > high).all()])
            far = abs(width * math.cos(math.radians(angle)))
            for point in told.geoms:
                self.assertAlmostEqual(foot.distance(point), far, delta=0.1)

    def test_flutes_take_up_what_is_too_long(self):
        for more in ({}, {"rivets": {"pitch": 30, "diameter": 3.2, "end": 10}}, {"flutes": {"width": 16}},
                     {"edges": [{"edge": 3, "rise": 40, "flutes": 7}]},
                     {"outline": [[0, 0], [200, 0], [200, 90], [0, 90]], "edges": [{"edge": 3, "rise": 60}]}):
            data = rib_file(**({"flange": {"width": 14}} | more))
            bare = rib_file(**{key: value for key, value in data["shape"].items() if key != "flutes"})
            del bare["shape"]["flutes"]
            part = read_part(data)
            f = part.shape.flange.figures
            rises = [e for e in data["shape"]["edges"] if e["rise"] > 0]
            want = 0.0
            for one in rises:
                a, b = (np.array(data["shape"]["outline"][(one["edge"] - 1 + k) % 4]) for k in (0, 1))
                # the bend is a little shorter than the edge: its share of the turn is what the strip is long
                strip = next(edge for s in part.shape.plan.strips for side, edge in s.edges
                             if side.number == one["edge"])
                radius = (np.linalg.norm(b - a) ** 2 / 4 + one["rise"] ** 2) / 2 / one["rise"]
                turn = strip.length / radius
                want += turn * (14 - f.deduction + f.thickness / 2)
            got = length(free_edge(part)) - length(free_edge(read_part(bare)))
            self.assertAlmostEqual(got / want, 1, delta=0.01, msg=more)

    def test_flutes_stand_clear_of_rivets(self):
        part = read_part(rib_file(rivets={"pitch": 30, "diameter": 3.2, "end": 10}))
        rivets = MultiPoint(part.shape.rivet_places())
        self.assertGreater(len(rivets.geoms), 15)
        self.assertGreater(len(part.shape.flutes), 2)
        lines = [LineString(ends) for what, *ends in part.shape.scribed() if what == "flute"]
        for line in lines:
            self.assertGreater(line.distance(rivets), 3.2)

    def test_random_ribs_are_closed_solids_of_the_blanks_metal(self):
        rng = random.Random(3)
        for n in range(often(60)):
            part = read_part(random_rib(rng))
            mesh = folded_mesh(part)
            self.assertTrue(mesh.is_watertight, n)
            f, s = part.shape.flange.figures, part.shape
            blank = s.plan.pieces[0].area - sum(h.area for h in (*s.holes, *s.pins))
            # a zone is thinned or thickened by how far K lies from the middle, a curve by what it stretches or takes up
            loose = sum(edge.length for strip in s.plan.strips for _, edge in strip.edges) * math.radians(f.angle) * (
                0.5 * f.thickness) + sum(abs(c.excess) for c in s.curves) * s.section.width
            self.assertAlmostEqual(mesh.volume, blank * f.thickness, delta=(loose + 1) * f.thickness)

    def test_in_the_blank_a_strip_is_as_wide_everywhere(self):
        rng = random.Random(8)
        for _ in range(40):
            part = read_part(random_rib(rng))
            shape, strips = part.shape, part.shape.plan.strips
            body = shape.plan.pieces[0]
            for strip in strips:
                edge = LineString(strip.line(shape.section.reach))
                line = LineString(strip.line(-shape.section.setback))
                kept = edge.intersection(body.exterior.buffer(1e-4))
                reach = shape.section.reach + shape.section.setback
                for share in np.linspace(0.3, 0.7, 9):
                    point = edge.interpolate(share, normalized=True)
                    if kept.distance(point) < 1e-6:
                        self.assertAlmostEqual(line.distance(point), reach, delta=0.02)


class Files(SimpleTestCase):
    def test_arcs_are_arcs_and_the_drawing_is_read_back(self):
        part = read_part(rib_file())
        text = export(part, "dxf")
        polyline = next(e for e in ezdxf.read(io.StringIO(text)).modelspace() if e.dxftype() == "LWPOLYLINE")
        bulged = [b for *_, b in polyline.get_points("xyb") if b]
        self.assertGreaterEqual(len(bulged), 2 + 4)
        again = read_part(rib_file() | {"shape": read_dxf(text.encode()).shape})
        self.assertAlmostEqual(Polygon(again.flat.outline).area / Polygon(part.flat.outline).area, 1, 4)

    def test_the_blocks_are_pinned_over_each_other(self):
        pins = [{"x": 40, "y": 40}, {"x": 240, "y": 30}, {"x": 120, "y": 80}]
        lip = {"height": 4, "direction": "up"}
        data = rib_file(pins=pins, holes=[{"x": 170, "y": 50, "diameter": 40, "collar": lip}])
        data["stock"]["springback"] = 3
        part = read_part(data)
        form, backing = blocks_of(part)
        told = Polygon(np.concatenate([line[:-1] for line in drawn(data["shape"])]))
        self.assertGreater(form.thickness, 18)
        lean = form.thickness * math.tan(math.radians(3))
        for outline, by in ((form.outline, 0.8), (form.under, 0.8 + lean), (backing.outline, 3.2)):
            wanted = told.buffer(-by, join_style="mitre")
            self.assertAlmostEqual(Polygon(outline).symmetric_difference(wanted).area, 0, delta=8)
        self.assertEqual((len(form.openings), len(backing.openings), len(form.pins)), (1, 0, 3))
        layers = {e.dxf.layer for e in ezdxf.read(io.StringIO(export(part, "blocks"))).modelspace()}
        self.assertEqual(layers, {"FORM", "FORM_FAR", "BACKING", "PINS", "LIPS", "ARROW"})
        for name in ("formblock", "backing"):
            self.assertIn("TOP", PdfReader(io.BytesIO(export(part, name))).pages[1].extract_text())

    def test_the_other_hand_is_its_mirror_image(self):
        data = rib_file(pins=[{"x": 40, "y": 40}], corners=[{"corner": 2, "radius": 12}])
        twin = mirrored(data["shape"], float)
        one, other = (Polygon(read_part(data | {"shape": shape}).shape.blank) for shape in (data["shape"], twin))
        flipped = Polygon([(-x, y) for x, y in other.exterior.coords])
        self.assertAlmostEqual(one.symmetric_difference(flipped).area, 0, delta=0.5)

    def test_the_development_tells_of_every_curve(self):
        found = flat_result(read_part(rib_file()))["development"]
        self.assertEqual([row["side"] for row in found["curves"]], ["edge 1", "edge 3"])
        self.assertGreater(found["curves"][0]["strain"], 0)
        self.assertGreater(found["curves"][1]["excess"], 0)


class Refused(SimpleTestCase):
    def test_what_cannot_be_made_is_refused_at_its_field(self):
        for more, path, words in (
                ({"flange": {"width": 2}}, "shape.flange.width", "more than"),
                ({"flange": {"width": 20, "angle": 130}}, "shape.flange.angle", "block"),
                ({"outline": [[0, 0], [60, 0], [60, 90], [0, 90]], "edges": [{"edge": 1, "rise": -25}],
                  "flange": {"width": 40}}, "shape.flange.width", "hollow curve"),
                ({"edges": [{"edge": 9, "rise": 5}]}, "shape.edges[0].edge", "from 1 to 4"),
                ({"edges": [{"edge": 1, "rise": 5}, {"edge": 1, "rise": 6}]}, "shape.edges[1].edge", "already"),
                ({"edges": [{"edge": 3, "rise": 22, "flutes": 60}]}, "shape.edges[0].flutes", "room for"),
                ({"flutes": {"width": 2.3}}, "shape.flutes.width", "at least 2.4 mm"),
                ({"outline": [[0, 0], [900, 0], [900, 200], [0, 200]], "edges": [{"edge": 1, "rise": 400},
                  {"edge": 3, "rise": 400}], "flutes": {"width": 2.4}, "flange": {"width": 60}},
                 "shape.flutes.width", "more than 200"),
                ({"rivets": {"pitch": 6, "diameter": 3.2, "end": 10}}, "shape.rivets.pitch", "at least 6.4 mm"),
                ({"rivets": {"pitch": 1.4, "diameter": 0.1, "end": 10}}, "shape.rivets.pitch", "more than 500"),
                ({"corners": [{"corner": 1, "radius": 400}]}, "shape.corners[0].radius", "room for"),
                ({"corners": [{"corner": 1, "radius": 3}]}, "shape.corners[0].radius", "too tight"),
                ({"outline": [[0, 0], [200, 0], [200, 40], [0, 40]],
                  "edges": [{"edge": 2, "flange": "none"}, {"edge": 4, "flange": "none"}],
                  "flange": {"width": 45, "angle": 118}}, "shape.flange.angle", "into each other"),
                ({"relief": 1}, "shape.relief", "at least"),
                ({"pins": [{"x": -30, "y": 20}]}, "shape.pins[0].x", "leaves the web"),
                ({"holes": [{"x": 10, "y": 20, "diameter": 30}]}, "shape.holes[0].x", "leaves the web"),
                ({"rivets": {"pitch": 15}}, "shape.flutes.width", "between rivets"),
                ({"edges": [{"edge": 1, "rise": -120}]}, "shape.outline", "cross")):
            with self.assertRaises(Refusal, msg=more) as caught:
                read_part(rib_file(**more))
            self.assertEqual(caught.exception.path, path, more)
            self.assertIn(words, caught.exception.message)

    def test_an_edge_that_would_crack_is_told_with_a_width_that_does(self):
        data = rib_file(outline=[[0, 0], [120, 0], [120, 110], [0, 110]], edges=[{"edge": 1, "rise": -25}],
                        flange={"width": 20})
        data["stock"]["material"] = "aluminium-5052-h32"
        part = read_part(data)
        radius = (60 ** 2 + 25 ** 2) / 2 / 25
        curve = part.shape.curves[0]
        f = part.shape.flange.figures
        blank = radius - (20 - f.deduction)
        self.assertAlmostEqual(curve.strain, (radius - 0.4 * -1 - blank) / blank - 0, delta=0.01)
        notice = next(n for n in check_part(part) if n.code == "edge-cracks")
        self.assertEqual(notice.severity, "stop")
        width = float(notice.ways_out[0].split()[3])
        self.assertTrue(3 < width < 20, notice.ways_out)
        data["shape"]["flange"]["width"] = width
        self.assertNotIn("stop", [n.severity for n in check_part(read_part(data)) if n.code == "edge-cracks"])

    def test_shrinking_flutes_and_pins_are_looked_at(self):
        def codes(**more):
            shape = rib_file(**more)
            shape["stock"]["material"] = "aluminium-2024-t3"
            if more.get("flutes", 1) is None:
                del shape["shape"]["flutes"]
            return {n.code for n in check_part(read_part(shape))}
        self.assertIn("edge-buckles", codes(flutes=None, edges=[{"edge": 3, "rise": 30}]))
        self.assertNotIn("edge-buckles", codes(edges=[{"edge": 3, "rise": 30}]))
        self.assertIn("flute-deep", codes(edges=[{"edge": 3, "rise": 30, "flutes": 1}]))
        self.assertIn("pins", codes())
        apart = [{"x": 40, "y": 40}, {"x": 240, "y": 30}, {"x": 120, "y": 80}]
        self.assertNotIn("pins", codes(pins=apart))
        self.assertIn("pins", codes(pins=[{"x": 40, "y": 40}, {"x": 90, "y": 40}, {"x": 140, "y": 40}]))
        self.assertIn("hole-bend", codes(holes=[{"x": 140, "y": 10.0, "diameter": 12}], edges=[]))


class Solid(SimpleTestCase):
    def test_stl_and_gltf_are_read_back_closed(self):
        for more in ({}, {"flange": {"width": 15, "direction": "down"}}):
            part = read_part(rib_file(**more))
            for ending in ("stl", "glb"):
                data = export(part, ending)
                data = data.encode() if isinstance(data, str) else data
                mesh = trimesh.load(io.BytesIO(data), file_type=ending, force="mesh")
                mesh.apply_scale(1000 if ending == "glb" else 1)
                mesh.merge_vertices(merge_tex=True, merge_norm=True, digits_vertex=4)
                self.assertTrue(mesh.is_watertight)
                self.assertGreater(mesh.volume, 0)

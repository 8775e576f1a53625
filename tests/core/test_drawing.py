"""Drawings read in: Dorvan's own come back as they were, others healed or refused where they are wrong."""

import io
import math
import random
import subprocess
import sys
import tempfile
from contextlib import suppress
from pathlib import Path

import ezdxf
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.formats.reading import read_drawing
from bendcore.formats.svg_in import read_svg
from bendcore.part import read_part
from tests.core.guards import random_guard
from tests.core.hostile import DRAWINGS
from tests.core.panels import sound_panels
from tests.core.plates import plate_file, random_plate
from tests.core.samples import ROOT
from tests.core.sleeves import random_sleeve
from tests.core.test_commands import run
from tests.core.trays import random_tray
from tests.fuzz.nasties import bent
from tests.often import often


def drawing(draw, units=4) -> bytes:
    doc = ezdxf.new("R2010")
    doc.units = units
    draw(doc.modelspace())
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def box(space, *, gap=0.0, wide=100):
    corners = [(0, 0), (wide, 0), (wide, 60), (0, 60)]
    for a, b in zip(corners, [*corners[1:], (0, gap)], strict=True):
        space.add_line(a, b)


class Own(SimpleTestCase):
    def test_own_drawings_give_the_same_sheet(self):
        rng = random.Random(11)
        for n in range(often(40)):
            for maker in (random_plate, random_tray, random_sleeve, random_guard, sound_panels):
                data, (ending, read) = maker(rng), (("dxf", read_dxf), ("svg", read_svg))[n % 2]
                one = read_part(data)
                other = read_part(data | {"shape": read(export(one, ending).encode()).shape})
                with self.subTest(n, ending=ending, shape=data["shape"]):
                    apart = Polygon(one.flat.outline).hausdorff_distance(Polygon(other.flat.outline))
                    self.assertLess(apart, 0.02)
                    self.assertEqual(len(one.sheet.faces), len(other.sheet.faces))
                    told = [sorted((round(b.bend.angle, 3), b.bend.direction, b.bend.figures.allowance)
                                   for b in part.flat.bends) for part in (one, other)]
                    for mine, theirs in zip(*told, strict=True):
                        self.assertEqual(mine[:2], theirs[:2])
                        self.assertAlmostEqual(mine[2], theirs[2], 4)

    def test_holes_slots_and_inches_come_back(self):
        data = plate_file(holes=[{"x": 40, "y": 60, "diameter": 8}],
                          slots=[{"x": 100, "y": 60, "length": 30, "width": 8, "angle": 30}])
        part = read_part(data)
        again = read_part(data | {"shape": read_dxf(export(part, "dxf").encode()).shape})
        for one, other in zip(sorted(part.flat.holes, key=lambda h: h.length),
                              sorted(again.flat.holes, key=lambda h: h.length), strict=True):
            self.assertAlmostEqual(one.area, other.area, 4)
            self.assertAlmostEqual(one.centre[0], other.centre[0], 4)
        drawn = read_dxf(drawing(lambda space: box(space, wide=4), units=1))
        self.assertAlmostEqual(max(x for x, _ in drawn.shape["outline"]), 101.6)


class Others(SimpleTestCase):
    def read(self, draw, **options):
        return read_dxf(drawing(draw, **options))

    def refused(self, draw) -> str:
        with self.assertRaises(Refusal) as caught:
            self.read(draw)
        return caught.exception.message

    def test_small_gaps_are_healed_and_told(self):
        found = self.read(lambda space: box(space, gap=0.03))
        self.assertIn("Gaps under 0.05 mm closed: 1.", found.report)
        self.assertAlmostEqual(Polygon(found.shape["outline"]).area, 6000, 0)

    def test_an_open_contour_is_refused_where_it_ends(self):
        self.assertRegex(self.refused(lambda space: box(space, gap=5)),
                         r"no closed contour: one ends at \([\d., ]+ mm\)")

    def test_lines_from_edge_to_edge_are_bends_and_layers_say_which_way(self):
        def draw(space):
            box(space)
            space.add_line((30, 0), (30, 60))
            space.add_line((70, 0), (70, 60), dxfattribs={"layer": "FOLD_DOWN"})
        found = self.read(draw)
        self.assertEqual({(b["line"][0][0], b["direction"]) for b in found.shape["bends"]}, {(30, "up"), (70, "down")})
        self.assertIn("Lines from edge to edge taken as bends, 90° up: 1", found.report[-1])
        part = read_part(plate_file() | {"shape": found.shape})
        self.assertEqual([leg.id for leg in part.shape.legs if leg.ends[0]], ["B1", "B2"])

    def test_what_hangs_in_the_air_is_refused_with_its_place(self):
        self.assertIn("loose line from (20.0, 20.0 mm)", self.refused(
            lambda space: (box(space), space.add_line((20, 20), (50, 40)))))

    def test_splines_units_and_size_are_told(self):
        def draw(space):
            box(space)
            space.add_spline([(30, 30), (40, 35), (50, 30), (40, 25), (30, 30)])
        found = self.read(draw)
        self.assertIn("Splines and ellipses taken as polylines within 0.01 mm: 1.", found.report)
        self.assertGreater(len(found.shape["holes"][0]["outline"]), 20)
        found = self.read(box, units=0)
        self.assertIn("millimetres were taken", found.report[0])
        self.assertIn("wrong units", self.read(lambda space: box(space, wide=9000)).report[-1])

    def test_drawings_made_to_hang_are_refused(self):
        """Huge arcs would flatten without end; ends meeting in one place would be paired without end."""
        for draw, words in (
                (lambda space: space.add_arc((0, 0), 1e15, 0, 359), "farther than 1 km"),
                (lambda space: space.add_circle((0, 0), math.inf), "farther than 1 km"),
                (lambda space: [space.add_line((50, 30), (50 + n, 90)) for n in range(3000)], "lines that meet at"),
                (lambda space: [space.add_line((n % 90, n // 90), (n % 90 + 0.5, n // 90)) for n in range(3000)],
                 "open lines")):
            self.assertIn(words, self.refused(lambda space, draw=draw: (box(space), draw(space))))

    def test_points_and_curves_are_counted_as_they_come(self):
        for name, (file, data, words) in DRAWINGS.items():
            with self.subTest(name), self.assertRaises(Refusal) as told:
                read_drawing(data, file)
            self.assertIn(words, str(told.exception.message), name)

    def test_whatever_a_bent_file_makes_a_library_raise_is_a_refusal(self):
        part = read_part(plate_file(holes=[{"x": 40, "y": 60, "diameter": 8}]))
        for kind in ("dxf", "svg"):
            whole = export(part, kind).encode()
            unknown = whole.replace(b"LWPOLYLINE", b"LXPOLYLINE").replace(b"CIRCLE", b"CIRCLET")
            for data in (unknown, *(bent(whole, random.Random(seed)) for seed in range(often(150)))):
                with suppress(Refusal):
                    read_drawing(data, f"plate.{kind}")

    def test_files_that_are_no_drawings_are_refused(self):
        for raw in (b"", b"\x00" * 200, b"0\nSECTION\n2\nENTITIES\n0\nLINE\n", b"MZ" * 400, b"x" * 5_000_001):
            with self.assertRaises(Refusal):
                read_dxf(raw)

    def test_a_line_in_the_wrong_place_is_refused_at_the_line(self):
        outline = [[0, 0], [100, 0], [100, 60], [0, 60]]
        for line, words in (([[30, 0], [30, 50]], "from the edge"), ([[1, 0], [1, 60]], "too near an edge"),
                            ([[30, 0], [30, 0]], "no length")):
            shape = {"kind": "flat", "outline": outline, "bends": [{"line": line, "direction": "up"}]}
            status, _, err = run("flat", plate_file() | {"shape": shape})
            self.assertEqual(status, 2)
            self.assertRegex(err, rf"bendcore: shape.bends\[0\].line: .*{words}")
        two = [{"line": [[x, 0], [x, 60]], "direction": "up"} for x in (50, 52)]
        _, _, err = run("flat", plate_file() | {"shape": {"kind": "flat", "outline": outline, "bends": two}})
        self.assertIn("shape.bends[1]: has a zone that lies on that of B1", err)
        hole = [{"x": 50, "y": 30, "diameter": 10}]
        _, _, err = run("flat", plate_file() | {"shape": {"kind": "flat", "outline": outline, "bends": two[:1],
                                                          "holes": hole}})
        self.assertIn("shape.holes[0]: runs into a bend", err)

    def test_the_command(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "in.dxf"
            file.write_bytes(drawing(box))
            for name, status in (("in", 0), ("none", 2)):
                done = subprocess.run([sys.executable, "-m", "bendcore", "read", f"{folder}/{name}.dxf"], cwd=ROOT,
                                      capture_output=True, text=True, check=False)
                self.assertEqual(done.returncode, status, done.stderr)

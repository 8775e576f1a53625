"""Running marks, and templates measured from the PDF's own geometry."""

import io
import math
import re
from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from bendcore.bending.bumping import bumps, facet_error
from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.formats.pdf import PT, Template, templates, tile
from bendcore.layout.marks import adds_up, from_centre, is_symmetric, running_marks, stations, steps
from bendcore.part import read_part
from bendcore.schools.school import generic
from tests.core.samples import part_file, profiles
from tests.core.trays import tray_file

NUMBER = r"(-?[\d.]+)"


def drawn(page):
    """The page's paths in mm, each a list of points."""
    text = page.get_contents().get_data().decode("latin-1")
    at, stack, paths = (0.0, 0.0), [], []
    points = []
    for line in text.splitlines():
        if line == "q":
            stack.append(at)
        elif line == "Q":
            at = stack.pop()
        elif match := re.fullmatch(rf"1 0 0 1 {NUMBER} {NUMBER} cm", line):
            at = (at[0] + float(match[1]), at[1] + float(match[2]))
        for x, y, mark in re.findall(rf"{NUMBER} {NUMBER} ([ml])\b", line):
            point = (float(x) + at[0], float(y) + at[1])
            points = [point] if mark == "m" else [*points, point]
            if mark == "l":
                paths.append(list(points))
    return paths


class Templates(SimpleTestCase):
    def pages(self, part, paper="A4"):
        return PdfReader(io.BytesIO(templates([Template(part.flat, "Long rail")], paper))).pages

    def test_a_long_part_is_exact_across_its_sheets(self):
        """Ends found on different sheets, joined by the step their shared crosses stand for."""
        part = read_part(part_file([600, 605], [(90, "up")], width=80))
        length = part.flat.size[0]
        self.assertGreater(length, 1200)
        pages, tiling = self.pages(part), tile(part.flat.size, "A4")
        self.assertEqual(len(pages), 1 + tiling.sheets)
        first, last = (max(drawn(pages[n]), key=len) for n in (1, len(pages) - 1))
        apart = (tiling.columns - 1) * tiling.step[0]
        self.assertAlmostEqual(max(x for x, _ in last) + apart - min(x for x, _ in first), length, delta=0.1)
        shared = [{((x0 + x1) / 2, round(y0, 3)) for (x0, y0), (x1, y1) in (o for o in drawn(p) if len(o) == 2)
                   if abs(y0 - y1) < 1e-6 and abs(x1 - x0 - 8) < 1e-6} for p in (pages[1], pages[2])]
        between = {round(a[0] - b[0], 3) for a in shared[0] for b in shared[1] if a[1] == b[1]}
        self.assertIn(round(tiling.step[0], 3), between)

    def test_one_millimetre_is_one_millimetre(self):
        for paper, size in (("A4", (210, 297)), ("Letter", (215.9, 279.4)), ("A3", (297, 420))):
            page = self.pages(read_part(tray_file()), paper)[0]
            self.assertEqual(sorted(round(float(v) / PT, 1) for v in page.mediabox[2:]), sorted(size))
            self.assertIn("2.834646 0 0 2.834646 0 0 cm", page.get_contents().get_data().decode("latin-1"))
            self.assertIn("100 mm: measure both sides", page.extract_text())

    def test_every_corner_of_the_flat_is_inside_some_sheet(self):
        part = read_part(tray_file(length=400, width=380))
        tiling = tile(part.flat.size, "A4")
        for x, y in part.flat.outline:
            origins = [tiling.origin(c, r) for c in range(tiling.columns) for r in range(tiling.rows)]
            self.assertTrue(any(0 <= x - left <= tiling.step[0] + 15 and 0 <= y - low <= tiling.step[1] + 15
                                for left, low in origins))

    def test_what_would_take_a_ream_is_refused(self):
        with self.assertRaises(Refusal):
            templates([Template(read_part(part_file([30_000, 30_000], [(90, "up")], width=9000)).flat, "barn")])
        with self.assertRaises(Refusal):
            tile((10, 10), "B5")


class Marks(SimpleTestCase):
    @given(profiles())
    def test_marks_run_from_the_datum_and_add_up(self, data):
        flat = read_part(data).flat
        marks = running_marks(flat, "x", ("centre", "tangent"), 150)
        self.assertEqual(marks[0].at, 0)
        self.assertAlmostEqual(marks[-1].at, flat.size[0])
        self.assertAlmostEqual(adds_up(flat, "x"), 0)
        for mark in marks:
            self.assertLessEqual(mark.rest, 150 + 1e-6)
            self.assertAlmostEqual(mark.station + mark.rest, mark.at)

    def test_any_corner_may_be_the_datum(self):
        part = read_part(tray_file(holes=[{"x": 50, "y": 40, "diameter": 10}]))
        long, wide = part.flat.size
        near, far = ([m.at for m in running_marks(part.flat, "x", datum=d)] for d in ("left front", "right back"))
        for a, b in zip(near, far[::-1], strict=True):
            self.assertAlmostEqual(a + b, long)
        holes = {d: [m.at for m in next(s for s in steps(part, datum=d) if s.title == "Hole centres").marks]
                 for d in ("left front", "right back")}
        self.assertAlmostEqual(holes["left front"][0] + holes["right back"][0], long)
        self.assertAlmostEqual(holes["left front"][1] + holes["right back"][1], wide)

    def test_a_long_rule_needs_no_stations(self):
        self.assertEqual(stations(500, 600), [])
        self.assertEqual(stations(1250, 600), [600, 1200])

    def test_a_tray_is_marked_along_two_edges_and_its_holes_punched(self):
        found = {s.title: s for s in steps(read_part(tray_file(holes=[{"x": 50, "y": 40, "diameter": 10}])))}
        self.assertEqual({m.bend for m in found["Marks along the left edge"].marks} - {""}, {"front", "back"})
        self.assertEqual(len(found["Hole centres"].marks), 2)
        self.assertIn("Notches", found)
        self.assertIn("on the top face", found["Scribe the bend lines"].do)


class Bumps(SimpleTestCase):
    @given(st.floats(20, 170), st.floats(20, 300), st.floats(0.5, 4), st.floats(0.02, 1))
    def test_the_fewest_hits_that_keep_the_facets_in(self, angle, radius, thickness, error):
        figures = replace(generic().figures(angle, radius, thickness), facet=error)
        plan = bumps(figures)
        self.assertLessEqual(plan.error, error)
        if plan.hits > 2:
            self.assertGreater(facet_error(figures, plan.hits - 1), error)
        self.assertAlmostEqual(plan.hits * plan.each, angle)
        self.assertAlmostEqual(plan.lines[0], plan.pitch / 2)
        self.assertAlmostEqual(plan.lines[-1] + plan.pitch / 2, figures.allowance)

    def test_facets_are_those_of_a_polygon_round_the_arc(self):
        """Independent: the arc's outside against the chord between two hits."""
        figures = generic().figures(90, 99, 1)
        chord = 100 * math.cos(math.radians(90 / 6 / 2))
        self.assertAlmostEqual(facet_error(figures, 6), 100 - chord)

    def test_a_large_radius_is_told_and_marked_hit_by_hit(self):
        part = read_part(part_file([80, 90], [(90, "up")], radius=40) | {"die": {"v": 12}})
        codes = {n.code: n for n in check_part(part)}
        self.assertIn("hits of", codes["bump"].message)
        self.assertNotIn("radius-tool", codes)
        step = next(s for s in steps(part) if s.title == "Hits of Bend B1")
        line = part.flat.bends[0]
        self.assertAlmostEqual(sum(m.at for m in step.marks) / len(step.marks), line.line[0][0])
        self.assertNotIn("bump", {n.code for n in check_part(read_part(part_file()))})

    def test_symmetric_parts_may_be_marked_from_the_middle(self):
        titles = [s.title for s in steps(read_part(part_file([30, 60, 30])))]
        self.assertIn("Or from the middle of the front edge", titles)
        flat = read_part(part_file([30, 60, 40])).flat
        self.assertFalse(is_symmetric(flat, "x"))
        self.assertAlmostEqual(from_centre(flat, "x")[0].at, -flat.size[0] / 2)

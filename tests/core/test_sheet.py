"""Units, and the one model: unfolding and folding agree for any part."""

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.part import read_part
from bendcore.quality.checksheet import dimensions
from bendcore.sheet import fold
from bendcore.sheet.section import Strip
from bendcore.sheet.solid import mesh
from bendcore.tolerance import length_tolerance
from bendcore.units import read_angle, read_length, show_length, to_fraction
from bendcore.workings import workings
from tests.core.samples import part_file, profiles


class Units(SimpleTestCase):
    @given(st.fractions(min_value=0, max_value=500, max_denominator=64))
    def test_any_fraction_typed_is_read_exactly(self, inches):
        whole, rest = divmod(inches, 1)
        for text in (f"{whole} {rest.numerator}/{rest.denominator}", f"{whole}-{rest.numerator}/{rest.denominator} in",
                     f'{float(inches)!r}"'):
            assume("e" not in text)
            self.assertAlmostEqual(read_length(text, "in"), float(inches) * 25.4, 6)

    @given(st.floats(0, 5000))
    def test_the_tape_is_never_off_by_more_than_half_a_mark(self, mm):
        tape = to_fraction(mm, 32)
        inches = tape.whole + tape.numerator / tape.denominator
        rest = mm / 25.4 - inches
        self.assertLessEqual(abs(rest), 1 / 64 + 1e-9)
        self.assertEqual(tape.left_over, "" if abs(rest) < 0.0005 else "+" if rest > 0 else "−")
        self.assertEqual(tape.denominator & (tape.denominator - 1), 0)

    def test_how_people_write(self):
        for text, mm in [("40", 40), ("40 mm", 40), ("4,5cm", 45), ("7 3/8 in", 187.325), ("1' 2 1/2\"", 368.3),
                         ("3/8\"", 9.525), (".5 in", 12.7), ("0.2 m", 200)]:
            self.assertAlmostEqual(read_length(text, "mm"), mm, 9, text)
        self.assertEqual((read_angle("105 included"), read_angle("90°"), read_angle("12,5 deg")), (75, 90, 12.5))
        for text in ("", "1 2", "3/", "1e5", "--4", "4 miles", "NaN", "9" * 80):
            with self.assertRaises(Refusal):
                read_length(text)
        self.assertEqual([show_length(v) for v in (12.0, 12.345, 0)], ["12.0", "12.35", "0.0"])


class Sheets(SimpleTestCase):
    @given(profiles())
    @settings(max_examples=120)
    def test_unfold_and_fold_agree(self, data):
        try:
            part = read_part(data)
        except Refusal as refusal:
            self.assertRegex(refusal.path, r"legs|hem")
            assume(False)
        sheet, flat, folded = part.sheet, part.flat, fold(part.sheet)
        self.assertAlmostEqual(flat.size[0], part.shape.developed_length, 6)
        self.assertAlmostEqual(flat.area, flat.size[0] * flat.size[1], 4)
        faces = {f.id: f for f in folded.faces}
        for name, outline in flat.faces.items():
            corners = faces[name].corners
            for i in range(4):
                self.assertAlmostEqual(math.dist(outline[i - 1], outline[i]),
                                       np.linalg.norm(corners[i - 1] - corners[i]), 6)
        for bend in sheet.bends:
            one, other = faces[bend.parent].normal, faces[bend.child].normal
            self.assertAlmostEqual(one @ other, math.cos(math.radians(bend.angle)), 9)
        for arc in folded.bends:
            bend = sheet.bend[arc.id]
            radius = bend.figures.inside_radius + (0 if bend.sign > 0 else sheet.thickness)
            chord = 2 * radius * math.sin(math.radians(bend.angle) / 2)
            self.assertAlmostEqual(np.linalg.norm(arc.arc[0] - arc.arc[-1], axis=1).max(), chord, 6)
        with self.subTest("nothing made is the flat itself"):
            for face in fold(sheet, []).faces:
                np.testing.assert_allclose(face.corners[:, :2], flat.faces[face.id], atol=1e-6)

    @given(profiles())
    @settings(max_examples=60)
    def test_the_section_is_the_folded_part_seen_from_the_end(self, data):
        try:
            part = read_part(data)
        except Refusal:
            assume(False)
        strip, folded = Strip.of(part.sheet), fold(part.sheet)
        pieces = {p.id: p for p in strip.whole([b.figures.angle for b in strip.bends]) if p.is_flat}
        ends = {f.id: f.corners[:, [0, 2]] for f in folded.faces}
        names = list(pieces)
        for a in names:
            for b in names:
                flat = np.linalg.norm(pieces[a].outline[3] - pieces[b].outline[2])
                space = min(np.linalg.norm(ends[a][i] - ends[b][j]) for i, j in ((0, 1), (1, 0), (0, 0), (1, 1)))
                self.assertGreaterEqual(flat, space - 1e-6)
        self.assertAlmostEqual(sum(f for _, f in strip.flats) + sum(b.figures.allowance for b in strip.bends),
                               part.flat.size[0], 6)

    def test_the_mesh_has_the_surface_of_a_folded_sheet(self):
        """Both sides of every flat and zone, and a wall all round the edge; none where they join."""
        part = read_part(part_file())
        triangles = mesh(fold(part.sheet)).triangles
        cross = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
        t, r, width = 1.0, 1.2, 300
        flats = [length for _, length in Strip.of(part.sheet).flats]
        around = math.pi / 2
        sides = 2 * sum(flats) * width + 2 * around * (2 * r + t) * width
        walls = 2 * t * (sum(flats) + width) + 2 * 2 * around * (r + t / 2) * t
        self.assertAlmostEqual(np.linalg.norm(cross, axis=1).sum() / 2 / (sides + walls), 1, 3)

    def test_checks_say_what_where_and_what_to_do(self):
        def codes(data):
            return {n.code: n for n in check_part(read_part(data))}

        self.assertEqual(codes(part_file(radius=0.3))["radius"].severity, "stop")
        short = codes(part_file([9, 60, 30]) | {"die": {"v": 16, "shoulder_radius": 1}})
        self.assertEqual((short["leg"].where, bool(short["leg"].ways_out)), ("L1", True))
        self.assertIn("clash", codes(part_file([60, 30, 30, 60, 60], [(90, "up")] * 4)))
        self.assertNotIn("clash", codes(part_file([15, 40, 60, 40, 15], [(90, "up")] * 4)))


class Quality(SimpleTestCase):
    def test_every_figure_restates_its_own_formula(self):
        part = read_part(part_file([30, 60, 30], [(90, "up"), (60, "down")]))
        found = workings(part)
        self.assertAlmostEqual(found["blank"].result, sum(v.value for v in found["blank"].values))
        for leg in part.shape.legs:
            size, start, end = (v.value for v in found[leg.id].values)
            self.assertAlmostEqual(found[leg.id].result, size - start - end)
        setback, allowance = (v.value for v in found["B1.deduction"].values)
        self.assertAlmostEqual(found["B1.deduction"].result, 2 * setback - allowance)
        found = workings(read_part(part_file() | {"die": {"v": 8, "shoulder_radius": 0.8}}))
        tensile, t, width, v = (value.value for value in found["die.force"].values)
        self.assertAlmostEqual(found["die.force"].result, 1.42 * tensile * t ** 2 * width / v / 1000)
        self.assertAlmostEqual(found["die.radius"].result, 0.16 * v)

    def test_a_check_sheet_measures_what_a_person_can(self):
        rows = {d.name: d for d in dimensions(read_part(part_file([30, 60, 40])))}
        self.assertAlmostEqual(rows["across"].nominal, 40)
        self.assertAlmostEqual(rows["high"].nominal, 60)
        self.assertEqual([length_tolerance(v) for v in (3, 30, 30.1, 400, 9000)], [0.1, 0.2, 0.3, 0.5, 2.0])
        self.assertEqual((rows["L1"].verdict(30.2), rows["L1"].verdict(30.21)), ("good", "out"))

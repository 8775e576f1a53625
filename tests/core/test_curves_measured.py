"""Radii measured on what is there, and large radii made by hand."""

import io
import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from bendcore.errors import Refusal
from bendcore.fields import Radius, Typing
from bendcore.formats.export import export
from bendcore.layout.large import large_radii
from bendcore.measured import is_measured, named, radius_of
from bendcore.part import read_part
from bendcore.units import read_length
from tests.core.plates import plate_file
from tests.core.samples import part_file
from tests.core.trays import tray_file


def mm(text):
    return read_length(text, "mm")


class Measured(SimpleTestCase):
    @given(st.floats(20, 2000), st.floats(0.2, 1.4), st.floats(-3, 3), st.floats(-500, 500))
    def test_points_of_a_circle_give_its_radius(self, radius, half, turn, off):
        for count in (3, 4, 9):
            around = np.linspace(turn - half, turn + half, count)
            points = " ".join(f"{off + radius * math.cos(a):.9f},{radius * math.sin(a):.9f}" for a in around)
            self.assertAlmostEqual(radius_of(points, mm) / radius, 1, 5)
        chord, rise = 2 * radius * math.sin(half), radius * (1 - math.cos(half))
        self.assertAlmostEqual(radius_of(f"{chord:.9f} rise {rise:.9f}", mm) / radius, 1, 5)

    def test_scattered_points_give_the_circle_nearest_to_all(self):
        """Judge: the sum of squares grows whichever way centre and radius are moved."""
        rng = np.random.default_rng(4)
        around = np.linspace(0.3, 1.4, 12)
        points = np.column_stack([150 * np.cos(around), 150 * np.sin(around)]) + rng.normal(0, 0.2, (12, 2))
        found = radius_of("; ".join(f"{x:.6f},{y:.6f}" for x, y in points), mm)

        def least(radius):
            grid = [(x, y) for x in np.linspace(-3, 3, 121) for y in np.linspace(-3, 3, 121)]
            return min(((np.hypot(*(points - c).T) - radius) ** 2).sum() for c in grid)
        self.assertLess(least(found), min(least(found - 1), least(found + 1)))

    def test_it_is_typed_in_words_with_its_units(self):
        field = Radius("radius", least=0)
        self.assertEqual(field.read("12 rise 7/8", "r", Typing("in", "mm")), "12 in rise 7/8 in")
        self.assertEqual(field.read("0,0 6,1 12,0", "r", Typing("in", "mm")), "0 in,0 in; 6 in,1 in; 12 in,0 in")
        self.assertEqual(field.read("40", "r", Typing("mm", "mm")), "40")
        self.assertFalse(is_measured("7 3/8") or is_measured("12,5"))
        self.assertTrue(is_measured(named("300 rise 22", str)))

    def test_what_is_no_curve_is_refused(self):
        for text, words in (("300 rise 0", "more than 0"), ("300 rise 200", "half its chord"),
                            ("300 rise 0.1", "straight"),
                            ("0,0 10,0", "three points"), ("0,0 10,0 20,0", "one line"),
                            ("0,0 150,22 300,0 150,60", "off the circle"), ("a rise b", "not a length")):
            with self.assertRaises(Refusal) as caught:
                radius_of(text, mm)
            self.assertIn(words, caught.exception.message, text)


class Large(SimpleTestCase):
    def strip(self, **bend):
        data = part_file([500, 700], [(60, "up")])
        data["shape"]["bends"][0] |= bend
        return data

    def test_a_bend_that_follows_a_curve_has_its_radius_and_is_laid_out_for_it(self):
        one, other = (read_part(self.strip(inside_radius=r)) for r in ("300 rise 22", (150 ** 2 + 22 ** 2) / 44))
        self.assertAlmostEqual(one.flat.size[0], other.flat.size[0], 9)

    def test_each_way_has_its_card(self):
        for way, count in (("bumped", True), ("rolled", False), ("over a former", False)):
            part = read_part(self.strip(inside_radius=90, made=way))
            large, = large_radii(part)
            self.assertEqual((large.way, bool(large.plan), bool(large.passes)), (way, count, way == "rolled"))
            self.assertLess(large.held, 90)
            self.assertIn("R 90", export(part, "gauge"))
        self.assertEqual([one.way for one in large_radii(read_part(self.strip(inside_radius=90)))], ["bumped"])
        self.assertEqual(large_radii(read_part(self.strip())), [])

    def test_facets_stand_off_no_more_than_was_asked(self):
        rough, fine = (large_radii(read_part(self.strip(inside_radius=90, made="bumped", facet=f)))[0].plan
                       for f in (1, 0.1))
        self.assertGreater(fine.hits, rough.hits)
        self.assertTrue(fine.error <= 0.1 < rough.error <= 1)

    def test_trays_and_plates_have_large_radii_too(self):
        front = {"height": 120, "inside_radius": 60, "made": "rolled"}
        tray = tray_file(walls={"front": front}, corners={"style": "open"})
        plate = plate_file()
        plate["shape"]["flanges"] = [{"edge": 1, "length": 120, "direction": "up", "inside_radius": "200 rise 60",
                                      "made": "over a former"}]
        plate["shape"]["outline"] = [[0, 0], [200, 0], [200, 300], [0, 300]]
        for key in ("holes", "slots"):
            plate["shape"].pop(key, None)
        for data, way in ((tray, "rolled"), (plate, "over a former")):
            self.assertEqual([one.way for one in large_radii(read_part(data))], [way])
            self.assertTrue(io.StringIO(export(read_part(data), "gauge")))

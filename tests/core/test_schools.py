"""The schools, air bending and stock: each rule by its own arithmetic, and where it refuses."""

import math

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from bendcore.bending import bend as bends
from bendcore.errors import Refusal
from bendcore.schools import school as schools
from bendcore.stock import gauges, material, materials, read_thickness
from bendcore.units import read_length

ANGLES, RADII, THICK = st.floats(1, 175), st.floats(0.2, 40), st.floats(0.3, 6)


class Schools(SimpleTestCase):
    @given(ANGLES, RADII, THICK, st.floats(0.2, 0.5))
    def test_k_and_allowance_are_each_others_inverse(self, angle, radius, thickness, k):
        width = bends.allowance_from_k(angle, radius, thickness, k)
        self.assertAlmostEqual(bends.k_from_allowance(angle, radius, thickness, width), k, 6)

    @given(ANGLES, RADII, THICK)
    def test_generic_is_a_staircase_of_the_ratio(self, angle, radius, thickness):
        k = schools.generic_k(radius, thickness)
        self.assertEqual(k, 0.33 if radius < thickness else 0.4 if radius <= 3 * thickness else 0.5)
        figures = schools.generic().figures(angle, radius, thickness)
        self.assertAlmostEqual(figures.k, k, 6)

    @given(RADII, THICK)
    def test_din_stays_between_nothing_and_a_half(self, radius, thickness):
        try:
            k = schools.din_k(radius, thickness)
        except Refusal as refusal:
            self.assertLess(radius / thickness, 0.0502)
            self.assertIn("not defined", refusal.message)
        else:
            self.assertTrue(0 < k <= 0.5)

    def test_din_is_refused_at_a_sharp_corner(self):
        for radius in (0.0, 0.04):
            with self.assertRaises(Refusal):
                schools.din6935().figures(90, radius, 1)

    @given(st.floats(1, 179), RADII, THICK, st.sampled_from(bends.CONVENTIONS))
    def test_no_allowance_takes_nothing_off(self, angle, radius, thickness, convention):
        figures = schools.none().figures(angle, radius, thickness, convention)
        self.assertAlmostEqual(figures.deduction, 0, 6)

    def test_half_zone_is_for_square_bends(self):
        self.assertAlmostEqual(schools.half_zone().figures(90, 3, 2).deduction, 2 * 2 + 3)
        with self.assertRaises(Refusal):
            schools.half_zone().figures(60, 3, 2)

    def test_a_chart_is_interpolated_and_never_carried_on(self):
        chart = schools.deduction_chart([(90, 2.0), (30, 0.5), (60, 1.0)])
        for angle, deduction in ((30, 0.5), (45, 0.75), (75, 1.5), (90, 2.0)):
            self.assertAlmostEqual(chart.figures(angle, 1.5, 1).deduction, deduction)
        for angle in (29, 91):
            with self.assertRaises(Refusal) as caught:
                chart.figures(angle, 1.5, 1)
            self.assertEqual(caught.exception.path, "allowance.rows")

    def test_blocks_say_what_belongs_to_them(self):
        twice = {"method": "deduction_chart", "rows": [{"angle": 90, "deduction": 1}, {"angle": 90, "deduction": 2}]}
        for block, path in (({"method": "k_factor"}, "allowance.k"), ({"method": "generic", "k": 0.4}, "allowance.k"),
                            ({"method": "handbook"}, "allowance.group"), (twice, "allowance.rows"),
                            ({"method": "deduction_chart"}, "allowance.rows")):
            with self.assertRaises(Refusal) as caught:
                schools.read_school(block, "mm", read_length)
            self.assertEqual(caught.exception.path, path)

    def test_a_deduction_may_be_negative_but_a_zone_may_not(self):
        self.assertLess(schools.k_factor(0.5).figures(135, 12.5, 2.5, "tangent").deduction, -2)
        greedy = schools.deduction_chart([(0.1, 50), (180, 50)])
        with self.assertRaises(Refusal):
            greedy.figures(90, 1, 1)


class AirBending(SimpleTestCase):
    @given(st.floats(10, 150), st.floats(6, 60))
    def test_the_slope_of_travel_is_its_difference(self, angle, v):
        over = (v / 8, v / 8, v, v / 20)
        step = 1e-4
        by_difference = (bends.punch_travel(angle + step, *over) - bends.punch_travel(angle - step, *over)) / (2 * step)
        self.assertAlmostEqual(bends.travel_per_degree(angle, *over), by_difference, 5)

    @given(st.floats(20, 140), st.floats(6, 40))
    def test_a_leg_touches_the_shoulder_where_the_depth_says(self, angle, v):
        """The leg's underside is tangent to the shoulder's circle: a distance from a line."""
        shoulder, h = v / 10, math.radians(angle) / 2
        depth = bends.leg_depth(angle, v, shoulder)
        centre = (v / 2, -shoulder)
        away = abs(-math.sin(h) * centre[0] + math.cos(h) * (centre[1] + depth))
        self.assertAlmostEqual(away, shoulder, 9)

    def test_the_radius_that_will_come(self):
        self.assertEqual(bends.natural_radius(12, 1.5, 0.16)[0], 1.92)
        sharp, why = bends.natural_radius(6, 3, 0.16)
        self.assertAlmostEqual(sharp, 1.89)
        self.assertIn("sharp", why)
        self.assertEqual(bends.natural_radius(12, 1.5, 0.16, nose=4)[0], 4)

    def test_the_shortest_leg_can_be_set_by_the_start_of_the_stroke(self):
        small = bends.BendFigures(20, 2, 1, bends.allowance_from_k(20, 2, 1, 0.4))
        self.assertAlmostEqual(bends.shortest_flat(small, 16, 3), max(8, (8 - 3 * math.sin(math.radians(10)))
                               / math.cos(math.radians(10)) - small.deduction / 2))
        square = bends.BendFigures(90, 2, 1, bends.allowance_from_k(90, 2, 1, 0.4))
        self.assertGreater(bends.shortest_flat(square, 16, 0), 8)
        self.assertAlmostEqual(bends.minimum_leg(square, 16, 0),
                               bends.shortest_flat(square, 16, 0) + square.deduction / 2)

    @given(st.floats(10, 170), RADII, THICK)
    def test_the_neutral_fibre_keeps_its_length(self, angle, radius, thickness):
        figures = schools.k_factor(0.42).figures(angle, radius, thickness)
        for share in (0.2, 0.5, 1.0):
            now = angle * share
            length = math.radians(now) * (figures.radius_at(now) + figures.k * thickness)
            self.assertAlmostEqual(length, figures.allowance, 6)
        self.assertAlmostEqual(figures.radius_at(angle), radius, 6)


class Stock(SimpleTestCase):
    def test_the_same_number_is_a_different_thickness(self):
        sizes = {name: read_thickness("16 ga", "mm", material(name)) for name in
                 ("mild-steel", "galvanised", "stainless-304", "aluminium-5052-h32", "copper")}
        self.assertEqual(len({round(v, 4) for v in sizes.values()}), 4)
        self.assertAlmostEqual(sizes["copper"], sizes["aluminium-5052-h32"])
        for text in ("16ga", "#16 gauge", "16 GA."):
            self.assertAlmostEqual(read_thickness(text, "in", material("mild-steel")), 0.0598 * 25.4)

    def test_gauges_grow_thinner(self):
        for name, rows in gauges().items():
            sizes = [rows[n] for n in sorted(rows)]
            self.assertEqual(sizes, sorted(sizes, reverse=True), name)

    def test_materials_hold_together(self):
        for alloy in materials().values():
            self.assertGreater(alloy.tensile_mpa, alloy.yield_mpa)
            self.assertLessEqual(alloy.min_radius_over_t_across, alloy.min_radius_over_t_along)
            self.assertIn(alloy.handbook_group, schools.HANDBOOK_C)
            self.assertIn(alloy.gauge_table, gauges())

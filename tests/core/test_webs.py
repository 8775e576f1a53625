"""Metal that is left: told where a web is thinner than the sheet, by the test's own arithmetic, and nowhere else."""

import math

from django.test import SimpleTestCase
from hypothesis import example, given
from hypothesis import strategies as st

from bendcore.checks import check_part
from bendcore.part import read_part
from tests.core.plates import plate_file

T = 2.0


def webs(**shape):
    data = plate_file(**{"flanges": []} | shape)
    data["stock"]["thickness"] = T
    return [n for n in check_part(read_part(data)) if n.code == "web"]


def width(notice) -> float:
    return notice.message.values["have"]


def round_hole(x, y, diameter=20.0):
    return {"x": x, "y": y, "diameter": diameter}


def notched(left: float) -> list:
    """A plate of 100 × 60, notched from both sides so that ``left`` mm stay between the notches."""
    low, high = 30 - left / 2, 30 + left / 2
    return [[0, 0], [45, 0], [45, low], [55, low], [55, 0], [100, 0], [100, 60], [55, 60], [55, high], [45, high],
            [45, 60], [0, 60]]


class Webs(SimpleTestCase):
    @given(st.floats(0.1, 6))
    def test_between_a_hole_and_the_edge(self, web):
        told = webs(holes=[round_hole(10 + web, 50)])
        self.assertEqual(len(told), web < T - 0.02)
        for notice in told:
            self.assertAlmostEqual(width(notice), web, 9)
            self.assertEqual(notice.where, "plate, hole 1")
            self.assertAlmostEqual(notice.ways_out[0].values["short"], T - web, 9)

    @given(st.floats(0.1, 6), st.floats(0, 90))
    @example(1.96875, 1.0)  # nearer than the many-sided holes that are looked through first
    def test_between_two_holes_whichever_way_they_lie(self, web, turn):
        far = 20 + web
        told = webs(holes=[round_hole(60, 60), round_hole(60 + far * math.cos(math.radians(turn)),
                                                          60 + far * math.sin(math.radians(turn)))])
        self.assertEqual(len(told), web < T - 0.02)
        for notice in told:
            self.assertAlmostEqual(width(notice), web, 9)
            self.assertIn("plate, hole 2", notice.message)

    @given(st.floats(0.1, 6), st.floats(0, 180))
    def test_beside_a_slot_at_any_angle(self, web, turn):
        """A slot of 40 × 10 and a hole of 20 beyond its end, on its own line."""
        x, y = ((20 + 10 + web) * way(math.radians(turn)) for way in (math.cos, math.sin))
        told = webs(outline=[[0, 0], [200, 0], [200, 150], [0, 150]],
                    slots=[{"x": 80, "y": 60, "length": 40, "width": 10, "angle": turn}],
                    holes=[round_hole(80 + x, 60 + y)])
        self.assertEqual([round(width(n), 6) for n in told], [round(web, 6)] if web < T - 0.02 else [])

    @given(st.floats(0.2, 6))
    def test_left_between_two_notches(self, left):
        told = webs(outline=notched(left))
        self.assertEqual(len(told), left < T - 0.02)
        for notice in told:
            self.assertAlmostEqual(width(notice), left, 2)

    def test_a_point_a_step_and_a_slim_tongue_are_no_webs(self):
        for outline in ([[0, 0], [100, 0], [0, 60]], [[0, 0], [60, 0], [60, 1], [100, 1], [100, 60], [0, 60]],
                        [[0, 0], [100, 0], [100, 30], [140, 30], [140, 31], [100, 31], [100, 60], [0, 60]]):
            self.assertEqual(webs(outline=outline), [])

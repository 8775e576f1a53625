"""Pieces drawn from a part fit it; sizes that fit a mate, and mixed ways of measuring."""

import random

import numpy as np
from django.test import SimpleTestCase
from shapely import LineString, Polygon

from bendcore.errors import Refusal
from bendcore.families.mates import draw_mate
from bendcore.part import read_part
from bendcore.sheet import fold
from tests.core.guards import guard_file, random_guard
from tests.core.rolled import tube_file
from tests.core.sleeves import sleeve_file
from tests.core.test_commands import run
from tests.core.trays import tray_file


def part_of(shape, like):
    return read_part({key: value for key, value in like.items() if key != "shape"} | {"shape": shape})


def inner_line(guard_part):
    """The wrapper's inner surface, seen from the side, from its legs and finely faceted arcs."""
    folded = fold(guard_part.sheet, facet=0.5)
    legs = {f.id: f.corners[:2][:, [0, 2]] for f in folded.faces}
    arcs = {b.id: b.arc[:, 0][:, [0, 2]] for b in folded.bends}
    points = []
    for i in range(1, len(guard_part.shape.panels) + 1):
        points += [*legs[f"L{i}"], *arcs.get(f"B{i}", [])]
    return np.array(points)


class SidePlates(SimpleTestCase):
    def test_a_side_plate_stands_its_clearance_off_the_wrapper(self):
        rng = random.Random(4)
        for n in range(30):
            data = random_guard(rng)
            data["shape"]["corners"] = {"style": "mitre", "gap": 0.4}
            part = read_part(data)
            plate = part_of(draw_mate(part.shape, "side", clearance=0.25), data).shape.outline
            line, guard = inner_line(part), part.shape
            a, b = (np.array(guard.outline[(guard.wrapped[0] + k) % len(guard.outline)]) for k in (0, 1))
            along = (b - a) / np.linalg.norm(b - a)
            square = np.array([-along[1], along[0]])
            first = guard.panels[0].setbacks[0]
            placed = a + (line[:, :1] - line[0, 0] + first) * along + (line[:, 1:] + part.stock.thickness) * square
            with self.subTest(n):
                near = Polygon(plate).exterior.distance(LineString(placed))
                self.assertAlmostEqual(near, 0.25, 2)
                self.assertFalse(Polygon(plate).crosses(LineString(placed)))

    def test_a_leg_measured_longer_moves_the_side_plate(self):
        part = read_part(guard_file())
        drawn, made = (draw_mate(part.shape, "side", sizes) for sizes in ({}, {"L2": part.shape.panels[1].size + 2}))
        areas = [Polygon(part_of(shape, guard_file()).shape.outline).area for shape in (drawn, made)]
        self.assertGreater(areas[1], areas[0] + 100)


class Caps(SimpleTestCase):
    def inside_of(self, tray):
        t = tray.thickness
        return [leg.outside - 2 * t for leg in (tray.length, tray.width)]

    def test_caps_go_over_and_into_a_sleeve(self):
        data = sleeve_file()
        sleeve = read_part(data).shape
        cap = part_of(draw_mate(sleeve, "cap", clearance=0.4), data).shape
        self.assertAlmostEqual(self.inside_of(cap)[0], 120.8)
        plug = part_of(draw_mate(sleeve, "plug"), data).shape
        self.assertAlmostEqual(plug.width.outside, 80 - 2 - 0.6)
        made = part_of(draw_mate(sleeve, "cap", {"width": 121.5}, 0.4), data).shape
        self.assertAlmostEqual(self.inside_of(made)[0], 122.3)

    def test_a_lid_goes_over_lips_that_turn_out(self):
        data = tray_file(walls={"left": {"height": 30, "lip": {"width": 12, "direction": "out"}},
                                "front": {"height": 30}})
        tray = read_part(data).shape
        lid = part_of(draw_mate(tray, "lid"), data).shape
        self.assertAlmostEqual(self.inside_of(lid)[0] - tray.mate_sizes()["length"], 1.0)
        self.assertGreater(tray.mate_sizes()["length"], tray.length.outside + 11)
        leaning = read_part(tray_file(walls={"left": {"height": 30, "angle": 60}})).shape
        with self.assertRaises(Refusal):
            draw_mate(leaning, "lid")

    def test_only_mates_of_the_family_are_drawn(self):
        sleeve = read_part(sleeve_file()).shape
        self.assertEqual([m.role for m in sleeve.mates()], ["cap", "plug"])
        with self.assertRaises(Refusal):
            draw_mate(sleeve, "side")


class Sizes(SimpleTestCase):
    def test_each_size_may_say_how_it_is_measured(self):
        plain = read_part(tray_file(length=202, width=100)).shape
        for length in ({"length": 200, "dims": "inside"}, {"around": 199, "clearance": 0.5},
                       {"into": "203 mm", "clearance": 0.5}, {"length": 202}):
            mixed = read_part(tray_file(length=length, width=100)).shape
            self.assertAlmostEqual(mixed.length.flat, plain.length.flat, 6)
        sleeve = read_part(sleeve_file(width={"length": 118, "dims": "inside"},
                                       height={"around": 77, "clearance": 0.5}))
        self.assertAlmostEqual(sleeve.shape.developed_length, read_part(sleeve_file()).shape.developed_length)

    def test_a_leg_between_two_bends_can_fit_around_something(self):
        legs = [30, {"around": 60, "clearance": 0.5}, 30]
        profile = {"kind": "profile", "width": 50, "legs": legs,
                   "bends": [{"angle": 90, "direction": "up"}, {"angle": 90, "direction": "up"}]}
        part = read_part(sleeve_file() | {"shape": profile})
        self.assertAlmostEqual(part.shape.legs[1].outside, 63)

    def test_a_collar_fits_its_opening(self):
        """A tube let into the collared hole of a cap: its outside is the collar's inside less twice the clearance."""
        cap = read_part(tray_file(direction="down", holes=[
            {"x": 60, "y": 50, "diameter": 34, "collar": {"height": 5, "direction": "up"}}]))
        inside = cap.shape.mate_sizes()["hole-1"]
        self.assertAlmostEqual(inside, 34)
        tube = read_part(tube_file(diameter={"into": inside, "clearance": 0.3}))
        outer = np.hypot(*tube.formed(5).triangles.reshape(-1, 3)[:, :2].T).max()
        self.assertAlmostEqual(2 * outer, 34 - 0.6, 2)

    def test_a_fit_that_makes_no_sense_is_refused_at_its_field(self):
        for length, path in (({"around": 9, "into": 9}, "length"), ({"clearance": 1}, "length"),
                             ({"around": 200, "dims": "inside"}, "length.dims"),
                             ({"into": 1, "clearance": 1}, "length"),
                             ({"around": -4}, "length.around"), ({"beside": 4}, "length.beside")):
            status, _, err = run("flat", tray_file(length=length))
            self.assertEqual((status, err.split(":")[1]), (2, f" shape.{path}"), err)
        one_end = {"kind": "profile", "width": 50, "legs": [30, {"into": 60}],
                   "bends": [{"angle": 90, "direction": "up"}]}
        self.assertIn("legs[1]: is open", run("flat", sleeve_file() | {"shape": one_end})[2])

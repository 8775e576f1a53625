"""Where the rows of a check sheet stand on the part: each is as long there, and turned as far, as it says."""

import doctest
import math
import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.errors import Refusal
from bendcore.part import read_part
from bendcore.quality import where as where_module
from bendcore.quality.checklist import checklist
from bendcore.quality.checksheet import CheckRow
from bendcore.quality.where import Stretch, where
from dorvan.drawings.checked import FACTORS, SEEN, checked_view
from tests.core.guards import random_guard
from tests.core.panels import sound_panels
from tests.core.plates import random_plate
from tests.core.samples import part_file, random_part
from tests.core.sleeves import random_sleeve
from tests.core.trays import random_tray, tray_file
from tests.often import often

NO_PLACE = {"width", "height", "long", "high", "across", "diagonal-1", "diagonal-2", "turned", "tab"}
"""Rows, by the word they begin with, that are measured over all or tried."""


def random_parts(rng: random.Random, count: int):
    made = [lambda: random_part(rng), *(lambda make=make: read_part(make(rng))
                                        for make in (random_tray, random_plate, random_guard, random_sleeve,
                                                     sound_panels))]
    while count:
        try:
            yield rng.choice(made)()
        except Refusal:
            continue
        count -= 1


class Where(SimpleTestCase):
    def test_the_example(self):
        self.assertEqual(doctest.testmod(where_module).failed, 0)

    def test_every_row_is_as_long_and_turned_as_far_as_it_says(self):
        stood = 0
        for n, part in enumerate(random_parts(random.Random(12), often(150))):
            places = where(part)
            for row in checklist(part):
                place = places.get(row.name)
                if place is None:
                    unbent = {leg.id for leg in part.shape.legs if not any(leg.ends)}
                    self.assertTrue(row.unit == "tried" or row.name in NO_PLACE | unbent or row.name.startswith("fit-"),
                                    (n, part.shape.kind, row.name))
                elif isinstance(place, Stretch):
                    near = 0.01 * part.stock.thickness + 1e-6 if row.name in ("across", "high") else 1e-6
                    self.assertAlmostEqual(place.long, row.nominal, delta=near, msg=f"{n} {part.shape.kind} {row.name}")
                    stood += 1
                else:
                    turned = math.degrees(math.acos(np.clip(place.on @ place.beyond, -1, 1)))
                    self.assertAlmostEqual(turned, row.nominal, 4)
                    stood += 1
        self.assertGreater(stood, often(1000))

    def test_a_free_edge_is_where_a_leg_ends_and_the_outside_where_it_begins(self):
        """Of a tray open at the top: by its sizes, the top of the base at 0."""
        part = read_part(tray_file(length=200, width=120, walls={"left": {"height": 40}, "right": {"height": 40}}))
        places, t = where(part), part.stock.thickness
        for side in ("left", "right"):
            bottom, top = sorted((float(places[side].first[2]), float(places[side].second[2])))
            self.assertAlmostEqual(top - bottom, 40)
            self.assertAlmostEqual(bottom, -t)
        ends = sorted(float(end[0]) for end in (places["length"].first, places["length"].second))
        walls = sorted(float(places[side].first[0]) for side in ("left", "right"))
        self.assertAlmostEqual(ends[1] - ends[0], 200)
        self.assertAlmostEqual(walls[1] - walls[0], 200 - 2 * t)  # the tops of upright walls are their insides


class Drawn(SimpleTestCase):
    def rows(self, part, **off):
        return [CheckRow(row, row.nominal + off.get(row.name, 0.0)) for row in checklist(part) if row.unit != "tried"]

    def test_how_far_a_reading_is_out_is_drawn_by_one_factor(self):
        part = read_part(part_file())
        view = checked_view(part, self.rows(part, L1=0.5, L2=-0.25))
        self.assertIn(view["factor"], FACTORS)
        bars = {place["name"]: place for place in view["places"]}

        def drawn(name):
            (a, b), (c, d) = ([float(v) for v in end.split(",")] for end in bars[name]["off"][1:].split("L"))
            return math.dist((a, b), (c, d))
        self.assertAlmostEqual(drawn("L1") / drawn("L2"), 2, delta=0.05)
        self.assertTrue(SEEN / 3 < drawn("L1") <= SEEN + 0.2, drawn("L1"))
        self.assertLess(drawn("L3"), 0.2)
        for name, way in (("L1", 1), ("L2", -1)):  # longer runs on beyond the end, shorter back from it
            (a, b), (c, d) = ([float(v) for v in end.split(",")] for end in bars[name]["off"][1:].split("L"))
            (e, f), (g, h) = bars[name]["strokes"][0]
            self.assertGreater(way * ((c - a) * (g - e) + (d - b) * (h - f)), 0, name)
        self.assertEqual({name: bars[name]["verdict"] for name in ("L1", "L3", "B1")},
                         {"L1": "out", "L3": "good", "B1": "good"})

    def test_nothing_measured_is_drawn_without_bars_and_every_part_of_every_family_is_drawn(self):
        for part in random_parts(random.Random(3), often(30)):
            view = checked_view(part)
            self.assertIsNone(view["factor"])
            self.assertEqual({place["off"] for place in view["places"]}, {None})
            self.assertGreaterEqual(len(view["metal"]), len(part.sheet.faces))
            for name in view["names"]:
                self.assertNotIn("-", name["text"])

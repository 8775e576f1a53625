"""Any bent part told as panels has the same faces, bends, openings and order; panels with outlines of their own."""

import copy
import math
import random

import numpy as np
from django.test import SimpleTestCase
from shapely import LineString, Polygon

from bendcore.checks import check_part
from bendcore.edits import added, as_panels_part, removed, set_field
from bendcore.errors import Refusal
from bendcore.families.panels.arcs import with_arcs
from bendcore.families.panels.opened import as_panels
from bendcore.families.twin import mirrored
from bendcore.part import read_part
from bendcore.quality.comparison import compare
from bendcore.sheet.fold import fold
from bendcore.units import read_length
from tests.core.guards import random_guard
from tests.core.panels import panels_file, random_panels
from tests.core.plates import random_plate
from tests.core.samples import brake, part_file, plan_order, tray_file
from tests.core.sleeves import random_sleeve
from tests.core.trays import random_tray
from tests.often import often

FAMILIES = (random_tray, random_plate, random_guard, random_sleeve, random_panels)
BASE = [[0, 0], [100, 0], [100, 60], [0, 60]]


def opened(data: dict) -> dict:
    return as_panels_part(data, lambda: read_part(data))


def named(part) -> dict[str, str]:
    """Faces of a part by what they are called as panels."""
    return {part.sheet.root: "base"} | {bend.child: f"P{i}" for i, bend in enumerate(part.sheet.bends, 1)}


def apart(one, other) -> float:
    """How far the corners of either ring lie off the other, in space, mm."""
    def off(points, ring):
        worst = 0.0
        for p in points:
            a, b = ring, np.roll(ring, -1, axis=0)
            share = np.clip(((p - a) * (b - a)).sum(1) / np.maximum(((b - a) ** 2).sum(1), 1e-12), 0, 1)
            worst = max(worst, float(np.linalg.norm(a + share[:, None] * (b - a) - p, axis=1).min()))
        return worst
    return max(off(one, other), off(other, one))


def refused(data) -> str:
    """Why a part is refused; empty where it is not."""
    try:
        read_part(data)
    except Refusal as refusal:
        return refusal.path
    return ""


def panel(**block) -> dict:
    return {"direction": "up", "edge": 2} | block


class Opened(SimpleTestCase):
    def same(self, one, other):
        """Faces in the blank and in space, and what is cut in them."""
        names, blank = named(one), (Polygon(one.flat.outline), Polygon(other.flat.outline))
        self.assertAlmostEqual(blank[0].area, blank[1].area, delta=1e-3)
        places = [{face.id: face for face in fold(part.sheet).faces} for part in (one, other)]
        for face in one.sheet.faces:
            pair = places[0][face.id], places[1][names[face.id]]
            self.assertLess(apart(pair[0].corners, pair[1].corners), 2e-6)
            holes = [sorted(np.round(ring.mean(axis=0), 4).tolist() for ring in face.holes) for face in pair]
            self.assertLess(np.abs(np.array(holes[0]) - np.array(holes[1])).max(initial=0.0), 2e-4)

    def test_every_family_has_the_same_faces_and_openings_in_the_blank_and_in_space(self):
        seen = 0
        for make in FAMILIES:
            for seed in range(often(45)):
                data = make(random.Random(seed))
                try:
                    part = read_part(data)
                    told = as_panels(part.sheet, part.inside_radius) if part.shape.all_bends else None
                except Refusal:  # what runs into itself already
                    self.assertIs(make, random_panels)
                    continue
                if told:
                    with self.subTest(make.__name__, seed=seed):
                        self.same(part, read_part(data | {"shape": told}))
                        seen += 1
        self.assertGreater(seen, 4 * often(45) * 0.9)

    def test_orders_cost_the_same_and_as_much_is_said(self):
        for make, seed, on in ((random_tray, 7, "finger-1270"), (random_plate, 4, "leaf-2000"),
                               (random_plate, 6, "press-60t"), (random_plate, 5, "press-60t"),
                               (random_guard, 6, "press-60t"), (random_guard, 7, "finger-1270"),
                               (random_tray, 3, "leaf-2000")):
            data = make(random.Random(seed))
            one, other = read_part(data), read_part(opened(data))
            stops = [sum(notice.severity == "stop" for notice in check_part(part)) for part in (one, other)]
            plans = [plan_order(part, brake(on)) for part in (one, other)]
            with self.subTest(make.__name__, seed=seed):
                self.assertEqual(*stops)
                self.assertEqual(plans[0].feasible, plans[1].feasible)
                self.assertEqual(plans[0].feasible, seed != 3)
                self.assertAlmostEqual(plans[0].cost or 0, plans[1].cost or 0, 3)

    def test_a_strip_with_hems_and_a_part_in_inches_are_opened_too(self):
        for angle, dims in ((90, "outside"), (135, "inside"), (40, "flat")):
            data = part_file([30, 50, 25], [(angle, "up"), (60, "down")], dims=dims,
                             start_hem={"length": 10, "gap": 0, "direction": "up"},
                             end_hem={"length": 10, "gap": 1, "direction": "down"})
            self.same(read_part(data), read_part(opened(data)))
        inches = tray_file(8, 5, {"left": {"height": "1 1/2"}, "front": {"height": 1}}, radius=0.05) | {"units": "in"}
        inches["stock"]["thickness"] = "16 ga"
        inches["shape"]["corners"]["gap"] = 0.02
        told = opened(inches)
        self.same(read_part(inches), read_part(told))
        self.assertTrue(str(told["shape"]["panels"][0].get("length", told["shape"]["outline"][0][0])).endswith(" mm"))

    def test_collars_stay_and_cross_breaks_are_told(self):
        data = random_tray(random.Random(3))
        shape = {"kind": "tray", "dims": "outside", "direction": "up", "length": 200, "width": 120,
                 "walls": {"left": {"height": 30}, "front": {"height": 30}},
                 "holes": [{"x": 60, "y": 60, "diameter": 30, "collar": {"height": 5, "direction": "down"}}]}
        data = data | {"shape": shape, "inside_radius": 1.5}
        one, other = read_part(data), read_part(opened(data))
        self.assertAlmostEqual(one.shape.collars[0].pierced, other.shape.collars[0].pierced, 6)
        self.assertEqual(other.shape.collars[0].direction, "down")
        with self.assertRaisesMessage(Refusal, "cross-breaks"):
            opened(data | {"shape": shape | {"cross_breaks": {"rise": 3}}})
        with self.assertRaisesMessage(Refusal, "is none"):
            opened(opened(data))


class Outlines(SimpleTestCase):
    def test_a_panel_of_its_own_outline_is_as_large_as_drawn_and_bent_where_it_stands(self):
        for turned in (1, -1):
            ring = [[5, 0], [0, 20], [0, 30], [25, 48], [50, 30], [50, 0]]
            part = read_part(panels_file([panel(outline=ring)], BASE[::turned],
                                         thickness=2.0, radius=2.0, gap=0.3))
            zone, wall = part.shape.panels[0].zone, part.sheet.face["P1"]
            shift = 4.0 / 20 * 5  # the sloping side, as far up as the bend goes: r + t
            low = 5 - shift if turned > 0 else 60 - 50
            self.assertAlmostEqual(zone[0], low, 4)
            self.assertAlmostEqual(Polygon(wall.outline).area,
                                   Polygon(ring).area - 4 * (45 + shift / 2), 3)
            self.assertAlmostEqual(part.shape.legs[0].outside, 48.0)

    def test_more_is_bent_on_its_edges_and_folded_onto_it(self):
        ring = [[0, 0], [0, 30], [20, 50], [60, 30], [60, 0]]
        part = read_part(panels_file([
            panel(outline=ring), panel(on=1, edge=1, length=12), panel(on=1, edge=4, length=9, angle=180, gap=1),
            panel(on=1, edge=2, length=10, direction="down", start=6, end=6)], BASE))
        self.assertEqual([(b.id, b.parent) for b in part.sheet.bends], [("P1", "base"), ("P2", "P1"), ("P3", "P1"),
                                                                      ("P4", "P1")])
        fold_ = part.sheet.bend["P3"]
        self.assertEqual((fold_.angle, fold_.figures.inside_radius), (180, 0.5))
        self.assertNotIn("P3", [bend.id for bend in part.shape.bends])
        for row in compare(part).speaking:  # a fold has no deduction that the schools could differ in
            self.assertNotEqual(row.miss.leg, "P3")
        slanting = part.sheet.bend["P4"].parent_edge
        self.assertAlmostEqual(math.dist(*slanting), math.hypot(20, 20) - 12, 6)

    def test_what_an_outline_cannot_be_is_refused_at_its_field(self):
        for block, dims, where, why in (
                ({"outline": [[0, 1], [0, 30], [60, 30], [60, 0]]}, "outside", "outline[0][1]", "must be 0"),
                ({"outline": [[60, 0], [60, 30], [0, 30], [0, 0]]}, "outside", "outline", "from the start"),
                ({"outline": [[0, 0], [0, 30], [70, 30], [70, 0]]}, "outside", "outline", "must stand on its edge"),
                ({"outline": [[0, 0], [55, 45], [5, 20], [60, 0]]}, "outside", "outline", "cross"),
                ({"outline": [[0, 0], [0, 30], [20, 1], [40, 30], [60, 30], [60, 0]]}, "outside", "outline",
                 "in one piece"),
                ({"outline": [[0, 0], [0, 30], [60, 30], [60, 0]], "length": 9}, "outside", "length", "does not go"),
                ({"outline": [[0, 0], [0, 30], [60, 30], [60, 0]]}, "inside", "outline", "outside"),
                ({"outline": [[0, 0], [0, 30], [60, 30], [60, 0]], "hem": {"length": 8}}, "outside", "hem", "180°"),
                ({}, "outside", "length", "is missing"), ({"length": 20, "gap": 1}, "outside", "gap", "fold")):
            with self.assertRaises(Refusal) as told:
                read_part(panels_file([panel(**block)], BASE, dims=dims))
            self.assertEqual(told.exception.path, f"shape.panels[0].{where}", block)
            self.assertIn(why, told.exception.message)

    def test_a_panel_gets_an_outline_and_corners_come_to_it_and_go(self):
        for turned in (1, -1):
            data = panels_file([panel(length=30, start=5), panel(on=1, edge=3, length=12)], BASE[::turned])

            def now(data=data):
                return read_part(data).shape
            mine = added(data, "shape.panels[0].outline", now)
            self.assertNotIn("length", mine["shape"]["panels"][0])
            before, after = (sorted(np.round(f.outline, 4).tolist()) for d in (data, mine)
                             for f in read_part(d).sheet.faces if f.id == "P1")
            self.assertEqual(before, after)
            more = added(mine, "shape.panels[0].outline", now, 1)
            self.assertEqual((len(more["shape"]["panels"][0]["outline"]), more["shape"]["panels"][1]["edge"]), (5, 4))
            read_part(more)
            self.assertEqual(removed(more, "shape.panels[0].outline[2]")["shape"]["panels"], mine["shape"]["panels"])
            with self.assertRaisesMessage(Refusal, "take them off first"):
                removed(mine, "shape.panels[0].outline[2]")
            set_field(more, "shape.panels[0].outline[2][1]", "44", "mm")

    def test_the_other_hand_of_outlines_arcs_and_openings_is_the_mirror(self):
        data = panels_file([panel(outline=[[0, 0], [5, 30], [40, 42], [60, 20], [60, 0]])], BASE, corners=[
            {"corner": 1, "radius": 9}, {"on": 1, "corner": 3, "radius": 4}], edges=[{"edge": 3, "rise": 6}],
            openings=[{"outline": [[10, 10], [30, 12], [20, 25]]}, {"on": 1, "outline": [[20, 15], [30, 15],
                                                                                             [30, 25]]}])
        other = data | {"shape": mirrored(copy.deepcopy(data["shape"]), lambda value: read_length(value, "mm"))}
        one, two = read_part(data), read_part(other)
        for face in one.sheet.faces:
            pair = [part.flat.faces[face.id] for part in (one, two)]
            self.assertAlmostEqual(Polygon(pair[0]).area, Polygon(pair[1]).area, 4)
        self.assertEqual(*(sorted(round(h.area, 4) for h in part.flat.holes) for part in (one, two)))
        mirror = Polygon([(one.flat.size[0] - x, y) for x, y in one.flat.outline])
        self.assertLess(mirror.symmetric_difference(Polygon(two.flat.outline)).area, 0.5)


class Arcs(SimpleTestCase):
    def test_edges_bow_and_corners_are_rounded_as_far_as_they_say(self):
        for turned in (1, -1):
            part = read_part(panels_file([], BASE[::turned], edges=[{"edge": 1, "rise": 10}],
                                         corners=[{"corner": 4, "radius": 8}]))
            half = math.asin(50 / 130)  # a chord of 100 that rises 10 has a radius of 130
            segment = 130 ** 2 * (half - math.sin(half) * math.cos(half))
            area = 6000 + segment - 64 * (1 - math.pi / 4)
            self.assertAlmostEqual(Polygon(part.sheet.face["base"].outline).area, area, delta=1)
            self.assertAlmostEqual(max(part.flat.size), 100, 6)
            self.assertEqual(len(part.shape.centres), 2)
        ring = Polygon(part.sheet.face["base"].outline).exterior
        for centre, radius in zip(part.shape.centres, (130, 8), strict=True):
            near = [math.dist(p, centre) for p in ring.coords if abs(math.dist(p, centre) - radius) < 0.01]
            self.assertGreater(len(near), 4)

    def test_nothing_is_bent_on_an_arc_or_into_a_rounded_corner(self):
        for block, shape, where in (
                (panel(length=20), {"edges": [{"edge": 2, "rise": 4}]}, "panels[0].edge"),
                (panel(length=20), {"corners": [{"corner": 2, "radius": 6}]}, "panels[0].start"),
                (panel(length=20), {"corners": [{"corner": 3, "radius": 6}]}, "panels[0].end"),
                (panel(length=20), {"corners": [{"on": 1, "corner": 1, "radius": 6}]}, "corners[0].on"),
                (panel(length=20), {"corners": [{"corner": 1, "radius": 70}]}, "corners[0].radius"),
                (panel(length=20), {"edges": [{"edge": 5, "rise": 1}]}, "edges[0].edge")):
            with self.assertRaises(Refusal) as told:
                read_part(panels_file([block], BASE, **shape))
            self.assertEqual(told.exception.path, f"shape.{where}")
        read_part(panels_file([panel(length=20, start=6, end=6)], BASE,
                              corners=[{"corner": 2, "radius": 6}, {"corner": 3, "radius": 6}]))

    def test_how_far_a_curve_may_go(self):
        ring = [[0, 0], [0, 30], [30, 40], [60, 30], [60, 0]]
        for shape, path in (({"edges": [{"on": 1, "edge": 4, "rise": 3}]}, ""),
                            ({"edges": [{"on": 1, "edge": 5, "rise": 3}]}, "edges[0].edge"),
                            ({"corners": [{"on": 1, "corner": 5, "radius": 3}]}, ""),
                            ({"edges": [{"edge": 1, "rise": 9000}]}, "edges[0].rise"),
                            ({"corners": [{"corner": 4, "radius": 5}] * 2}, "corners[1].corner")):
            with self.subTest(shape=shape):
                told = refused(panels_file([panel(outline=ring)], BASE, **shape))
                self.assertEqual(told.removeprefix("shape."), path)
        for start, end, fits in ((6, 6, True), (5.9, 6, False), (6, 5.9, False)):
            rounded = panels_file([panel(length=20, start=start, end=end)], BASE,
                                  corners=[{"corner": 2, "radius": 6}, {"corner": 3, "radius": 6}])
            self.assertEqual(fits, not refused(rounded))

    def test_arcs_are_found_again_in_chords(self):
        rng = random.Random(5)
        for _ in range(often(60)):
            n, size = rng.randint(3, 7), rng.uniform(20, 200)
            turns = sorted(rng.uniform(0, 2 * math.pi) for _ in range(n))
            ring = [[size * math.cos(a), size * math.sin(a)] for a in turns]
            if Polygon(ring).area < 0.2 * size ** 2:
                continue
            edges = [{"edge": k + 1, "rise": rng.uniform(0.05, 0.2) * math.dist(ring[k], ring[(k + 1) % n])}
                     for k in range(n) if rng.random() < 0.5]
            try:
                part = read_part(panels_file([], ring, edges=edges))
            except Refusal:
                continue
            corners, rises = with_arcs(part.sheet.face["base"].outline)
            self.assertEqual(len(corners), n)
            self.assertEqual(sorted(round(v, 3) for v in rises.values()), sorted(round(e["rise"], 3) for e in edges))

    def test_a_relief_is_round_or_none(self):
        areas = {}
        for way in ("square", "round", "none"):
            part = read_part(panels_file([panel(length=20, start=10, end=10, reliefs=way)], BASE, relief=3.0))
            areas[way] = Polygon(part.sheet.face["base"].outline).area
        self.assertAlmostEqual(areas["round"] - areas["square"], 2 * (9 / 2 - math.pi * 9 / 8), delta=0.12)
        self.assertAlmostEqual(areas["none"] - areas["square"], 2 * (3 * (2.5 + 2) - 0.05 * 2.5), 4)  # r + t, r + t/2

    def test_a_notch_is_cut_where_and_as_it_is_told(self):
        for turned in (1, -1):
            for form, area in (("square", 10 * 12), ("vee", 60), ("round", 10 * 7 + math.pi * 25 / 2)):
                part = read_part(panels_file([panel(length=30)], BASE[::turned], notches=[
                    {"edge": 1, "along": 30, "width": 10, "depth": 12, "form": form},
                    {"on": 1, "edge": 2, "along": 22, "width": 10, "depth": 12, "form": form}]))
                plain = read_part(panels_file([panel(length=30)], BASE[::turned]))
                for face, low, high in (("base", (25, -1 if turned > 0 else 48), (35, 12 if turned > 0 else 61)),
                                        ("P1", None, None)):
                    gone = Polygon(plain.sheet.face[face].outline) - Polygon(part.sheet.face[face].outline)
                    self.assertAlmostEqual(gone.area, area, delta=0.5)
                    if low:
                        self.assertTrue(np.allclose(gone.bounds, (*low, *high), atol=1.01), gone.bounds)
                wall = (Polygon(plain.sheet.face["P1"].outline) - Polygon(part.sheet.face["P1"].outline)).centroid
                self.assertAlmostEqual(wall.y, 22 if turned > 0 else 60 - 22, 3)

    def test_a_notch_that_cuts_a_bend_or_has_no_edge_is_refused(self):
        for block, where in (({"edge": 2, "along": 30}, "along"), ({"edge": 9, "along": 30}, "edge"),
                             ({"edge": 1, "along": 130}, "along"), ({"on": 4, "edge": 1, "along": 3}, "on"),
                             ({"edge": 1, "along": 30, "form": "round", "depth": 2}, "depth")):
            with self.assertRaises(Refusal) as told:
                read_part(panels_file([panel(length=30)], BASE, notches=[{"width": 10, "depth": 6} | block]))
            self.assertEqual(told.exception.path, f"shape.notches[0].{where}")
        free = panels_file([panel(length=30, start=30)], BASE,
                           notches=[{"edge": 2, "along": 12, "width": 10, "depth": 6}])
        self.assertEqual(len(read_part(free).sheet.faces), 2)
        for along, width, fits in ((24, 10, True), (25, 10, False), (96, 6, True), (94.5, 6, False)):  # reliefs 1 wide
            beside = panels_file([panel(edge=1, length=30, start=30, end=8)], BASE,
                                 notches=[{"edge": 1, "along": along, "width": width, "depth": 6}])
            with self.subTest(along=along):
                self.assertEqual(fits, not refused(beside))
        for deep, fits in ((5.0, True), (4.9, False)):
            end = panels_file([], BASE, notches=[{"edge": 1, "along": 30, "width": 10, "depth": deep, "form": "round"}])
            self.assertEqual(fits, not refused(end))

    def test_an_opening_of_any_outline_lies_where_it_was_asked_for(self):
        ring = [[10, 12], [30, 12], [22, 24]]
        for turned in (1, -1):
            part = read_part(panels_file([panel(length=30, start=8)], BASE[::turned],
                                         openings=[{"outline": ring}, {"on": 1, "outline": ring}]))
            base, wall = (Polygon(part.sheet.face[f].holes[0].outline()) for f in ("base", "P1"))
            self.assertLess(base.symmetric_difference(Polygon(ring)).area, 1e-6)
            along = [(v - part.shape.panels[0].setback, (8 + u) if turned > 0 else 60 - 8 - u) for u, v in ring]
            self.assertLess(wall.symmetric_difference(Polygon(along)).area, 1e-6)
            self.assertGreater(LineString([(0, 0), (0, 60)]).distance(wall), 1)

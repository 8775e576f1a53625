"""Drawings: everything on the page, nothing on top of anything else, and true to the figures."""

import json
import math
import random
from contextlib import suppress
from unittest import mock

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import LinearRing, Polygon, box

from bendcore.edits import new_part, set_field
from bendcore.errors import Refusal
from bendcore.families.profile import from_points
from bendcore.order.explain.frames import step_frames
from bendcore.order.plan import Placed, Tooling
from bendcore.order.planning import plan_order
from bendcore.order.proof.gauge import EDGE, Gauge
from bendcore.order.proof.prover import Prover
from bendcore.order.states.body import CHILD
from bendcore.order.states.moves import MADE, Job, Move
from bendcore.part import read_part
from bendcore.sheet import fold
from bendcore.sheet.solid import mesh
from bendcore.units import MM_PER
from dorvan.drawings.bent import bent_view
from dorvan.drawings.film import film
from dorvan.drawings.fit import Fit, spread
from dorvan.drawings.flat import flat_view, ribbon
from dorvan.drawings.machine import step_picture
from dorvan.drawings.places import NAME_H, places
from dorvan.drawings.section import LABEL_H, LABEL_W, section_view
from dorvan.drawings.still import still
from dorvan.drawings.tools import rack_view
from dorvan.tickets.families.guard import guard_page, numbered
from dorvan.tickets.results import derived
from tests.core.guards import random_guard
from tests.core.samples import part_file, press
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Fitting(SimpleTestCase):
    @given(st.lists(st.tuples(st.floats(-500, 500), st.floats(-500, 500)), min_size=2, max_size=12))
    def test_everything_lies_in_its_box(self, points):
        fit = Fit.into(points, 10, 20, 300, 200)
        for x, y in map(fit, points):
            self.assertTrue(9.9 <= x <= 310.1 and 19.9 <= y <= 220.1, (x, y))

    @given(st.lists(st.tuples(st.floats(0, 800), st.floats(5, 120)), max_size=14))
    def test_labels_in_a_row_keep_apart(self, sizes):
        labels = spread([{"x": x, "w": w} for x, w in sizes], 8)
        for i, one in enumerate(labels):
            for other in labels[:i]:
                if one["row"] == other["row"]:
                    self.assertGreaterEqual(abs(one["x"] - other["x"]) + 1e-6, (one["w"] + other["w"]) / 2 + 8)

    def test_a_scale_bar_is_round(self):
        for scale in (0.03, 0.4, 1.0, 7.7):
            for units, whole in (("mm", (10, 100, 200, 2000)), ("in", (1 / 2, 3, 12, 96))):
                bar = Fit(scale, 0, 0).bar(units)
                self.assertIn(round(bar["mm"] / MM_PER[units], 9), whole)
                self.assertAlmostEqual(bar["px"], bar["mm"] * scale, 1)


class Places(SimpleTestCase):
    WITHIN = np.array([0, 0, 800, 600])

    @given(st.lists(st.tuples(st.floats(0, 800), st.floats(0, 600), st.floats(-4, 4), st.sampled_from([60, 140])),
                    max_size=14))
    def test_labels_stand_apart_within_the_stage(self, rows):
        labels = [{"at": (x, y), "away": away} for x, y, away, _ in rows]
        wall = box(300, 0, 320, 600)
        found = places(labels, [(wide, 40) for *_, wide in rows], [0, 50, 90, 140], self.WITHIN, wall)
        boxes = [box(*place) for place in found or ()]
        for i, one in enumerate(boxes):
            self.assertTrue(box(*self.WITHIN).contains(one))
            self.assertFalse(any(one.intersects(other) for other in boxes[:i]))

    def test_no_room_is_said(self):
        self.assertIsNone(places([{"at": (400, 300), "away": 0.0}] * 60, (90, 44), [0, 50], self.WITHIN))


class Sections(SimpleTestCase):
    PARTS = [part_file(), part_file([18, 24, 48, 24, 18], [(90, "up"), (90, "down"), (90, "down"), (90, "up")]),
             part_file([50, 50, 50, 47], [(90, "up")] * 3), part_file([30, 60], [(135, "down")]),
             part_file([40, 70, 40], [(60, "up")] * 2, start_hem={"length": 10, "gap": 0, "direction": "up"})]

    def test_no_label_covers_another_or_the_metal(self):
        for data in self.PARTS:
            part = read_part(data)
            view = section_view(part, "mm")
            places = [box(la["left"], la["top"], la["left"] + LABEL_W, la["top"] + LABEL_H) for la in view["labels"]]
            self.assertEqual(len(places), len(part.shape.legs) + len(part.shape.bends) + len(part.shape.hems))
            for i, one in enumerate(places):
                self.assertTrue(box(0, 0, view["width"], view["height"]).contains(one))
                for other in places[:i]:
                    self.assertFalse(one.intersects(other), data["shape"])
            for d in (view["metal"] + view["zones"])[1:-1].split("ZM"):
                outline = Polygon([tuple(map(float, p.split(","))) for p in d.split("L")])
                self.assertFalse(any(place.intersects(outline) for place in places), data["shape"])

    def test_zones_too_small_to_draw_do_not_stop_the_drawing(self):
        for seed in range(400):
            rng = random.Random(seed)
            legs = [rng.choice([6, 9, 40, 112.92, 800, 3000]) for _ in range(rng.randint(3, 10))]
            bends = [(rng.choice([30, 90, 135, 150]), rng.choice(["up", "down"])) for _ in legs[1:]]
            with suppress(Refusal):
                section_view(read_part(part_file(legs, bends, radius=rng.choice([0, 1.2]))), "mm")

    def test_a_strip_too_full_gives_the_places_of_its_names(self):
        count = 24
        view = section_view(read_part(part_file([30] * (count + 1), [(90, ("up", "down", "down", "up")[i % 4])
                                                                      for i in range(count)])), "mm")
        self.assertTrue(view["crowded"])
        self.assertEqual(len(view["labels"]), 2 * count + 1)
        self.assertEqual(len({(la["x"], la["y"]) for la in view["labels"]}), 2 * count + 1)

    def test_the_film_shows_each_state(self):
        part = read_part(part_file())
        cards = film(part, plan_order(part, press(), ["B2", "B1"]).steps)
        self.assertEqual([c.title for c in cards], ["flat", "B2", "B1"])
        self.assertEqual(len({c.picture.d for c in cards}), 3)
        self.assertEqual([bool(c.picture.made) for c in cards], [False, True, True])

    def test_a_piece_that_came_out_is_drawn_as_far_off_as_its_factor_says(self):
        part = read_part(part_file([40, 60], [(90, "up")], thickness=1.0))
        for off in (0.5, -0.5, 3.0):
            bent = bent_view(part, {"B1": off, "L1": 0.1})
            turned = []
            for path in (bent.meant, bent.came):
                face = [complex(*map(float, point.split(","))) for point in path[1:-1].split("ZM")[2].split("L")]
                turned.append(math.degrees(np.angle(face[1] - face[0])))
            self.assertAlmostEqual(turned[0] - turned[1], off * bent.factor, delta=0.3)
            self.assertIn(bent.factor, (20, 10, 5, 2))
        self.assertLess(bent.factor, bent_view(part, {"B1": 0.5}).factor)
        self.assertIsNone(bent_view(part, {}))
        self.assertIsNone(bent_view(read_part(tray_file()), {"B1": 1.0}))

    def test_a_hem_too_small_to_be_seen_is_drawn_across_with_its_turn(self):
        rim = {"lip": {"width": 180, "direction": "in"}, "hem": {"length": 8, "direction": "in"}}
        walls = {side: {"height": 190} | rim for side in ("left", "right")}
        part = read_part(tray_file(length=900, width=600, walls=walls))
        steps = [Placed((bend.id,), bend.angle, "", None, None) for bend in part.sheet.bends]
        for card in film(part, steps)[1:]:
            lens, bend = card.picture.lens, next(b for b in part.sheet.bends if b.id == card.bend)
            self.assertEqual(lens is not None, bend.id.endswith("hem"), bend.id)
            if lens:
                points = [complex(*map(float, point.split(","))) for point in lens.made[1:].split("L")]
                chords = np.diff(points)
                turns = np.abs(np.angle(chords[1:] / chords[:-1]))
                facet = math.radians(bend.angle) / (len(points) - 1)
                self.assertAlmostEqual(turns.sum() + facet, math.radians(bend.angle), delta=0.05)  # by its chords
                ends = {f"{float(x):.1f},{float(y):.1f}" for run in lens.lines[1:].split("M") for x, y in
                        (point.split(",") for point in run.split("L"))}
                for point in (points[0], points[-1]):  # the sheet goes on at either end of it
                    self.assertIn(f"{point.real:.1f},{point.imag:.1f}", ends)

    def test_the_still_draws_far_before_near(self):
        picture = still(mesh(fold(read_part(part_file()).sheet)))
        self.assertGreater(len(picture["triangles"]), 20)
        self.assertTrue(all(0 <= t["shade"] <= 4 for t in picture["triangles"]))

    def test_a_step_in_the_machine_fits_the_card(self):
        job = Job.of(read_part(part_file()), press(["Straight 85"], ["V 8"]))
        step = Placed(("B1",), 90.0, "L2", Gauge(EDGE, "L3", 61.0), Tooling("Straight 85", "V 8"))
        frames = step_frames(Prover(job), (0, 0), Move(0, (0,), MADE, CHILD), 0, step)
        picture = step_picture(frames, job.part, "L3")
        self.assertEqual([(end["id"], end["held"]) for end in picture["ends"]], [("L1", False), ("L3", True)])
        self.assertEqual({t["name"] for t in picture["tools"]}, {"punch", "ram", "die", "table", "stop"})
        for piece in picture["part"]:
            for point in piece["d"][1:-1].split("L"):
                x, y = map(float, point.split(","))
                self.assertTrue(0 <= x <= picture["width"] and 0 <= y <= picture["height"])

    def test_tools_share_one_scale(self):
        rows = rack_view(press())
        tall, small = (next(r for r in rows if r["tool"].name == n) for n in ("Swan neck 85", "V 6"))

        def height(row):
            ys = [float(p.split(",")[1]) for p in row["d"][1:-1].split("L")]
            return max(ys) - min(ys)
        self.assertAlmostEqual(height(tall) / height(small), 122 / 60, 1)


class Flats(SimpleTestCase):
    def test_marks_run_from_one_edge_and_end_at_the_blank(self):
        part = read_part(part_file([30, 60, 40], width=900))
        for units, last in (("mm", part.flat.size[0]), ("in", part.flat.size[0] / 25.4)):
            view = flat_view(part, units)
            self.assertEqual(view["marks"][0]["big"], "0.0")
            self.assertAlmostEqual(float(view["marks"][-1]["big"]), last, 2)
            self.assertTrue(view["break"])
        xs = [m["x"] for m in view["marks"]]
        self.assertEqual(xs, sorted(xs))
        self.assertFalse(flat_view(read_part(part_file(width=30)), "mm")["break"])
        for legs in ([14, 40, 120, 40, 14], [12, 12, 12, 300, 12, 12, 12], [300] + [9] * 8):
            view = flat_view(read_part(part_file(legs, [(90, "up")] * (len(legs) - 1), width=900)), "in")
            self.assertTrue(view["break"])
            self.assertLess(view["mark_y"] + max(m["y_tape"] for m in view["marks"]), view["height"] - 24)  # its foot

    def test_a_size_of_a_guard_stands_off_every_edge_and_every_other(self):
        rng, led = random.Random(3), 0
        for _ in range(12):
            guard = random_guard(rng)
            ticket = mock.Mock(kind="guard", part=guard, figures=derived.figures(guard))
            page = guard_page(ticket, "in")
            ring = page["side"].fit.all(read_part(guard).shape.outline)
            boxes = [box(one["left"], one["top"] - NAME_H, one["left"] + one["wide"], one["top"] + LABEL_H)
                     for one in page["labels"]]
            self.assertEqual(len(boxes), len(ring))
            for n, own in enumerate(boxes):
                self.assertFalse(own.intersects(LinearRing(ring)) or own.intersects(page["view"]["taken"]()))
                self.assertFalse(any(own.intersects(other) for other in boxes[:n]))
            led += sum(one["leader"] is not None for one in page["labels"])
            for edge, one in zip(page["side"].edges, page["labels"], strict=True):
                self.assertEqual(one["label"].split()[-1], str(edge.number))
                a, b = dict(numbered(read_part(guard).shape))[edge.number]
                np.testing.assert_allclose(page["side"].fit(np.add(a, b) / 2), edge.middle, atol=0.2)
        self.assertLess(led, 12)

    def test_zones_ticks_and_the_ribbon_are_to_scale(self):
        part = read_part(part_file([30, 60, 40], [(90, "up"), (60, "down")]))
        view, strip = flat_view(part, "mm"), ribbon(part)
        scale = view["wide"] / part.flat.size[0]
        for row, flat in zip(view["bends"], part.flat.bends, strict=True):
            self.assertAlmostEqual(row["zone"], flat.bend.figures.allowance * scale, 0)
            self.assertAlmostEqual(row["sights"][0] - row["near"], flat.bend.figures.inside_radius * scale, 0)
            self.assertEqual(row["direction"], flat.bend.direction)
        self.assertNotEqual(*(row["tick"][-5:] for row in view["bends"]))
        share = (strip["names"][0]["x"] - strip["left"]) / strip["wide"]
        self.assertAlmostEqual(share, part.flat.bends[0].line[0][0] / part.flat.size[0], 3)


class TaperedStrips(ShopCase):
    def test_every_page_of_a_tapered_strip_is_there(self):
        self.change(field="shape.taper.front.end", value="12")
        self.change(field="shape.snips.end_back.across", value="5")
        for page in ("", "stock/", "layout/", "order/", "marking-out/", "bend/", "space/", "file/dxf/", "file/model/"):
            self.assertEqual(self.client.get(f"/t/7/{page}").status_code, 200, page)


def drawn(part, points):
    """The part with the line taken for its shape."""
    return part | {"shape": from_points(part["shape"], points, part["units"])}


class DrawnLines(SimpleTestCase):
    @given(st.lists(st.tuples(st.floats(25, 90), st.sampled_from([-90, -60, -45, 45, 60, 90])), min_size=1, max_size=5),
           st.floats(20, 80))
    @settings(max_examples=60)
    def test_a_line_drawn_is_the_part_it_says(self, steps, first):
        points, heading = [(0.0, 0.0), (first, 0.0)], 0.0
        for leg, turn in steps:
            heading += math.radians(turn)
            x, y = points[-1]
            points.append((x + leg * math.cos(heading), y + leg * math.sin(heading)))
        try:
            part = read_part(drawn(part_file(), points))
        except Refusal:
            assume(False)
        self.assertEqual([b.figures.angle for b in part.shape.bends], [abs(t) for _, t in steps])
        self.assertEqual([b.direction for b in part.shape.bends], ["up" if t > 0 else "down" for _, t in steps])
        for leg, wanted in zip(part.shape.legs, (first, *[s for s, _ in steps]), strict=True):
            self.assertAlmostEqual(leg.size, wanted, 1)

    def test_points_in_line_are_one_leg(self):
        shape = drawn(part_file(), [[0, 0], [20, 0], [40, 0], [40, 30]])["shape"]
        self.assertEqual((shape["legs"], len(shape["bends"])), (["40 mm", "30 mm"], 1))

    def test_ends_of_a_strip_are_tapered_and_snipped_where_they_are_typed(self):
        part = new_part("Gusset", "mm")
        part = set_field(part, "shape.taper.front.end", "12", "mm")
        part = set_field(part, "shape.snips.start_back.along", "1/4", "in")
        self.assertEqual(part["shape"]["snips"], {"start_back": {"along": "1/4 in", "across": "1/4 in"}})
        self.assertEqual(len(read_part(part).flat.outline), 5)
        part = set_field(set_field(part, "shape.taper.front.end", "0", "mm"), "shape.snips.start_back.along", "0", "mm")
        self.assertNotIn("taper", set_field(part, "shape.snips.start_back.across", "0", "mm")["shape"])

    def test_setting_a_field_leaves_the_part_before_it_as_it_was(self):
        """What is not on the way to the field is shared between the two."""
        tray = tray_file(walls={"left": {"height": 40, "lip": {"width": 15, "direction": "in"}}})
        for field, text in (("shape.walls.left.lip.width", "18"), ("shape.corners.style", "tab"), ("name", "other"),
                            ("stock.thickness", "2"), ("allowance.method", "din6935"), ("shape.length", "240 inside")):
            before = json.dumps(tray)
            self.assertNotEqual(set_field(tray, field, text, "mm"), tray, field)
            self.assertEqual(json.dumps(tray), before, field)

    def test_a_new_part_can_be_made_in_either_unit(self):
        for units in ("mm", "in"):
            part = read_part(new_part("Angle", units))
            self.assertGreater(part.flat.size[0], 90)
        mixed = set_field(new_part("Angle", "in"), "shape.legs[0]", "50", "mm")
        self.assertAlmostEqual(read_part(mixed).shape.legs[0].size, 50)
        data = new_part("Angle", "mm")
        data["shape"]["legs"][1] = {"length": 60, "dims": "inside"}
        self.assertEqual(set_field(data, "shape.legs[1]", "70", "mm")["shape"]["legs"][1]["dims"], "inside")

"""Panels on panels, judged by placement and arithmetic of their own."""

import math
import random

import numpy as np
import shapely
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.checks import check_part
from bendcore.edits import added, removed
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.families.twin import mirrored
from bendcore.part import read_part
from bendcore.sheet.fold import fold
from bendcore.units import read_length
from tests.core.panels import BASE, frames, panels_file, random_panels, sound_panels
from tests.often import often


def faces_in_space(part, data):
    """By face (frame, polygon of its mould's coordinates, holes) as the judge places it."""
    shape = part.shape
    data["moulds"] = {panel.id: panel.mould for panel in shape.panels}
    placed = frames(data, shape.outline)
    back = {BASE: 0.0} | {panel.id: panel.setback for panel in shape.panels}
    return {face.id: (placed[face.id], Polygon([(x + back[face.id], y) for x, y in face.outline]),
                      [((h.centre[0] + back[face.id], h.centre[1]), h) for h in face.holes])
            for face in part.sheet.faces if face.id in placed}


def ends_of_bends(part) -> list:
    """Where the base's bends begin and end."""
    return [bend.parent_edge for bend in read_part(part).sheet.bends if bend.parent == "base"]


def run_through(one, other, t) -> bool:
    """Whether points within the sheet of one face lie within the other's, by more than a tenth of the sheet."""
    (frame, polygon, _), (into, room, _) = one, other
    x0, y0, x1, y1 = polygon.bounds
    xs, ys = np.meshgrid(np.linspace(x0, x1, 28), np.linspace(y0, y1, 28))
    inside = shapely.contains_xy(polygon.buffer(-0.15 * t), xs, ys)
    points = np.stack([frame(x, y, z) for x, y in zip(xs[inside], ys[inside], strict=True)
                       for z in (-0.1 * t, -0.5 * t, -0.9 * t)]) if inside.any() else np.zeros((0, 3))
    off = points - into.at
    z = off @ into.up
    at = np.column_stack([off @ into.ex, off @ into.ey])
    deep = (z < -0.1 * t) & (z > -0.9 * t)
    return bool(shapely.contains_xy(room.buffer(-0.15 * t), at[deep, 0], at[deep, 1]).any())


class Random(SimpleTestCase):
    def test_faces_stand_where_they_are_described_and_nothing_lies_in_anything_untold(self):
        rng, read, told = random.Random(11), 0, 0
        for _ in range(often(360)):
            data = random_panels(rng)
            try:
                part = read_part(data)
            except Refusal as refusal:
                self.assertRegex(refusal.path, r"^shape\.(panels|holes|windows|outline)|^$", data)
                continue
            read += 1
            folded, placed = fold(part.sheet, flat=part.flat), faces_in_space(part, data)
            back = {BASE: 0.0} | {panel.id: panel.setback for panel in part.shape.panels}
            root = folded.frames[BASE]
            for name, (frame, polygon, _) in placed.items():
                points = np.array(polygon.exterior.coords)
                ours = np.stack([frame(x, y) for x, y in points])
                theirs = folded.frames[name](points - [back[name], 0])
                np.testing.assert_allclose(theirs - root(np.zeros((1, 2))), ours, atol=1e-3, err_msg=f"{name} {data}")
            in_flat, in_space = part.conflicts
            pieces = [Polygon(ring) for ring in part.flat.faces.values()]
            over = sum(p.area for p in pieces) - shapely.union_all(pieces).area
            if over > 0.05:
                self.assertTrue(in_flat, data)
            t, names = part.stock.thickness, list(placed)
            joined = {frozenset((bend.parent, bend.child)) for bend in part.sheet.bends}
            hit = any(run_through(placed[a], placed[b], t) or run_through(placed[b], placed[a], t)
                      for i, a in enumerate(names) for b in names[:i] if frozenset((a, b)) not in joined)
            if hit:
                told += 1
                self.assertTrue(in_space or in_flat, data)
                self.assertTrue(any(n.severity == "stop" for n in check_part(part)), data)
        self.assertGreater(read, often(120))
        self.assertGreater(told, 0)

    def test_what_is_not_joined_stands_the_gap_apart_in_the_blank(self):
        rng, seen = random.Random(21), 0
        for _ in range(often(90)):
            data = sound_panels(rng)
            for block in data["shape"]["panels"]:  # what is left free may come nearer
                for key in ("start", "end", "start_taper"):
                    block.pop(key, None)
            try:
                part = read_part(data)
            except Refusal:
                continue
            if any(part.conflicts):
                continue
            pieces = [(Polygon(ring), {name}, False) for name, ring in part.flat.faces.items()]
            pieces += [(Polygon([*b.tangents[0], *b.tangents[1][::-1]]).convex_hull,
                        {b.bend.parent, b.bend.child}, True)
                       for b in part.flat.bends]
            for i, (one, own, zone) in enumerate(pieces):
                for other, beside, is_zone in pieces[:i]:
                    if zone == is_zone or not own & beside:
                        self.assertGreater(one.distance(other), 0.85 * data["shape"]["gap"], data["shape"])
            seen += 1
        self.assertGreater(seen, often(40))

    def test_openings_are_where_they_were_asked_for(self):
        rng, seen = random.Random(5), 0
        while seen < often(60):
            data = random_panels(rng, 4)
            try:
                part = read_part(data)
            except Refusal:
                continue
            placed = faces_in_space(part, data)
            for key in ("holes", "windows"):
                for i, block in enumerate(data["shape"][key]):
                    face = f"P{block['on']}" if block["on"] else BASE
                    _, _, holes = placed[face]
                    at = next(at for at, hole in holes if hole.path == f"{key}[{i}]")
                    if block["on"]:
                        panel = part.shape.panels[block["on"] - 1]
                        start = data["shape"]["panels"][block["on"] - 1].get("start", 0) + block["x"]
                        along = panel.long - start if part.shape.turned else start
                        np.testing.assert_allclose(at, (block["y"], along), atol=1e-9)
                    else:
                        np.testing.assert_allclose(at, (block["x"], block["y"]), atol=1e-9)
                    seen += 1

    def test_the_other_hand_is_the_mirror_image(self):
        rng, seen = random.Random(8), 0
        while seen < often(40):
            data = random_panels(rng, 5)
            try:
                part = read_part(data)
            except Refusal:
                continue
            other = data | {"shape": mirrored(data["shape"], lambda value: read_length(value, "mm"))}
            twin = read_part(other)
            self.assertAlmostEqual(twin.flat.area, part.flat.area, places=3)
            mirror = np.array([-1.0, 1.0, 1.0])
            for face in part.sheet.faces:
                one, two = (fold(p.sheet, flat=p.flat) for p in (part, twin))
                here, there = (folded.frames[face.id](np.array(p.sheet.face[face.id].outline))
                               - folded.frames[BASE](np.zeros((1, 2))) for p, folded in ((part, one), (twin, two)))
                here = here * mirror
                self.assertLess(max(np.linalg.norm(there - p, axis=1).min() for p in here), 1e-5, (face.id, data))
            seen += 1


class Corners(SimpleTestCase):
    def test_two_that_meet_stand_the_gap_apart_whatever_they_lean(self):
        for first, second in ((90, 90), (90, 60), (45, 70), (105, 90), (110, 100)):
            for outline in (((0, 0), (160, 0), (160, 100), (0, 100)), ((0, 0), (160, 0), (200, 100), (0, 100)),
                            ((0, 0), (160, 0), (120, 100), (0, 100))):
                data = panels_file([{"edge": 1, "length": 25, "angle": first, "direction": "up"},
                                    {"edge": 2, "length": 25, "angle": second, "direction": "up"}], outline, gap=0.7)
                part = read_part(data)
                placed, t = faces_in_space(part, data), part.stock.thickness
                (one, _, _), (two, _, _) = placed["P1"], placed["P2"]
                end = [one(x, y, 0.0) for x, y in part.shape.panels[0].mould[2:4]]  # the inner face is the top
                start = [two(x, y, 0.0) for x, y in part.shape.panels[1].mould[:2]]
                along = (end[0] - end[1]) / np.linalg.norm(end[0] - end[1])
                np.testing.assert_allclose(np.cross(along, start[1] - start[0]), 0, atol=1e-9)
                apart = (start[0] - end[1]) - ((start[0] - end[1]) @ along) * along
                self.assertAlmostEqual(float(np.linalg.norm(apart)), 0.7, places=6)
                self.assertFalse(run_through(placed["P1"], placed["P2"], t))

    def test_one_that_covers_ends_with_the_others_outside_and_that_stands_off_its_inside(self):
        up = {"direction": "up", "length": 30}
        for angle in (60, 75, 90, 105):
            for outline in ([(0, 0), (100, 0), (100, 60), (0, 60)], [(0, 0), (100, 0), (130, 60), (0, 60)]):
                part = read_part(panels_file([up | {"edge": 1, "angle": angle, "ends": "covers"},
                                              up | {"edge": 2, "angle": angle}], outline, thickness=2.0, radius=2.0))
                self.assertFalse(any(part.conflicts))
                one, other = (next(f for f in fold(part.sheet).faces if f.id == name) for name in ("P1", "P2"))
                skins = [np.concatenate([f.corners, f.corners - 2 * f.normal]) for f in (one, other)]
                outside = (skins[0] - (other.corners[0] - 2 * other.normal)) @ other.normal
                self.assertAlmostEqual(outside.min(), 0.0, 6)
                self.assertAlmostEqual(((skins[1] - one.corners[0]) @ one.normal).min(), part.shape.gap, 6)
        with self.assertRaisesMessage(Refusal, "covers at the same corner"):
            read_part(panels_file([up | {"edge": edge, "ends": "covers"} for edge in (1, 2)]))

    def test_what_meets_is_joined_and_nothing_else(self):
        up, down = {"length": 30, "direction": "up"}, {"length": 20, "direction": "down"}
        box = read_part(panels_file([up | {"edge": 1}, up | {"edge": 2}, down | {"edge": 3},
                                     up | {"edge": 4, "end": 5},
                                     up | {"on": 1, "edge": 1, "length": 12}, up | {"on": 1, "edge": 2, "length": 9}]))
        self.assertEqual([(j.key, j.length) for j in box.shape.joints({})], [("corner:P1-P2", 30), ("corner:P5-P6", 9)])
        notch = ((0, 0), (200, 0), (200, 80), (110, 80), (110, 170), (0, 170))
        inner = read_part(panels_file([up | {"edge": 3}, up | {"edge": 4}], notch))
        self.assertEqual(list(inner.shape.joints({})), [])

    def test_a_box_holds_its_inside(self):
        inner = panels_file([{"edge": n, "length": 30, "direction": "up"} for n in (1, 2, 3, 4)], dims="inside")
        part = read_part(inner)
        self.assertAlmostEqual(part.shape.panels[0].long, 160 + 2 * 1.0)
        self.assertAlmostEqual(part.shape.panels[0].mould[1][0], 30 + 1.0)
        self.assertEqual([leg.dims for leg in part.shape.legs], ["inside"] * 4)


class Shapes(SimpleTestCase):
    up = {"length": 30, "direction": "up"}  # noqa: RUF012

    def blank(self, panels, **more):
        part = read_part(panels_file(panels, **more))
        return part, {name: Polygon(ring) for name, ring in part.flat.faces.items()}

    def test_at_a_corner_that_goes_in_just_the_gap_parts_what_would_lie_on_each_other(self):
        notch = ((0, 0), (200, 0), (200, 80), (110, 80), (110, 170), (0, 170))
        for angle in (90, 60):
            _, faces = self.blank([self.up | {"edge": 3, "angle": angle}, self.up | {"edge": 4, "angle": angle}],
                                  outline=notch, gap=0.6)
            self.assertAlmostEqual(faces["P1"].distance(faces["P2"]), 0.6, places=6)
        for skew in (110, 130, 90):
            outline = (*notch[:3], (110, 80), (skew, 170), (0, 170))
            _, faces = self.blank([self.up | {"edge": 3}], outline=outline, gap=0.6)
            near = faces["P1"].distance(faces["base"])
            self.assertGreaterEqual(near, 0.6 - 1e-9, skew)
            self.assertLess(near, 1.2, skew)

    def test_a_bend_that_its_own_sides_shorten_leaves_the_metal_beside_it(self):
        part, faces = self.blank([self.up | {"edge": 1}, self.up | {"on": 1, "edge": 1, "length": 12}])
        bend = part.sheet.bend["P1"]
        self.assertGreater(bend.parent_edge[0][0], 1.0)
        self.assertTrue(any(math.dist(corner, (0, 0)) < 1e-6 for corner in part.sheet.face["base"].outline))
        self.assertGreaterEqual(faces["P2"].distance(faces["base"]), 0.5 - 1e-9)
        meets = [self.up | {"edge": 1}, self.up | {"edge": 4, "angle": 60}]
        leaning = read_part(panels_file(meets)).shape.panels[0].mould
        square = read_part(panels_file([*meets, self.up | {"on": 1, "edge": 1, "length": 12}])).shape.panels[0].mould
        self.assertGreater(abs(leaning[0][1] - leaning[1][1]), 5)
        self.assertEqual(square[0][1], square[1][1])

    def test_a_window_lies_along_its_panel_and_a_hem_takes_what_its_fold_does(self):
        part, _ = self.blank([self.up | {"edge": 1, "hem": {"length": 8, "gap": 0}}],
                             windows=[{"on": 1, "x": 80, "y": 14, "length": 20, "width": 6, "radius": 1}])
        (up0, along0), (up1, along1) = (np.array(part.sheet.face["P1"].holes[0].outline()).min(axis=0),
                                        np.array(part.sheet.face["P1"].holes[0].outline()).max(axis=0))
        self.assertAlmostEqual(along1 - along0, 20)
        self.assertAlmostEqual(up1 - up0, 6)
        bend, hem = part.shape.bends[0].figures, part.shape.hems[0]
        t = part.stock.thickness
        deep = (100 - bend.outside_setback + bend.allowance + 30 - bend.outside_setback - t + hem.figures.allowance
                + 8 - t)
        self.assertAlmostEqual(part.flat.size[1], deep, places=6)
        self.assertAlmostEqual(max(x for x, _ in part.sheet.face["P1"].outline), 30 - t - bend.outside_setback)
        flared = {"angle": 45, "hem": {"length": 20, "gap": 0}}
        over = read_part(panels_file([self.up | {"edge": 1} | flared, self.up | {"edge": 4, "angle": 45}])).sheet.face[
            "P1-hem"].outline
        self.assertGreater(over[1][1], over[0][1] + 5)  # it lies on what is narrower
        tapered = self.up | {"edge": 1, "start_taper": 12, "hem": {"length": 20, "gap": 0}}
        over = read_part(panels_file([tapered])).sheet.face["P1-hem"].outline
        self.assertEqual(over[1][1], over[0][1])

    def test_a_grid_is_as_many_where_they_were_asked_for_on_either_hand(self):
        grid = {"x": 40, "y": 20, "diameter": 4, "repeat": {"count": 3, "pitch": 15, "rows": 2, "row_pitch": 10}}
        data = panels_file([self.up | {"edge": 1}], holes=[grid, grid | {"on": 1, "y": 10, "x": 60}])
        data["shape"]["holes"][1]["repeat"] = {"count": 4, "pitch": 9}
        part = read_part(data)
        on_base, on_panel = ([hole.centre for hole in part.sheet.face[name].holes] for name in ("base", "P1"))
        self.assertEqual(sorted(on_base), [(40 + 15 * n, 20 + 10 * m) for n in range(3) for m in range(2)])
        self.assertEqual([along for _, along in on_panel], [60, 69, 78, 87])
        twin = read_part(data | {"shape": mirrored(data["shape"], lambda value: read_length(value, "mm"))})
        there = sorted((round(-x, 6), round(y, 6)) for x, y in (h.centre for h in twin.sheet.face["base"].holes))
        self.assertEqual(there, sorted(on_base))
        with self.assertRaisesMessage(Refusal, "more than 1000"):
            read_part(panels_file([], holes=[grid | {"repeat": {"count": 60, "pitch": 1, "rows": 60}}]))

    def test_inside_sizes_are_inside_whatever_is_bent_at_either_end(self):
        plain = read_part(panels_file([self.up | {"edge": 1}, self.up | {"on": 1, "edge": 2, "length": 12}]))
        inner = read_part(panels_file([self.up | {"edge": 1}, self.up | {"on": 1, "edge": 2, "length": 12}],
                                      dims="inside"))
        t = plain.stock.thickness
        self.assertAlmostEqual(inner.shape.panels[0].mould[1][0], 30 + 2 * t)
        self.assertAlmostEqual(inner.shape.panels[1].mould[1][0], 12 + t)
        self.assertAlmostEqual(inner.flat.size[1] - plain.flat.size[1], 4 * t)


class Refused(SimpleTestCase):
    def refused(self, panels, path, words, **more):
        with self.assertRaises(Refusal) as caught:
            read_part(panels_file(panels, **more))
        self.assertEqual(caught.exception.path, path)
        self.assertIn(words, str(caught.exception))

    def test_what_cannot_be_is_refused_at_its_field(self):
        up = {"direction": "up", "length": 20}
        self.refused([up | {"edge": 5}], "shape.panels[0].edge", "from 1 to 4")
        self.refused([up | {"edge": 1, "on": 1}], "shape.panels[0].on", "the base")
        self.refused([up | {"edge": 1}, up | {"edge": 4, "on": 1}], "shape.panels[1].edge", "far edge")
        self.refused([up | {"edge": 1}, up | {"edge": 2, "on": 3}], "shape.panels[1].on", "before it")
        self.refused([up | {"edge": 1, "start": 90, "end": 80}], "shape.panels[0].length", "run into each other")
        self.refused([up | {"edge": 1, "length": 2}], "shape.panels[0].length", "more than")
        self.refused([up | {"edge": 1, "hem": {"length": 8}}, up | {"edge": 2, "on": 1}], "shape.panels[1].edge", "hem")
        self.refused([], "shape.relief", "as wide", relief=0.2)
        self.refused([up | {"edge": 1}], "shape.holes[0].on", "from 0 to 1",
                     holes=[{"on": 2, "x": 5, "y": 5, "diameter": 3}])
        self.refused([up | {"edge": 1}], "shape.holes[0]", "leaves the flat",
                     holes=[{"on": 1, "x": 30, "y": 39.5, "diameter": 3}])
        self.refused([], "shape.windows[0].radius", "half its smaller side",
                     windows=[{"x": 50, "y": 50, "length": 20, "width": 10, "radius": 6}])

    def test_what_comes_stands_where_it_was_put(self):
        part = panels_file([{"edge": 1, "length": 60, "direction": "down"}])
        now = lambda: read_part(part).shape  # noqa: E731
        for at, wanted in ((6, (1, 3)), (5, (1, 2)), (2, (0, 3))):
            block = added(part, "shape.panels", now, at)["shape"]["panels"][-1]
            self.assertEqual((block.get("on", 0), block["edge"]), wanted)
        self.assertEqual(added(part, "shape.panels", now, 4)["shape"]["panels"][-1]["direction"], "down")
        for at, path in ((7, "shape.panels"), (4, "shape.outline"), (2, "shape.holes")):
            with self.assertRaises(Refusal, msg=path):
                added(part, path, now, at)
        pierced = read_part(added(part, "shape.holes", now, 1))
        (hole,), face = pierced.sheet.face["P1"].holes, Polygon(pierced.sheet.face["P1"].outline)
        self.assertLess(math.dist(hole.centre, face.centroid.coords[0]), 1e-6)

    def test_panels_keep_their_edge_when_a_corner_of_the_base_comes_or_goes(self):
        part = panels_file([{"edge": 1, "length": 20, "direction": "up"}, {"edge": 3, "length": 20, "direction": "up"},
                            {"on": 1, "edge": 2, "length": 10, "direction": "up"}])
        now = lambda: read_part(part).shape  # noqa: E731
        for at in (0, 2):
            with self.assertRaises(Refusal) as caught:
                added(part, "shape.outline", now, at)
            self.assertIn("take the panel off", str(caught.exception))
        for at, wanted in ((1, (1, 4, 2)), (3, (1, 3, 2))):
            grown = added(part, "shape.outline", now, at)
            self.assertEqual(tuple(panel["edge"] for panel in grown["shape"]["panels"]), wanted)
            self.assertEqual(ends_of_bends(grown), ends_of_bends(part))
            self.assertEqual(removed(grown, f"shape.outline[{at + 1}]")["shape"]["panels"], part["shape"]["panels"])
        with self.assertRaises(Refusal):
            removed(part, "shape.outline[2]")

    def test_a_panel_goes_only_when_nothing_stands_on_it_and_the_rest_count_anew(self):
        shape = panels_file([{"edge": 1, "length": 20, "direction": "up"},
                             {"edge": 3, "length": 20, "direction": "up"},
                             {"on": 2, "edge": 2, "length": 10, "direction": "up"}])["shape"]
        goes = FAMILIES["panels"].goes["panels"]
        with self.assertRaises(Refusal):
            goes(shape, (1,), "mm")
        del shape["panels"][0]
        goes(shape, (0,), "mm")
        self.assertEqual(shape["panels"][1]["on"], 1)
        self.assertTrue(math.isfinite(read_part(panels_file(shape["panels"])).flat.area))

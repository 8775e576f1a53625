"""Panels told by names are the panels told by numbers; what is wrong with them is told where it stands."""

import copy
import json
import math
import random
import subprocess
import sys
import tempfile
from contextlib import suppress
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.families.joint import SPOT
from bendcore.formats.results import flat_result
from bendcore.part import read_part
from bendcore.sheet.fold import fold
from tests.core.panels import panels_file, random_panels
from tests.core.samples import ROOT, part_file
from tests.core.trays import random_tray
from tests.often import often

SQUARE = [[0, 0], [100, 0], [100, 60], [0, 60]]
EDGES = {1: "start", 2: "far", 3: "end"}


def by_names(shape: dict) -> dict:
    """The same shape as the open file has it, by a way of the tests' own."""
    names = {0: "base"} | {i: f"face-{chr(96 + i)}" for i in range(1, len(shape["panels"]) + 1)}
    openings: dict[str, list] = {name: [] for name in names.values()}
    for block in shape.get("holes", []):
        openings[names[block.get("on", 0)]].append({"kind": "round"} | {k: block[k] for k in ("x", "y", "diameter")})
    for block in shape.get("windows", []):
        openings[names[block.get("on", 0)]].append({"kind": "rectangle", "corner": block["radius"]} | {
            k: block[k] for k in ("x", "y", "length", "width", "angle")})
    panels = []
    for i, block in enumerate(shape["panels"], 1):
        on = block.get("on", 0)
        told = {"id": names[i], "on": names[on], "edge": EDGES[block["edge"]] if on else block["edge"]}
        told |= {k: block[k] for k in ("start", "end", "angle", "direction", "length") if k in block}
        if "start_taper" in block:
            told["ends"] = {"start": {"slope": block["start_taper"]}}
        elif block.get("ends") == "square":
            told["ends"] = {"start": "square", "end": "square"}
        if "hem" in block:
            told["far"] = {"hem": block["hem"]}
        panels.append(told | {"openings": openings[names[i]]})
    return {"kind": "panels", "outline": shape["outline"], "gap": shape["gap"], "openings": openings["base"],
            "panels": panels}


def named_file(panels=(), outline=((0, 0), (100, 0), (100, 60), (0, 60)), **shape) -> dict:
    data = panels_file([], outline)
    return data | {"shape": {"kind": "panels", "outline": [list(p) for p in outline], "panels": list(panels)} | shape}


def segment(chord: float, rise: float) -> float:
    """Between an arc and its chord."""
    radius = (chord ** 2 / 4 + rise ** 2) / (2 * rise)
    half = math.asin(chord / 2 / radius)
    return radius ** 2 * (half - math.sin(half) * math.cos(half))


def panel(**block) -> dict:
    return {"id": "A", "on": "base", "edge": 2, "direction": "up", "length": 30} | block


class Named(SimpleTestCase):
    def test_both_say_the_same_part(self):
        rng, seen = random.Random(3), 0
        while seen < often(60):
            data = random_panels(rng, 5)
            for block in data["shape"]["panels"]:
                block["ends"] = block["ends"].replace("covers", "mitred")
                if "start_taper" in block:
                    block["ends"] = "mitred"
            try:
                one = read_part(data)
            except Refusal:
                continue
            other = read_part(data | {"shape": by_names(data["shape"])})
            for a, b in zip(one.sheet.faces, other.sheet.faces, strict=True):
                self.assertTrue(np.allclose(a.outline, b.outline))
                self.assertEqual(len(a.holes), len(b.holes))
                for hole in a.holes:
                    self.assertTrue(any(math.dist(hole.centre, h.centre) < 1e-9 and abs(hole.area - h.area) < 1e-9
                                        for h in b.holes))
            self.assertEqual([bend.id for bend in other.sheet.bends if not bend.is_hem],
                             [f"face-{chr(97 + i)}" for i in range(len(data["shape"]["panels"]))])
            self.assertEqual({bend.id for bend in other.sheet.bends if bend.is_hem},
                             {f"face-{chr(97 + i)}-hem" for i, p in enumerate(data["shape"]["panels"]) if "hem" in p})
            seen += 1

    def test_openings_come_in_their_order_repeats_one_after_another(self):
        part = read_part(named_file(
            [panel(openings=[{"kind": "round", "x": 10, "y": 20, "diameter": 4,
                              "repeat": {"count": 3, "between": [10, 50], "axis": "x"}}])],
            openings=[{"kind": "slot", "x": 30, "y": 30, "length": 20, "width": 5, "angle": 30},
                      {"kind": "round", "x": 10, "y": 10, "diameter": 6, "repeat": {"count": 2, "dx": 9, "dy": 12}},
                      {"kind": "outline", "points": [[70, 20], [80, 20], [80, 30]], "repeat": {"count": 2, "dy": 15}}]))
        holes = flat_result(part)["holes"]
        self.assertEqual([hole.get("diameter") if isinstance(hole, dict) else "ring" for hole in holes],
                         ["ring", 6, 6, "ring", "ring", 4, 4, 4])
        (x0, y0), (x1, y1) = holes[1]["centre"], holes[2]["centre"]
        self.assertAlmostEqual(x1 - x0, 9)
        self.assertAlmostEqual(y1 - y0, 12)
        along = [hole["centre"][1] for hole in holes[5:]]
        self.assertAlmostEqual(along[1] - along[0], 20)
        self.assertAlmostEqual(along[2] - along[1], 20)
        slot = Polygon(holes[0]).minimum_rotated_rectangle.exterior.coords
        sides = sorted((math.dist(a, b), a, b) for a, b in zip(slot, slot[1:], strict=False))
        self.assertAlmostEqual(sides[-1][0], 20, 1)
        self.assertAlmostEqual(abs(math.degrees(math.atan((sides[-1][2][1] - sides[-1][1][1]) / (
            sides[-1][2][0] - sides[-1][1][0])))), 30, 1)

    def test_what_is_turned_on_a_panel_is_turned_from_along_towards_up(self):
        for outline in (SQUARE, [SQUARE[3], SQUARE[2], SQUARE[1], SQUARE[0]]):
            part = read_part(named_file([panel(openings=[
                {"kind": "slot", "x": 25, "y": 15, "length": 20, "width": 4, "angle": 30}])], outline))
            own, (slot,) = part.shape.panels[0], part.sheet.face["A"].holes
            ends = sorted(((y if outline[0] == [0, 0] else own.long - y), x) for x, y in slot.ends)
            (a, up0), (b, up1) = ends
            self.assertAlmostEqual((up1 - up0) / (b - a), math.tan(math.radians(30)), 6)

    def test_arcs_by_bulge_bow_the_way_they_turn(self):
        for outline, bulge in ((SQUARE, 0.5), (SQUARE[::-1], 0.5), (SQUARE, -0.5)):
            told = [*outline[:2], {"to": outline[2], "bulge": bulge}, outline[3]]
            part = read_part(named_file([], outline) | {"shape": {"kind": "panels", "outline": told, "panels": []}})
            left = bulge * (1 if outline is SQUARE else -1)  # to the left of its way: out of what runs so
            ring = Polygon(part.sheet.face["base"].outline)
            self.assertAlmostEqual(ring.area - 6000, math.copysign(segment(60, 15), left), delta=0.6)

    def test_corners_ends_and_reliefs_are_as_they_are_told(self):
        two = [panel(id="A", edge=1), panel(id="C", edge=2)]
        butt = read_part(named_file(two, corners=[{"of": ["A", "C"], "style": "butt", "covers": "C", "gap": 0.4}]))
        moulds = {p.id: p.mould for p in butt.shape.panels}
        self.assertAlmostEqual(moulds["C"][0][1], 0.0)
        self.assertAlmostEqual(100 - moulds["A"][-1][1], butt.stock.thickness + 0.4)
        weld = read_part(named_file(two, corners=[{"of": ["C", "A"], "style": "weld", "gap": 0.1}]))
        self.assertAlmostEqual(weld.shape.panels[0].mould[0][1], 0.0)
        self.assertAlmostEqual(100 - weld.shape.panels[0].mould[-1][1], 1.0 + 0.1 / 2 / math.sin(math.pi / 4), 6)
        plain = Polygon(read_part(named_file([panel()])).sheet.face["A"].outline).area
        for end, less in (({"slope": 6}, None), ({"round": 8}, 64 * (1 - math.pi / 4)), ({"in": 5}, None)):
            cut = read_part(named_file([panel(ends={"end": end})]))
            area = plain - Polygon(cut.sheet.face["A"].outline).area
            self.assertGreater(area, 5)
            if less:
                self.assertAlmostEqual(area, less, delta=0.05)
        self.assertAlmostEqual(cut.shape.panels[0].zone[1], 55)
        areas = []
        for kind in ("rectangular", "round", "keyhole", "tear", "none"):
            part = read_part(named_file([panel(start=10, end=10)], relief={"kind": kind, "width": 4}))
            areas.append(Polygon(part.sheet.face["base"].outline).area)
        self.assertTrue(areas[0] < areas[1] < areas[2] < areas[3] == areas[4], areas)

    def test_own_sizes_and_factors_of_a_panel(self):
        sizes = {dims: read_part(named_file([panel(dims=dims)])).shape.legs[0]
                 for dims in ("outside", "inside", "flat")}
        self.assertAlmostEqual(sizes["inside"].outside - sizes["outside"].outside, 1.0)
        self.assertAlmostEqual(sizes["flat"].flat, 30)
        own = read_part(named_file([panel(k=0.3)])).sheet.bend["A"].figures
        self.assertAlmostEqual(own.allowance, math.pi / 2 * (1.5 + 0.3))

    def test_what_is_wrong_is_told_where_it_stands(self):
        hole = {"kind": "round", "x": 20, "y": 15, "diameter": 4}
        for panels, shape, path in (
                ([panel(on="Q")], {}, "panels[0].on"), ([panel(edge="far")], {}, "panels[0].edge"),
                ([panel(), panel(id="B", on="A", edge=2)], {}, "panels[1].edge"),
                ([panel(), panel(edge=1)], {}, "panels[1].id"),
                ([panel(id="base")], {}, "panels[0].id"), ([panel(colour=1)], {}, "panels[0].colour"),
                ([panel(length=-1)], {}, "panels[0].length"),
                ([panel(ends={"start": "bevel"})], {}, "panels[0].ends.start"),
                ([panel(ends={"end": {"round": 80}})], {}, "panels[0].ends.end.radius"),
                ([panel(openings=[hole | {"diameter": "x"}])], {}, "panels[0].openings[0].diameter"),
                ([panel(openings=[hole | {"y": 99}])], {}, "panels[0].openings[0]"),
                ([panel(openings=[{"kind": "star"}])], {}, "panels[0].openings[0].kind"),
                ([], {"openings": [hole | {"repeat": {"count": 0}}]}, "openings[0].repeat.count"),
                ([], {"openings": [hole | {"repeat": {"count": 400, "dx": 0.1}}] * 5000}, "openings[2]"),
                ([], {"openings": [hole | {"repeat": {"count": 2, "between": [1]}}]}, "openings[0].repeat.between"),
                ([panel(far={"lip": 3})], {}, "panels[0].far.lip"),
                ([panel(far={"hem": {"length": 1}})], {}, "panels[0].far.hem.length"),
                ([panel()], {"corners": [{"of": ["A", "Z"]}]}, "corners[0].of"),
                ([panel()], {"relief": {"kind": "odd"}}, "relief.kind"),
                ([panel()], {"corners": [{"of": ["A", "A"]}]}, "corners[0].other"),
                ([panel()], {"relief": {"width": 0.1}}, "relief.width"),
                ([], {"outline": [[0, 0], {"to": [9, 0], "bulge": "x"}, [0, 9]]}, "outline[1].bulge"),
                ([], {"outline": [[0, 0], {"to": [9, 0], "by": 1}, [0, 9]]}, "outline[1].by")):
            with self.subTest(path), self.assertRaises(Refusal) as told:
                read_part(named_file(panels, **shape) if "outline" not in shape else
                          panels_file([]) | {"shape": {"kind": "panels", "panels": []} | shape})
            self.assertEqual(told.exception.path, f"shape.{path}")

    def test_whatever_stands_there_is_refused_and_breaks_nothing(self):
        rng, odd = random.Random(9), [None, True, -1, 1e9, "x", [], {}, [[]], {"a": 1}, "1/0"]
        hole = {"kind": "round", "x": 20, "y": 15, "diameter": 4}
        whole = named_file([panel(ends={"end": {"round": 2}}, openings=[hole])],
                           relief={"kind": "round", "width": 2}, corners=[])["shape"]
        for _ in range(often(240)):
            shape = copy.deepcopy(whole)
            at = shape
            while True:
                key = rng.choice(list(at) if isinstance(at, dict) else range(len(at)))
                if isinstance(at[key], dict | list) and at[key] and rng.random() < 0.7:
                    at = at[key]
                    continue
                at[key] = rng.choice(odd)
                break
            with suppress(Refusal):
                read_part(panels_file([]) | {"shape": shape})

    def test_the_commands_take_and_make_them(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "part.json"

            def run(*args):
                return json.loads(subprocess.run([sys.executable, "-m", "bendcore", *args], cwd=ROOT, check=True,
                                                 capture_output=True).stdout)
            path.write_text(json.dumps(named_file([panel()])), "utf-8")
            self.assertEqual([bend["id"] for bend in run("flat", str(path))["bends"]], ["A"])
            ordered = run("order", str(path), "--brake", "demo/press-60t.json")
            self.assertEqual([step["bends"] for step in ordered["steps"]], [["A"]])
            for data in (random_tray(random.Random(2)), part_file([20, 30, 25], [(90, "up"), (60, "down")])):
                path.write_text(json.dumps(data), "utf-8")
                told = run("panels", str(path))
                one, other = read_part(data), read_part(told)
                self.assertEqual(told["shape"]["kind"], "panels")
                self.assertAlmostEqual(one.flat.size[0], other.flat.size[0], 6)
                self.assertAlmostEqual(one.sheet.face_area, other.sheet.face_area, 3)


class Tabs(SimpleTestCase):
    def test_a_tab_lies_the_gap_within_the_panel_that_covers_and_nothing_meets(self):
        rng, seen = random.Random(8), 0
        for _ in range(often(60)):
            count = rng.randint(3, 6)
            start = rng.uniform(0, 360)
            turns = [math.radians(start + 360 * n / count) for n in range(count)]
            ring = [[90 * math.cos(turn), 70 * math.sin(turn)] for turn in turns]
            if rng.random() < 0.5:
                ring.reverse()
            first = rng.randint(1, count)
            edges, way, gap = (first, first % count + 1), rng.choice(["up", "down"]), rng.choice([0.2, 0.5, 1.0])
            panels = [{"id": name, "edge": edge, "length": rng.uniform(25, 45), "direction": way}
                      for name, edge in zip("AB", edges, strict=True)]
            covers = rng.choice("AB")
            if rng.random() < 0.4:
                panels.append({"id": "C", "on": covers, "edge": "far", "length": 9, "direction": way, "start": 12,
                               "end": 12})
            data = panels_file(panels, ring)
            data["shape"]["corners"] = [{"of": ["A", "B"], "style": "tab", "covers": covers, "gap": gap}]
            part = read_part(data)
            carrier = "B" if covers == "A" else "A"
            faces = {face.id: face for face in fold(part.sheet).faces}
            tab, over = faces[f"{carrier}-tab-{covers}"], faces[covers]
            self.assertAlmostEqual(float(tab.normal @ over.normal), 1, places=9)
            off = (tab.corners - over.corners[0]) @ over.normal * (1 if way == "up" else -1)
            np.testing.assert_allclose(off, part.stock.thickness + gap, atol=1e-6)
            if part.conflicts[0]:  # at a blunt corner the blank has no room for it: told
                self.assertGreater(math.degrees(math.acos(float(-(faces["A"].normal @ faces["B"].normal)))), 95)
                continue
            self.assertEqual(part.conflicts[1], (), data)
            joint, = part.shape.joints({})
            self.assertEqual(joint.kind, SPOT)
            self.assertEqual(part.shape.thing(tab.id), "joint-1")
            self.assertEqual(part.shape.called(tab.id), f"Tab of panel {carrier}")
            seen += len(panels) == 3
        self.assertGreater(seen, often(60) // 5)

    def test_a_panel_that_is_covered_ends_the_gap_off_the_other_at_sharp_and_blunt_corners(self):
        rng = random.Random(31)
        for _ in range(often(60)):
            inner, gap = math.radians(rng.uniform(35, 145)), rng.choice([0.1, 0.5, 1.5])
            ring = [[0, 0], [150, 0], [150 - 150 * math.cos(inner), 150 * math.sin(inner)]]
            ring.insert(3, [ring[2][0] - 80, ring[2][1] + 5]) if math.degrees(inner) > 80 else None
            covers, way = rng.choice("AB"), rng.choice(["up", "down"])
            panels = [{"id": name, "edge": edge, "length": 30, "direction": way} for edge, name in ((1, "A"), (2, "B"))]
            data = panels_file(panels, ring, thickness=rng.choice([0.7, 2.0]))
            data["shape"]["corners"] = [{"of": ["A", "B"], "style": "butt", "covers": covers, "gap": gap}]
            part = read_part(data)
            faces = {face.id: face for face in fold(part.sheet).faces}
            over, under = faces[covers], faces["B" if covers == "A" else "A"]
            t, into = part.stock.thickness, over.normal * (1 if way == "up" else -1)
            inside = over.corners[0] if way == "up" else over.corners[0] - t * over.normal
            nearest = min(float(((under.corners - deep * under.normal - inside) @ into).min()) for deep in (0, t))
            self.assertAlmostEqual(nearest, gap, places=6, msg=str(data))
            self.assertEqual(part.conflicts[1], ())

    def test_where_no_tab_can_be_the_corner_is_refused(self):
        ring = [[0, 0], [160, 0], [160, 100], [0, 100]]
        panels = [{"id": "A", "edge": 1, "length": 40, "direction": "up"},
                  {"id": "B", "edge": 2, "length": 40, "direction": "up"},
                  {"id": "C", "edge": 3, "length": 40, "direction": "up"}]
        for change, pair in (({"angle": 80}, "AB"), ({"direction": "down"}, "AB"), ({"start": 9}, "AB"), ({}, "AC")):
            data = panels_file([panels[0], panels[1] | change, panels[2]], ring)
            data["shape"]["corners"] = [{"of": list(pair), "style": "tab"}]
            with self.subTest(change, pair=pair), self.assertRaises(Refusal) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, "shape.corners[0].style")
        data = panels_file([*panels, {"id": "B-tab-A", "edge": 4, "length": 20, "direction": "up"}], ring)
        data["shape"]["corners"] = [{"of": ["A", "B"], "style": "tab"}]
        with self.assertRaises(Refusal):
            read_part(data)

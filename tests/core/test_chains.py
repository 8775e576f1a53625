"""Chains and elbows: neighbours' cut edges are one curve, judged by cones worked out here from their spheres."""

import io
import math
import random

import numpy as np
from django.test import SimpleTestCase
from pypdf import PdfReader

from bendcore.errors import Refusal
from bendcore.families.mates import draw_mate
from bendcore.formats.export import export
from bendcore.formats.reading import read_shape_in
from bendcore.formats.results import flat_result
from bendcore.formats.solid import folded_mesh
from bendcore.part import read_part
from tests.core.rolled import rolled_file
from tests.often import often

AROUND = np.linspace(0, 2 * math.pi, 400)


def random_chain(rng: random.Random, most: int = 16) -> dict:
    """One that can be made, of up to so many pieces."""
    while True:
        size, stations = rng.uniform(120, 220), []
        count = rng.randint(2, most)
        for n in range(count + 1):
            size = max(80, size + rng.uniform(-30, 30))
            stations.append({"diameter": size} | ({"length": rng.uniform(90, 220)} if n else {}))
            if 0 < n < count:
                stations[-1] |= {"turn": rng.uniform(-25, 25), "plane": rng.uniform(0, 360)}
        data = rolled_file(kind="chain", stations=stations, dims=rng.choice(["outside", "inside", "neutral"]),
                           seam={"kind": "lap", "width": 8, "at": 90})
        try:
            read_part(data)
        except Refusal:
            continue
        return data


class Line:
    """The centre line and the cones about it on the neutral surface: by bisection and distances, no formula of the
    part's."""

    def __init__(self, data, inward):
        self.radii = [row["diameter"] / 2 for row in data["shape"]["stations"]]
        self.lengths = [row["length"] for row in data["shape"]["stations"][1:]]
        self.inward = inward
        along, zero, at = np.array([0, 0, 1.0]), np.array([1.0, 0, 0]), np.zeros(3)
        self.nodes, self.ways = [at], []
        for n, long in enumerate(self.lengths):
            if n:
                row = data["shape"]["stations"][n]
                a, turn = math.radians(row["plane"]), math.radians(row["turn"])
                left = np.cross(along, zero)
                side, third = math.cos(a) * zero + math.sin(a) * left, math.cos(a) * left - math.sin(a) * zero
                fresh = math.cos(turn) * along + math.sin(turn) * side
                moved = math.cos(turn) * side - math.sin(turn) * along
                zero = (zero @ side) * moved + (zero @ third) * third
                along = fresh
            self.ways.append(along)
            at = at + long * along
            self.nodes.append(at)

    def slope(self, n):
        """Found by halving: how fast the radius grows that the wall keeps its distance from both ends' middles, or goes
        through an end's circle."""
        first, last, long = n == 0, n + 1 == len(self.lengths), self.lengths[n]
        low, high = -1.5, 1.5
        for _ in range(often(200)):
            b = (low + high) / 2
            start = self.radii[n] if first else self.radii[n] / math.cos(b)
            end = start + long * math.tan(b)
            wanted = self.radii[n + 1] if last else self.radii[n + 1] / math.cos(b)
            low, high = (b, high) if end < wanted else (low, b)
        return b

    def off(self, points, n):
        """How far points lie from the neutral wall of piece n, square to it."""
        b = self.slope(n)
        start = self.radii[n] if n == 0 else self.radii[n] / math.cos(b)
        rel = points - self.nodes[n]
        x = rel @ self.ways[n]
        away = np.linalg.norm(rel - np.outer(x, self.ways[n]), axis=1)
        return np.abs((away - start - x * math.tan(b)) * math.cos(b) + self.inward)


class Chains(SimpleTestCase):
    def test_neighbours_are_cut_along_one_curve_that_lies_on_both(self):
        rng, joints = random.Random(3), 0
        for _ in range(often(40)):
            data = random_chain(rng)
            part = read_part(data)
            whole, t = part.shape.whole, part.stock.thickness
            line = Line(data, {"outside": 0.5, "inside": -0.5, "neutral": 0}[data["shape"]["dims"]] * t)
            for n, (one, other) in enumerate(zip(whole, whole[1:], strict=False)):
                curve, next_curve = one.space(AROUND, 1), other.space(np.linspace(0, 2 * math.pi, 20000), 0)
                self.assertLess(max(line.off(curve, n).max(), line.off(curve, n + 1).max()), 1e-6)
                apart = max(np.linalg.norm(next_curve - point, axis=1).min() for point in curve[::16])
                self.assertLess(apart, 0.05)
                joints += 1
            for end, n, at in ((0, 0, 0), (1, -1, len(line.nodes) - 1)):
                circle = whole[n].space(AROUND, end)
                self.assertLess(np.abs((circle - line.nodes[at]) @ line.ways[n]).max(), 1e-6)
        self.assertGreater(joints, often(200))

    def test_cut_edges_of_neighbours_are_as_long_as_each_other_and_as_in_their_blanks(self):
        rng = random.Random(6)
        for _ in range(often(15)):
            data = random_chain(rng, 6)
            rows = flat_result(read_part(data))["development"]["pieces"]
            for one, other in zip(rows, rows[1:], strict=False):
                self.assertAlmostEqual(one["end_edge"], other["start_edge"], delta=0.02)
            for row in rows:
                part = read_part(data | {"shape": data["shape"] | {"piece": int(row["id"])}})
                around = np.linalg.norm(np.diff(np.array([*part.flat.outline, part.flat.outline[0]]), axis=0), axis=1)
                phi = np.array([math.radians(part.shape.seam.at)])
                low, high = part.shape.surface.span(phi)
                rest = around.sum() - 2 * (high - low)[0] - 2 * part.shape.seam.width
                self.assertAlmostEqual(rest, row["start_edge"] + row["end_edge"], delta=0.05)

    def test_pieces_are_numbered_and_their_seams_stand_apart(self):
        part = read_part(random_chain(random.Random(2), 5))
        mates = part.shape.mates()
        self.assertEqual(len(mates), len(part.shape.whole) - 1)
        seams = [part.shape.seam.at]
        for n, mate in enumerate(mates, 2):
            data = rolled_file(**draw_mate(part.shape, mate.role))
            other = read_part(data)
            self.assertTrue(other.shape.label.startswith(f"{n} of {len(part.shape.whole)}"))
            self.assertEqual(other.shape.mates(), ())
            seams.append(other.shape.seam.at)
        self.assertTrue(all(abs(a - b) % 360 == 180 for a, b in zip(seams, seams[1:], strict=False)))
        self.assertTrue(folded_mesh(part).is_watertight)

    def test_an_elbow_comes_out_where_its_radius_says(self):
        for angle, pieces in ((90, 2), (90, 5), (45, 3), (180, 7)):
            shape = read_part(rolled_file(kind="elbow", diameter=100, radius=160, angle=angle, pieces=pieces)).shape
            circle = shape.whole[-1].space(AROUND[:-1], 1)
            turn = math.radians(angle)
            wanted = [160 * (1 - math.cos(turn)), 0, 160 * math.sin(turn)]
            self.assertLess(np.abs(circle.mean(axis=0) - wanted).max(), 1e-6)
            self.assertLess(np.abs((circle - wanted) @ [math.sin(turn), 0, math.cos(turn)]).max(), 1e-6)

    def test_worst_inputs_are_refused_at_their_field(self):
        bad = ((dict(kind="elbow", diameter=100, radius=45, angle=90, pieces=2), "shape.radius"),
               (dict(kind="elbow", diameter=100, radius=120, angle=90, pieces=1), "shape.pieces"),
               (dict(kind="chain", stations=[{"diameter": 100}, {"length": 300, "diameter": 40}, {
                   "length": 10, "diameter": 80}, {"length": 90, "diameter": 60}]), "shape.stations[2].length"),
               (dict(kind="chain", stations=[{"diameter": 100}, {"length": 40, "diameter": 100, "turn": 100}, {
                   "length": 90, "diameter": 100}]), "shape.stations[1].length"),
               (dict(kind="chain", stations=[{"diameter": 100}, {"diameter": 90}]), "shape.stations[1].length"),
               (dict(kind="chain", stations=[{"diameter": 100, "turn": 5}, {"diameter": 90, "length": 80}]),
                "shape.stations[0].turn"),
               (dict(kind="chain", stations=[{"diameter": 1}, {"diameter": 90, "length": 80}]),
                "shape.stations[0].diameter"))
        for shape, field in bad:
            with self.assertRaises(Refusal, msg=field) as caught:
                read_part(rolled_file(**shape))
            self.assertEqual(caught.exception.path, field)


class Read(SimpleTestCase):
    def test_a_csv_of_stations_is_a_chain(self):
        text = "length (in),diameter,turn,plane\n,120,,\n4 1/2,110 mm,20,10\n\n3.5,95,-15°,0\n3,80,,\n"
        found = read_shape_in(text.encode(), "horn.csv")
        self.assertEqual([row.get("length") for row in found.shape["stations"]],
                         [None, "114.3 mm", "88.9 mm", "76.2 mm"])
        self.assertEqual(found.shape["stations"][2]["turn"], -15)
        self.assertEqual(len(read_part(rolled_file(**found.shape)).shape.whole), 3)
        semicolons = read_shape_in(b"diameter;length\n100;\n80;90\n", "a.csv").shape["stations"]
        self.assertEqual(semicolons, [{"diameter": "100 mm"}, {"diameter": "80 mm", "length": "90 mm"}])

    def test_what_is_no_list_of_stations_is_refused_with_its_row(self):
        for text, words in (("", "no column"), ("length\n1\n2", "no column diameter"), ("size,length\n", "column"),
                            ("length,diameter\n,100", "stations"), ("length,diameter\n,100\n,90", "row 3, length"),
                            ("length,diameter\n,100\nfar,90", "row 3, length"),
                            ("length,diameter,turn\n,100,5\n80,90,", "row 2, turn"),
                            ("length,diameter,turn\n,100,\n80,90,x\n80,70,", "row 3, turn"),
                            ("length,diameter\n" + ",9\n" * 80, "stations"), ("\xff\x00", "column")):
            with self.assertRaises(Refusal) as caught:
                read_shape_in(text.encode(), "a.csv")
            self.assertIn(words, str(caught.exception), text)
        with self.assertRaises(Refusal):
            read_shape_in(b"\xff\xfe\x00", "a.csv")

    def test_a_chain_holds_what_its_frustums_do(self):
        """Straight cones by the formula of a frustum; bent ones against a mesh of the inside, capped."""
        stations = [{"diameter": 100}, {"length": 80, "diameter": 60}]
        part = read_part(rolled_file(kind="chain", dims="inside", stations=stations))
        self.assertAlmostEqual(part.shape.running()[0].holds, math.pi * 80 / 12 * (100 ** 2 + 6000 + 60 ** 2) / 1e6, 4)
        bent = read_part(rolled_file(kind="elbow", diameter=100, radius=150, angle=90, pieces=6, dims="inside",
                                     group=3))
        running = bent.shape.running()
        self.assertAlmostEqual(running[-1].holds, math.pi * 50 ** 2 * bent.shape.along / 1e6, 4)
        self.assertEqual([row.group for row in running], [1, 1, 1, 2, 2, 2])
        self.assertAlmostEqual(running[-1].along, bent.shape.along)

    def test_templates_of_all_pieces_come_in_one_set(self):
        part = read_part(rolled_file(kind="elbow", diameter=80, radius=120, angle=90, pieces=3))
        words = "".join(page.extract_text() for page in PdfReader(io.BytesIO(export(part, "set"))).pages)
        for n in (1, 2, 3):
            self.assertIn(f"{n} of 3, first end", words)
        self.assertIn("OUTSIDE", words)
        with self.assertRaises(Refusal):
            export(read_part(rolled_file(kind="tube", diameter=80, length=90)), "set")

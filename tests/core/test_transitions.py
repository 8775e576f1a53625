"""Transitions: folded they are the form asked for, judged by planes worked out here; what they refuse; their orders."""

import math
import random

import numpy as np
from django.test import SimpleTestCase

from bendcore.checks import check_part
from bendcore.errors import Refusal
from bendcore.families.mates import draw_mate
from bendcore.families.twin import mirrored
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.sheet import fold
from tests.core.samples import brake
from tests.core.transitions import random_square_to_round, random_transition, square_to_round_file, transition_file
from tests.often import often

LIKE = 0.02


def rectangle(length, width, at=(0, 0), turn=0, z=0):
    """Corners as one would set them out: middle, angle, half sizes; from front left before turning."""
    a = math.radians(turn)
    ex, ey = np.array([math.cos(a), math.sin(a)]), np.array([-math.sin(a), math.cos(a)])
    return [np.array([*(np.array(at) + i * length / 2 * ex + j * width / 2 * ey), z])
            for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))]


class Form:
    """The form asked for: eight corners, and the folded part brought back into its place by the root panel."""

    def __init__(self, part):
        own = part.shape.sizes
        self.part, self.height = part, own.height
        bottom, top = rectangle(*own.ends["bottom"]), rectangle(*own.ends["top"], own.offset, own.turn, own.height)
        quarter = round(own.turn / 90)
        self.corners = bottom + [top[(i - quarter) % 4] for i in range(4)]
        panel = part.shape.chain[0].facet
        a, b, c = (min(self.corners, key=lambda q: np.linalg.norm(q - p)) for p in panel.corners[:3])
        inward = -np.cross(b - a, c - a)
        inward /= np.linalg.norm(inward)
        x = (a - b) / np.linalg.norm(a - b)
        self.axes = np.array([x, np.cross(inward, x), inward])
        self.origin = a + inward * (part.stock.thickness if own.dims == "outside" else 0)
        self.faces = {face.id: self.back(face.corners) for face in fold(part.sheet).faces}
        self.normals = {face.id: face.normal @ self.axes for face in fold(part.sheet).faces}

    def back(self, points):
        """Folded points in the form's own place; the root face lies in its place of the blank."""
        return (np.asarray(points) - [*self.part.flat.shift, 0]) @ self.axes + self.origin

    def moulds(self, name):
        """The points of a face on the surfaces by which the part is measured."""
        under = self.part.stock.thickness if self.part.shape.dims == "outside" else 0
        return self.faces[name] - under * self.normals[name]


class Folded(SimpleTestCase):
    def test_every_panel_lies_in_the_plane_of_its_corners_and_every_flange_in_its_end(self):
        """Three of the eight corners give a panel's plane."""
        rng, flanged, split = random.Random(5), 0, 0
        for n in range(often(200)):
            part = read_part(random_transition(rng))
            form = Form(part)
            for panel in part.shape.chain:
                a, b, c = (min(form.corners, key=lambda q, p=p: np.linalg.norm(q - p)) for p in panel.facet.corners[:3])
                normal = np.cross(b - a, c - a)
                off = np.abs((form.moulds(panel.facet.id) - a) @ normal / np.linalg.norm(normal)).max()
                self.assertLess(off, LIKE, (n, panel.facet.id))
                split += len(panel.edges) == 3
            for flange in part.shape.flanges:
                level = 0 if flange.rim.end == "bottom" else form.height
                t = part.stock.thickness
                sides = [form.faces[flange.id][:, 2], (form.faces[flange.id] - t * form.normals[flange.id])[:, 2]]
                mating = sides[0] if flange.rim.way == "out" else sides[1]
                self.assertLess(np.abs(mating - level).max(), LIKE, (n, flange.id))
                back = sides[1] if flange.rim.way == "out" else sides[0]
                self.assertLess(np.abs(back - level).max() - t, LIKE)
                self.assertTrue((back > -LIKE).all() and (back < form.height + LIKE).all())
                flanged += 1
        self.assertGreater(flanged, often(300))
        self.assertGreater(split, often(300))

    def test_open_ends_reach_their_planes_and_trim_beyond(self):
        rng = random.Random(8)
        for _ in range(often(60)):
            data = random_transition(rng)
            for end in ("bottom_flange", "top_flange"):
                data["shape"].pop(end, None)
            data["shape"]["trim"] = 0
            form = Form(read_part(data))
            z = np.concatenate([form.moulds(panel.facet.id)[:, 2] for panel in form.part.shape.chain])
            self.assertAlmostEqual(z.min(), 0, delta=LIKE)
            self.assertAlmostEqual(z.max(), form.height, delta=LIKE)

    def test_nothing_lies_on_itself_or_runs_through_itself(self):
        """Of what is turned further, three in a thousand reach over a seam with a sliver, which is told."""
        rng, met = random.Random(11), 0
        for _ in range(often(120)):
            data = random_transition(rng)
            if abs(data["shape"]["top"]["turn"]) <= 30:
                found = read_part(data).conflicts
                self.assertEqual(found, ((), ()), data)
                met += 1
        self.assertGreater(met, often(60))

    def test_flanges_are_as_wide_as_asked_and_open_corners_as_told(self):
        rng, told = random.Random(14), 0
        for _ in range(often(80)):
            part = read_part(random_transition(rng))
            form, own = Form(part), part.shape.sizes
            ends = {end: [f for f in part.shape.flanges if f.rim.end == end] for end in own.flanges}
            for end, flanges in ends.items():
                shift = 0 if end == "bottom" else 4
                for flange in flanges:
                    i = int(flange.rim.panel.facet.id[1]) - 1
                    a, b = (form.corners[shift + k][:2] for k in (i, (i + 1) % 4))
                    out = np.array([(b - a)[1], -(b - a)[0]]) / np.linalg.norm(b - a)
                    reach = (form.faces[flange.id][:, :2] - a) @ out * (1 if flange.rim.way == "out" else -1)
                    self.assertAlmostEqual(reach.max(), own.flanges[end][0], delta=LIKE)
                corners = [corner for corner in part.shape.open_corners if corner.end == end]
                for one, other, corner in zip(flanges, flanges[1:], corners, strict=False):
                    pairs = [(p, q) for p in form.faces[one.id][1:3] for q in form.faces[other.id][1:3]]
                    self.assertAlmostEqual(min(np.linalg.norm(p - q) for p, q in pairs), corner.wide, delta=LIKE)
                    told += any(n.code == "open-corner" for n in check_part(part)) or corner.wide <= own.gap + 0.05
        self.assertGreater(told, 60)

    def test_flanges_turned_in_close_their_corners(self):
        for pieces in (1, 2):
            part = read_part(transition_file(bottom_flange={"width": 18, "direction": "in"}, pieces=pieces))
            self.assertLess(max(corner.wide for corner in part.shape.open_corners), 1.05)


class SquareToRound(SimpleTestCase):
    def test_in_pieces_it_is_the_same_form_and_as_much_metal(self):
        """Corners of every facet lie as far from each other as in the whole; piece by piece all facets are there."""
        def facets(part):
            return {face.id: np.linalg.norm(face.corners[:, None] - face.corners[None], axis=2)
                    for face in fold(part.sheet, flat=part.flat).faces if face.id[0] == "F"}
        sizes = {"square": {"length": 400, "width": 300}, "round": {"diameter": 250, "offset": [40, 20]}, "height": 220}
        whole = read_part(square_to_round_file(**sizes, facets=4))
        for pieces in (2, 4):
            parts = [read_part(square_to_round_file(**sizes, facets=4, pieces=pieces, piece=n + 1))
                     for n in range(pieces)]
            self.assertLess(abs(sum(part.flat.area for part in parts) / whole.flat.area - 1), 0.01)
            self.assertFalse(any(part.conflicts[0] for part in parts))
            found = {name: own for part in parts for name, own in facets(part).items()}
            self.assertEqual(set(found), set(facets(whole)))
            for name, own in facets(whole).items():
                self.assertLess(np.abs(own - found[name]).max(), 0.01, name)
            mates = parts[0].shape.mates()
            self.assertEqual([mate.role for mate in mates], [f"piece-{n}" for n in range(2, pieces + 1)])
            self.assertEqual(draw_mate(parts[0].shape, "piece-2")["piece"], 2)
            mirror = mirrored(square_to_round_file(**sizes, pieces=pieces)["shape"], float)
            self.assertEqual((mirror["piece"], mirror["round"]["offset"][0]), (pieces, "-40 mm"))
        for wrong in ({"pieces": 3}, {"pieces": 2, "piece": 3}):
            with self.assertRaises(Refusal):
                read_part(square_to_round_file(**sizes, **wrong))

    def test_folded_its_facets_lie_in_the_planes_of_square_and_round(self):
        """Planes by a corner of the square, the round's points by angle; the part is brought back by its root."""
        rng = random.Random(21)
        for n in range(often(200)):
            part = read_part(random_square_to_round(rng))
            given, root = part.shape, part.shape.chain[0].facet
            x, y = given.square[0] / 2, given.square[1] / 2
            corners = [np.array([*c, 0.0]) for c in ((x, -y), (x, y), (-x, y), (-x, -y))]
            middle = part.shape.chain[0].facet.corners[2] + [0, given.diameter / 2, 0]

            def on(degrees, middle=middle, r=given.diameter / 2):
                return middle + r * np.array([math.cos(math.radians(degrees)), math.sin(math.radians(degrees)), 0])

            t = part.stock.thickness
            inward = -np.cross(corners[0] - corners[3], on(-90) - corners[3])
            inward /= np.linalg.norm(inward)
            axes = np.array([[-1.0, 0, 0], np.cross(inward, [-1.0, 0, 0]), inward])
            origin = root.corners[0] + inward * (t if given.dims == "outside" else 0)
            for face in fold(part.sheet).faces:
                points = (face.corners - [*part.flat.shift, 0]) @ axes + origin
                points = points - (t if given.dims == "outside" else 0) * (face.normal @ axes)
                a, b, c = self._plane(face.id, corners, on, given.facets)
                normal = np.cross(b - a, c - a)
                off = np.abs((points - a) @ normal / np.linalg.norm(normal)).max()
                self.assertLess(off, LIKE, (n, face.id))

    def _plane(self, name, corners, on, facets):
        if name[0] == "T":
            side = {"T1b": 1, "T1a": 1}.get(name) or int(name[1])
            return corners[side - 2], corners[side - 1], on(-180 + 90 * side)
        corner, k = (int(part) for part in name[1:].split("."))
        return corners[corner - 1], *(on(-180 + 90 * corner + 90 * (k - 1 + step) / facets) for step in (0, 1))

    def test_nothing_lies_on_itself(self):
        rng = random.Random(22)
        for _ in range(often(60)):
            data = random_square_to_round(rng)
            self.assertEqual(read_part(data).conflicts, ((), ()), data)

    def test_facets_follow_from_the_error_that_will_do(self):
        for error in (2.0, 0.5, 0.1):
            data = square_to_round_file(error=error)
            del data["shape"]["facets"]
            shape = read_part(data).shape
            self.assertLessEqual(shape.facet_error, error)
            if shape.facets > 1:
                self.assertGreater(60 * (1 - math.cos(math.pi / 4 / (shape.facets - 1))), error)
        for shape, field in ((dict(error=1e-4, facets=None), "shape.error"), (dict(height=0), "shape.height"),
                             (dict(round={"diameter": 4}, facets=12), "shape.facets")):
            data = square_to_round_file(**shape)
            data["shape"] = {key: value for key, value in data["shape"].items() if value is not None}
            with self.assertRaises(Refusal, msg=field) as caught:
                read_part(data)
            self.assertEqual(caught.exception.path, field)


class Ends(SimpleTestCase):
    def test_both_ends_are_as_long_and_wide_as_given_and_stand_over_each_other(self):
        rng = random.Random(3)
        for _ in range(20):
            data = random_transition(rng)
            top, bottom = data["shape"]["top"], data["shape"]["bottom"]
            low, high = read_part(data).shape.rings()
            for ring, end in ((low, bottom), (high, top)):
                sides = sorted(np.linalg.norm(np.roll(ring, -1, axis=0) - ring, axis=1))
                np.testing.assert_allclose(sides, sorted([end["length"], end["width"]] * 2), atol=1e-6)
            over = high.mean(axis=0) - low.mean(axis=0)
            np.testing.assert_allclose(over, (*top.get("offset", (0, 0)), data["shape"]["height"]), atol=1e-6)
            data = random_square_to_round(rng)
            square, ring = read_part(data).shape.rings()
            off = np.linalg.norm(ring - ring.mean(axis=0), axis=1)
            np.testing.assert_allclose(2 * off, data["shape"]["round"]["diameter"], atol=1e-6)
            self.assertAlmostEqual(np.ptp(square[:, 0]), data["shape"]["square"]["length"], 6)
            np.testing.assert_allclose(ring.mean(axis=0)[:2], data["shape"]["round"].get("offset", (0, 0)), atol=1e-6)


class Read(SimpleTestCase):
    def test_worst_inputs_are_refused_at_their_field(self):
        bad = ((dict(bottom_flange={"width": 0.8, "direction": "out"}), "shape.bottom_flange.width"),
               (dict(top_flange={"width": 70, "direction": "in"}), "shape.top_flange.width"),
               (dict(height=0), "shape.height"), (dict(piece=2), "shape.piece"),
               (dict(bottom={"length": 5, "width": 4}, top={"length": 5, "width": 4}), "shape.height"),
               (dict(top={"length": -3, "width": 4}), "shape.top.length"))
        for shape, field in bad:
            with self.assertRaises(Refusal) as caught:
                read_part(transition_file(**shape))
            self.assertEqual(caught.exception.path, field)

    def test_a_sleeve_that_does_not_taper_is_one(self):
        """Four panels at right angles: the girth of the blank is that of four legs less three deductions and what the
        seam gives up."""
        part = read_part(transition_file(top={"length": 160, "width": 120}, height=90, gap=0))
        r, t, k = 1.2, 1.0, 0.42
        deduction = 2 * (r + t) - math.pi / 2 * (r + k * t)
        girth = max(part.flat.size)
        self.assertAlmostEqual(girth, 2 * (160 + 120) - 3 * deduction - 2 * t, 6)
        self.assertAlmostEqual(min(part.flat.size), 90, 6)

    def test_the_second_piece_is_drawn_from_the_first_and_both_hands_agree(self):
        data = transition_file(pieces=2, top_flange={"width": 15, "direction": "out"})
        first = read_part(data)
        self.assertEqual([mate.role for mate in first.shape.mates()], ["half"])
        second = read_part(data | {"shape": draw_mate(first.shape, "half")})
        self.assertEqual(second.shape.mates(), ())
        panels = [panel.number for part in (first, second) for panel in part.shape.chain]
        self.assertEqual(sorted(panels), [1, 2, 3, 4])
        whole = transition_file(top={"length": 90, "width": 70, "offset": [12, 7], "turn": 15})
        other = read_part(whole | {"shape": mirrored(whole["shape"], lambda value: value)})
        self.assertAlmostEqual(read_part(whole).flat.area, other.flat.area, 3)


class Orders(SimpleTestCase):
    def test_found_on_press_leaf_and_bench(self):
        whole = read_part(transition_file())
        half = transition_file(pieces=2, top_flange={"width": 15, "direction": "out"})
        below = {"width": 20, "direction": "out"}
        halves = [read_part(half), read_part(transition_file(pieces=2, bottom_flange=below))]
        for part, machine in ((whole, brake("bench-bars")), (halves[0], brake("press-60t")),
                              (halves[0], brake("leaf-2000")), (halves[0], brake("finger-1270")),
                              (halves[1], brake("bench-bars"))):
            plan = plan_order(part, machine)
            self.assertTrue(plan.feasible and plan.optimal, (machine.name, plan.hits, plan.reasons))
            self.assertEqual({name for step in plan.steps for name in step.bends}, set(part.sheet.bend))


class ByHand(SimpleTestCase):
    def test_a_wooden_form_rolled_over_paper_keeps_its_distances(self):
        """On the paper every distance is that between the same corners in space, as drawn by the sizes alone."""
        rng = random.Random(2)
        for _ in range(often(40)):
            part = read_part(random_transition(rng))
            form = part.shape.wood_form()
            paper = {name: np.array(at) for name, *at in form.paper}
            own = part.shape.sizes
            space = {}
            for mark, end, z in (("B", "bottom", 0), ("T", "top", own.height)):
                a, b = (size / 2 for size in own.ends[end])
                turn = math.radians(own.turn) if mark == "T" else 0
                off = np.array(own.offset) if mark == "T" else np.zeros(2)
                for n, (x, y) in enumerate(((-a, -b), (a, -b), (a, b), (-a, b)), 1):
                    at = off + (x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn))
                    space[f"{mark}{n}"] = np.array([*at, z])
            for row in form.distances:
                far = np.linalg.norm(space[row.one] - space[row.other])
                self.assertAlmostEqual(row.far, far, 6)
                on_paper = [np.linalg.norm(paper[one] - paper[other]) for one in (row.one, f"{row.one} again")
                            for other in (row.other, f"{row.other} again") if one in paper and other in paper]
                self.assertLess(min(abs(d - far) for d in on_paper), 1e-6)

    def test_the_seam_is_moved_by_hand(self):
        for seam in (1, 2, 3, 4):
            part = read_part(transition_file(seam=seam))
            self.assertNotIn(f"C{seam}", part.shape.bend)
            self.assertEqual(len(part.shape.bends), 3)
        two = read_part(transition_file(pieces=2, seam=2))
        self.assertEqual(set(two.shape.bend) & {"C2", "C4"}, set())
        self.assertEqual(mirrored(transition_file(seam=1)["shape"], float)["seam"], 2)

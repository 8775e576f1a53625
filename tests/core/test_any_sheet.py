"""Orders of any sheet on any kind of brake: against meshes, against trying all, and as a setter would have them."""

import json
import random

import manifold3d
import numpy as np
from django.test import SimpleTestCase
from shapely import Polygon
from shapely.affinity import translate
from shapely.geometry.polygon import orient

from bendcore.brakes.brake import read_brake
from bendcore.brakes.setting import HELD, PIECES, Meeting, still
from bendcore.brakes.shapes import inset
from bendcore.errors import Refusal
from bendcore.order.contact.halves import Halves
from bendcore.order.contact.spans import blocks
from bendcore.order.explain.why import cannot_be_together
from bendcore.order.planning import plan_order
from bendcore.order.proof.prover import Prover
from bendcore.order.search.finding import find
from bendcore.order.states.body import CHILD, PARENT
from bendcore.order.states.handling import HANDIER
from bendcore.order.states.moves import Job
from bendcore.part import read_part
from bendcore.sheet import fold
from bendcore.sheet.clash import convex_parts
from tests.core.guards import guard_file
from tests.core.judges import least_of_all
from tests.core.plates import plate_file
from tests.core.samples import ROOT, brake, part_file, press, random_part, random_tray, tray_file
from tests.core.sleeves import sleeve_file
from tests.often import IS_THOROUGH, often


def solid(job, half, levels):
    """A half as a solid, folded as a whole and laid into the axes of its bend by its own arithmetic: from the bend's
    tangent line into the face beside it, towards the inside of the bend, and along the bend."""
    body, t = job.body, job.body.thickness
    level = dict(zip(half.bends, levels, strict=True))
    angles = {bend.id: job.angle(i, level.get(i, 0)) for i, bend in enumerate(body.bends)}
    folded = fold(body.sheet, angles=angles, facet=3.0)
    bend = next(b for b in folded.bends if b.id == body.bends[half.made[0]].id)
    edge, normal = (bend.arc[-1], bend.normals[-1]) if half.side == CHILD else (bend.arc[0], bend.normals[0])
    (x0, y0), (x1, y1) = body.lines[half.made[0]].tangents[half.side]
    first, _, long = body.line(half.made[0])
    names = {node.face for node in half.nodes}
    root = next(f for f in folded.faces if f.id == half.nodes[0].face)
    along = (edge[1] - edge[0]) / np.linalg.norm(edge[1] - edge[0])
    flat = np.array(body.flat.faces[root.id][:2])
    space = root.corners[:2]
    u = (flat[1] - flat[0]) / np.linalg.norm(flat[1] - flat[0])
    w = (space[1] - space[0]) / np.linalg.norm(space[1] - space[0])
    line = (np.array([x1, y1]) - (x0, y0)) / long
    across = np.cross(normal, w)
    seen = (line @ u) * w + (line @ (-u[1], u[0])) * across  # the line's direction in space
    along = seen / np.linalg.norm(seen)
    start = min(edge, key=lambda p: p @ along)
    inwards = np.cross(normal, along)
    if (root.corners.mean(axis=0) - start) @ inwards < 0:
        inwards = -inwards
    sign = body.bends[half.made[0]].sign

    def laid(points):
        rel = np.asarray(points) - start
        up = sign * (rel @ normal) - (0 if sign > 0 else t)
        return np.stack([rel @ inwards, up, rel @ along], axis=-1)

    parts = [np.concatenate([ring, ring - t * face.normal]) for face in folded.faces if face.id in names
             for ring in convex_parts(face.corners, face.normal)]
    for b in folded.bends:
        if body.index[b.id] in half.bends:
            low = b.arc - t * b.normals[:, None]
            parts += [np.concatenate([b.arc[k], b.arc[k + 1], low[k], low[k + 1]]) for k in range(len(b.arc) - 1)]
    return manifold3d.Manifold.batch_boolean([manifold3d.Manifold.hull_points(laid(p)) for p in parts],
                                             manifold3d.OpType.Add)


def prism(polygon, low, high):
    """A section along a stretch of the bend."""
    ring = np.array(orient(polygon).exterior.coords[:-1])
    return manifold3d.Manifold.extrude(manifold3d.CrossSection([ring]), high - low).translate((0, 0, low))


class AgainstMeshes(SimpleTestCase):
    def test_what_is_met_is_what_meshes_meet(self):
        """500 states, half of them within 1 mm of contact: no hit deeper than 0.1 mm is missed, none is told with more
        than 0.1 mm between."""
        rng, near, hits, sure = random.Random(31), 0, 0, 0
        jobs = [Job.of(random_tray(rng, 6), brake("finger-1270")) for _ in range(9)]
        jobs += [Job.of(random_part(rng, 5), press(["Straight 85"], ["V 8"])) for _ in range(3)]
        halves = [Halves(job) for job in jobs]
        tool = Polygon([(0, 0), (9, -2), (12, 6), (5, 11), (-3, 7)])
        for n in range(often(500)):
            k = rng.randrange(len(jobs))
            job = jobs[k]
            half = job.body.half((rng.randrange(job.count),), rng.choice((CHILD, PARENT)))
            levels = tuple(rng.choice([0, 2]) for _ in half.bends)
            mesh = solid(job, half, levels)
            box = np.array(mesh.bounding_box()).reshape(2, 3)
            at = [rng.uniform(box[0][axis] - 8, box[1][axis] + 8) for axis in range(3)]
            shape, low = translate(tool, at[0], at[1]), at[2]
            high = low + rng.uniform(5, 60)
            if n % 2:
                gap = mesh.min_gap(prism(shape, low, high), 400.0)
                shape = translate(shape, 0.0, rng.choice((-1, 1)) * gap)
                gap = mesh.min_gap(prism(shape, low, high), 5.0)
                near += gap < 1.0
            deeper = mesh ^ prism(inset(shape, 0.1), low + 0.1, high - 0.1)
            apart = (mesh ^ prism(shape.buffer(0.1, join_style="mitre"), low - 0.1, high + 0.1)).is_empty()
            meeting = Meeting("tool", HELD, 1, still(0.0, 0.0), lambda s=shape: (inset(s),) * 3, n, n, None, PIECES)
            met = bool(halves[k].met(half, levels, 2, meeting, clip=(low, high)))
            hits += met
            sure += apart or not deeper.is_empty()
            if not deeper.is_empty() and deeper.volume() > 1e-3:
                self.assertTrue(met, (n, deeper.volume()))
            if apart:
                self.assertFalse(met, n)
        self.assertTrue(near >= often(150) and often(80) < hits < often(420) and sure > often(350), (near, hits, sure))


class Along(SimpleTestCase):
    def test_walls_stand_in_gaps(self):
        """Where nothing may stand at the ends the pieces keep off; a wall between leaves a gap of 10 mm on each side at
        most; one over the end of the bend cannot be."""
        (one,) = blocks(((-40.0, -2.0), (203.0, 240.0)), [(0.0, 200.0)])
        self.assertEqual((one.start, one.latest, one.earliest, one.end), (-2.0, 3.0, 197.0, 203.0))
        left, right = blocks(((80.0, 82.0),), [(0.0, 200.0)])
        self.assertEqual((left.earliest, left.end, right.start, right.latest), (70.0, 80.0, 82.0, 92.0))
        self.assertEqual(len(blocks(((80.0, 82.0), (88.0, 90.0)), [(0.0, 200.0)])), 2)
        self.assertIsNone(blocks(((-5.0, 12.0),), [(0.0, 200.0)]))

    def test_a_face_is_found_where_it_meets_along_the_bend(self):
        """A tab on a slanted edge: the tool meets no more of it than is there."""
        walls = {"left": {"height": 30}, "front": {"height": 30, "lip": {"width": 12, "direction": "in"}}}
        job = Job.of(read_part(tray_file(walls=walls)), brake("finger-1270"))
        half = job.body.half((job.body.index["left"],), PARENT)
        halves = Halves(job)
        levels = tuple(2 for _ in half.bends)
        low, high = halves.span(half, levels)
        whole = Polygon([(-500, -500), (500, -500), (500, 500), (-500, 500)])
        meeting = Meeting("all", HELD, 1, still(0.0, 0.0), lambda: (whole,) * 3, "all", "all", None, PIECES)
        spans = halves.met(half, levels, 2, meeting)
        self.assertAlmostEqual(spans[0][0], low, 3)
        self.assertAlmostEqual(spans[-1][1], high, 3)


class BrakeFiles(SimpleTestCase):
    def test_what_is_wrong_is_refused_at_its_place(self):
        crossed = [[0, 0], [40, 40], [40, 0], [0, 40]]
        many = [[n * 0.001, 0] for n in range(9_999)] + [[5, 9]]
        for name, changes, path in (
                ("finger-1270", {"fingers": [{"width": 0, "count": 2}]}, "fingers[0].width"),
                ("finger-1270", {"fingers": [{"width": 25, "count": 150}] * 2}, "fingers[1].count"),
                ("finger-1270", {"pivot": [60, -30]}, "pivot"),
                ("finger-1270", {"bed_section": crossed}, "bed_section[1]"),
                ("finger-1270", {"finger_section": crossed}, "finger_section"),
                ("finger-1270", {"finger_section": many}, "finger_section"),
                ("finger-1270", {"leaf_section": [[0, 0], [5, -10], [-20, -10]]}, "leaf_section[1]"),
                ("finger-1270", {"rated": {"thickness": 2, "material": "cheese"}}, "rated.material"),
                ("leaf-2000", {"max_angle": 200}, "max_angle"), ("leaf-2000", {"nose_radius": -1}, "nose_radius"),
                ("bench-bars", {"bar_section": crossed}, "bar_section"),
                ("bench-bars", {"backing_section": [[0, 0], [1e6, 0], [0, -9]]}, "backing_section[1]"),
                ("bench-bars", {"clamp_depth": 0}, "clamp_depth"), ("bench-bars", {"kind": "vice"}, "kind")):
            with self.subTest(name=name, path=path), self.assertRaises(Refusal) as raised:
                brake(name, **changes)
            self.assertTrue(raised.exception.path.startswith(path) or path.startswith(raised.exception.path),
                            raised.exception.path)

    def test_inches_are_the_same_brake(self):
        def inches(value):
            return [inches(v) for v in value] if isinstance(value, list) else value / 25.4
        whole = brake("finger-1270")
        data = json.loads((ROOT / "demo" / "finger-1270.json").read_text("utf-8"))
        for key in ("length", "nose_radius", "min_hold", "min_flange", "pivot", "finger_section", "beam_section",
                    "bed_section", "leaf_section"):
            data[key] = inches(data[key])
        data["fingers"] = [row | {"width": row["width"] / 25.4} for row in data["fingers"]]
        data["rated"]["thickness"] /= 25.4
        other = read_brake(data | {"units": "in"})
        self.assertAlmostEqual(other.length, whole.length, 6)
        self.assertAlmostEqual(other.rated.thickness, whole.rated.thickness, 6)
        np.testing.assert_allclose(other.finger_section, whole.finger_section)
        np.testing.assert_allclose(sorted(other.fingers), sorted(whole.fingers))


class TryingAll(SimpleTestCase):
    def judged(self, job, where):
        found, wanted = find(Prover(job)), least_of_all(job)
        self.assertEqual(found.complete, wanted is not None, where)
        if found.complete:
            cost, effort = wanted
            self.assertAlmostEqual(found.cost, cost, 6, where)
            self.assertAlmostEqual((found.weighed - cost) / HANDIER, effort, 1, where)  # the handiest of as much
        return found.complete

    def test_the_best_order_is_brute_forces_on_hand_brakes(self):
        """Finger brakes with few fingers, a solid leaf brake, bars: every order, holding and set of fingers."""
        few = [{"width": w, "count": n} for w, n in ((100, 2), (50, 1), (32, 1), (25, 2))]
        rng, made = random.Random(3), []
        for n in range(16):
            on = (brake("finger-1270", fingers=few), brake("leaf-2000"), brake("bench-bars"),
                  brake("finger-1270", fingers=few, costs={"finger_change": 5, "turn": 9, "swing": 40}))[n % 4]
            made.append(self.judged(Job.of(random_tray(rng, 4), on), n))
        self.assertTrue(4 <= sum(made) <= 12, made)

    def test_and_over_a_route_of_two(self):
        rng = random.Random(8)
        for n in range(3):
            part, on = random_tray(rng, 3), (brake("leaf-2000"), brake("finger-1270", costs={"move": 20}))
            self.judged(Job.of(part, *on), n)
            route, *alone = (find(Prover(Job.of(part, *brakes))) for brakes in (on, on[:1], on[1:]))
            for one in alone:  # what a brake does alone it does on a route
                self.assertTrue(route.complete >= one.complete)
                self.assertTrue(not one.complete or route.cost <= one.cost + 1e-6, n)


def order(part, *brakes):
    return plan_order(read_part(part), brakes)


class AsASetterWould(SimpleTestCase):
    def test_a_tray_within_the_fingers_is_bent_with_one_set(self):
        plan = order(tray_file(), brake("finger-1270"))
        self.assertTrue(plan.feasible and plan.optimal)
        self.assertEqual(plan.set_ups, 1)
        last = plan.steps[-1]
        line = {b.bend.id: b.line for b in read_part(tray_file()).flat.bends}[last.bends[0]]
        long = np.linalg.norm(np.subtract(*line))
        self.assertLessEqual(last.tools.fingers[0].start, 3.0)
        self.assertGreaterEqual(last.tools.fingers[-1].end, long - 3.0)

    def test_walls_higher_than_the_fingers_meet_the_beam(self):
        plan = order(tray_file(walls={s: {"height": 140} for s in ("left", "right", "front", "back")}),
                     brake("finger-1270"))
        self.assertFalse(plan.feasible)
        self.assertIn("beam", {hit.tool for hit in plan.hits})

    def test_a_tray_narrower_than_every_set_of_fingers(self):
        wide = [{"width": 100, "count": 3}, {"width": 60, "count": 1}]
        plan = order(tray_file(130, 74), brake("finger-1270", fingers=wide))
        self.assertFalse(plan.feasible)
        self.assertIn("pieces", {why.code for why in plan.reasons})
        self.assertTrue(order(tray_file(130, 74), brake("finger-1270")).feasible)

    def test_hems_before_walls(self):
        walls = {side: {"height": 30, "hem": {"length": 9, "gap": 0, "direction": "out"}}
                 for side in ("left", "right", "front", "back")}
        plan = order(tray_file(walls=walls), brake("finger-1270"))
        self.assertTrue(plan.feasible)
        names = list(plan.names)
        self.assertLess(max(n for n, name in enumerate(names) if name.endswith("hem")),
                        min(n for n, name in enumerate(names) if not name.endswith("hem")))

    def test_a_tabbed_tray_has_hems_first_and_tabs_before_the_walls_over_them(self):
        rows = json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))
        plan = order(next(row["part"] for row in rows if row["number"] == 150), brake("finger-1270"))
        self.assertTrue(plan.feasible and plan.optimal)
        last = {name: n for n, name in enumerate(plan.names)}
        walls = ("left", "right", "front", "back")
        self.assertLess(max(last[f"{side}-hem"] for side in walls), min(last[side] for side in walls))
        for side in ("left", "right"):
            for end in ("front", "back"):
                self.assertLess(last[f"{side}-tab-{end}"], last[end])

    def test_a_deep_channel_on_a_straight_punch(self):
        plan = order(part_file([80, 40, 80]), press(["Straight 85"], ["V 8"]))
        self.assertFalse(plan.feasible)
        self.assertIn(plan.hits[0].tool, ("punch", "ram"))

    def test_a_closed_tube_stays_shut_round_the_tools(self):
        tube = part_file([39, 40, 40, 40, 25], [(90, "up")] * 4)
        self.assertFalse(order(tube, press(["Straight 85"], ["V 8"])).feasible)
        self.assertFalse(order(tube, brake("finger-1270")).feasible)

    def test_a_z_is_flipped_once_and_a_hat_has_each_brim_before_its_web(self):
        z = order(part_file([30, 40, 30], [(90, "up"), (90, "down")]), press(["Straight 85"], ["V 8"]))
        self.assertEqual([s.face_up for s in z.steps].count("top"), 1)
        hat = order(part_file([14, 25, 70, 25, 14], [(90, "down"), (90, "up"), (90, "up"), (90, "down")]),
                    press(["Straight 85"], ["V 8"]))
        self.assertTrue(hat.feasible)
        at = hat.names.index
        self.assertTrue(at("B1") < at("B2") and at("B4") < at("B3"), hat.names)

    def test_a_flange_at_the_end_of_a_long_strip_is_gauged_from_its_own_edge(self):
        plan = order(part_file([25, 900], [(90, "up")]), press(["Straight 85"], ["V 8"]))
        self.assertEqual((plan.steps[0].gauge.kind, plan.steps[0].gauge.of), ("edge", "L1"))

    def test_a_tray_with_lips_in_shuts_itself_off(self):
        walls = {side: {"height": 40, "lip": {"width": 18, "direction": "in"}}
                 for side in ("left", "right", "front", "back")}
        plan = order(tray_file(300, 240, walls), brake("finger-1270"))
        self.assertFalse(plan.feasible)
        self.assertTrue({(hit.bend, hit.tool) for hit in plan.hits} & {(side, "finger") for side in walls})
        left = {side: wall for side, wall in walls.items() if side in ("left", "right")}
        plan = order(tray_file(300, 240, left), brake("finger-1270"))
        self.assertTrue(plan.feasible)  # two walls opposite each other leave the ends open
        at = plan.names.index
        self.assertTrue(at("left-lip") < at("left") and at("right-lip") < at("right"), plan.names)

    def test_a_sleeve_with_end_flanges_has_them_made_while_it_is_flat(self):
        plan = order(sleeve_file(end_flange={"width": 15, "direction": "out"}), press())
        self.assertFalse(plan.feasible)
        self.assertIn("ram", {hit.tool for hit in plan.hits})
        names = list(plan.names)
        rims = [n for n, name in enumerate(names) if name.endswith("-end")]
        self.assertLess(max(rims), min(n for n, name in enumerate(names) if name in ("B1", "B2", "B3")))
        self.assertTrue(set(plan.together or cannot_be_together(Prover(Job.of(read_part(sleeve_file()), press()))))
                        <= {"B1", "B2", "B3", "BS"})

    def test_a_guard_goes_where_each_bend_is_cheapest(self):
        part = guard_file(wrapped=[2, 4 if IS_THOROUGH else 3])
        alone, both = order(part, brake("finger-1270")), order(part, brake("press-60t"), brake("finger-1270"))
        self.assertTrue(alone.feasible and both.feasible and both.optimal)
        self.assertLessEqual(both.cost, alone.cost)
        self.assertAlmostEqual(order(part, brake("leaf-2000"), brake("finger-1270")).cost, alone.cost)
        longer = both if IS_THOROUGH else order(guard_file(wrapped=[2, 4]), press(["Straight 85"], ["V 8"]))
        edges = [step.bends for step in longer.steps[:2]]
        self.assertEqual({len(bends) for bends in edges}, {3})  # each side's turned edges in one stroke

    def test_a_plate_with_a_return_has_the_return_first(self):
        back = {"edge": 1, "length": 40, "direction": "up", "return": {"length": 20, "direction": "up"}}
        plan = order(plate_file(flanges=[back]), press())
        self.assertEqual(plan.names, ("F1-return", "F1"))

    def test_a_cornered_plate_of_which_nothing_lies_where_a_cut_is_looked_for(self):
        flanges = [{"edge": 2, "length": 24.7, "direction": "up", "angle": 60, "start": 7.0},
                   {"edge": 3, "length": 23.4, "direction": "up", "angle": 90, "start": 9.8}]
        data = plate_file(outline=[[118.9, -16.5], [-19.5, 118.4], [-11.3, -119.5]], flanges=flanges)
        data["stock"]["thickness"], data["inside_radius"] = 2.0, 2.4
        self.assertTrue(plan_order(read_part(data), brake("press-60t")).feasible)

    def test_a_wall_that_leans_over_meets_the_ram(self):
        tall = part_file([120, 60, 30], [(90, "up"), (90, "up")])
        plan = order(tall, press(["Straight 85"], ["V 8"]))
        self.assertTrue(plan.feasible)
        self.assertEqual(plan.names[0], "B2")  # the low wall first: the high one then swings outside
        leaning = order(part_file([160, 60, 160], [(100, "up"), (80, "up")]), press(["Straight 85"], ["V 8"]))
        self.assertFalse(leaning.feasible)
        self.assertIn("ram", {hit.tool for hit in leaning.hits})

    def test_a_radius_sharper_than_the_nose_is_refused(self):
        plan = order(tray_file(radius=0.5), brake("finger-1270"))
        self.assertEqual({why.code for why in plan.reasons}, {"nose"})

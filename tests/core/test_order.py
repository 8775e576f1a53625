"""The order: the predicate against another judge, the search against brute force."""

import json
import math
import random

import numpy as np
import shapely
from django.test import SimpleTestCase
from shapely import LineString, Point, Polygon, box
from shapely.affinity import rotate, translate

from bendcore.brakes.press import read_press
from bendcore.brakes.shapes import inset
from bendcore.brakes.travel import Travel
from bendcore.errors import Refusal
from bendcore.order.advice.remedies import find_remedies
from bendcore.order.contact import collide
from bendcore.order.contact.collide import RADII, Nodes, least_distance, swing_hits
from bendcore.order.plan import Plan
from bendcore.order.planning import plan_order
from bendcore.order.proof.gauge import natural_gauge
from bendcore.order.proof.prover import Prover
from bendcore.order.search.finding import find
from bendcore.order.states.body import CHILD, PARENT
from bendcore.order.states.moves import MADE, Job, Move
from bendcore.part import read_part
from tests.core.guards import guard_file
from tests.core.judges import brute_force
from tests.core.samples import brake, order_result, part_file, press, press_file, random_part, reference
from tests.core.test_many import First
from tests.often import often

PAIRS = [(["Straight 85"], ["V 8"]), (["Swan neck 85"], ["V 8"]), (["Swan neck 85"], ["V 6", "V 8"])]


def thick_section(strip, i, angles, v, shoulder, at, tip=False):
    """The part over the die, built on its own: the middle of the sheet walked as
    lines and arcs, thickened, and let down until it touches the die's shoulders.
    Returns the pieces that do not belong to the bend being made, and with ``tip`` the height of the inside of
    the arc, where the punch stands."""
    t, sign = strip.thickness, strip.bends[i].sign
    bend = strip.bends[i].figures
    radius = bend.allowance / math.radians(at) - bend.k * t
    pieces = []
    for side in (1, -1):
        heading = math.radians(at) / 2
        where = np.array([math.sin(heading), -math.cos(heading)]) * (radius + t / 2)
        chain = strip.outward(i, "end" if side > 0 else "start")
        order = [strip.flats[i + (side > 0)][1], *[x for j in chain for x in (j, strip.flats[j + (side > 0)][1])]]
        for n, item in enumerate(order):
            if n % 2 == 0:
                far = where + item * np.array([math.cos(heading), math.sin(heading)])
                path, where = [where, far], far
            else:
                figures, angle = strip.bends[item].figures, angles[item]
                turn = strip.bends[item].sign * sign
                path = [where]
                steps = 200
                length = math.radians(angle) * (figures.allowance / math.radians(angle) - figures.k * t + t / 2) \
                    if angle else figures.allowance
                for _ in range(steps):
                    heading += turn * math.radians(angle) / steps / 2
                    where = where + length / steps * np.array([math.cos(heading), math.sin(heading)])
                    heading += turn * math.radians(angle) / steps / 2
                    path.append(where)
            band = LineString(path).buffer(t / 2, cap_style="flat", join_style="mitre")
            pieces.append((side, n, band if side > 0 else shapely.affinity.scale(band, -1, 1, origin=(0, 0))))
    leg = next(band for side, n, band in pieces if side > 0 and n == 0)
    centre, drop = Point(v / 2, -shoulder), (0.0, 400.0)
    if shapely.affinity.translate(leg, 0, 200).intersects(centre):
        raise AssertionError("the walk starts in the die")
    low, high = drop[0] - 400, drop[1]
    for _ in range(often(60)):
        middle = (low + high) / 2
        if translate(leg, 0, middle).distance(centre) > shoulder and _above(leg, middle, centre):
            high = middle
        else:
            low = middle
    found = [translate(band, 0, high) for _, n, band in pieces if n > 0]
    return (found, high - max(radius, 0.0)) if tip else found


def _above(leg, lift, centre):
    """Whether the raised leg lies over the shoulder's centre, not under it."""
    down = LineString([(centre.x, centre.y), (centre.x, centre.y + 5000)])
    return translate(leg, 0, lift).intersects(down)


def deepest(part, tool):
    """Largest distance from the overlap to the tool's boundary, over a fine net of its points."""
    overlap = part.intersection(tool)
    if overlap.is_empty:
        return 0.0
    points = shapely.get_coordinates(shapely.segmentize(overlap, 0.05))
    inner = [overlap.representative_point()]
    return max(tool.exterior.distance(p) for p in [*shapely.points(points), *inner])


class Predicate(SimpleTestCase):
    def test_against_a_thick_section_built_on_its_own(self):
        rng = random.Random(7)
        near = hits = 0
        for n in range(often(200)):
            job = Job.of(random_part(rng, 5), press(["Straight 85"], ["V 12"]))
            strip, die = job.part.strip, job.brakes[0].mounts[0].die
            i = rng.randrange(len(strip.bends))
            levels = [rng.choice([0, 2]) for _ in strip.bends]
            angles = job.angles(range(len(levels)), levels)
            at = rng.uniform(20, 90)
            judge = thick_section(strip, i, angles, die.v, die.shoulder_radius, at)
            if not judge:
                continue
            stroke = Travel(strip.bends[i].figures, 0.0, die)
            outlines = []
            for side, which in ((1, CHILD), (-1, PARENT)):
                half = job.body.half((i,), which)
                for k, node in enumerate(half.nodes):
                    pose = job.body.pose(half, k, [angles[j] for j in node.path])
                    outlines += [(side, pose.shape)] if node.path else []
            body = shapely.union_all(judge)
            corner = rng.choice(shapely.get_coordinates(body).tolist())
            tool = Polygon([(0, 0), (9, -2), (12, 6), (5, 11), (-3, 7)])
            tool = translate(tool, corner[0] + rng.uniform(-30, 30), corner[1] + rng.uniform(-30, 30))
            if n % 2:  # bring it within 1 mm of contact
                gap = body.distance(tool)
                a, b = shapely.shortest_line(tool, body).coords if gap else ((0, 0), (0, 0))
                reach = 1 + rng.uniform(-1, 1) / max(gap, 1e-9)
                tool = translate(tool, (b[0] - a[0]) * reach, (b[1] - a[1]) * reach)
                near += abs(body.distance(tool)) < 1
            y, z, h, _ = stroke.path(np.array([at]))
            met = False
            for side, shape in outlines:
                nodes = Nodes.made([shape], side)
                met |= bool(nodes.placed(np.array([0]), y, z, h)[0].intersects(inset(tool)))
            depth = deepest(body, tool)
            hits += met
            if depth > 0.09:
                self.assertTrue(met, (n, depth))
            if depth < 0.02:
                self.assertFalse(met, (n, depth))
        self.assertGreaterEqual(near, often(90))
        self.assertTrue(often(40) < hits < often(180), hits)

    def test_a_swing_is_proved_between_the_angles_looked_at(self):
        """A needle in the path of a leg is met however thin it is."""
        outline = np.array([[0, -1], [200, -1], [200, 0], [0, 0]], float)
        nodes = Nodes.made([Polygon(outline)])
        for angle in (3.3, 17.1, 44.9, 71.7, 88.8):
            h = math.radians(angle)
            needle = Point(150 * math.cos(h), 150 * math.sin(h)).buffer(0.2)
            hit = swing_hits(nodes, needle, lambda a: (0 * a, 0 * a, np.radians(a)), 90.0)
            self.assertAlmostEqual(hit[0], angle, delta=0.5)
            miss = Point(203 * math.cos(h), 203 * math.sin(h)).buffer(0.2)
            self.assertTrue(np.isnan(swing_hits(nodes, miss, lambda a: (0 * a, 0 * a, np.radians(a)), 90.0)[0]))

    def test_a_sliver_on_the_corner_of_a_ring_is_looked_at_as_any_other_face(self):
        """Cut along the rings, such a sliver leaves nothing that GEOS can make a ring of."""
        for r in RADII[1:5]:
            sliver = Polygon([(r - 1e-12, r), (r - 1e-12, r - 1e-12), (r, r + 1)])
            with self.assertRaises(shapely.errors.GEOSException):
                shapely.clip_by_rect(sliver, -r, -r, r, r)
            cut, whole = collide._clipped(np.array([sliver, box(0, -1, r, 2 * r)]), (-r, -r, r, r))
            self.assertLess(cut.area, 1e-9)
            self.assertAlmostEqual(whole.area, r * (r + 1))
            nodes = Nodes.made([sliver, box(0, -1, r, r)])
            hit = swing_hits(nodes, Point(0, r).buffer(0.2), lambda a: (0 * a, 0 * a, np.radians(a)), 60.0)
            self.assertEqual([np.isnan(angle) for angle in hit], [True, False])
            tool = rotate(Point(r, r + 0.5), 30, (0, 0)).buffer(0.3)
            hit = swing_hits(nodes, tool, lambda a: (0 * a, 0 * a, np.radians(a)), 60.0)
            self.assertLess(rotate(sliver, hit[0], (0, 0)).distance(tool), 1e-9)

    def test_the_least_distance_of_a_swing_is_that_of_trying_every_angle(self):
        """Parts turned and moved by shapely, at every angle, beside every eighth and what its bound leaves open."""
        rng, angles = random.Random(6), np.append(np.arange(0.0, 97.3), 97.3)

        def path(a):
            return 12 * np.sin(np.radians(a)), -a / 11, np.radians(a / 2)
        for _ in range(often(240)):
            shapes = [box(low, -2, low + rng.uniform(1, 80), rng.uniform(-1, 60)) for low in
                      (rng.uniform(0, 150) for _ in range(3))]
            tool = Point(rng.uniform(-60, 260), rng.uniform(-90, 220)).buffer(rng.uniform(0.1, 9))
            judged = min(translate(rotate(shape, a / 2, (0, 0)), 12 * math.sin(math.radians(a)), -a / 11).distance(tool)
                         for shape in shapes for a in angles)
            self.assertAlmostEqual(least_distance(Nodes.made(shapes), tool, path, angles), judged, 9)
        self.assertEqual(least_distance(Nodes.made(shapes).some(np.zeros(0, int)), tool, path, angles), math.inf)


class Proved(SimpleTestCase):
    def test_what_the_prover_lets_pass_meets_no_tool_in_a_section_built_on_its_own(self):
        """Of moves let pass at random states none overlaps die or punch by more than 0.1 mm at any angle looked at;
        of those whose section overlaps by more than 0.3 mm none is let pass."""
        rng, passed, stopped = random.Random(17), 0, 0
        for n in range(often(60)):
            job = Job.of(random_part(rng, 5), press(["Straight 85"], ["V 12"]))
            strip, tools, prover = job.part.strip, job.brakes[0].mounts[0], Prover(job)
            i = rng.randrange(len(strip.bends))
            levels = tuple(0 if j == i else rng.choice([0, 2]) for j in range(len(strip.bends)))
            angles, worst = job.angles(range(len(levels)), levels), 0.0
            for at in np.linspace(15, job.overbent(job.angle(i, 2)), 8):
                pieces, tip = thick_section(strip, i, angles, tools.die.v, tools.die.shoulder_radius, at, tip=True)
                punch = translate(tools.punch.polygon, 0, tip)
                worst = max([worst, *(deepest(piece, tool) for piece in pieces for tool in (tools.die.polygon, punch))])
            lets = [bool(prover.mounting(levels, Move(0, (i,), MADE, side))) for side in (PARENT, CHILD)]
            if worst > 0.3:
                stopped += 1
                self.assertEqual(lets[1], False, (n, worst))
            if lets[1]:
                passed += 1
                self.assertLess(worst, 0.1, n)
        self.assertTrue(passed >= often(10) and stopped >= often(10), (passed, stopped))


class Search(SimpleTestCase):
    def test_the_best_order_is_brute_forces(self):
        rng = random.Random(11)
        without = 0
        for n in range(often(18)):
            punches, dies = PAIRS[n % 3]
            job = Job.of(random_part(rng, 5 if n % 6 == 0 else 4), press(punches, dies))
            found, wanted = find(Prover(job)), brute_force(job)
            without += wanted is None
            self.assertEqual(found.complete, wanted is not None, n)
            if found.complete:
                self.assertAlmostEqual(found.cost, wanted, 6, n)
        self.assertTrue(4 <= without <= 14, f"{without} of 18 have no order")

    def test_strips_have_the_orders_they_had(self):
        """As the engine for strips alone found them, which this one took the place of: same feasibility, same cost."""
        for n, row in enumerate(reference("strip_orders")):
            part = part_file(row["legs"], [tuple(b) for b in row["bends"]], width=row["width"], **row["extra"])
            found = find(Prover(Job.of(read_part(part), press(row["punches"], row["dies"]))))
            self.assertEqual(found.complete, row["feasible"], n)
            if found.complete:
                self.assertAlmostEqual(found.cost, row["cost"], 3, n)

    def test_the_same_part_from_its_other_end_costs_the_same(self):
        legs, bends = [12, 25, 40, 30], [(90, "up"), (90, "down"), (60, "up")]
        results = [order_result(read_part(part_file(a, b)), press(["Straight 85"], ["V 8"]))
                   for a, b in ((legs, bends), (legs[::-1], bends[::-1]))]
        self.assertTrue(results[0]["feasible"])
        self.assertEqual(results[0]["cost_seconds"], results[1]["cost_seconds"])

    def test_hems_are_creased_and_closed(self):
        part = read_part(part_file([30, 60], [(90, "up")], start_hem={"length": 10, "gap": 0, "direction": "up"}))
        steps = order_result(part, press())["steps"]
        self.assertEqual([s["bends"][0] for s in steps], ["HS", "HS", "B1"])
        self.assertEqual([s["angle"] for s in steps], [135, 180, 90])
        self.assertEqual((steps[0]["tools"]["punch"], steps[1]["tools"]["die"]), ("Acute 30", "Flattener"))
        none = order_result(part, press(["Straight 85"], ["V 8"]))
        self.assertFalse(none["feasible"])
        self.assertIn("acute-pair", {r["code"] for r in none["reasons"]})

    def test_gauging(self):
        """A formed face: outside leg − OSSB + BA/2; a plain edge: the flat."""
        part = read_part(part_file([30, 60, 40]))
        job = Job.of(part, press())
        b1 = part.shape.bends[0].figures
        half = job.body.half((1,), PARENT)
        edge = natural_gauge(job, half, (0,), 12.0)
        self.assertAlmostEqual(edge.stop, part.flat.bends[1].line[0][0])
        face = natural_gauge(job, half, (2,), 12.0)
        self.assertAlmostEqual(face.stop, 60 - b1.outside_setback + b1.allowance / 2)
        self.assertEqual((face.kind, face.of), ("face", "L1"))

    def test_what_hits_is_named_with_phase_and_depth(self):
        result = order_result(read_part(part_file([50, 50, 50, 47], [(90, "up")] * 3)),
                              press(["Straight 85"], ["V 8"]))
        self.assertFalse(result["feasible"])
        self.assertEqual(len(result["steps"]), 2)
        hit = result["hits"][0]
        self.assertEqual((hit["step"], hit["bend"], hit["phase"], hit["tool"]), (3, "B2", "during", "punch"))
        self.assertGreater(hit["depth"], 1)
        self.assertLess(hit["from_angle"], hit["at_angle"])

    def test_remedies_do_what_they_say(self):
        data = part_file([25, 45, 40], [(90, "up"), (90, "up")])
        mounted = press(["Straight 85"], ["V 8"])
        tried = order_result(read_part(data), mounted, ["B1", "B2"])
        self.assertTrue(tried["feasible"])
        data = part_file([40, 36, 40])
        narrow = plan_order(read_part(data), mounted)
        self.assertFalse(narrow.feasible)
        found = find_remedies(data, press(), mounted, narrow).remedies
        self.assertEqual(found[0].kind, "other-tool")
        self.assertTrue(order_result(read_part(data), press())["feasible"])
        shorter = [remedy.written("mm") for remedy in find_remedies(data, mounted, mounted, narrow).remedies]
        self.assertEqual({r["kind"] for r in shorter}, {"shorter-leg", "crease-and-return", "split"} | (
            {"open-angle"} & {r["kind"] for r in shorter}))
        self.assertEqual([r["cost_seconds"] for r in shorter], sorted(r["cost_seconds"] for r in shorter))
        for remedy in (r for r in shorter if r["kind"] == "shorter-leg"):
            legs = list(data["shape"]["legs"])
            legs[int(remedy["face"][1:]) - 1] = remedy["length"]
            self.assertTrue(order_result(read_part(part_file(legs)), mounted)["feasible"])

    def test_an_order_written_out_is_read_back_as_it_was(self):
        for units in ("mm", "in"):
            found = plan_order(read_part(part_file(start_hem={"length": 9, "direction": "up"})), press())
            again = Plan.read(json.loads(json.dumps(found.written(units))))
            self.assertEqual((again.feasible, again.cost, again.brake, again.names),
                             (True, found.cost, found.brake, found.names))
            for one, kept in zip(found.steps, again.steps, strict=True):
                self.assertEqual((one.bends, one.angle, one.bend_to, one.held, one.face_up, one.tools.key),
                                 (kept.bends, kept.angle, kept.bend_to, kept.held, kept.face_up, kept.tools.key))
                self.assertEqual((one.gauge.kind, one.gauge.of), (kept.gauge.kind, kept.gauge.of))
                if one.gauge.stop is not None:
                    self.assertAlmostEqual(one.gauge.stop, kept.gauge.stop)
                self.assertAlmostEqual(sum(one.tools.die_lengths), sum(kept.tools.die_lengths))

    def test_a_part_without_bends_is_in_order(self):
        plain = part_file([100], [])
        found = order_result(read_part(plain), press())
        self.assertEqual((found["feasible"], found["cost_seconds"], found["steps"]), (True, 0, []))

    def test_more_bends_than_states_can_be_counted_for(self):
        """A wrapper of twenty-one bends: something is told in good time, though not proven."""
        outline = [[300 * math.cos(math.pi * n / 4), 300 * math.sin(math.pi * n / 4)] for n in range(8)]
        part = read_part(guard_file(outline=outline, width=120, wrapped=[1, 7]))
        plan = plan_order(part, brake("finger-1270"), None, First(60))  # a machine may be slow
        self.assertTrue(plan.steps)

    def test_orders_that_cannot_be_tried(self):
        part, machine = read_part(part_file()), press()
        for names in (["B1"], ["B1", "B1", "B2"], ["B1", "B9"], []):
            with self.assertRaises(Refusal):
                order_result(part, machine, names)

    def test_the_best_is_found_whatever_things_cost(self):
        rng = random.Random(23)
        for costs in ({"two_person_factor": 0.1, "flip": 40}, {"scribed_line": 1, "stop_move": 50}, {"turn": 90},
                      {"tool_change": 0, "stop_move": 7}):
            data = press_file() | {"costs": costs, "between_frames": 4000}
            data["punches"], data["dies"] = data["punches"][:2], [data["dies"][1]]
            for _ in range(3):
                part = part_file([rng.randint(14, 60) for _ in range(4)],
                                 [(rng.choice([45, 90]), rng.choice(["up", "down"])) for _ in range(3)], width=1250)
                job = Job.of(read_part(part), read_press(data))
                found, wanted = find(Prover(job)), brute_force(job)
                self.assertEqual(found.complete, wanted is not None)
                if found.complete:
                    self.assertAlmostEqual(found.cost, wanted, 6)

    def test_a_wide_sheet_costs_two_people(self):
        wide = read_part(part_file([30, 60, 30], [(90, "up"), (90, "down")], width=1300))
        narrow = read_part(part_file([30, 60, 30], [(90, "up"), (90, "down")]))
        costs = [order_result(p, press(["Straight 85"], ["V 8"]))["cost_seconds"] for p in (wide, narrow)]
        self.assertEqual(costs[0] - costs[1], 6)  # one flip, by two

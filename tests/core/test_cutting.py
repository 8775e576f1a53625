"""Cutting plans: replayed cut by cut, looked over by areas, beside first-fit decreasing."""

import cmath
import io
import json
import math
import random
from dataclasses import replace
from unittest import mock

import ezdxf
from django.test import SimpleTestCase
from shapely import Polygon, box, union_all

from bendcore.cutting import data, guillotine
from bendcore.cutting.anyplace import saw_plan
from bendcore.cutting.bound import bounds, least_left_out
from bendcore.cutting.exact import together
from bendcore.cutting.guillotine import Job, Run, Used, _whole, refit, shear_plan
from bendcore.cutting.pieces import Piece, Placed, Stock, pieces_of
from bendcore.cutting.plan import faults, freed, hard_to_hold, needed
from bendcore.cutting.shapes import cutter_plan
from bendcore.cutting.wish import WISHES, cost
from bendcore.errors import Refusal
from bendcore.formats.export import to_dxf
from bendcore.formats.nest import to_nest
from bendcore.layout.linework import linework, read_linework
from bendcore.part import read_part
from bendcore.patience import Patience, Turn
from tests.core.plates import plate_file
from tests.core.ribs import rib_file
from tests.core.samples import part_file, tray_file
from tests.lists import a_list, parted
from tests.often import often

WHOLE = Stock("A", 2000, 1000, 99)


def random_list(rng, most=80):
    pieces = [Piece(f"p{n}", "p", round(rng.uniform(60, 900), 1), round(rng.uniform(60, 500), 1), (),
                    rng.choice(["", "", "along", "across"])) for n in range(rng.randint(6, most))]
    stock = [WHOLE, Stock("B", 2500, 1250, 99, "width"), Stock("C", 700, 420, 1, "length", True)][:rng.randint(1, 3)]
    return pieces, stock, rng.choice([0, 1.5]), rng.choice([0, 6])


def first_fit_decreasing(pieces, sheet, kerf, margin):
    """How many sheets by shelves: the tallest first, each on the first shelf that has room."""
    long, wide = sheet.length - 2 * margin + kerf, sheet.width - 2 * margin + kerf
    sheets = []
    sides = [(p.length, p.width)[::-1 if (p.ways(sheet) == (True,)) else 1] for p in pieces]
    for a, b in sorted(((a + kerf, b + kerf) for a, b in sides), key=lambda s: -s[1]):
        for shelves in sheets:
            shelf = next((s for s in shelves if s[0] + a <= long + 1e-6 and b <= s[1] + 1e-6), None)
            if shelf:
                shelf[0] += a
                break
            if sum(s[1] for s in shelves) + b <= wide + 1e-6:
                shelves.append([a, b])
                break
        else:
            sheets.append([[a, b]])
    return len(sheets)


class Plans(SimpleTestCase):
    def looked_over(self, plan, pieces, kerf, margin):
        """Every piece once, on its sheet, off its neighbours and along its grain, by areas alone."""
        self.assertEqual(sorted(one.piece.id for one in plan.placed), sorted(p.id for p in pieces))
        for n, sheet in enumerate(plan.sheets):
            rings = [box(one.x, one.y, one.x + one.size[0], one.y + one.size[1])
                     for one in plan.placed if one.sheet == n]
            room = box(margin, margin, sheet.length - margin, sheet.width - margin).buffer(0.01)
            self.assertTrue(all(room.covers(ring) for ring in rings))
            grown = [ring.buffer(kerf / 2 - 1e-3, join_style="mitre") if kerf else ring.buffer(-1e-3) for ring in rings]
            self.assertAlmostEqual(union_all(grown).area, sum(g.area for g in grown), delta=1)
        for one in plan.placed:
            along = (one.turned % 180 == 0) == (plan.sheets[one.sheet].grain != "width")
            if one.piece.tied:
                self.assertEqual(along, one.piece.tied == "along")

    def replayed(self, plan, kerf):
        """Sheets cut as told, edge to edge: what comes out holds every piece."""
        for n, sheet in enumerate(plan.sheets):
            regions = {(0.0, 0.0, sheet.length, sheet.width)}
            for cut in plan.cuts[n]:
                own = next(r for r in regions if all(abs(a - b) < 1e-3 for a, b in zip(r, cut.region, strict=True)))
                x, y, long, wide = own
                regions.remove(own)
                width = 0.0 if cut.trim else kerf
                if cut.axis == "x":
                    self.assertAlmostEqual(cut.long, wide, 3)
                    regions |= {(x, y, cut.stop, wide), (x + cut.stop + width, y, long - cut.stop - width, wide)}
                else:
                    self.assertAlmostEqual(cut.long, long, 3)
                    regions |= {(x, y, long, cut.stop), (x, y + cut.stop + width, long, wide - cut.stop - width)}
            for one in plan.placed:
                if one.sheet == n:
                    want = (one.x, one.y, *one.size)
                    self.assertTrue(any(all(abs(a - b) < 1e-3 for a, b in zip(r, want, strict=True)) for r in regions),
                                    (one, sorted(regions)))

    def test_stopped(self):
        """A plan that is stopped is whole all the same; one that goes on tells how far it is."""
        class Told(Patience):
            def __call__(self):
                asked.append(1)
                return super().__call__()

            def note(self, **how_far):
                heard.append(how_far)

        heard, asked = [], []
        pieces = [Piece(str(n), "p", 700, 520) for n in range(12)]  # three go on a sheet, four by their area
        for planner in (shear_plan, saw_plan, cutter_plan):
            asked.clear()
            plan = planner(pieces, [WHOLE], 1.0, 5, Turn(3, whole=Told(-1)))
            self.assertIn(len(asked), range(1, 12), planner)
            self.assertEqual((len(plan.placed), faults(plan.sheets, plan.placed, 1.0, 5)), (12, []))
            self.assertFalse(plan.is_best("sheets"))
        plan = shear_plan(pieces, [WHOLE], 1.0, 5, Turn(1.0, whole=Told(30)))
        self.assertEqual(heard[-1]["whole"], len(plan.sheets))
        self.assertEqual((heard[-1]["left"], heard[-1]["least"]), (0, plan.least.stock))

    def test_random_lists_are_cut_through_and_need_few_sheets(self):
        rng, near = random.Random(11), 0
        for n in range(often(60)):
            pieces, stock, kerf, margin = random_list(rng)
            plan = shear_plan(pieces, stock, kerf, margin, turn=Turn(0.5))
            self.looked_over(plan, pieces, kerf, margin)
            self.replayed(plan, kerf)
            given = [name for sheet, cuts in enumerate(plan.cuts) for cut in cuts
                     for name in freed(plan.placed, sheet, cut, kerf)]
            self.assertEqual(len(given), len(set(given)))
            whole = {one.piece.id for one in plan.placed if not plan.cuts[one.sheet]}
            self.assertEqual({*given} | whole, {one.piece.id for one in plan.placed})
            near += len(plan.sheets) <= plan.least.stock + 1
            if len(stock) == 1:
                self.assertLessEqual(len(plan.sheets), first_fit_decreasing(pieces, WHOLE, kerf, margin), n)
            for sheet, x, y, long, wide in plan.leftovers:
                left = box(x, y, x + long, y + wide).buffer(-0.01)
                self.assertFalse(any(left.intersects(Polygon(one.ring)) for one in plan.placed if one.sheet == sheet))
        self.assertGreaterEqual(near, 0.9 * often(60))

    def test_a_leftover_is_taken_before_a_whole_sheet(self):
        small = [Piece("a", "a", 300, 200), Piece("b", "b", 300, 200)]
        plan = shear_plan(small, [WHOLE, Stock("L", 700, 420, 1, leftover=True)])
        self.assertEqual([sheet.id for sheet in plan.sheets], ["L"])

    def test_what_no_sheet_holds_is_refused_and_what_is_too_much_is_told(self):
        with self.assertRaises(Refusal) as caught:
            shear_plan([Piece("a", "Long rail", 2100, 90)], [WHOLE])
        self.assertEqual(caught.exception.path, "stock")
        with self.assertRaises(Refusal):
            shear_plan([Piece("a", "tied", 300, 1500, (), "along")], [WHOLE])
        plan = shear_plan([Piece(str(n), "half", 1500, 900) for n in range(3)], [Stock("A", 2000, 1000, 2)])
        self.assertEqual((len(plan.sheets), len(plan.unplaced)), (2, 1))

    def test_no_more_is_looked_for_than_there_is_room_for(self):
        """What is left out at the least is never more than a list that is known to go leaves; where it is reached, it
        is at once."""
        rng = random.Random(9)
        for _ in range(often(30)):
            own = [Piece(str(n), "p", *size) for n, size in enumerate(parted(rng, rng.randint(2, 9)))]
            self.assertEqual(least_left_out(own, [WHOLE], 0, 0), (0, 0))
            more = [*own, *(Piece(f"+{n}", "q", rng.uniform(50, 900), rng.uniform(50, 600)) for n in range(3))]
            count, area = least_left_out(more, [replace(WHOLE, count=1)], 0, 0)
            smallest = sorted(piece.area for piece in more)[:count]
            self.assertTrue(1 <= count <= 3, count)
            self.assertEqual(area, round(math.fsum(smallest), 3))
        with mock.patch.multiple(guillotine, refit=mock.DEFAULT, _by_luck=mock.DEFAULT, exchange=mock.DEFAULT) as looks:
            plan = shear_plan([Piece(str(n), "half", 1500, 900) for n in range(3)], [Stock("A", 2000, 1000, 2)])
        self.assertEqual([look.call_count for look in looks.values()], [0, 0, 0])
        self.assertEqual(len(plan.unplaced), 1)

    def test_the_bound_is_never_above_what_a_plan_needs(self):
        """Lists cut from known sheets: as many as they came from are enough."""
        rng = random.Random(5)
        for _ in range(often(40)):
            sheets, pieces = rng.randint(1, 4), []
            for _ in range(sheets):
                pieces += parted(rng, rng.randint(1, 9))
            own = [Piece(str(n), "p", *size) for n, size in enumerate(pieces)]
            self.assertLessEqual(bounds(own, [WHOLE], 0, 0).whole, sheets)

    def test_saws_and_cutters_lay_pieces_anywhere(self):
        rng = random.Random(3)
        for _ in range(4):
            pieces, stock, kerf, margin = random_list(rng, 30)
            plan = saw_plan(pieces, stock[:1], kerf, margin, turn=Turn(0.6))
            self.looked_over(plan, pieces, kerf, margin)
        triangle = ((0, 0), (500, 0), (0, 400))
        pieces = [Piece(f"t{n}", "t", 500, 400, triangle, rng.choice(["", "along"])) for n in range(16)]
        plan = cutter_plan(pieces, [Stock("A", 1500, 1000, 9)], 1.0, 5, turn=Turn(8))
        self.assertEqual(faults(plan.sheets, plan.placed, 1.0, 5), [])
        self.assertEqual(len(plan.placed), 16)
        self.assertLess(len(plan.sheets), len(shear_plan(pieces, [Stock("A", 1500, 1000, 9)], 1.0, 5).sheets))

    def test_what_lies_wrong_by_hand_is_told(self):
        piece, tied = Piece("a", "a", 300, 200), Piece("b", "b", 300, 200, (), "along")

        def words(*placed, kerf=0.0, margin=0.0):
            return " ".join(str(said) for _, said in faults((WHOLE,), placed, kerf, margin))
        self.assertEqual(words(Placed(piece, 0, 0, 0), Placed(tied, 0, 300, 0)), "")
        self.assertIn("on each other", words(Placed(piece, 0, 0, 0), Placed(tied, 0, 250, 0)))
        self.assertIn("nearer than the cut", words(Placed(piece, 0, 0, 0), Placed(tied, 0, 301, 0), kerf=2))
        self.assertIn("leaves the sheet", words(Placed(piece, 0, 1800, 0)))
        self.assertIn("margin", words(Placed(piece, 0, 0, 0), margin=5))
        self.assertIn("grain", words(Placed(tied, 0, 0, 0, 90)))
        long, wide = needed((Placed(piece, 0, 40, 60, 90),), 0, 5)
        self.assertAlmostEqual(long, 245)
        self.assertAlmostEqual(wide, 365)

    def test_strips_too_narrow_for_the_hold_down_are_told(self):
        plan = shear_plan([Piece("a", "a", 50, 40), Piece("b", "b", 50, 40)], [Stock("A", 100, 80, 1)])
        self.assertTrue(hard_to_hold(plan.cuts[0]))
        self.assertFalse(hard_to_hold(shear_plan([Piece("a", "a", 300, 400)], [WHOLE]).cuts[0]))

    def test_blanks_come_from_parts_with_their_grain_and_plans_go_through_text(self):
        along = part_file([30, 40], [(90, "up")])
        along["stock"]["grain"] = "along"
        piece = next(pieces_of(read_part(along), "T", 1))
        self.assertEqual((piece.tied, piece.ways(WHOLE), piece.ways(Stock("B", 9, 9, 1, "width"))),
                         ("across", (True,), (False,)))
        pieces = list(pieces_of(read_part(rib_file()), "T", 5))
        text = data.lay_out("saw", data.asked(pieces, [Stock("A", 800, 500, 2)]), 1.0, 5, "sheets")
        plan = data.from_data(json.loads(text), pieces)
        self.looked_over(plan, pieces, 1.0, 5)
        old = data.from_data(json.loads(text) | {"bound": 7}, pieces)
        self.assertFalse(old.is_best("sheets") and len(old.sheets) > 1)

    def test_nothing_is_left_out_that_is_known_to_go(self):
        """Sheets parted at random, a little room beside every cut: on as many at hand all of it goes."""
        rng = random.Random(21)
        for n in range(often(12)):
            sheets, sizes = rng.randint(1, 3), []
            for _ in range(sheets):
                sizes += parted(rng, rng.randint(3, 8))
            pieces = [Piece(str(i), "p", *size) for i, size in enumerate(sizes)]
            for planner in (shear_plan, saw_plan):
                plan = planner(pieces, [Stock("A", 2000, 1000, sheets)], turn=Turn(4))
                self.assertEqual(plan.unplaced, (), (n, planner))
                self.looked_over(plan, pieces, 0, 0)
                self.assertLessEqual(plan.least.stock, sheets)
            self.replayed(shear_plan(pieces, [Stock("A", 2000, 1000, sheets)], turn=Turn(4)), 0)

    def test_what_rules_of_thumb_leave_out_goes_by_luck(self):
        way, pieces, count, kerf, margin, _ = a_list(random.Random(1155), 155)
        self.assertEqual((way, len(pieces), count), ("shear", 12, 1))
        plan = shear_plan(pieces, [replace(WHOLE, count=count)], kerf, margin, turn=Turn(3))
        self.assertEqual(plan.unplaced, ())
        self.looked_over(plan, pieces, kerf, margin)
        self.replayed(plan, kerf)

    def test_most_blanks_come_first_whatever_their_size(self):
        sheet, large, small = Stock("A", 2000, 1000), Piece("1", "p", 900, 900), Piece("2", "p", 100, 100)
        for wish in WISHES:
            self.assertLess(cost(wish, [sheet] * 3, [large]), cost(wish, [sheet], [small, small]))
            self.assertLess(cost(wish, [sheet] * 3, [small]), cost(wish, [sheet], [large]))

    def test_few_pieces_are_tried_every_way(self):
        """Eight that fill a sheet by construction go on it; shrink the sheet by a millimetre and they do not."""
        sizes = [(700, 400), (500, 400), (300, 250), (300, 150), (500, 350), (400, 350), (300, 350), (1200, 250)]
        pieces = [Piece(str(n), "p", *size) for n, size in enumerate(sizes)]
        held = together(pieces, Stock("A", 1500, 1000), 0, 0)
        self.assertIsNotNone(held)
        self.assertLessEqual(sum(a * b for a, b in sizes), held[0].long * held[0].wide)
        tight = [Piece("a", "a", 600, 500), Piece("b", "b", 400, 500), Piece("c", "c", 1000, 300)]
        for room, goes in ((1000, True), (999, False)):
            self.assertEqual(together(tight, Stock("A", room, 800), 0, 0) is not None, goes)
        tied = [Piece("a", "a", 600, 300, (), "along"), Piece("b", "b", 600, 300, (), "along")]
        self.assertIsNone(together(tied, Stock("A", 1250, 310, 1, "width"), 0, 0))
        self.assertIsNotNone(together(tied, Stock("A", 1250, 310), 0, 0))
        self.assertIsNotNone(together(tied, Stock("A", 700, 601), 1, 0))
        self.assertIsNone(together(tied, Stock("A", 700, 601), 2, 0))

    def test_an_exchange_that_makes_room_for_another_that_is_left_out(self):
        there, larger, last = Piece("c", "p", 90, 64), Piece("a", "p", 100, 58), Piece("b", "p", 45, 38)
        strip = Piece("d", "p", 100, 1)
        job = Job([Stock("A", 100, 100)], 0, 0, "sheets")
        used = Used(job.stock[0], _whole(job.stock[0], job), pieces=[there, strip])
        run = Run([used], [larger, last])
        refit(run, job)
        self.assertEqual(sorted(p.id for p in run.used[0].pieces), ["a", "b", "d"])
        self.assertEqual([p.id for p in run.left_out], ["c"])

    def test_what_the_shop_wishes_is_saved(self):
        left = Stock("L", 700, 420, 1, leftover=True)
        small, many = [Piece("a", "a", 600, 400)], [Piece(str(n), "p", 600, 400) for n in range(7)]
        for wish, pieces, want in (("sheets", small, "L"), ("leftovers", small, "A"), ("sheets", many, "A"),
                                   ("leftovers", many, "AA"), ("sheets", many[:1] + many, "AL")):
            for planner in (shear_plan, saw_plan):
                plan = planner(pieces, [WHOLE, left], turn=Turn(0.3), wish=wish)
                found = "".join(sorted(sheet.id for sheet in plan.sheets))
                if (wish, len(pieces)) == ("leftovers", 7):
                    self.assertEqual(set(found), {"A"}, wish)  # never the leftover
                elif len(pieces) != 8:
                    self.assertEqual(found, want, (wish, planner))
        fewest = shear_plan(many, [WHOLE, left], turn=Turn(0.5), wish="cuts")
        self.assertLessEqual(sum(map(len, fewest.cuts)), sum(map(len, shear_plan(many, [WHOLE], turn=Turn(0.5)).cuts)))

    def test_small_pieces_lie_in_the_openings_of_large_ones(self):
        frame = ((100, 100), (700, 100), (700, 500), (100, 500))
        frames = [Piece(f"f{n}", "frame", 800, 600, (), "along", (frame,)) for n in range(2)]
        small = [Piece(f"s{n}", "s", 190, 120, (), ["", "along", "across"][n % 3]) for n in range(12)]
        for sheet in (Stock("A", 1650, 640, 3), Stock("B", 640, 1650, 3, "width")):
            plan = cutter_plan(frames + small, [sheet], 2.0, 10)
            self.assertEqual((len(plan.sheets), plan.unplaced), (1, ()))
            self.assertEqual(faults(plan.sheets, plan.placed, 2.0, 10), [])
            metal = union_all([one.shape for one in plan.placed])
            self.assertAlmostEqual(metal.area, sum(p.shape.area for p in frames + small), delta=1)
            lies = {one.piece.id: one.turned % 180 for one in plan.placed}
            along = 0 if sheet.grain == "length" else 90
            for piece in frames + small:
                if piece.tied:
                    self.assertEqual(lies[piece.id], along if piece.tied == "along" else 90 - along)
        self.assertEqual(plan.least.stock, 1)

    def test_a_nest_that_does_not_finish_still_counts(self):
        triangle = ((0, 0), (500, 0), (0, 400))
        pieces = [Piece(f"t{n}", "t", 500, 400, triangle) for n in range(24)]
        plan = cutter_plan(pieces, [Stock("A", 1500, 1000, 3)], 1.0, 5, turn=Turn(4))
        self.assertEqual(plan.unplaced, ())
        self.assertEqual(faults(plan.sheets, plan.placed, 1.0, 5), [])
        self.assertLessEqual(plan.least.stock, 2)  # two sheets hold 24 of them: no bound may say otherwise


class NestsReadBack(SimpleTestCase):
    """A sheet as the cutter reads it: every contour, bend line and label of every part's own drawing, placed."""

    def contours(self, text):
        space = ezdxf.read(io.StringIO(text)).modelspace()
        rings = [[complex(x, y) for x, y, *_ in e.get_points("xyb")] for e in space.query('LWPOLYLINE[layer=="CUT"]')]
        bulges = [[round(b, 6) for *_, b in e.get_points("xyb")] for e in space.query('LWPOLYLINE[layer=="CUT"]')]
        rounds = [(complex(e.dxf.center.x, e.dxf.center.y), e.dxf.radius) for e in space.query('CIRCLE[layer=="CUT"]')]
        lines = [(e.dxf.layer, complex(*e.dxf.start.vec2), complex(*e.dxf.end.vec2)) for e in space.query("LINE")]
        texts = [e.dxf.text for e in space.query('TEXT[layer=="TEXT"]')]
        return list(zip(rings, bulges, strict=True)), rounds, lines, texts

    def test_every_contour_of_every_piece_is_on_the_sheet(self):
        files = [plate_file(), tray_file(120, 80, {"left": {"height": 20}, "front": {"height": 25}}), rib_file(),
                 part_file([40, 60, 40], [(90, "up"), (60, "down")])]
        files[0]["shape"] |= {"holes": [{"x": 20, "y": 20, "diameter": 8}],
                              "slots": [{"x": 60, "y": 30, "width": 6, "length": 20, "angle": 30}]}
        parts = [read_part(file) for file in files]
        pieces, drawn, of = [], {}, {}
        for n, part in enumerate(parts):
            for piece in pieces_of(part, f"P{n}", 3):
                pieces.append(piece)
                drawn[piece.id], of[piece.id] = read_linework(linework(part).as_data()), part
        plan = cutter_plan(pieces, [Stock("A", 900, 700, 9)], 1.0, 5, turn=Turn(3))
        self.assertEqual(len(plan.placed), 12)
        for n in range(len(plan.sheets)):
            rings, rounds, lines, texts = self.contours(to_nest(plan, n, drawn))
            counts = [0, 0, 0, 0]
            for one in (one for one in plan.placed if one.sheet == n):
                own = self.contours(to_dxf(replace(of[one.piece.id], units="mm")))
                turn = cmath.exp(1j * math.radians(one.turned))
                outer = [point * turn for point in max((ring for ring, _ in own[0]), key=lambda ring: max(
                    abs(a - b) for a in ring for b in ring))]
                shift = complex(one.x - min(p.real for p in outer), one.y - min(p.imag for p in outer))
                if one.piece.name == parts[2].name:  # arcs reach beyond their corners: by the box of the whole outline
                    box = Polygon([((p := complex(*q) * turn).real, p.imag) for q in one.piece.ring]).bounds
                    shift = complex(one.x - box[0], one.y - box[1])
                for ring, bulges in own[0]:
                    self.assertTrue(any(bulges == b and all(abs(p * turn + shift - q) < 1e-4 for p, q in zip(
                        ring, r, strict=False)) for r, b in rings if len(r) == len(ring)), one)
                for centre, radius in own[1]:
                    self.assertTrue(any(abs(centre * turn + shift - c) < 1e-4 and abs(radius - r) < 1e-5
                                        for c, r in rounds), one)
                for layer, a, b in own[2]:
                    self.assertTrue(any(layer == k and abs(a * turn + shift - p) + abs(b * turn + shift - q) < 1e-4
                                        for k, p, q in lines), (one, layer))
                self.assertLessEqual(set(own[3]), set(texts))
                counts = [have + len(more) for have, more in zip(counts, own, strict=True)]
            self.assertEqual(counts, [len(rings), len(rounds), len(lines), len(texts)])

"""Cutting plans: replayed cut by cut, looked over by areas, beside first-fit decreasing."""

import io
import json
import random

import ezdxf
from django.test import SimpleTestCase
from shapely import Polygon, box, union_all

from bendcore.cutting import data
from bendcore.cutting.anyplace import saw_plan
from bendcore.cutting.bound import least_sheets
from bendcore.cutting.guillotine import shear_plan
from bendcore.cutting.pieces import Piece, Placed, Stock, pieces_of
from bendcore.cutting.plan import faults, freed, hard_to_hold, needed
from bendcore.cutting.shapes import cutter_plan
from bendcore.errors import Refusal
from bendcore.formats.nest import to_nest
from bendcore.part import read_part
from tests.core.ribs import rib_file
from tests.core.samples import part_file

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

    def test_random_lists_are_cut_through_and_need_few_sheets(self):
        rng, near = random.Random(11), 0
        for n in range(60):
            pieces, stock, kerf, margin = random_list(rng)
            plan = shear_plan(pieces, stock, kerf, margin, seconds=0.5)
            self.looked_over(plan, pieces, kerf, margin)
            self.replayed(plan, kerf)
            given = [name for sheet, cuts in enumerate(plan.cuts) for cut in cuts
                     for name in freed(plan.placed, sheet, cut, kerf)]
            self.assertEqual(len(given), len(set(given)))
            whole = {one.piece.id for one in plan.placed if not plan.cuts[one.sheet]}
            self.assertEqual({*given} | whole, {one.piece.id for one in plan.placed})
            near += len(plan.sheets) <= plan.bound + 1
            if len(stock) == 1:
                self.assertLessEqual(len(plan.sheets), first_fit_decreasing(pieces, WHOLE, kerf, margin), n)
            for sheet, x, y, long, wide in plan.leftovers:
                left = box(x, y, x + long, y + wide).buffer(-0.01)
                self.assertFalse(any(left.intersects(Polygon(one.ring)) for one in plan.placed if one.sheet == sheet))
        self.assertGreaterEqual(near, 54)

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

    def test_the_bound_is_never_above_what_a_plan_needs(self):
        """Lists cut from known sheets: as many as they came from are enough."""
        rng = random.Random(5)
        for _ in range(40):
            sheets, pieces = rng.randint(1, 4), []
            for _ in range(sheets):
                regions = [(2000.0, 1000.0)]
                for _ in range(rng.randint(1, 9)):
                    a, b = regions.pop(rng.randrange(len(regions)))
                    share = rng.uniform(0.3, 0.7)
                    rest = 1 - share
                    regions += [(a * share, b), (a * rest, b)] if a > b else [(a, b * share), (a, b * rest)]
                pieces += regions
            own = [Piece(str(n), "p", *size) for n, size in enumerate(pieces)]
            self.assertLessEqual(least_sheets(own, [WHOLE], 0, 0), sheets)

    def test_saws_and_cutters_lay_pieces_anywhere(self):
        rng = random.Random(3)
        for _ in range(4):
            pieces, stock, kerf, margin = random_list(rng, 30)
            plan = saw_plan(pieces, stock[:1], kerf, margin, seconds=0.6)
            self.looked_over(plan, pieces, kerf, margin)
        triangle = ((0, 0), (500, 0), (0, 400))
        pieces = [Piece(f"t{n}", "t", 500, 400, triangle, rng.choice(["", "along"])) for n in range(16)]
        plan = cutter_plan(pieces, [Stock("A", 1500, 1000, 9)], 1.0, 5, seconds=8)
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
        text = data.lay_out("saw", data.asked(pieces, [Stock("A", 800, 500, 2)]), 1.0, 5)
        plan = data.from_data(json.loads(text), pieces)
        self.looked_over(plan, pieces, 1.0, 5)
        layers = [e.dxf.layer for e in ezdxf.read(io.StringIO(to_nest(plan, 0))).modelspace()]
        self.assertEqual(layers.count("CUT"), sum(one.sheet == 0 for one in plan.placed))

"""Cutting plans in the application: chosen, laid out, moved, cut, taken back; the stockroom adds up."""

import io
import random

from pypdf import PdfReader

from dorvan.cutting.models import CuttingPlan
from dorvan.cutting.waiting import groups
from dorvan.stockroom.models import Lot, StockMove, put_in
from dorvan.tickets.models import Ticket
from tests.core.samples import part_file
from tests.often import often
from tests.web.base import ShopCase


class Cutting(ShopCase):
    def setUp(self):
        super().setUp()
        for number in (20, 21):
            part = part_file([60, 120, 60], [(90, "up"), (90, "up")], width=300 + number)
            Ticket.objects.create(number=number, part=part, quantity=6, job="trial",
                                  made_by=self.bench)
        stock = Ticket.objects.get(number=20).figures.part.stock
        self.lot = put_in(Lot(code="S-1", material=stock.material.name, thickness=stock.thickness, length=1000,
                              width=600, count=6, by=self.bench), "came in")

    def plan(self, **form):
        self.assertEqual(self.client.post("/cutting/new/", {"t20": "6", "t21": "4", "way": "shear"} | form).status_code,
                         302)
        found = CuttingPlan.objects.latest("number")
        self.client.get(f"/cutting/{found.number}/")
        found.refresh_from_db()
        return found

    def cut(self, plan, what="cut", sheet=1):
        return self.client.post(f"/cutting/{plan.number}/cut/", {"what": what, "sheet": sheet})

    def test_blanks_are_chosen_laid_out_and_cut(self):
        self.assertContains(self.client.get("/cutting/"), "T-0020")
        plan = self.plan(margin="5")
        page = self.client.get(f"/cutting/{plan.number}/")
        for words in ("T-0020.6", "trim: the edge", "S-1", "of the metal is blanks"):
            self.assertContains(page, words)
        self.assertEqual(self.cut(plan).status_code, 302)
        self.lot.refresh_from_db()
        self.assertEqual(self.lot.count, 5)
        left = list(Lot.objects.filter(cut_from=self.lot))
        self.assertEqual(len(left), sum(row[0] == 0 for row in plan.laid["leftovers"]))
        self.assertContains(self.cut(plan), "cut already", status_code=422)
        refused = self.client.post(f"/cutting/{plan.number}/change/", {"way": "saw"})
        self.assertContains(refused, "a sheet of it is cut", status_code=422)
        self.assertEqual(self.cut(plan, "undone").status_code, 302)
        self.lot.refresh_from_db()
        self.assertEqual((self.lot.count, sum(lot.count for lot in Lot.objects.filter(cut_from=self.lot))), (6, 0))
        plan = self.plan(t20="2", t21="")
        self.cut(plan)
        printed = self.client.get(f"/cutting/{plan.number}/labels.pdf").content
        text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(printed)).pages)
        kept = Lot.objects.filter(cut_from=self.lot, count__gt=0)
        self.assertTrue(kept)
        for code in [*(f"T-0020.{n}" for n in (1, 2)), *(lot.code for lot in kept)]:
            self.assertIn(code, text)
        self.assertEqual(self.client.get(f"/cutting/{plan.number}/sheet-1.dxf").status_code, 200)
        self.assertEqual(self.client.get(f"/cutting/{plan.number}/sheet-99.dxf").status_code, 404)

    def test_the_good_side_is_said_once_and_seen_from_the_sheet_to_the_check(self):
        self.lot.surface = Lot.Surface.PAINTED
        self.lot.save()
        ticket = Ticket.objects.get(number=20)
        ticket.brake = self.brake
        ticket.save()
        self.client.post("/t/20/set-up/", {"lot": self.lot.pk})
        for page, words in (("stock", "The colour side lies inside at every bend"), ("shape", "spared-line"),
                            ("layout", "colour side up ○, burr below"),
                            ("order", "The punch comes down on the colour side"),
                            ("order/sheet", "the colour side is hatched"), ("bend", "colour side up ○"),
                            ("check", "look it over for scratches")):
            self.assertContains(self.client.get(f"/t/20/{page}/"), words, msg_prefix=page)
        self.assertContains(self.client.get("/t/20/bend/1/before.svg"), "url(#good)")
        self.assertEqual(self.client.get("/t/20/folded/").json()["good"], "up")
        before = self.client.get("/t/20/still.svg").content
        self.client.post("/t/20/change/", {"field": "stock.good_side", "value": "down"}, headers={"HX-Request": "true"})
        self.assertNotEqual(self.client.get("/t/20/still.svg").content, before)
        self.assertContains(self.client.get("/t/20/layout/"), "colour side down ●, burr above")
        self.assertContains(self.client.get("/t/20/order/"), "drawn over the die")
        plan = self.plan(t20="1", t21="")
        blank = plan.blanks["20"]
        self.assertTrue(blank["over"])
        self.assertEqual({row[0] for row in blank["linework"]["strokes"]} & {"BEND_UP", "BEND_DOWN"}, {"BEND_DOWN"})
        printed = self.client.get(f"/cutting/{plan.number}/labels.pdf").content
        text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(printed)).pages)
        self.assertIn("colour side up, drawn from beneath", text)

    def test_each_stock_gets_a_plan_of_its_own_in_one_go(self):
        other = part_file([60, 120], [(90, "up")])
        other["stock"]["thickness"] = 4
        ticket = Ticket.objects.create(number=22, part=other, job="trial", made_by=self.bench)
        put_in(Lot(code="S-4", material=ticket.figures.part.stock.material.name, thickness=4, length=800, width=500,
                   count=2, by=self.bench), "came in")
        self.client.post("/cutting/new/", {"t20": "2", "t22": "3", "way": "saw", "wish": "leftovers"})
        self.assertEqual([(plan.count, plan.thickness, plan.wish) for plan in CuttingPlan.objects.order_by("number")],
                         [(2, 1, "leftovers"), (3, 4, "leftovers")])

    def test_all_that_is_due_is_laid_out_at_one_press_and_what_is_kept_is_told(self):
        def wanted():
            return {one.ticket.number: (one.wanted, one.planned, one.cut) for group in groups() for one in group.wanted}

        other = part_file([60, 120], [(90, "up")])
        other["stock"]["thickness"] = 4
        Ticket.objects.create(number=22, part=other, job="trial", due="2026-12-09", quantity=2, made_by=self.bench)
        Ticket.objects.create(number=23, part=part_file(), job="plain", due="2026-12-09", made_by=self.bench)
        Ticket.objects.filter(number=7).update(archived=True)
        self.assertContains(self.client.post("/cutting/new/", {"all": "due", "way": "shear"}), "have none that is due",
                            status_code=422)
        Ticket.objects.filter(number=20).update(due="2026-12-08")
        for number in (20, 21, 22, 23):
            self.assertContains(self.client.get(f"/cutting/blanks/{number}/"), f"T-00{number}")
        self.assertContains(self.client.get("/cutting/"), "a plan for each stock")
        answer = self.client.post("/cutting/new/", {"all": "due", "way": "shear"}, follow=True)
        self.assertContains(answer, "T-0023 (gate shut), T-0022 (no sheet)")
        plan = CuttingPlan.objects.get()
        self.assertEqual({number: blank["count"] for number, blank in plan.blanks.items()}, {"20": 6})
        self.assertEqual((wanted()[20], wanted()[21]), ((0, 6, 0), (6, 0, 0)))
        self.assertContains(self.client.get("/cutting/"), "Sheet 1 of 1: S-1, 6 blanks")
        self.cut(plan)
        self.assertEqual(wanted()[20], (0, 0, 6))
        self.assertNotContains(self.client.get("/cutting/"), "Sheets to be cut")
        self.cut(plan, "undone")
        self.client.post(f"/cutting/{plan.number}/away/", {})
        self.assertEqual(wanted()[20], (6, 0, 0))
        self.assertContains(self.client.get(f"/cutting/{plan.number}/"), "Put away.")
        self.client.post(f"/cutting/{plan.number}/away/", {"what": "back"})
        self.assertEqual(wanted()[20], (0, 6, 0))
        self.assertEqual(self.client.post(f"/cutting/{plan.number}/end/").status_code, 302)

    def test_of_a_plan_that_is_cut_in_part_the_rest_lies_on_it_still(self):
        Ticket.objects.filter(number=20).update(quantity=20)
        plan = self.plan(t20="20", t21="")
        self.assertGreater(len(plan.laid["sheets"]), 1)
        self.cut(plan)
        one = next(one for group in groups() for one in group.wanted if one.ticket.number == 20)
        cut = sum(row[1] == 0 for row in plan.laid["placed"])
        self.assertEqual((one.wanted, one.planned, one.cut), (0, 20 - cut, cut))
        self.assertTrue(CuttingPlan.objects.in_hand().exists())
        for sheet in range(2, len(plan.laid["sheets"]) + 1):
            self.cut(plan, sheet=sheet)
        self.assertFalse(CuttingPlan.objects.in_hand().exists())

    def test_one_stock_is_laid_out_at_a_press_as_typed_or_as_wanted(self):
        Ticket.objects.filter(number=7).update(archived=True)
        key = next(group.key for group in groups())
        for typed, counts in (({}, {"20": 6, "21": 6}), ({"t21": "2"}, {"21": 2})):
            self.client.post("/cutting/new/", {"stock": key, "way": "saw"} | typed)
            plan = CuttingPlan.objects.first()
            self.assertEqual({number: blank["count"] for number, blank in plan.blanks.items()}, counts)
        self.assertContains(self.client.post("/cutting/new/", {"stock": "lead 9", "way": "saw"}), "of that stock",
                            status_code=422)

    def test_a_plan_made_before_holes_were_kept_leaves_none_out_in_silence(self):
        plan = self.plan()
        blanks = {number: {k: v for k, v in blank.items() if k != "linework"} for number, blank in plan.blanks.items()}
        CuttingPlan.objects.filter(pk=plan.pk).update(blanks=blanks)
        self.assertEqual(self.client.get(f"/cutting/{plan.number}/").status_code, 200)
        refused = self.client.get(f"/cutting/{plan.number}/sheet-1.dxf")
        self.assertContains(refused, "Make a new plan", status_code=422)

    def test_a_ticket_knows_that_its_blanks_are_cut_and_asks_what_happens_to_them(self):
        plan = self.plan()
        self.cut(plan)
        for page in ("/t/20/stock/", "/t/20/check/", "/t/20/kit/"):
            self.assertContains(self.client.get(page), f"({plan}, sheet")
            self.assertNotContains(self.client.get(page), "cut already")
        self.client.post("/t/20/change/", {"field": "shape.legs[0]", "value": "75"})
        for page in ("/t/20/stock/", "/t/20/check/", "/t/20/kit/"):
            self.assertContains(self.client.get(page), "cut already")
        self.assertNotContains(self.client.get("/t/21/stock/"), "cut already")
        self.assertContains(self.client.get("/t/20/shape/"), "Takes back:")
        self.client.post("/t/20/undo/")
        self.assertNotContains(self.client.get("/t/20/stock/"), "cut already")
        self.client.post("/t/20/redo/")
        self.assertContains(self.client.post("/t/20/blanks/", {"fate": "burn"}, follow=True), "must be one of")
        self.client.post("/t/20/blanks/", {"fate": "scrap"})
        page = self.client.get("/t/20/stock/")
        self.assertContains(page, "scrap them, cut anew, bench")
        self.assertNotContains(page, "cut already")
        self.client.post("/t/20/change/", {"field": "shape.legs[0]", "value": "80"})
        self.assertContains(self.client.get("/t/20/stock/"), "cut already")
        self.cut(plan, "undone")
        self.assertNotContains(self.client.get("/t/20/stock/"), "cut already")

    def test_nothing_is_cut_while_a_gate_is_shut(self):
        plan = self.plan()
        Ticket.objects.filter(number=20).update(job="plain")
        self.assertContains(self.client.get(f"/cutting/{plan.number}/"), "Not to be cut yet")
        self.assertContains(self.cut(plan), "T-0020, whose gate is shut", status_code=422)
        self.assertEqual(Lot.objects.get(pk=self.lot.pk).count, 6)
        self.client.force_login(self.lead)
        self.client.post("/t/20/gate/act/", {"what": "open", "point": "order", "reason": "bent by hand"})
        self.assertEqual(self.cut(plan).status_code, 302)

    def test_a_blank_moved_by_hand_is_looked_over_before_it_is_cut(self):
        plan = self.plan()
        move = f"/cutting/{plan.number}/move/"
        form = {"piece": "T-0020.1", "sheet": "1", "x": "-50", "y": "0", "turned": "0"}
        self.assertEqual(self.client.post(move, form).status_code, 302)
        self.assertContains(self.client.get(f"/cutting/{plan.number}/"), "leaves the sheet")
        self.assertContains(self.cut(plan), "lie wrong", status_code=422)
        for change, words in (({"x": "far"}, "not a length"), ({"x": "99 m"}, "far off"), ({"turned": "x"}, "degrees"),
                              ({"sheet": "77"}, "must be a sheet"), ({"piece": "T-9"}, "not on this plan")):
            refused = self.client.post(move, form | change)
            self.assertContains(refused, words, status_code=422)
        self.client.post(f"/cutting/{plan.number}/change/", {"way": "saw", "kerf": "1"})
        plan.refresh_from_db()
        self.assertEqual((plan.way, plan.kerf, plan.by_hand), ("saw", 1, False))

    def test_what_cannot_be_laid_out_is_refused_at_its_field(self):
        other = part_file([60, 120], [(90, "up")])
        other["stock"]["thickness"] = 4
        Ticket.objects.create(number=22, part=other, job="trial", made_by=self.bench)
        for form, words in (({}, "at least one ticket"), ({"t20": "many"}, "whole number"),
                            ({"t99": "1"}, "is no ticket"), ({"t20": "1", "t22": "1"}, "no sheet in the stockroom"),
                            ({"t999999999999": "1"}, "at least one ticket"),
                            ({"t20": "1", "way": "teeth"}, "one of"), ({"t20": "1", "kerf": "99"}, "from 0 to 10")):
            answer = self.client.post("/cutting/new/", {"way": "shear"} | form)
            self.assertContains(answer, words, status_code=422)
        self.assertEqual(CuttingPlan.objects.count(), 0)
        Lot.objects.update(count=0)
        refused = self.client.post("/cutting/new/", {"t20": "1", "way": "shear"})
        self.assertContains(refused, "no sheet", status_code=422)

    def test_a_blank_larger_than_any_sheet_and_one_that_changed_are_told(self):
        plan = self.plan()
        ticket = Ticket.objects.get(number=20)
        self.client.post("/t/20/change/", {"field": "shape.width", "value": "5000"})
        self.assertContains(self.client.get(f"/cutting/{plan.number}/"), "Changed since")
        self.client.post("/cutting/new/", {"t20": "1", "way": "shear"})
        self.assertContains(self.client.get(f"/cutting/{CuttingPlan.objects.latest('number').number}/"), "no sheet for")
        self.assertEqual(ticket.number, 20)

    def test_the_stockroom_adds_up_after_random_cuts_leftovers_and_takings_back(self):
        rng, done = random.Random(6), 0
        plans = [self.plan(t20=str(rng.randint(1, 6)), t21=str(rng.randint(0, 6)), margin=rng.choice(["", "5"]))
                 for _ in range(6)]
        for _ in range(often(500)):
            plan = rng.choice(plans)
            if rng.random() < 0.08:
                lot = rng.choice(list(Lot.objects.all()))
                self.client.post(f"/stockroom/lots/{lot.code}/measure/", {"count": str(rng.randint(0, 4))})
                continue
            answer = self.cut(plan, rng.choice(["cut", "cut", "undone"]), rng.randint(1, len(plan.laid["sheets"])))
            self.assertIn(answer.status_code, (302, 422))
            done += answer.status_code == 302
        self.assertGreater(done, often(60))
        for lot in Lot.objects.all():
            self.assertEqual(lot.count, sum(StockMove.objects.filter(lot=lot).values_list("change", flat=True)), lot)
            self.assertGreaterEqual(lot.count, 0)

"""Whole jobs, from a shop with nothing but a brake read in: none ends nowhere."""

from dorvan.brakes.models import Brake
from dorvan.floor.models import CheckSheet, ShiftCheck
from dorvan.tickets.models import Ticket
from tests.core.samples import ROOT, part_file
from tests.core.test_ways_out import hemmed_tray
from tests.web.base import ShopCase


class Jobs(ShopCase):
    def brake_read_in(self, name):
        self.client.force_login(self.lead)
        with (ROOT / "demo" / f"{name}.json").open("rb") as file:
            self.client.post("/brakes/upload/", {"file": file})
        brake = Brake.objects.latest("pk")
        ShiftCheck.objects.create(brake=brake, looked_to=["all"], by=self.lead)
        return brake

    def bend_and_check(self, ticket, pieces):
        """Every step of every piece as the cards ask, and every dimension as it should be."""
        where = f"/t/{ticket.number}"
        steps = ticket.revision.plan.steps
        for piece in pieces:
            for step in range(1, len(steps) + 1):
                answer = self.client.post(f"{where}/bend/record/", {"piece": piece, "step": step})
                self.assertEqual(answer.status_code, 302)
            sizes = {one.name: "yes" if one.unit == "tried" else f"{one.nominal:.2f}"
                     for one in ticket.figures.dimensions}
            self.assertEqual(self.client.post(f"{where}/check/save/", {"piece": piece} | sizes).status_code, 302)
        self.assertContains(self.client.get(f"{where}/check/?piece={pieces[-1]}"), "✓ Good")

    def test_a_hemmed_tray_takes_its_way_out_and_two_are_bent_and_checked(self):
        finger = self.brake_read_in("finger-1270")
        ticket = Ticket.objects.create(number=40, part=hemmed_tray(), brake=finger, quantity=2, job="trial",
                                       made_by=self.lead)
        self.assertContains(self.client.post("/t/40/release/"), "No order bends this part", status_code=422)
        self.client.post("/t/40/order/take/", {"field": "corners.pair", "value": "left"})
        self.assertEqual(Ticket.objects.get(number=40).part["shape"]["corners"]["pair"], "left")
        self.client.get("/t/40/order/")
        self.assertEqual(self.client.post("/t/40/release/").status_code, 302)
        ticket = Ticket.objects.get(number=40)
        self.bend_and_check(ticket, [1, 2])
        self.assertTrue(Ticket.objects.get(number=40).revision.tally.is_done)
        self.assertEqual(CheckSheet.objects.count(), 2)

    def test_a_z_of_5052_on_bars(self):
        bars = self.brake_read_in("bench-bars")
        part = part_file([20, 40, 20], [(90, "up"), (90, "down")], thickness=3.175, radius=3.2, width=120)
        part["stock"] = {"material": "aluminium-5052-h32", "thickness": "1/8 in"}
        ticket = Ticket.objects.create(number=41, part=part, brake=bars, job="trial", made_by=self.lead)
        self.assertAlmostEqual(ticket.figures.part.stock.springback, 2.0, 1)
        self.assertEqual(self.client.post("/t/41/release/").status_code, 302)
        self.bend_and_check(Ticket.objects.get(number=41), [1])

    def test_a_proof_bend_to_an_adopted_k_that_is_used(self):
        self.brake_read_in("bench-bars")
        bars = Brake.objects.latest("pk")
        ticket = Ticket.objects.create(number=42, part=part_file([40, 60], [(90, "up")]), brake=bars, follows_shop=True,
                                       made_by=self.lead)
        self.assertContains(self.client.get("/t/42/proof/"), "Nothing measured yet")
        answer = self.client.post("/proofs/begin/", {"ticket": "42"})
        proof = answer["Location"]
        self.assertContains(self.client.get(proof), "clamp it with the line at the edge")
        for n, leg in ((1, "56.98"), (2, "57.02"), (3, "57.0")):
            strip = {"strip_number": str(n), "do": "save", "strip": "100", "leg_a": "45", "leg_b": leg, "angle": "90",
                     "thickness": "1.0", "inside_radius": "1.3"}
            self.assertEqual(self.client.post(f"{proof}strip/", strip).status_code, 200)
        self.assertContains(self.client.get("/t/42/proof/"), "a lead has not adopted it")
        pair = self.client.get("/t/42/proof/").context["pair"]
        page = self.client.get(f"/ledger/{pair.pk}/")
        self.client.post(f"/ledger/{pair.pk}/adopt/", {"k": page.context["fit_key"], "reason": ""})
        self.assertContains(self.client.get("/t/42/proof/"), "it stands on 3 samples, and the shop asks for 5")
        self.assertContains(self.client.get("/ledger/"), "adopted, not used yet")
        self.client.post("/ledger/rules/", {"method": "generic", "enough": "3"})
        self.client.post(f"/ledger/{pair.pk}/adopt/", {"k": page.context["fit_key"], "reason": "enough"})
        self.assertContains(self.client.get("/t/42/proof/"), "Used here")
        ticket.refresh_from_db()
        self.assertIn("ledger", ticket.part["allowance"]["source"])
        self.assertContains(self.client.get("/ledger/"), "used")

    def test_brackets_with_holes_near_a_bend_from_shape_to_cut(self):
        press = self.brake_read_in("press-60t")
        self.client.post("/tickets/new/", {"name": "bracket", "family": "profile"})
        ticket = Ticket.objects.latest("number")
        where = f"/t/{ticket.number}/change/"
        for form in ({"field": "stock.material", "value": "stainless-304"}, {"field": "stock.thickness", "value": "2"},
                     {"action": "add", "field": "shape.holes"}, {"field": "shape.holes[0].leg", "value": "1"},
                     {"field": "shape.holes[0].along", "value": "32"},
                     {"field": "shape.holes[0].diameter", "value": "5"}):
            # the tangent line lies 36.5 along the leg: too near for 2 t
            self.assertEqual(self.client.post(where, form).status_code, 200, form)
        Ticket.objects.filter(pk=ticket.pk).update(brake=press, quantity=40, job="trial")
        self.assertContains(self.client.get(f"/t/{ticket.number}/layout/"), "it will stretch")
        self.assertEqual(self.client.get(f"/t/{ticket.number}/file/dxf/").status_code, 200)
        self.client.post(f"/t/{ticket.number}/duplicate/")
        self.assertContains(self.client.get("/?q=again"), "bracket, again")

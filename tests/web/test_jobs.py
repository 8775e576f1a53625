"""Whole jobs, from a shop with nothing but a brake read in: none ends nowhere."""

import json
import math
import re

from bendcore.quality.checklist import checklist
from bendcore.quality.checksheet import TRIED
from dorvan.brakes.models import Brake
from dorvan.floor.models import CheckSheet, ShiftCheck
from dorvan.suppliers.models import Supplier
from dorvan.tickets.models import Ticket
from tests.core.guards import guard_file
from tests.core.samples import ROOT, part_file
from tests.core.test_suppliers import SUPPLIER
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
        self.client.post("/t/40/order/take/", {"field": "shape.corners.pair", "value": "left"})
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
            self.assertRedirects(self.client.post(f"{proof}strip/", strip), proof)
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

    def test_a_painted_flashing_longer_than_the_brake_is_made_in_lengths(self):
        """Six legs with an open hem and a drip edge, 10 ft, on two metres of leaf brake."""
        leaf = self.brake_read_in("leaf-2000")
        part = part_file([20, 40, 60, 150, 100, 20], [(30, "up"), (30, "up"), (90, "up"), (90, "down"), (30, "up")],
                         thickness=0.6, radius=1.0, width="10 ft", end_hem={"length": 10, "gap": 2, "direction": "up"})
        part["stock"]["finish"] = "painted"
        Ticket.objects.create(number=43, part=part, brake=leaf, quantity=1, job="trial", made_by=self.lead)
        self.assertContains(self.client.post("/t/43/release/"), "No order bends this part", status_code=422)
        page = self.client.get("/t/43/order/remedies/").content.decode()
        self.assertIn("riveted and sealed", page)
        way = re.search(r'name="value" value="([\d.]+ mm)"', page)[1]
        self.client.post("/t/43/order/take/", {"field": "shape.width", "value": way})
        self.assertAlmostEqual(Ticket.objects.get(number=43).figures.part.shape.longest_bend, (3048 + 50) / 2, 1)
        self.assertEqual(self.client.post("/t/43/release/").status_code, 302)
        self.bend_and_check(Ticket.objects.get(number=43), [1])

    def test_a_guard_gets_its_side_plate_from_what_was_measured(self):
        press = self.brake_read_in("press-60t")
        Ticket.objects.create(number=44, part=guard_file(), brake=press, job="trial", made_by=self.lead)
        self.assertEqual(self.client.post("/t/44/kit/add/", {"what": "mate:side"}).status_code, 302)
        side = Ticket.objects.get(lead__number=44)
        before = side.figures.part.flat.size
        legs = {leg.id: leg.size for leg in Ticket.objects.get(number=44).figures.part.shape.panels}
        first = next(iter(legs))
        self.client.post("/t/44/kit/made/", {"piece": "44", first: f"{legs[first] + 1.5:.2f}"})
        side.refresh_from_db()
        self.assertNotEqual(side.figures.part.flat.size, before)
        self.assertEqual(self.client.get(f"/t/{side.number}/file/dxf/").status_code, 200)
        for number in (44, side.number):
            self.assertNotEqual(self.client.get(f"/t/{number}/order/").status_code, 500)

    def test_a_cone_with_its_collar(self):
        self.brake_read_in("bench-bars")
        self.client.post("/tickets/new/", {"name": "Cowl", "family": "cone"})
        cone = Ticket.objects.latest("number")
        self.assertEqual(self.client.post(f"/t/{cone.number}/kit/add/", {"what": "tube", "name": "Collar"}).status_code,
                         302)
        collar = Ticket.objects.get(lead=cone)
        small = next(mm for name, _, mm in cone.figures.part.shape.sizes if name == "small")
        for field, value in (("shape.diameter", f"{small + 3.5:g}"), ("shape.length", "40")):
            answer = self.client.post(f"/t/{collar.number}/change/", {"field": field, "value": value})
            self.assertEqual(answer.status_code, 200)
        collar.refresh_from_db()
        self.assertAlmostEqual(collar.figures.part.flat.size[0], math.pi * (small + 2) + 10, -1)
        for ticket in (cone, collar):
            self.assertEqual(self.client.get(f"/t/{ticket.number}/file/dxf/").status_code, 200)
            self.assertEqual(self.client.post(f"/t/{ticket.number}/release/").status_code, 302)

    def test_an_elbow_of_five_is_cut_from_one_kit(self):
        self.brake_read_in("bench-bars")
        self.client.post("/tickets/new/", {"name": "Elbow", "family": "elbow"})
        elbow = Ticket.objects.latest("number")
        self.client.post(f"/t/{elbow.number}/change/", {"field": "shape.pieces", "value": "5"})
        self.client.post(f"/t/{elbow.number}/kit/add/", {"what": "mates"})
        pieces = Ticket.objects.filter(lead=elbow)
        self.assertEqual(pieces.count(), 4)
        elbow.refresh_from_db()
        areas = [one.figures.part.flat.area for one in (elbow, *pieces.order_by("role"))]
        for area, share in zip(areas, (0.5, 1, 1, 1, 0.5), strict=True):  # the ends are halves of a gore
            self.assertAlmostEqual(area / areas[1], share, 6)
        self.assertEqual(self.client.get(f"/t/{elbow.number}/kit/files/dxf/").status_code, 200)

    def test_a_leg_and_an_angle_off_are_both_named(self):
        press = self.brake_read_in("press-60t")
        Ticket.objects.create(number=46, part=part_file([30, 60, 30]), brake=press, quantity=2, job="trial",
                              made_by=self.lead)
        self.client.post("/t/46/release/")
        ticket = Ticket.objects.get(number=46)
        for step in (1, 2):
            self.client.post("/t/46/bend/record/", {"piece": 1, "step": step})
        sizes = {one.name: one.nominal for one in ticket.figures.dimensions if one.unit != "tried"}
        off = sizes | {"B1": sizes["B1"] + 4}
        off["L1"], off["L2"] = off["L1"] + 1.2, off["L2"] - 1.2
        readings = {"piece": "1", "turned": "yes"} | {n: f"{v:.2f}" for n, v in off.items()}
        self.client.post("/t/46/check/save/", readings)
        page = self.client.get("/t/46/check/?piece=1")
        self.assertContains(page, "the stop of Bend B1")
        self.assertContains(page, "open it by 4")

    def test_a_part_bent_outside_comes_back_and_is_judged(self):
        self.client.force_login(self.lead)
        self.client.post("/suppliers/read-in/", {"text": json.dumps(SUPPLIER)})
        part = part_file([30, 60, 30], thickness=1.5, radius=1.5)
        Ticket.objects.create(number=47, part=part, job="trial", made_by=self.lead)
        where = "/t/47/outside/"
        self.client.post(f"{where}choose/", {"supplier": Supplier.objects.get().pk})
        self.client.post(f"{where}choose/", {"what": "figures"})
        pack = self.client.post(f"{where}pack/", {"note": "film outside"})
        self.assertEqual(pack["Content-Type"], "application/zip")
        legs = [one for one in checklist(Ticket.objects.get(number=47).figures.part) if one.unit != TRIED]
        readings = {f"r-{n}": f"{one.nominal + (0.9 if one.name == 'L2' else 0):.2f}" for n, one in enumerate(legs)}
        self.assertEqual(self.client.post(f"{where}back/", {"piece": "1"} | readings).status_code, 302)
        self.assertContains(self.client.get(where), "■ out:")

    def test_undo_duplicate_search_archive_and_two_tabs(self):
        self.client.force_login(self.lead)
        self.client.post("/tickets/new/", {"name": "Ledge", "family": "profile"})
        ticket = Ticket.objects.latest("number")
        where = f"/t/{ticket.number}"
        seen = ticket.stamp
        for value, status in (("44", 200), ("45", 409)):  # the second tab shows the page as it was
            form = {"field": "shape.legs[0]", "value": value, "seen": seen}
            self.assertEqual(self.client.post(f"{where}/change/", form).status_code, status)
        for way, leg in (("undo", ticket.part["shape"]["legs"][0]), ("redo", "44")):
            self.assertEqual(self.client.post(f"{where}/{way}/").status_code, 200)
            self.assertEqual(Ticket.objects.get(pk=ticket.pk).part["shape"]["legs"][0], leg)
        self.client.post(f"{where}/duplicate/")
        self.assertContains(self.client.get("/?q=ledge"), "Ledge, again")
        self.client.post(f"{where}/archive/")
        rack = self.client.get("/?q=ledge").content.decode()
        self.assertNotIn(f'href="{where}/"', rack)
        self.client.post(f"{where}/archive/", {"back": "1"})
        self.assertIn(f"{where}/", self.client.get("/?q=ledge").content.decode())

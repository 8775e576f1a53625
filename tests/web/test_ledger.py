"""The ledger: what is measured, proposed, dropped and adopted, and whom it reaches."""

import io
import re

from django.core.files.uploadedfile import SimpleUploadedFile

from dorvan.floor.depths import degree_worth
from dorvan.floor.models import Run, StepRecord
from dorvan.ledger import fits
from dorvan.ledger.models import Adoption, Chart, Mark, Pair, Proof, Rules, Sample
from dorvan.tickets.models import Ticket
from tests.core.samples import part_file
from tests.web.base import ShopCase
from tests.web.ledgers import fill_ledger, lot, one_of_each

STRIP = {"strip": "100", "leg_a": "45", "leg_b": "56.98", "angle": "90.5", "thickness": "1.0", "bent_to": "91.5"}


class Adopting(ShopCase):
    def adopt(self, pair, **form):
        self.client.force_login(self.lead)
        page = self.client.get(f"/ledger/{pair.pk}/").context
        return self.client.post(f"/ledger/{pair.pk}/adopt/", {"k": page["fit_key"]} | form)

    def test_open_tickets_that_follow_take_the_figures_over_and_can_undo_it(self):
        pair = fill_ledger(self.bench)
        self.ticket.change(None, "follow", self.bench, follows_shop=True)
        self.assertEqual(self.ticket.part["allowance"], {"method": "generic"})
        before = self.ticket.figures.part.flat.size[0]
        self.assertEqual(self.adopt(pair, reason="two lots agree").status_code, 302)
        self.ticket.refresh_from_db()
        self.assertAlmostEqual(self.ticket.part["allowance"]["k"], 0.44, 2)
        self.assertIn("ledger: 6 samples", self.ticket.part["allowance"]["source"])
        self.assertAlmostEqual(self.ticket.part["stock"]["springback"], 1.5, 1)
        self.assertNotEqual(self.ticket.figures.part.flat.size[0], before)
        self.ticket.move_to(self.ticket.place - 1)
        self.assertAlmostEqual(self.ticket.figures.part.flat.size[0], before)

    def test_released_and_own_minded_tickets_keep_theirs(self):
        pair = fill_ledger(self.bench)
        own = Ticket.objects.create(number=8, part=part_file(), brake=self.brake, die="V 8", made_by=self.bench)
        self.ticket.change(None, "follow", self.bench, follows_shop=True)
        self.release()
        told = {a.ticket.number: a for a in self.client.get(f"/ledger/{pair.pk}/").context["affected"]}
        self.assertTrue(told[7].released and not told[7].takes and not told[8].takes)
        self.assertNotAlmostEqual(told[8].change, 0)
        self.adopt(pair)
        for ticket in (self.ticket, own):
            part = ticket.part
            ticket.refresh_from_db()
            self.assertEqual(ticket.part, part)
        self.assertTrue(self.ticket.revision.is_current)

    def test_too_few_samples_leave_the_default_in_force(self):
        pair = fill_ledger(self.bench, n=3)
        self.ticket.change(None, "follow", self.bench, follows_shop=True)
        self.adopt(pair)
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.part["allowance"], {"method": "generic"})
        Rules.objects.create(default={"method": "din6935"}, enough=3)
        self.ticket.change(None, "again", self.bench, quantity=4)
        self.assertAlmostEqual(self.ticket.part["allowance"]["k"], 0.44, 2)

    def test_an_adoption_is_taken_back_with_a_reason_and_history_stays(self):
        pair = fill_ledger(self.bench)
        self.ticket.change(None, "follow", self.bench, follows_shop=True)
        self.adopt(pair)
        self.assertContains(self.client.post(f"/ledger/{pair.pk}/withdraw/"), "needs a reason", status_code=422)
        self.client.post(f"/ledger/{pair.pk}/withdraw/", {"reason": "new die"})
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.part["allowance"], {"method": "generic"})
        self.assertIsNone(Pair.objects.get().adopted)
        self.assertEqual(Adoption.objects.count(), 2)
        self.assertContains(self.client.get(f"/ledger/{pair.pk}/"), "new die")

    def test_a_fit_that_changed_is_not_adopted_unseen(self):
        pair = fill_ledger(self.bench)
        self.client.force_login(self.lead)
        answer = self.client.post(f"/ledger/{pair.pk}/adopt/", {"k": "0.4000"})
        self.assertContains(answer, "changed since you looked", status_code=422)
        self.assertFalse(Adoption.objects.exists())

    def test_outliers_are_proposed_and_dropped_only_by_a_person(self):
        pair = fill_ledger(self.bench, bad=(2,))
        page = self.client.get(f"/ledger/{pair.pk}/")
        self.assertContains(page, "Looks misread", count=1)
        self.assertEqual(page.context["learnt"].k.n, 6)
        odd = next(r["sample"] for r in page.context["rows"] if r["reason"])
        self.assertContains(self.client.post(f"/ledger/samples/{odd.pk}/mark/", {"do": "drop"}), "needs a reason",
                            status_code=422)
        self.client.post(f"/ledger/samples/{odd.pk}/mark/", {"do": "drop", "reason": "leg b from the inside"})
        page = self.client.get(f"/ledger/{pair.pk}/")
        self.assertEqual(page.context["learnt"].k.n, 5)
        self.assertContains(page, "leg b from the inside")
        self.client.post(f"/ledger/samples/{odd.pk}/mark/", {"do": "keep", "reason": "measured again, it stands"})
        self.assertEqual(len(fits.known(pair).samples), 6)
        self.assertEqual(Mark.objects.count(), 2)


class Files(ShopCase):
    def read_in(self, raw):
        return self.client.post("/ledger/read-in/", {"file": SimpleUploadedFile("ledger.csv", raw)})

    def test_csv_out_and_in_again_adds_nothing_twice(self):
        pair = fill_ledger(self.bench)
        Mark.objects.create(sample=pair.samples.first(), drop=True, reason="dented", by=self.bench)
        text = self.client.get("/ledger/csv/").content
        self.read_in(text)
        self.assertEqual(Sample.objects.count(), 6)
        Sample.objects.all().delete()
        self.read_in(text)
        self.assertEqual(Sample.objects.count(), 6)
        self.assertEqual([s.dropped.reason for s in Sample.objects.all() if s.dropped], ["dented"])
        self.assertEqual(Sample.objects.first().ticket, self.ticket)

    def test_a_bad_file_adds_nothing(self):
        fill_ledger(self.bench)
        text = self.client.get("/ledger/csv/").content
        Sample.objects.all().delete()
        for raw, words in ((text.replace(b"45.0", b"oops", 1), "line 2, leg_a"), (b"\xff\xfe", "UTF-8"),
                           (text.replace(b"mild-steel", b"cheese"), "not in the stockroom"), (b"", "lacks the columns"),
                           (b"a" * 1_100_000, "larger")):
            self.assertContains(self.read_in(raw), words, status_code=422)
        self.assertEqual(Sample.objects.count(), 0)

    def test_charts_are_pasted_used_and_refused(self):
        self.client.force_login(self.lead)
        post = {"name": "Wall", "units": "mm",
                "text": "thickness,radius,angle,deduction\n1,1.2,80,1.5\n1,1.2,100,2.5\n"}
        self.client.post("/ledger/charts/add/", post)
        chart = Chart.objects.get()
        self.assertContains(self.client.get("/t/7/proof/"), "Wall")
        self.change(field="allowance.method", value=f"chart:{chart.pk}", stage="proof")
        self.assertAlmostEqual(self.ticket.figures.part.shape.bends[0].figures.deduction, 2.0)
        for text, words in (("angle\n90", "either a column"), ("thickness,radius,angle,deduction\n1,1,1", "line 2")):
            answer = self.client.post("/ledger/charts/add/", post | {"text": text})
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, text.split("\n")[0], status_code=422)
        answer = self.client.post("/ledger/rules/", {"method": "k_factor", "k": "two", "enough": "5"})
        self.assertContains(answer, "number from 0 to 1", status_code=422)
        self.client.post("/ledger/rules/", {"method": "k_factor", "k": "0.41", "enough": "4"})
        self.assertEqual((Rules.now().default["k"], Rules.now().enough), (0.41, 4))


class Proving(ShopCase):
    def begin(self, **form):
        answer = self.client.post("/proofs/begin/", form or {"ticket": 7})
        self.assertEqual(answer.status_code, 302, answer.content[:300])
        return Proof.objects.first()

    def strip(self, proof, status=200, **form):
        answer = self.client.post(f"/proofs/{proof.number}/strip/", {"strip_number": 1, "do": "save"} | form,
                                  headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer

    def test_from_a_ticket_to_a_sample_with_shanks(self):
        proof = self.begin()
        self.assertEqual((str(proof.pair), proof.ticket), ("mild steel 1.0 mm, V 8", self.ticket))
        self.assertGreater(proof.plan["leg_a"], proof.plan["least"])
        answer = self.strip(proof, 422, **STRIP)
        self.assertContains(answer, "try drill shanks", status_code=422)
        self.assertContains(answer, 'value="56.98"', status_code=422)
        for _ in range(12):
            found = answer.context["search"]
            if found.done:
                break
            seen = "light" if found.next.radius > 1.32 else "dark"
            answer = self.strip(proof, **STRIP | {"do": seen, "shank": found.next.name})
        self.assertEqual(found.bracket, (1.3, 1.35))
        self.strip(proof, **STRIP)
        sample = Sample.objects.get()
        self.assertAlmostEqual(sample.readings["inside_radius"], 1.325)
        self.assertAlmostEqual(sample.readings["u"]["inside_radius"], 0.05 / 12 ** 0.5, 4)
        self.assertIn("shanks: 2.6 mm fits", sample.radius_by)
        self.assertAlmostEqual(sample.core.springback, 1.0, 1)

    def test_tries_that_contradict_are_refused_and_taken_back(self):
        proof = self.begin()
        self.strip(proof, do="light", shank="2 mm")
        self.assertContains(self.strip(proof, 422, do="dark", shank="3 mm"), "try both again", status_code=422)
        self.strip(proof, do="back")
        proof.refresh_from_db()
        self.assertEqual(proof.tries["1"], [])

    def test_measuring_again_keeps_the_first_with_a_mark(self):
        proof = self.begin()
        for radius in ("1.3", "1.4"):
            self.strip(proof, inside_radius=radius, **STRIP)
        self.assertEqual([bool(s.dropped) for s in Sample.objects.order_by("pk")], [True, False])
        self.assertEqual(Mark.objects.get().reason, "measured again")

    def test_readings_are_refused_at_their_field_and_kept(self):
        proof = self.begin()
        for change, words in (({"angle": "190"}, "Angle found"), ({"leg_a": "nine"}, "not a length"),
                              ({"thickness": "2"}, "not near 1.0 mm"), ({"bent_to": "80"}, "at least the angle found"),
                              ({"strip": "104"}, "does not belong to these legs")):
            answer = self.strip(proof, 422, **STRIP | {"inside_radius": "1.3"} | change)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, f'value="{next(iter(change.values()))}"', status_code=422)
        self.assertFalse(Sample.objects.exists())

    def test_on_its_own_from_a_lot_and_of_a_hem(self):
        shelf = lot(self.bench)
        proof = self.begin(lot=shelf.pk, tool=f"die:{self.brake.pk}:V 8", angle="60", strips="5")
        self.assertEqual((proof.lot, proof.strips, proof.plan["angle"]), (shelf, 5, 60))
        hem = self.begin(material="galvanised", thickness="0.6", tool=f"die:{self.brake.pk}:V 8 acute", what="hem")
        self.strip(hem, strip="100", leg_a="11", leg_b="89.2", thickness="0.6", inside_radius="0")
        self.assertTrue(Sample.objects.get().core.proof.is_hem)
        for form, words in (({"material": "tin"}, "stockroom"), ({"thickness": "16"}, "might be a gauge"),
                            ({"tool": "die:9:V 1"}, "on hand"), ({"strips": "40"}, "from 1 to 12"),
                            ({"angle": "0"}, "greater than 0")):
            full = {"material": "mild-steel", "thickness": "1", "tool": f"die:{self.brake.pk}:V 8", "strips": "3"}
            self.assertContains(self.client.post("/proofs/begin/", full | form), words, status_code=422)

    def test_a_ticket_without_a_tool_is_asked_for_one(self):
        self.ticket.change(None, "no die", self.bench, die="")
        self.assertContains(self.client.post("/proofs/begin/", {"ticket": 7}), "must be chosen at Stock",
                            status_code=422)

    def test_a_finished_piece_with_a_measured_blank(self):
        self.release()
        part = self.ticket.figures.part
        form = {"blank": str(part.flat.size[0]), "L1": "30", "L2": "60", "L3": "30", "angle": "90",
                "inside_radius": "1.2", "thickness": "1"}
        self.assertContains(self.client.post("/t/7/sample/save/", form | {"blank": "80"}), "Blank", status_code=422)
        self.client.post("/t/7/sample/save/", form)
        sample = Sample.objects.get()
        self.assertAlmostEqual(sample.core.proof.k, 0.42, 4)
        self.assertEqual((sample.kind, sample.ticket), ("part", self.ticket))

    def test_a_degree_in_depth_is_learnt_from_what_was_set(self):
        pair, revision = Pair.objects.create(material="mild-steel", thickness=1, tool="V 8"), self.release()
        for piece, depth, angle in ((1, 3.0, 88.0), (2, 3.05, 89.6), (3, 3.1, 91.1)):
            run = Run.objects.create(revision=revision, piece=piece, by=self.bench)
            StepRecord.objects.create(run=run, step=1, angle=angle, depth=depth, by=self.bench)
        worth = degree_worth(pair)
        self.assertAlmostEqual(worth["learnt"].per_degree, 0.032, 2)
        self.assertAlmostEqual(worth["computed"], worth["learnt"].per_degree, 1)
        self.assertContains(self.client.get("/t/7/bend/"), "learnt here")


class Everything(ShopCase):
    def test_every_page_answers_in_inches_too(self):
        one_of_each(self.bench)
        self.bench.units, self.bench.tape = "in", 0
        self.bench.save()
        for page in ("/ledger/", "/ledger/1/", "/proofs/1/", "/proofs/new/", "/t/7/proof/", "/t/7/stock/"):
            self.assertEqual(self.client.get(page).status_code, 200)
        blank = self.ticket.figures.part.flat.size[0]
        for units, size in (("in", f"{blank / 25.4:.3f}"), ("mm", f"{blank:.2f}")):
            self.bench.units = units
            self.bench.save()
            page = self.client.get("/t/7/proof/").content.decode()
            figures = re.findall(r'data-working="blank">([\d.]+)<', page)
            self.assertEqual([f"{float(f):.{3 if units == 'in' else 2}f}" for f in figures], [size])
            self.assertEqual(set(re.findall(r"<u>(mm|in)</u>", page)), {units})

    def test_what_the_core_says_comes_in_the_readers_units(self):
        """A leg its bends use up is told in mm to one, in inches to another, whatever the file is in."""
        for units, told in (("mm", "must be more than 2.2 mm"), ("in", "must be more than 0.087 in")):
            self.bench.units = units
            self.bench.save()
            answer = self.client.post("/t/7/change/", {"action": "set", "field": "shape.legs[0]", "value": "0.5 mm"})
            self.assertContains(answer, told, status_code=422)
        self.ticket.change(part_file([4, 60, 30]), "short", self.bench)
        for units, told in (("mm", "mm lie flat"), ("in", "in lie flat")):
            self.bench.units = units
            self.bench.save()
            self.assertContains(self.client.get("/t/7/order/"), told)

    def test_a_spreadsheet_formula_stays_text(self):
        fill_ledger(self.bench, n=1)
        Sample.objects.update(who="=1+1")
        self.assertIn(",'=1+1,", io.BytesIO(self.client.get("/ledger/csv/").content).read().decode())

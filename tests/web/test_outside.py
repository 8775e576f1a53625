"""A ticket that goes to a supplier: checked, its figures taken, packed, and measured when it comes back."""

import copy
import io
import json
import zipfile

import ezdxf

from dorvan.outside.models import Returned, Sent
from dorvan.suppliers.models import Supplier
from dorvan.tickets.models import Ticket
from tests.core.test_suppliers import SUPPLIER
from tests.web.base import ShopCase


class Outside(ShopCase):
    def setUp(self):
        super().setUp()
        profile = SUPPLIER | {"stocks": [row | {"k": 0.4, "inside_radius": 1.5} for row in SUPPLIER["stocks"]]}
        self.supplier = Supplier.objects.create(name=profile["name"], file=json.dumps(profile), by=self.lead)

    def post(self, path, status=302, **form):
        answer = self.client.post(f"/t/7/outside/{path}/", form)
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer

    def test_it_takes_the_suppliers_figures_and_leaves_as_a_pack(self):
        self.post("choose", supplier=self.supplier.pk)
        page = self.client.get("/t/7/outside/")
        self.assertContains(page, "its tools make 1.5 mm")
        self.assertContains(self.client.get("/t/7/gate/"), "its tools make 1.5 mm")
        self.assertContains(self.post("pack", 422), "is shut", status_code=422)
        self.post("choose", what="figures")
        part = Ticket.objects.get(number=7).figures.part
        self.assertEqual({(b.figures.inside_radius, round(b.figures.k, 6)) for b in part.shape.bends}, {(1.5, 0.4)})
        self.assertContains(self.client.get("/t/7/outside/"), "can make it as it stands")
        answer = self.post("pack", 200, note="burr inwards; film outside")
        box = zipfile.ZipFile(io.BytesIO(answer.content))
        self.assertIn("film outside", box.read("T-0007-notes.txt").decode())
        doc = ezdxf.read(io.StringIO(box.read("T-0007.dxf").decode()))
        bends = [e for e in doc.modelspace().query("LINE") if e.dxf.layer == "BEND_UP"]
        self.assertEqual(len(bends), len(part.flat.bends))
        self.assertEqual(Sent.objects.get().part, Ticket.objects.get(number=7).joined)

    def test_a_supplier_is_said_on_the_page_limit_by_limit(self):
        self.client.force_login(self.lead)
        for name in ("", self.supplier.name.upper()):
            self.assertEqual(self.client.post("/suppliers/begin/", {"name": name}).status_code, 422)
        page = self.client.post("/suppliers/begin/", {"name": "Mill Close Press"}, follow=True)
        self.assertContains(page, "not said,")
        made = Supplier.objects.get(name="Mill Close Press")

        def say(field, value, status=200, **more):
            answer = self.client.post(f"/suppliers/{made.pk}/limits/set/", {"field": field, "value": value} | more,
                                      headers={"HX-Request": "true"})
            self.assertEqual(answer.status_code, status, answer.content[:300])
            made.refresh_from_db()
            return answer.content.decode()

        say("longest_bend", "6 ft")
        self.assertIn('value="over there"', say("kerf", "over there", 422))
        say("stocks[0].thickness", "2")
        self.assertIn("might be a gauge", say("stocks[0].thickness", "16", 422))
        say("", "", action="add")
        say("stocks[1].material", "copper")
        self.assertEqual([s.material for s in made.profile.stocks], ["mild-steel", "copper"])
        say("stocks[0]", "", action="remove")
        self.assertIn("line 2", say("", "", 422, table="metal,t,r,k,flange\ncheese,1,1,.4,9"))
        say("", "", table="metal,t,r,k,flange\nbrass half hard,1,1,.4,9")
        self.assertEqual((made.profile.longest_bend, [s.material for s in made.profile.stocks]),
                         (1828.8, ["brass-half-hard"]))
        seen = made.version
        say("kerf", "0.3", seen=seen)
        say("note", "Film stays on", seen=seen)
        self.assertIn("changed kerf", say("kerf", "0.4", 409, seen=seen))
        self.client.force_login(self.bench)
        self.assertIn("disabled", self.client.get(f"/suppliers/{made.pk}/limits/").content.decode())
        say("kerf", "0.5", 403)

    def test_what_comes_back_is_judged_and_feeds_the_suppliers_own_ledger(self):
        self.post("choose", supplier=self.supplier.pk)
        self.post("back", 422, piece="1")
        self.post("choose", what="figures")
        self.post("pack", 200)
        part = Ticket.objects.get(number=7).figures.part
        names = [row.name for row in part_rows(part)]
        form = {f"r-{names.index(leg.id)}": f"{leg.size + 0.05 * sum(map(bool, part.shape.at_ends(leg))):.3f}"
                for leg in part.shape.legs}
        self.post("back", piece="1", **form)
        found = Returned.objects.get()
        self.assertEqual(found.out, [])
        self.assertAlmostEqual(found.k, 0.4 - 0.2 / (3.14159265 * 1.0), 3)
        self.post("back", piece="2", **(form | {"r-0": "33"}))
        page = self.client.get(f"/suppliers/{self.supplier.pk}/")
        self.assertContains(page, "K by its pieces")
        self.assertContains(self.client.get("/t/7/outside/"), "■ out:")
        for bad in ({"piece": "0"}, {"piece": "1"}, {"piece": "1", "r-0": "wide"}, {"piece": "1", "r-0": "900"}):
            self.post("back", 422, **bad)
        self.assertEqual(Returned.objects.count(), 2)

    def test_a_profile_is_read_in_by_a_lead_and_refused_at_its_field(self):
        bad = copy.deepcopy(SUPPLIER)
        bad["stocks"][1]["k"] = 3
        self.client.force_login(self.lead)
        for text, words in ((json.dumps(bad), "stocks[1].k"), ("{", "line 1"), ("[]", "object"), ("\x00" * 50, ""),
                            ("[" * 90_000, ""), ("x" * 1_200_000, "larger than 1 MB")):
            file = io.BytesIO(text.encode())
            file.name = "supplier.json"
            answer = self.client.post("/suppliers/read-in/", {"file": file})
            self.assertContains(answer, words, status_code=422)
        answer = self.client.post("/suppliers/read-in/", {"text": json.dumps(SUPPLIER | {"name": "Mill Close"})})
        self.assertEqual(answer.status_code, 302)
        again = self.client.get(f"/suppliers/{Supplier.objects.get(name='Mill Close').pk}/profile.json").json()
        self.assertEqual(again["name"], "Mill Close")


def part_rows(part):
    from bendcore.quality.checklist import checklist
    from bendcore.quality.checksheet import TRIED

    return [one for one in checklist(part) if one.unit != TRIED]

"""The join list of a kit, its counts for the batch, and what is chosen at it."""

from dorvan.joining.listing import counted, rows_of
from dorvan.joining.models import Join
from dorvan.tickets.models import Ticket
from tests.core.trays import tray_file
from tests.web.base import ShopCase


class Joins(ShopCase):
    def setUp(self):
        super().setUp()
        corners = {"style": "tab", "gap": 0.5, "tab": {"width": 14, "hole": 3.3, "holes": 2}}
        self.lead = Ticket.objects.create(number=60, part=tray_file(corners=corners), quantity=5, made_by=self.bench)
        self.client.post("/t/60/kit/sizes/", {"table": "name,count,length\nLow,3,150\nHigh,2,180\n"})

    def choose(self, status=302, **form):
        answer = self.client.post("/t/60/joins/choose/", form)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer

    def count(self, what):
        lead = Ticket.objects.get(number=60)
        row = next(one for one in counted(lead, rows_of(lead)) if str(one.what).startswith(what))
        return str(row.each), str(row.total)

    def test_everything_is_counted_for_one_and_for_the_batch(self):
        self.client.post("/t/60/kit/bought/", {"name": "Drain pipe", "kind": "length", "amount": "250"})
        self.assertEqual(self.count("Pieces"), ("6", "30"))
        self.assertEqual(self.count("Rivets 3.3"), (str(6 * 4 * 2), str(6 * 4 * 2 * 5)))
        self.assertEqual(self.count("Drain pipe"), ("250.0 mm", "1250.0 mm"))
        page = self.client.get("/t/60/joins/")
        self.assertContains(page, "the part&#x27;s own holes")
        self.assertContains(page, "and 3 alike")
        self.assertRedirects(self.client.get(f"/t/{self.lead.pieces.first().number}/joins/"), "/t/60/joins/")

    def test_a_joint_is_made_otherwise_and_as_the_part_says_again(self):
        self.choose(piece=60, key="corner:front", kind="weld", pitch="20", sealed="on")
        row = rows_of(self.lead)[0]
        self.assertEqual((row.kind, row.sealed), ("weld", True))
        self.assertEqual(self.count("Rivets 3.3"), (str(5 * 8), str(5 * 8 * 5)))
        self.assertEqual(self.count("Sealant"), ("160.0 mm", "800.0 mm"))
        self.assertContains(self.client.get("/t/60/joins/"), "qualified people")
        self.choose(remove=Join.objects.get().pk)
        self.assertEqual(rows_of(self.lead)[0].kind, "rivet")

    def test_joints_of_the_shops_own_with_cleats(self):
        self.choose(piece=60, place="duct to duct", length="300", times="2", kind="cleat")
        self.assertEqual(self.count("Cleats"), ("2", "10"))
        self.choose(piece=60, place="rail to post", length="400", times="1", kind="rivet", count="5")
        self.assertEqual(self.count("Rivets 3.2"), ("5", "25"))

    def test_what_cannot_be_is_refused_at_its_field(self):
        for form, words in (({"kind": "glue", "place": "x", "length": "4"}, "must be one of"),
                            ({"kind": "rivet", "length": "4"}, "say what is joined"),
                            ({"kind": "rivet", "place": "x", "length": "long"}, "not a length"),
                            ({"kind": "rivet", "place": "x", "length": "0"}, "greater than 0"),
                            ({"kind": "rivet", "place": "x", "length": "40", "count": "1e3"}, "whole number"),
                            ({"kind": "rivet", "place": "x", "length": "40", "end": "30"}, "half the joint"),
                            ({"kind": "rivet", "place": "x", "length": "40", "times": "0"}, "whole number"),
                            ({"kind": "rivet", "key": "seam"}, "not on this part")):
            self.assertContains(self.choose(422, piece=60, **form), words, status_code=422)
        self.assertEqual(Join.objects.count(), 0)

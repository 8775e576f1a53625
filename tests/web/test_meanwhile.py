"""Two people at one ticket: the second is told, sees both, and nothing is lost."""

from dorvan.tickets.models import Ticket
from tests.core.samples import part_file
from tests.web.base import ShopCase


class TwoPeople(ShopCase):
    def setUp(self):
        super().setUp()
        self.seen = self.ticket.stamp

    def theirs(self, **form):
        """Otto changes the ticket while the bench hand looks at an older page."""
        self.client.force_login(self.lead)
        self.change(**{"action": "set", "stage": "shape"} | form)
        self.client.force_login(self.bench)

    def test_the_same_size_is_told_with_both_and_put_in_only_when_asked(self):
        self.theirs(field="shape.legs[0]", value="35")
        text = self.change(409, field="shape.legs[0]", value="42", seen=self.seen)
        for words in ("Lead changed this ticket", "Leg L1: 30", "<b>35</b>", "Leg L1 = 42"):
            self.assertIn(words, text)
        self.assertEqual(self.ticket.part["shape"]["legs"][0], "35")
        self.change(field="shape.legs[0]", value="42", seen=self.ticket.stamp)
        self.assertEqual([e.part["shape"]["legs"][0] for e in self.ticket.edits.all()], [30, "35", "42"])

    def test_another_size_goes_in_and_is_told(self):
        self.theirs(field="shape.legs[0]", value="35")
        text = self.change(field="shape.legs[2]", value="42", seen=self.seen)
        self.assertIn("Both are in", text)
        self.assertEqual(self.ticket.part["shape"]["legs"], ["35", 60, "42"])

    def test_a_size_is_not_put_on_a_leg_that_another_shifted(self):
        self.theirs(action="remove", field="shape.bends[0]")
        self.change(409, field="shape.legs[1]", value="42", seen=self.seen)
        self.assertEqual(self.ticket.part["shape"]["legs"], [30, 30])

    def test_undo_does_not_take_back_what_it_never_saw(self):
        self.change(field="shape.legs[0]", value="33")
        seen = self.ticket.stamp
        self.theirs(field="stock.material", value="copper")
        answer = self.client.post("/t/7/undo/", {"seen": seen}, headers={"HX-Request": "true"})
        self.assertContains(answer, "mild-steel → <b>copper</b>", status_code=409)
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.part["stock"]["material"], "copper")

    def test_tools_and_quantity_are_watched_too(self):
        self.client.force_login(self.lead)
        self.client.post("/t/7/set-up/", {"quantity": "9"})
        self.client.force_login(self.bench)
        answer = self.client.post("/t/7/set-up/", {"quantity": "5", "seen": self.seen}, headers={"HX-Request": "true"})
        self.assertContains(answer, "Pieces: 3 → <b>9</b>", status_code=409)
        self.assertEqual(self.client.post("/t/7/set-up/", {"die": "V 12", "seen": self.seen}).status_code, 200)
        self.ticket.refresh_from_db()
        self.assertEqual((self.ticket.quantity, self.ticket.die), (9, "V 12"))

    def test_ones_own_other_window_is_named(self):
        self.change(field="shape.legs[0]", value="33")
        self.assertIn("You, elsewhere", self.change(409, field="shape.legs[0]", value="34", seen=self.seen))

    def test_a_page_from_before_the_record_is_told_without_a_guess(self):
        self.theirs(field="shape.legs[0]", value="35")
        self.assertIn("as it stands now", self.change(409, field="shape.width", value="9", seen="0" * 16))

    def test_every_stage_carries_the_stamp(self):
        for stage in ("shape", "stock", "proof", "layout", "order"):
            self.assertContains(self.client.get(f"/t/7/{stage}/"), f'"seen": "{self.seen}"')

    def test_choices_are_undone_with_the_part(self):
        ticket = Ticket.objects.create(number=9, part=part_file(), brake=self.brake, made_by=self.bench)
        ticket.change(None, "die", self.bench, die="V 8")
        ticket.change(None, "pieces", self.bench, quantity=5)
        ticket.move_to(ticket.place - 1)
        self.assertEqual((ticket.die, ticket.quantity), ("V 8", 1))
        ticket.move_to(0)
        self.assertEqual(ticket.die, "")
